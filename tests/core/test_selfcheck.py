"""The self-check: all examples hold on this program, each names its source, and one that does not hold is said."""

from __future__ import annotations

from typer.testing import CliRunner

from yardstick.cli import app
from yardstick.stations.instance import check_program


def test_every_example_holds_and_names_its_source():
    found = check_program.selfcheck()
    assert [one for one in found if not one.holds] == []
    assert all(one.source and one.example and one.wanted == one.got for one in found)
    assert {"R1", "R14", "R15", "R16", "R17", "R18", "R20", "R21", "R23", "R24"} <= {one.rule for one in found}


def test_the_command_prints_them(monkeypatch):
    monkeypatch.setenv("COLUMNS", "200")
    done = CliRunner().invoke(app, ["selfcheck"])
    assert done.exit_code == 0
    assert "WHATWG URL Standard" in done.output
    assert f"{len(check_program.selfcheck())} of {len(check_program.selfcheck())} examples hold" in done.output


def test_a_program_that_computes_otherwise_is_found_out(monkeypatch):
    """With another largest remainder, and with one that breaks, the examples say so, and so does the exit code."""
    monkeypatch.setattr(check_program, "largest_remainder", lambda total, weights: [0, 0, total])
    wrong = [one for one in check_program.selfcheck() if not one.holds]
    assert [(one.rule, one.got) for one in wrong] == [("R17", "0 0 100")]
    monkeypatch.setattr(check_program, "break_even_roas", lambda margin: 1 / 0)
    done = CliRunner().invoke(app, ["selfcheck"])
    assert done.exit_code == 1
    assert "ZeroDivisionError" in done.output
