"""Texts of one character, or of two in turn, over and over: none of our parsers takes more than linear time with any.

The usual run feeds 16 KiB of each, `make nightly` 1 MiB. What is bounded is work done (CPU seconds of a process), at a
part of what a square would take.
"""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from endless import PARSERS, TEXTS
from forking import Forking

SIZE = os.environ.get("YARDSTICK_ENDLESS", str(1 << 14))


@pytest.fixture(scope="module")
def fed(tmp_path_factory):
    made = Forking(Path(__file__).parents[1] / "endless.py", tmp_path_factory.mktemp("said"))
    yield made
    made.close()


@pytest.mark.parametrize("name", PARSERS)
def test_no_text_runs_away(fed, name):
    ended, said, wrong = fed.run(name, SIZE)
    lines = said.splitlines()
    assert ended == 0, f"{lines[-1:]} {wrong[-800:]}"
    assert len(lines) == len(TEXTS) == len(set(TEXTS)) == 80
