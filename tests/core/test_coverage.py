"""Coverage (R32): the case worked out by hand, and that every part of it is what the board says."""

from __future__ import annotations

from collections import defaultdict

import pytest
from hypothesis import given

from command import credit
from core.test_hard_cases import sale, tags, visit
from effort import examples
from worlds import choices, into_core, worlds
from yardstick.core.report.summary import tie_line
from yardstick.core.report.weigh import weigh
from yardstick.core.settling.coverage import coverage

ISLE = tags("quorrin", "cpc", "Isle")


def at(day):
    return f"2026-04-{day:02d}T09:00:00Z"


def lead(number, **said):
    return {"lead_id": f"l{number}", "occurred_at": at(7), "form": "group", **said}


def spent(campaign, platform, cost):
    return {"day": "2026-04-06", "platform": platform, "campaign": campaign, "cost": cost}


WORLD = {
    "visits": [
        *(visit(number, ISLE, at(6), f"p{number}") for number in range(8)),
        visit(8, ISLE, at(6), "p8") | {"kind": "view"},
        *(visit(number, "", at(13), f"p{number}") for number in (9, 10)),
    ],
    "leads": [
        lead(1, visitor_id="p0"),
        lead(2, last_source="ostrel"),
        lead(3, code="ISLE26"),
        lead(4, self_reported="a friend"),
        lead(5),
    ],
    "conversions": [sale(1, "60.00", at(14), "p1"), sale(2, "40.00", at(14), "p9"), sale(3, "20.00", at(14), "nobody")],
    "spend": [spent("Isle", "Quorrin", "30.00"), spent("Isla", "Quorrin", "10.00"), spent("Sund", "Tarvolin", "20.00")],
}
SETTINGS = '[[campaign]]\nname = "Isle"\nvouchers = ["ISLE26"]\n'


@pytest.fixture(scope="module")
def shares(tmp_path_factory):
    folder = tmp_path_factory.mktemp("coverage")
    credit(folder, WORLD, SETTINGS)
    return read(folder / "out" / "coverage.csv")


def read(path):
    import csv

    with path.open(newline="", encoding="utf-8") as file:
        rows = list(csv.DictReader(file))
    return {
        (r["figure"], r["by"], r["value"]): (r["part"], r["whole"], r["low"][:6], r["high"][:6], r["since"])
        for r in rows
    }


@pytest.mark.parametrize(
    ("key", "wanted"),
    [
        (("visits_tagged", "", ""), ("8", "10", "0.5408", "0.9314", "")),
        (("visits_tagged", "week", "2026-04-06"), ("8", "8", "0.7472", "1", "")),
        (("visits_tagged", "week", "2026-04-13"), ("0", "2", "0", "0.5749", "")),
        (("leads_with_source", "", ""), ("3", "5", "0.2724", "0.8572", "")),
        (("leads_with_source", "form", "group"), ("3", "5", "0.2724", "0.8572", "")),
        (("conversions_with_trail", "", ""), ("5", "8", "0.3479", "0.8388", "")),
        (("conversions_with_trail", "goal", "sale"), ("2", "3", "0.2534", "0.9218", "")),
        (("value_credited", "", ""), ("60.00", "120.00", "", "", "")),
        (("spend_matched", "", ""), ("30.00", "60.00", "", "", "")),
        (("spend_matched", "platform", "Quorrin"), ("30.00", "40.00", "", "", "")),
        (("spend_matched", "platform", "Tarvolin"), ("0.00", "20.00", "", "", "")),
    ],
)
def test_each_share_is_as_worked_out_by_hand(shares, key, wanted):
    assert shares[key][:2] == wanted[:2]
    for mine, by_hand in zip(shares[key][2:4], wanted[2:4], strict=True):
        assert (mine == by_hand == "") or float(mine) == pytest.approx(float(by_hand), abs=2e-4)
    assert shares[key][4] == wanted[4]


def test_a_share_that_is_another_from_a_week_on_says_since_when(tmp_path):
    """Eight of eight, then none of eight: at 99 % from 0.5466 on, and up to 0.4534."""
    visits = [visit(n, ISLE if n < 8 else "", at(6 if n < 8 else 13), f"p{n}") for n in range(16)]
    credit(tmp_path, WORLD | {"visits": visits}, SETTINGS)
    assert read(tmp_path / "out" / "coverage.csv")["visits_tagged", "", ""][4] == "2026-04-13"


@examples(60)
@given(worlds(), choices())
def test_parts_add_up_to_the_whole_which_is_what_the_board_says(world, both):
    result = weigh(into_core(world), both[1])
    ties = tie_line(result)
    sums, whole = defaultdict(lambda: [0, 0]), {}
    for one in coverage(result):
        assert 0 <= one.part <= one.whole or not one.counts
        if one.by:
            mine = sums[one.figure, one.by]
            mine[0], mine[1] = mine[0] + one.part, mine[1] + one.whole
        else:
            whole[one.figure] = [one.part, one.whole]
    assert all(mine == whole[figure] for (figure, _), mine in sums.items())
    assert whole["value_credited"] == [ties.named["linear"] + _outside(result), ties.booked.value]
    assert whole["spend_matched"] == [ties.matched, ties.invoiced]
    assert whole["conversions_with_trail"][1] == ties.booked.leads + ties.booked.conversions
    assert whole["leads_with_source"][1] == ties.booked.leads
    first = [row for row in result.rows if row.yardstick == "first"]
    clicks = sum(row.sums.click_touches or 0 for row in first)
    untagged = sum(row.sums.click_touches or 0 for row in first if row.bucket == "untagged")
    # A touch without a tag may have a campaign all the same, by a legend of its page.
    assert whole["visits_tagged"][0] <= clicks - untagged
    assert whole["visits_tagged"][1] == clicks


def _outside(result):
    """Under the touch basis the board shows what stands in the range alone; booked, and so covered, is all of it (R22)."""
    if result.plan.reporting.date_basis != "touch":
        return 0
    campaign = result.prepared.touches.fields["campaign"].codes
    named = campaign[result.whole.touch] != 0
    return int(result.whole_shares["linear"].value[named].sum()) - tie_line(result).named["linear"]
