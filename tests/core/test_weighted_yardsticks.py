"""Position, decay, custom (R14) and money shared by weight (R17), through the command line and against whole fractions."""

from __future__ import annotations

from decimal import Decimal, localcontext
from fractions import Fraction

import numpy as np
import pytest
import tomli_w
from hypothesis import given
from hypothesis import strategies as st

from command import credit
from core.test_hard_cases import sale, tags, visit
from yardstick.core.rules.apportioning import apportion_by_weight
from yardstick.core.rules.built.decay import weights
from yardstick.formats.plan.settings_toml import read_settings, settings_used

DAYS = "2026-04-{:02d}T10:00:00Z"


def trail(days, mediums=()):
    """One person's visits, a campaign each, on days of April."""
    mediums = mediums or ["cpc"] * len(days)
    return [
        visit(i, tags("zeta", medium, f"C{i}"), DAYS.format(day))
        for i, (day, medium) in enumerate(zip(days, mediums, strict=True))
    ]


def yardstick(rule, **params):
    lines = [f"{name} = {value}" for name, value in params.items()]
    return "\n".join(["[[yardstick]]", 'name = "y"', f'rule = "{rule}"', *lines, ""])


def shared(tmp_path, visits, total, settings, at=20):
    """(value, share) of each touch of one sale, in the order of its trail."""
    found = credit(tmp_path, {"visits": visits, "conversions": [sale(1, total, DAYS.format(at))]}, settings)
    assert found.code == 0, found.said
    of = {row["visit_id"]: (row["value"], row["share"]) for row in found.credits}
    return [of.get(v["visit_id"], ("", ""))[0] for v in visits], [of.get(v["visit_id"], ("", ""))[1] for v in visits]


def test_position_over_five_touches(tmp_path):
    """Common practice: 40 % to both ends, the rest on the middle."""
    values, _ = shared(tmp_path, trail([1, 2, 3, 4, 5]), "900.00", yardstick("position"))
    assert values == ["360.00", "60.00", "60.00", "60.00", "360.00"]


def test_a_tie_of_remainders_that_binary_floats_get_wrong(tmp_path):
    """0.04 by 0.3 / 0.5: quotas 1.5 and 2.5 cents, so the earlier touch gets the odd cent."""
    settings = yardstick("position", first=0.3, last=0.5)
    assert shared(tmp_path, trail([1, 2]), "0.04", settings)[0] == ["0.02", "0.02"]


def test_position_gives_all_to_a_single_touch_and_nothing_to_a_middle_without_a_rest(tmp_path):
    settings = yardstick("position", first=0.5, last=0.5)
    assert shared(tmp_path / "one", trail([1]), "9.00", settings)[0] == ["9.00"]
    assert shared(tmp_path / "three", trail([1, 2, 3]), "9.00", settings)[0] == ["4.50", "", "4.50"]
    settings = yardstick("position", first=0, last=1)
    assert shared(tmp_path / "two", trail([1, 2]), "9.00", settings)[0] == ["", "9.00"]


def test_decay_over_two_half_lives(tmp_path):
    """Half-life 7, ages 14, 7, 0: 1/7, 2/7, 4/7 (arithmetic of halves)."""
    values, shares = shared(tmp_path, trail([1, 8, 15]), "7.00", yardstick("decay"), at=15)
    assert values == ["1.00", "2.00", "4.00"]
    assert shares == ["0.1428571429", "0.2857142857", "0.5714285714"]


def test_a_slow_decay_has_the_whole_weights_of_the_rule():
    """Half-life 1,000 days, ages 2, 1, 0: round(2^40 x 2^-0.002), round(2^40 x 2^-0.001), 2^40."""
    day = 86_400_000_000
    with localcontext() as context:
        context.prec = 60
        wanted = [int((2**40 * Decimal(2) ** -Decimal(x)).to_integral_value()) for x in ("0.002", "0.001", "0")]
    assert weights(np.array([2 * day, day, 0]), Decimal(1000) * day).tolist() == wanted


@given(st.lists(st.integers(0, 3_650 * 86_400_000_000), min_size=1, max_size=20), st.integers(1, 10_000_000))
def test_weights_are_those_of_sixty_digits(ages, half_life):
    """Half-lives from 1 to 1,000 days in steps of 0.0001."""
    life = Decimal(half_life) * 8_640_000
    with localcontext() as context:
        context.prec = 60
        wanted = [int((2**40 * Decimal(2) ** (-Decimal(a) / life)).to_integral_value("ROUND_HALF_EVEN")) for a in ages]
    assert weights(np.array(ages), life).tolist() == wanted


def test_custom_weighs_place_and_channel(tmp_path):
    """2 / 1 / 1 and half for e-mail: 2 x 0.5, 1, 1."""
    settings = yardstick("custom", first=2, middle=1, last=1, channel="{ EMAIL = 0.5 }")
    values, _ = shared(tmp_path, trail([1, 2, 3], ["email", "cpc", "cpc"]), "90.00", settings)
    assert values == ["30.00", "30.00", "30.00"]


def test_custom_without_any_weight_is_linear_and_a_single_touch_uses_first(tmp_path):
    settings = yardstick("custom", first=0, middle=0, last=3, channel="{ Email = 0 }")
    values, _ = shared(tmp_path / "a", trail([1, 2], ["cpc", "email"]), "9.00", settings)
    assert values == ["4.50", "4.50"]
    values, _ = shared(tmp_path / "b", trail([1, 2], ["email", "cpc"]), "9.00", settings)
    assert values == ["", "9.00"]
    assert shared(tmp_path / "c", trail([1]), "9.00", settings)[0] == ["9.00"]


def test_custom_stands_only_where_it_is_named(tmp_path):
    found = credit(tmp_path, {"visits": trail([1]), "conversions": [sale(1)]})
    rules = list(dict.fromkeys(row["yardstick"] for row in found.rows))
    assert rules == ["first", "last", "last_marked", "linear", "position", "decay", "fair_share", "removal"]
    assert found.summary["settings"]["yardstick"][0]["name"] == "first"


def test_the_summary_names_the_parameters_that_were_used(tmp_path):
    settings = yardstick("custom", first=2, channel="{ Email = 0.5 }")
    found = credit(tmp_path, {"visits": trail([1]), "conversions": [sale(1)]}, settings)
    (used,) = found.summary["settings"]["yardstick"]
    assert (used["first"], used["channel"], used["rule"]) == ("2", {"Email": "0.5"}, "custom")


trails = st.lists(st.lists(st.integers(0, 2**40), max_size=6).filter(lambda w: not w or any(w)), max_size=8)


@given(trails, st.data())
@pytest.mark.parametrize("scale", [1, 2**15, 10**14])
def test_units_are_shared_as_whole_fractions_say(scale, lists, data):
    """Hamilton's method by its definition; with weights that add up beyond 64 bits, too."""
    totals = [data.draw(st.integers(0, 2**62)) for _ in lists]
    flat = [w * scale for weight in lists for w in weight]
    kind = np.int64 if sum(flat) < 2**61 else object
    offsets = np.concatenate([[0], np.cumsum([len(w) for w in lists])]).astype(np.int64)
    got = apportion_by_weight(np.array(totals, np.int64), np.array(flat, kind), offsets).tolist()
    wanted = []
    for total, weight in zip(totals, lists, strict=True):
        quotas = [Fraction(total * w, sum(weight)) for w in weight]
        units = [int(q) for q in quotas]
        for i in sorted(range(len(weight)), key=lambda i: (units[i] - quotas[i], i))[: total - sum(units)]:
            units[i] += 1
        wanted += units if weight else []
    assert got == wanted


@pytest.mark.parametrize(
    "stated",
    [
        '[[yardstick]]\nname = "linear"\nrule = "linear"\n',
        '[[yardstick]]\nname = "mine"\nrule = "removal"\nby = "channel"\n',
        '[[yardstick]]\nname = "slow"\nrule = "decay"\nhalf_life_days = 20\n',
        '[[yardstick]]\nname = "w"\nrule = "custom"\nfirst = 2\nchannel = { Email = "0.5" }\n',
        "",
    ],
)
def test_settings_as_used_are_settings_again(stated):
    """What the summary says was used can be written into a settings file: the same plan comes of it."""
    plan = read_settings(stated.encode())
    assert read_settings(tomli_w.dumps(settings_used(plan)).encode()) == plan
