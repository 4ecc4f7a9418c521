"""One name, one thing: no two classes of the program are called alike."""

from __future__ import annotations

import ast
from collections import defaultdict
from pathlib import Path

SRC = Path(__file__).parents[2] / "src"


def test_no_two_classes_have_one_name():
    places = defaultdict(list)
    for file in sorted(SRC.rglob("*.py")):
        for node in ast.walk(ast.parse(file.read_text())):
            if isinstance(node, ast.ClassDef):
                places[node.name].append(str(file.relative_to(SRC)))
    assert len(places) > 300
    assert {name: where for name, where in places.items() if len(where) > 1} == {}
