"""Removal (R16) by hand, through the command line."""

from __future__ import annotations

import pytest

from command import credit
from core.test_hard_cases import sale, tags, visit

REMOVAL = '[[yardstick]]\nname = "removal"\nrule = "removal"\n'
LINEAR = '[[yardstick]]\nname = "linear"\nrule = "linear"\n'


def journeys(*paths):
    """People who each touch campaigns in turn; those whose path ends in ! buy for 10.00."""
    visits, sales = [], []
    for person, path in enumerate(paths):
        for step, campaign in enumerate(path.rstrip("!")):
            at = f"2026-04-{1 + step:02}T10:00:00Z"
            visits.append(visit(100 * person + step, tags("zeta", "cpc", campaign), at, f"p{person}"))
        if path.endswith("!"):
            sales.append(sale(person, "10.00", person=f"p{person}"))
    return {"visits": visits, "conversions": sales}


def test_the_worked_journeys(tmp_path):
    """A conv 1, B conv 1, B lost 3, A>B conv 2, A lost 1: P = 0.5, without A 0.25, without B 0.125: 1.6 / 2.4."""
    world = journeys("A!", "B!", "B", "B", "B", "AB!", "AB!", "A")
    answer = credit(tmp_path, world, REMOVAL)
    assert answer.row("removal", "A")["conversions"] == "1.6000000000"
    assert answer.row("removal", "B")["conversions"] == "2.4000000000"
    assert [answer.row("removal", c)["value"] for c in "AB"] == ["16.00", "24.00"]
    assert answer.credits == []


def test_a_step_to_the_same_state_counts(tmp_path):
    """A A converts, A is lost: P = 1/2 comes of steps A to A 1, to converted 1, to lost 1."""
    world = journeys("AA!", "A")
    answer = credit(tmp_path, world, REMOVAL)
    assert answer.row("removal", "A")["conversions"] == "1"


ONE_STATE = {
    "visits": [
        visit(1, tags("zeta", "cpc", "A"), "2026-04-01T10:00:00Z"),
        visit(2, tags("moth", "email", "A"), "2026-04-02T10:00:00Z"),
        visit(3, tags("moth", "qr", "A"), "2026-04-03T10:00:00Z"),
    ],
    "conversions": [sale(1, "0.05")],
}


def values(answer, *by):
    return {(r["bucket"], *(r[name] for name in by)): r["value"] for r in answer.rows}


def test_inside_a_state_amounts_are_shared_nested(tmp_path):
    """One state of 0.05 over three touches, by source and medium: moth 0.03 or 0.04 first, then inside it."""
    both = values(credit(tmp_path / "a", ONE_STATE, REMOVAL, "--by", "source,medium"), "source", "medium")
    assert both == {
        ("named", "moth", "email"): "0.02",
        ("named", "moth", "qr"): "0.01",
        ("named", "zeta", "cpc"): "0.02",
    }
    left = values(credit(tmp_path / "b", ONE_STATE, REMOVAL, "--by", "medium", "--where", "source is moth"), "medium")
    assert left == {("named", "email"): "0.02", ("named", "qr"): "0.01", ("left_out", ""): "0.02"}


def test_two_that_never_meet_and_always_convert_have_their_own(tmp_path):
    world = journeys("A!", "B!")
    answer = credit(tmp_path, world, REMOVAL)
    assert [answer.row("removal", c)["value"] for c in "AB"] == ["10.00", "10.00"]


def test_a_state_that_stands_only_in_losing_paths_gets_credit_where_its_touches_are(tmp_path):
    """X leads to A, which converts: without X some of the way to A is lost."""
    world = journeys("A!", "A", "XA")
    answer = credit(tmp_path, world, REMOVAL)
    # P = 2/3 x 1/3 + 1/3 x 1/3 = 1/3; without X 2/9; without A 0: effects 1/3 and 1.
    assert [answer.row("removal", c)["conversions"] for c in "AX"] == ["0.7500000000", "0.2500000000"]


def test_goals_are_learned_apart_and_by_is_its_own(tmp_path):
    world = journeys("A!", "B", "B!")
    world["leads"] = [{"lead_id": "l1", "occurred_at": "2026-04-20T10:00:00Z", "visitor_id": "p1"}]
    settings = REMOVAL + '[[yardstick]]\nname = "by channel"\nrule = "removal"\nby = "channel"\n'
    answer = credit(tmp_path, world, settings)
    assert answer.row("removal", "B")["leads"] == "1"
    assert answer.row("removal", "A")["leads"] == "0"
    # All of it is Paid search: inside the channel linear shares, and losing paths say nothing there.
    assert [answer.row("by channel", c)["value"] for c in "AB"] == ["10.00", "10.00"]


def test_the_chain_learns_from_the_range_alone(tmp_path):
    """Losing paths hold the touches of the range: B's lost visits of March say nothing of April."""
    world = journeys("A!", "B!")
    world["visits"] += [visit(900 + i, tags("zeta", "cpc", "B"), "2026-03-01T10:00:00Z", f"lost{i}") for i in range(5)]
    april = credit(tmp_path / "a", world, 'report_from = "2026-04-01"\n' + REMOVAL)
    assert [april.row("removal", c)["value"] for c in "AB"] == ["10.00", "10.00"]
    touched = credit(tmp_path / "b", world, 'date_basis = "touch"\nreport_from = "2026-04-01"\n' + REMOVAL)
    assert [touched.row("removal", c)["value"] for c in "AB"] == ["10.00", "10.00"]


@pytest.mark.parametrize("by", ["campaign", "channel", "day", "goal", "campaign,source"])
def test_credits_and_no_trail_are_everything_under_every_breakdown(tmp_path, by):
    world = journeys("AB!", "B!", "BA", "C", "CAB!")
    world["conversions"].append(sale(99, "3.33", person="nobody"))
    answer = credit(tmp_path, world, LINEAR + REMOVAL, "--by", by)
    for name in ("linear", "removal"):
        rows = [r for r in answer.rows if r["yardstick"] == name]
        assert sum(round(float(r["value"]) * 100) for r in rows) == 3333
        assert sum(float(r["conversions"]) for r in rows) == pytest.approx(4, abs=1e-8)
    totals = answer.summary["totals"]
    assert totals["named_value"]["removal"] == "30.00"
    assert totals["blended"]["removal"]["value"] == "33.33"
