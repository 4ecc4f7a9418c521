"""Records on the day of a word or stage (R22), through the command line."""

from __future__ import annotations

import json

from typer.testing import CliRunner

from command import credit
from core.test_hard_cases import sale, tags, visit
from yardstick.cli import app

A = tags("zeta", "cpc", "A")


def status(record, day, word="", stage=""):
    return {"record_id": record, "occurred_at": f"2026-04-{day:02}T12:00:00Z", "status": word, "stage": stage}


def order(number, day, word=""):
    return sale(number, "10.00", f"2026-04-{day:02}T12:00:00Z") | {"status": word}


RANGE = 'report_from = "2026-04-04"\nreport_to = "2026-04-20"\n'
LOST = '[[status]]\nword = "lost"\nmeans = "does not count"\n'
WORLD = {
    "visits": [visit(1, A, "2026-04-01T10:00:00Z")],
    "conversions": [order(1, 4, "lost"), order(2, 3), order(3, 5), order(4, 6)],
    "statuses": [
        status("c2", 20, stage="lost"),
        status("c2", 25, stage="open"),
        status("c3", 21, "lost"),
        status("c3", 10, "lost"),
    ],
}


def shown(answer):
    return sorted(r["conversion_id"] for r in answer.credits if r["yardstick"] == "linear")


def test_records_stand_on_the_day_of_their_last_such_row(tmp_path):
    """The worked case: lost by its own word on day 4; stage lost on day 20 and open on day 25: both are in days 4 to 20.

    The third was lost last on day 21, the fourth never."""
    answer = credit(tmp_path, WORLD, 'date_basis = "event:Lost"\n' + RANGE, "--by", "day")
    assert shown(answer) == ["c1", "c2"]
    days = {r["day"]: r["value"] for r in answer.rows if r["yardstick"] == "linear" and r["value"] != "0.00"}
    assert days == {"2026-04-04": "10.00", "2026-04-20": "10.00"}
    assert answer.summary["totals"]["without_event"] == 1
    assert answer.summary["totals"]["booked"]["conversions"] == 2


def test_the_word_itself_does_not_take_a_record_out_here(tmp_path):
    asked = 'date_basis = "event:lost"\n' + RANGE + LOST
    assert shown(credit(tmp_path / "a", WORLD, asked)) == ["c1", "c2"]
    assert shown(credit(tmp_path / "b", WORLD, LOST)) == ["c2", "c4"]


def test_updated_is_the_last_row_of_whatever_word(tmp_path):
    answer = credit(tmp_path, WORLD, 'date_basis = "event:updated"\n' + RANGE.replace("04-20", "04-30"))
    assert shown(answer) == ["c2", "c3"]
    assert answer.summary["totals"]["without_event"] == 2
    lead = {"lead_id": "l1", "occurred_at": "2026-04-02T12:00:00Z", "visitor_id": "p", "stage": "won"}
    world = WORLD | {"leads": [lead | {"updated_at": "2026-04-09T12:00:00Z"}, lead | {"lead_id": "l2"}]}
    world["visits"] = [visit(1, A, "2026-04-01T10:00:00Z", "p")]
    days = {
        basis: credit(tmp_path / basis, world, f'date_basis = "event:{basis}"\n', "--by", "day")
        for basis in ("updated", "won")
    }
    for basis, leads in (("updated", {"2026-04-09": "1"}), ("won", {"2026-04-09": "1"})):
        found = {
            r["day"]: r["leads"] for r in days[basis].rows if r["yardstick"] == "linear" and float(r["leads"] or 0)
        }
        assert found == leads


def test_windows_keep_the_time_of_the_conversion_and_explain_says_why(tmp_path):
    """The touch lies 2 days before the order and 19 before its event: a window of 5 days admits it."""
    asked = 'date_basis = "event:lost"\n' + RANGE + "[window]\nclick_days = 5\n"
    assert "c2" in shown(credit(tmp_path, WORLD, asked))
    done = CliRunner().invoke(app, ["explain", str(tmp_path), "c4", "--settings", str(tmp_path / "settings.toml")])
    assert "never had the word or stage 'lost'" in done.output
    assert json.loads((tmp_path / "out" / "summary.json").read_text())["settings"]["date_basis"] == "event:lost"


def test_an_empty_word_is_refused(tmp_path):
    for wrong in ("event:", "event:  ", "day"):
        answer = credit(tmp_path / "x", WORLD, f'date_basis = "{wrong}"\n')
        assert answer.code == 2
        assert "date_basis" in answer.said
