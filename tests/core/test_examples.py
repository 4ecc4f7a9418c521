"""The examples in docstrings give what they say."""

from __future__ import annotations

import doctest
import importlib
from pathlib import Path

import pytest

import yardstick

SRC = Path(yardstick.__file__).parent
MODULES = [
    ".".join(("yardstick", *path.relative_to(SRC).with_suffix("").parts))
    for path in sorted(SRC.rglob("*.py"))
    if ">>> " in path.read_text()
]


@pytest.mark.parametrize("name", MODULES)
def test_an_example_gives_what_it_says(name):
    failed, tried = doctest.testmod(importlib.import_module(name), optionflags=doctest.NORMALIZE_WHITESPACE)
    assert (failed, tried > 0) == (0, True)
