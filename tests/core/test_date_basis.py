"""The touch basis (R22): a credit stands on its touch's day, through the command line and the trace."""

from __future__ import annotations

from command import credit
from core.test_hard_cases import sale, tags, visit
from worlds import into_core
from yardstick.core.plan.plan import plan_of
from yardstick.core.report.summary import tie_line
from yardstick.core.report.trace import PARTS, trace_part, trace_row
from yardstick.core.report.weigh import weigh

A = tags("zeta", "cpc", "A")
WORLD = {
    "visits": [visit(day, A, f"2026-04-{day:02}T10:00:00Z") for day in (1, 2, 3)],
    "conversions": [
        sale(1, "90.00"),
        sale(2, "5.00", "2026-04-02T09:00:00Z", "nobody"),
        sale(3, "7.00", "2026-04-03T09:00:00Z", "else"),
    ],
}
DAY_2 = 'date_basis = "touch"\nreport_from = "2026-04-02"\nreport_to = "2026-04-02"\n'


def test_only_credit_of_touches_in_the_range_is_shown(tmp_path):
    """The worked case: touches on days 1, 2 and 3, 90.00 on day 10, an order of 5.00 without a trail on day 2."""
    answer = credit(tmp_path, WORLD, DAY_2)
    assert answer.row("linear", "A")["value"] == "30.00"
    assert answer.row("linear", "A")["conversions"] == "0.3333333333"
    assert answer.row("first", "A")["value"] == "0.00"
    assert answer.row("linear", "", bucket="no_trail")["value"] == "5.00"
    assert [(r["visit_id"], r["value"]) for r in answer.credits if r["yardstick"] == "linear"] == [("v2", "30.00")]
    totals = answer.summary["totals"]
    assert (totals["booked"]["value"], totals["outside_value"]["linear"]) == ("102.00", "67.00")


def test_days_are_those_of_the_touches(tmp_path):
    whole = credit(tmp_path, WORLD, 'date_basis = "touch"\n', "--by", "day")
    values = {r["day"]: r["value"] for r in whole.rows if r["yardstick"] == "linear" and r["bucket"] == "named"}
    assert values == {"2026-04-01": "30.00", "2026-04-02": "30.00", "2026-04-03": "30.00"}
    assert whole.summary["totals"]["outside_value"]["linear"] == "0.00"


def test_every_part_of_the_tie_line_opens_into_what_adds_up_to_it():
    from datetime import date

    plan = plan_of(date_basis="touch", report_from=date(2026, 4, 2), report_to=date(2026, 4, 2))
    result = weigh(into_core(WORLD), plan)
    ties = tie_line(result)
    for part in ("booked", "named", "no_trail", "outside"):
        stated = getattr(ties, part)
        wanted = stated["linear"] if isinstance(stated, dict) else stated.value
        trace = trace_part(result, "linear", part)
        assert (part, trace.value) == (part, wanted)
        assert sum(c.value_here for c in trace.conversions) == wanted
    assert trace_row(result, "linear", "named", ("A",), "value").value == 3_000
    assert "outside" in PARTS


def test_a_captured_set_stands_on_its_own_day(tmp_path):
    lead = {
        "lead_id": "l1",
        "occurred_at": "2026-04-09T10:00:00Z",
        "first_seen_at": "2026-04-02T10:00:00Z",
        "first_campaign": "Cap",
        "last_campaign": "Late",
    }
    answer = credit(tmp_path, {"visits": WORLD["visits"], "leads": [lead]}, DAY_2)
    assert answer.row("linear", "Cap")["leads"] == "0.5000000000"
    assert not [r for r in answer.rows if r["campaign"] == "Late"]
