"""The rules against things outside this project; each check names its source."""

from __future__ import annotations

import itertools
import json
from datetime import UTC, datetime, timedelta
from decimal import ROUND_HALF_EVEN, Decimal
from fractions import Fraction
from math import factorial
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from worlds import into_core
from yardstick.core.base.columns import Amounts, Text
from yardstick.core.base.day_numbers import day_number, day_text
from yardstick.core.base.days import local_days
from yardstick.core.base.identifiers import VISITOR
from yardstick.core.base.money import round_half_even
from yardstick.core.plan.crediting_phase import Yardstick
from yardstick.core.plan.plan import plan_of
from yardstick.core.reading.tags import parameters
from yardstick.core.report.figures import Sums, break_even_roas, figures, ratio
from yardstick.core.report.weigh import weigh
from yardstick.core.rules.allocation import ByKind
from yardstick.core.rules.apportioning import Kinds, apportion
from yardstick.core.rules.built.fair_share import fair_share
from yardstick.core.rules.trail_context import TrailContext
from yardstick.core.trails.people import Identified, find_people
from yardstick.core.trails.trails import Trails
from yardstick.formats.cells.cells import minor_digits

DATA = Path(__file__).parent / "data"


@pytest.mark.parametrize(("query", "pairs"), json.loads((DATA / "urlencoded.json").read_text()).items())
def test_queries_are_read_as_the_url_standard_says(query, pairs):
    """WHATWG URL Standard, application/x-www-form-urlencoded parsing; values from two independent implementations."""
    assert [[name, value] for name, value, _ in parameters(query)] == pairs


def trails_of(*lengths: int) -> Trails:
    offsets = np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64)
    return Trails(np.arange(len(lengths)), offsets, np.arange(offsets[-1]))


def shared(totals: list[int], offsets: list[int], divisors: list[int]) -> list[int]:
    """Units by touch, from a divisor for every touch."""
    number = []
    for begin, end in itertools.pairwise(offsets):
        mine = sorted(set(divisors[begin:end]))
        number += [mine.index(d) for d in divisors[begin:end]]
    kinds = Kinds.of(np.array(offsets), np.array(number, dtype=np.int64))
    divisor = np.zeros(len(kinds.used), np.int64)
    divisor[np.searchsorted(kinds.used, kinds.cell)] = divisors
    return apportion(np.array(totals), kinds, divisor).tolist()


def test_largest_remainder_of_a_hundred_over_three():
    """Published apportionment example: 100 over 3 = 34, 33, 33 (largest remainder, ties to the earlier)."""
    assert shared([100], [0, 3], [3, 3, 3]) == [34, 33, 33]


@given(
    st.lists(
        st.tuples(st.integers(0, 10**12), st.lists(st.integers(1, 6), min_size=1, max_size=9)), min_size=1, max_size=6
    ),
    st.randoms(use_true_random=False),
)
def test_largest_remainder_matches_whole_fractions(cases, chance):
    """Hamilton's method worked with `fractions.Fraction` (Python's standard library)."""
    totals, offsets, divisors, wanted = [], [0], [], []
    for total, repeats in cases:
        shares = [Fraction(1, len(repeats) * r) for r in repeats for _ in range(r)]
        chance.shuffle(shares)  # equal remainders of different shares stand between each other
        quotas = [total * s for s in shares]
        units = [int(q) for q in quotas]
        by_rest = sorted(range(len(units)), key=lambda i: (units[i] - quotas[i], i))
        for i in by_rest[: total - sum(units)]:
            units[i] += 1
        totals.append(total)
        divisors += [s.denominator for s in shares]
        offsets.append(len(divisors))
        wanted += units
    assert shared(totals, offsets, divisors) == wanted


def test_wide_denominators_are_compared_exactly():
    """Divisors whose common multiple does not fit 64 bits: the same answer as with whole fractions."""
    players = [2, 3, 5, 7, 11, 13, 17, 19, 23, 29, 31, 37, 41, 43, 47, 53]
    divisors = [len(players) * p for p in players for _ in range(p)]
    total = 10_007
    quotas = [Fraction(total, int(d)) for d in divisors]
    units = [int(q) for q in quotas]
    for i in sorted(range(len(units)), key=lambda i: (units[i] - quotas[i], i))[: total - sum(units)]:
        units[i] += 1
    assert shared([total], [0, len(divisors)], divisors) == units


def shapley(players: list[str], worth) -> dict[str, Fraction]:
    """The Shapley value by its definition: the mean marginal worth over all orders (Shapley 1953)."""
    value = dict.fromkeys(players, Fraction(0))
    for order in itertools.permutations(players):
        for i, player in enumerate(order):
            value[player] += worth(frozenset(order[: i + 1])) - worth(frozenset(order[:i]))
    return {p: v / factorial(len(players)) for p, v in value.items()}


def test_the_definition_gives_the_textbook_glove_game():
    """Glove game (1 left, 2 right): 2/3, 1/6, 1/6 - a textbook value; shows that the definition above is right."""
    value = shapley(["l", "r", "s"], lambda s: Fraction(int("l" in s and bool({"r", "s"} & s))))
    assert value == {"l": Fraction(2, 3), "r": Fraction(1, 6), "s": Fraction(1, 6)}


@given(st.lists(st.lists(st.sampled_from("abcd"), min_size=1, max_size=6), min_size=1, max_size=5))
def test_fair_share_is_the_shapley_value(paths):
    """Shapley 1953: v(S) = conversions whose players all lie in S."""
    wanted = shapley(list("abcd"), lambda s: Fraction(sum(set(p) <= s for p in paths)))
    trails = trails_of(*map(len, paths))
    touches = [t for p in paths for t in p]
    players = np.array(["abcd".index(t) for t in touches])
    nothing = np.zeros(len(touches), np.int64)
    asked = TrailContext(
        Yardstick("f", "fair_share"),
        trails,
        nothing.astype(np.bool_),
        players,
        lambda by: players,
        lambda: Text.blank(len(touches)),
        lambda: nothing,
        lambda: nothing,
    )
    given = fair_share(asked)
    assert isinstance(given, ByKind)
    divisors = given.kinds.spread(given.divisor)
    got = dict.fromkeys("abcd", Fraction(0))
    for touch, divisor in zip(touches, divisors.tolist(), strict=True):
        got[touch] += Fraction(1, divisor)
    assert got == wanted


@pytest.mark.parametrize(
    ("zone", "day", "hours"),
    [
        ("Europe/Berlin", "2024-03-31", 23),
        ("Europe/Berlin", "2024-10-27", 25),
        ("Australia/Lord_Howe", "2024-04-07", 24.5),
        ("Pacific/Apia", "2011-12-30", 0),
        ("Australia/Adelaide", "2026-04-05", 25),
        ("Asia/Tokyo", "2026-04-05", 24),
    ],
)
def test_days_have_the_length_the_time_zone_data_says(zone, day, hours):
    """IANA time zone data: days around clock changes, one that never was."""
    middle = datetime.fromisoformat(day).replace(tzinfo=UTC)
    minutes = np.array([int((middle + timedelta(minutes=m)).timestamp()) * 1_000_000 for m in range(-2880, 2880, 15)])
    days = local_days(minutes, zone)
    assert int((days == day_number(middle.date())).sum()) * 15 / 60 == hours


def test_half_past_eleven_in_the_west_is_the_next_day_in_utc():
    """Check value, common practice: 23:30 on the 4th at UTC-5 is the 5th in UTC."""
    at = datetime.fromisoformat("2026-03-04T23:30:00-05:00")
    assert [day_text(d) for d in local_days(np.array([int(at.timestamp() * 1e6)]), "UTC")] == ["2026-03-05"]


@pytest.mark.parametrize(("code", "digits"), [("JPY", 0), ("EUR", 2), ("KWD", 3), ("CLF", 4)])
def test_minor_units(code, digits):
    """ISO 4217 list of currencies."""
    assert minor_digits(code) == digits


@given(st.integers(-(10**20), 10**20), st.integers(0, 12), st.integers(0, 4))
def test_rounding_is_that_of_the_decimal_module(units, decimals, to):
    """ROUND_HALF_EVEN of Python's `decimal` (General Decimal Arithmetic)."""
    wanted = (
        Decimal(units).scaleb(-decimals).quantize(Decimal(1).scaleb(-to), ROUND_HALF_EVEN)
        if decimals
        else Decimal(units)
    )
    column = Amounts.of([(units, decimals)])
    got = round_half_even(column.units, column.decimals, to)[0]
    assert Decimal(int(got)).scaleb(-to) == wanted


def test_check_values_of_figures():
    """Common practice: 420 / 35 = 12.00, of which 14 good 30.00; no lead, no figure; ratio of sums; profit."""
    one = figures(Sums(leads=Fraction(35), good_leads=Fraction(14), spend=42_000), Decimal(1), 2)
    assert (one.cost_per_lead, one.cost_per_good_lead) == (12.0, 30.0)
    assert figures(Sums(leads=Fraction(0), spend=42_000), Decimal(1), 2).cost_per_lead is None
    assert figures(Sums(value=300_000, spend=100_000), Decimal(1), 2).roas == 3.0
    assert ratio(120 + 30, 100 + 10) == pytest.approx(1.3636, abs=5e-5)
    assert break_even_roas(Decimal("0.4")) == 2.5
    assert figures(Sums(value=430_000, spend=125_000), Decimal("0.4"), 2).profit == 47_000


def test_exchange_check_value():
    """Check value: 137.40 x 1.27 = 174.50 (174.498)."""
    world = {
        "visits": [],
        "conversions": [
            {
                "conversion_id": "c",
                "occurred_at": "2026-03-04T10:00:00Z",
                "goal": "sale",
                "total": "137.40",
                "currency": "GBP",
            }
        ],
        "rates": [{"day": "2026-03-01", "base": "GBP", "quote": "EUR", "rate": "1.27"}],
    }
    assert weigh(into_core(world), plan_of()).prepared.conversions.value.tolist() == [17450]


def path(campaigns: str, total: str, rule: str) -> dict[str, int]:
    """One person's touches an hour apart, one conversion after them; value per campaign in minor units."""
    start = datetime(2026, 3, 1, tzinfo=UTC)
    visits = [
        {
            "visit_id": f"v{i}",
            "occurred_at": (start + timedelta(hours=i)).isoformat(),
            "visitor_id": "p",
            "url": f"/?utm_campaign={c}",
        }
        for i, c in enumerate(campaigns)
    ]
    at = (start + timedelta(days=1)).isoformat()
    sale = {"conversion_id": "c", "occurred_at": at, "goal": "sale", "visitor_id": "p", "total": total}
    chosen = plan_of(yardsticks=(Yardstick("y", rule),))
    result = weigh(into_core({"visits": visits, "conversions": [sale]}), chosen)
    return {row.by[0]: row.sums.value for row in result.rows}


def test_check_values_of_sharing():
    """Linear 100.00 over 3 = 33.34 + 33.33 + 33.33; path A A B, 90.00: 60 / 30; fair share by player: 45 / 45."""
    assert path("abc", "100.00", "linear") == {"a": 3334, "b": 3333, "c": 3333}
    # A second visit with the same tags an hour later is a touch of its own (30 minutes have passed).
    assert path("aab", "90.00", "linear") == {"a": 6000, "b": 3000}
    assert path("aab", "90.00", "fair_share") == {"a": 4500, "b": 4500}
    assert path("ab", "0.03", "linear") == {"a": 2, "b": 1}


@given(st.lists(st.tuples(st.integers(0, 5), st.integers(0, 5)), max_size=25))
def test_people_are_the_connected_components(pairs):
    """Components by repeated merging of sets, the definition (networkx and scipy give the same)."""
    column = {0: Text.of([f"a{a}" for a, _ in pairs]), 1: Text.of([f"b{b}" for _, b in pairs])}
    person = find_people([Identified(np.ones(len(pairs), np.bool_), column)]).person[0].tolist()
    sets = [{f"a{a}", f"b{b}"} for a, b in pairs]
    for _ in sets:
        for one, two in itertools.combinations(range(len(sets)), 2):
            if sets[one] & sets[two]:
                sets[one] = sets[two] = sets[one] | sets[two]
    same = [[sets[i] == sets[j] for j in range(len(pairs))] for i in range(len(pairs))]
    assert [[person[i] == person[j] for j in range(len(pairs))] for i in range(len(pairs))] == same
    assert VISITOR == 0
