"""What docs/worked-week.md works out by hand for its two weeks: every cell under every yardstick."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

import pytest

BUCKETS = {"untagged": "", "no_value": "no_value"}
"""Rows without a campaign, and how the tables below call them."""


@dataclass(frozen=True)
class ByHand:
    """A week: its cells (yardstick, campaign -> leads, good leads, sales, value), spend and touches by campaign, and
    what stands beside them."""

    first: str
    last: str
    cells: Mapping[tuple[str, str], tuple[float | Fraction, float | Fraction, float | Fraction, str]]
    spend: Mapping[str, str]
    touches: Mapping[str, int]
    no_trail: tuple[int, int, str]
    booked: tuple[int, int, int, str]

    @property
    def yardsticks(self) -> list[str]:
        return list(dict.fromkeys(yardstick for yardstick, _ in self.cells))

    @property
    def names(self) -> list[str]:
        return list(dict.fromkeys(name for _, name in self.cells))


# What would be lost of the leads without a state; tagged touches without a campaign are one.
WHALE, CARD, FREIGHT, MIDNIGHT, ORGANIC = 10 / 27, 7 / 15, 1 / 3, 13 / 36, 10 / 87
ALL = WHALE + CARD + 2 * FREIGHT + MIDNIGHT + ORGANIC
WEEK_ONE = ByHand(
    "2026-03-02",
    "2026-03-08",
    {
        ("first", "Spring Whale Boats"): (0, 0, 2, "220.00"),
        ("first", "Two-Island Year Card"): (2, 2, 1, "90.90"),
        ("first", "Freight Fridays"): (1, 0, 0, "0.00"),
        ("first", "Midnight Boat"): (0, 0, 0, "0.00"),
        ("first", ""): (0, 0, 2, "121.67"),
        ("first", "no_value"): (0, 0, 0, "0.00"),
        ("last", "Spring Whale Boats"): (0, 0, 1, "66.67"),
        ("last", "Two-Island Year Card"): (1, 1, 1, "90.90"),
        ("last", "Freight Fridays"): (0, 0, 0, "0.00"),
        ("last", "Midnight Boat"): (1, 1, 1, "100.00"),
        ("last", ""): (0, 0, 2, "175.00"),
        ("last", "no_value"): (1, 0, 0, "0.00"),
        ("last_marked", "Spring Whale Boats"): (0, 0, 1, "66.67"),
        ("last_marked", "Two-Island Year Card"): (1, 1, 2, "210.90"),
        ("last_marked", "Freight Fridays"): (0, 0, 0, "0.00"),
        ("last_marked", "Midnight Boat"): (1, 1, 1, "100.00"),
        ("last_marked", ""): (0, 0, 1, "55.00"),
        ("last_marked", "no_value"): (1, 0, 0, "0.00"),
        ("linear", "Spring Whale Boats"): (0, 0, 3 / 2, "140.00"),
        ("linear", "Two-Island Year Card"): (1.5, 1.5, 4 / 3, "130.90"),
        ("linear", "Freight Fridays"): (0.5, 0, 0, "0.00"),
        ("linear", "Midnight Boat"): (0.5, 0.5, 1 / 3, "33.33"),
        ("linear", ""): (0, 0, 11 / 6, "128.34"),
        ("linear", "no_value"): (0.5, 0, 0, "0.00"),
        ("position", "Spring Whale Boats"): (0, 0, 1.5, "141.33"),
        ("position", "Two-Island Year Card"): (1.5, 1.5, 1.2, "114.90"),
        ("position", "Freight Fridays"): (0.5, 0, 0, "0.00"),
        ("position", "Midnight Boat"): (0.5, 0.5, 0.4, "40.00"),
        ("position", ""): (0, 0, 1.9, "136.34"),
        ("position", "no_value"): (0.5, 0, 0, "0.00"),
        ("decay", "Spring Whale Boats"): (0, 0, 1.427838978338, "131.22"),
        ("decay", "Two-Island Year Card"): (1.443511398810, 1.443511398810, 1.342901049907, "132.05"),
        ("decay", "Freight Fridays"): (0.499656177048, 0, 0, "0.00"),
        ("decay", "Midnight Boat"): (0.556488601190, 0.556488601190, 0.393689465981, "39.37"),
        ("decay", ""): (0, 0, 1.835570505774, "129.93"),
        ("decay", "no_value"): (0.500343822952, 0, 0, "0.00"),
        ("fair_share", "Spring Whale Boats"): (0, 0, 4 / 3, "123.33"),
        ("fair_share", "Two-Island Year Card"): (1.5, 1.5, 4 / 3, "130.90"),
        ("fair_share", "Freight Fridays"): (0.5, 0, 0, "0.00"),
        ("fair_share", "Midnight Boat"): (0.5, 0.5, 1 / 2, "50.00"),
        ("fair_share", ""): (0, 0, 11 / 6, "128.34"),
        ("fair_share", "no_value"): (0.5, 0, 0, "0.00"),
        ("removal", "Spring Whale Boats"): (3 * WHALE / ALL, 2 * WHALE / ALL, 5 / 3, "144.19"),
        ("removal", "Two-Island Year Card"): (3 * CARD / ALL, 2 * CARD / ALL, 10 / 9, "96.13"),
        ("removal", "Freight Fridays"): (3 * FREIGHT / ALL, 2 * FREIGHT / ALL, 0, "0.00"),
        ("removal", "Midnight Boat"): (3 * MIDNIGHT / ALL, 2 * MIDNIGHT / ALL, 5 / 9, "48.06"),
        ("removal", ""): (3 * ORGANIC / ALL, 2 * ORGANIC / ALL, 5 / 3, "144.19"),
        ("removal", "no_value"): (3 * FREIGHT / ALL, 2 * FREIGHT / ALL, 0, "0.00"),
    },
    spend={
        "Spring Whale Boats": "100.00",
        "Two-Island Year Card": "55.30",
        "Freight Fridays": "30.00",
        "Midnight Boat": "0.00",
    },
    touches={
        "Spring Whale Boats": 4,
        "Two-Island Year Card": 2,
        "Freight Fridays": 1,
        "Midnight Boat": 2,
        "": 3,
        "no_value": 1,
    },
    no_trail=(1, 1, "20.00"),
    booked=(4, 2, 6, "452.57"),
)

# Half-lives of seven days: the deal's touches are 121, 120 2/3, 6 and 0 hours older than the newest, the order's 24 and 0.
_DEAL = [2 ** (-hours / 168) for hours in (121, 120 + 2 / 3, 6, 0)]
_FREIGHT, _NONE, _CARD = ((_DEAL[0] + _DEAL[2]) / sum(_DEAL), _DEAL[1] / sum(_DEAL), _DEAL[3] / sum(_DEAL))
_BOATS = 2 ** (-24 / 168) / (1 + 2 ** (-24 / 168))


def _second(rule: str, whale: Any, midnight: Any, freight: Any, none: Any, card: Any, untagged: Any = (1, "40.00")) -> dict[tuple[str, str], Any]:  # fmt: skip
    """One yardstick of the second week: sales and value of each; its one lead is the card's under every one."""
    names = ("Spring Whale Boats", "Midnight Boat", "Freight Fridays", "no_value", "Two-Island Year Card", "")
    rows = zip(names, (whale, midnight, freight, none, card, untagged), strict=True)
    return {(rule, name): (int(name == names[4]), int(name == names[4]), *cell) for name, cell in rows}


NOTHING, HALF = (0, "0.00"), (0.5, "40.00")
WEEK_TWO = ByHand(
    "2026-03-09",
    "2026-03-15",
    _second("first", (1, "80.00"), NOTHING, (1, "900.00"), NOTHING, NOTHING)
    | _second("last", NOTHING, (1, "80.00"), NOTHING, NOTHING, (1, "900.00"))
    | _second("last_marked", NOTHING, (1, "80.00"), NOTHING, NOTHING, (1, "900.00"))
    | _second("linear", HALF, HALF, (0.5, "450.00"), (0.25, "225.00"), (0.25, "225.00"))
    | _second("position", HALF, HALF, (0.5, "450.00"), (0.1, "90.00"), (0.4, "360.00"))
    | _second("decay", (_BOATS, "38.02"), (1 - _BOATS, "41.98"), (_FREIGHT, "446.43"), (_NONE, "171.47"), (_CARD, "282.10"))
    | _second("fair_share", HALF, HALF, (Fraction(1, 3), "300.00"), (Fraction(1, 3), "300.00"), (Fraction(1, 3), "300.00"))
    | _second("removal", (Fraction(2, 3), "40.00"), (Fraction(2, 3), "40.00"), (0.4, "360.00"), (0.2, "180.00"), (0.4, "360.00"), (Fraction(2, 3), "40.00")),
    spend={"Freight Fridays": "45.00", "Two-Island Year Card": "18.60", "Spring Whale Boats": "25.00", "Midnight Boat": "0.00"},
    touches=dict.fromkeys(("Spring Whale Boats", "Two-Island Year Card", "Freight Fridays", "Midnight Boat", ""), 1) | {"no_value": 0},
    no_trail=(0, 1, "15.00"),
    booked=(1, 1, 4, "1035.00"),
)  # fmt: skip


def assert_cells(rows: Sequence[Mapping[str, str]], week: ByHand) -> None:
    """Every line of a `result.csv` by campaign is as worked out by hand."""
    kept = {(r["yardstick"], BUCKETS.get(r["bucket"], r["campaign"])): r for r in rows if r["bucket"] in ("named", *BUCKETS)}  # fmt: skip
    assert kept.keys() == week.cells.keys()
    for (yardstick, name), (leads, good, sales, value) in week.cells.items():
        row = kept[yardstick, name]
        for column, by_hand in (("leads", leads), ("good_leads", good), ("conversions", sales)):
            assert float(row[column]) == pytest.approx(float(by_hand), abs=1e-9), (yardstick, name, column)
        assert row["value"] == value, (yardstick, name)
        assert (row["touches"] or "0", row["spend"]) == (str(week.touches[name]), week.spend.get(name, ""))
    without = {r["yardstick"]: (r["leads"], r["conversions"], r["value"]) for r in rows if r["bucket"] == "no_trail"}
    leads, sales, value = week.no_trail
    assert without == {yardstick: (str(leads), str(sales), value) for yardstick in week.yardsticks}
