"""Credit added up by machine code is that of the shares, unit by unit, under every rule."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from effort import examples
from yardstick.core.base.columns import Text
from yardstick.core.base.day_numbers import DAY_US
from yardstick.core.credit import adding, summing
from yardstick.core.credit.credit import Credit, share_of
from yardstick.core.plan.crediting_phase import Yardstick
from yardstick.core.rules.registry import RULES
from yardstick.core.rules.trail_context import TrailContext
from yardstick.core.trails.trails import Trails

TOUCHES = [word for word, rule in RULES.items() if rule.shares]
"""Rules that credit touches: every one there is, also one that was added since."""
_parts = st.integers(0, 10_000).map(lambda n: Decimal(n).scaleb(-4))
_weights = st.integers(0, 10_000_000).map(lambda n: Decimal(n).scaleb(-4))


@st.composite
def yardsticks(draw):
    rule = draw(st.sampled_from(TOUCHES))
    params, channels = (), ()
    if rule == "position":
        first, last = draw(st.tuples(_parts, _parts).filter(lambda two: 0 < sum(two) <= 1))
        params = (("first", first), ("last", last))
    elif rule == "decay":
        params = (("half_life_days", draw(st.integers(1, 10_000_000).map(lambda n: Decimal(n).scaleb(-4)))),)
    elif rule == "custom":
        params = tuple((name, draw(_weights)) for name in draw(st.sets(st.sampled_from(["first", "middle", "last"]))))
        channels = tuple((name, draw(_weights)) for name in draw(st.sets(st.sampled_from(["Email", "print", "x"]))))
    return Yardstick(rule, rule, draw(st.sampled_from(["campaign", "channel"])), params, channels)


@st.composite
def worlds(draw):
    """Trails over some touches, the value of each, where elements are added up, and what rules ask of the touches."""
    chance = np.random.default_rng(draw(st.integers(0, 2**32)))
    longest = draw(st.sampled_from([1, 2, 3, 8, 40, 300]))
    lengths = chance.integers(0, longest + 1, draw(st.integers(1, 12)))
    offsets = np.concatenate([[0], np.cumsum(lengths)])
    touches = int(lengths.sum()) + 1
    size = draw(st.integers(1, 6))
    touch = np.concatenate([np.sort(chance.choice(touches, n, replace=False)) for n in lengths] + [[]]).astype(np.int64)
    asked = {
        "trails": Trails(np.arange(len(lengths)), offsets, touch),
        "direct": chance.random(touches) < draw(st.sampled_from([0, 0.3, 1])),
        "at": np.sort(chance.integers(0, draw(st.sampled_from([1, 10**6, 10**13])), touches)),
        "player": chance.integers(0, draw(st.sampled_from([1, 2, 5, 400])), touches),
        "days": chance.integers(0, draw(st.sampled_from([1, 3, 120])), len(lengths)),
        "channels": Text.of([["Email", "Print", "", "other"][i] for i in chance.integers(0, 4, touches)]),
    }
    value = chance.integers(0, draw(st.sampled_from([1, 2, 100, 2**48, 2**50])), len(lengths))
    return asked, value, chance.integers(-1, size, len(touch)), size


NOBODY: Any = None
"""In the place of touches that no rule asked here looks at."""


def asked_of(world, yardstick):
    return TrailContext(
        yardstick,
        world["trails"],
        world["direct"],
        players=lambda by: world["player"],
        at=world["at"],
        channels=lambda: world["channels"],
        days=lambda: world["at"] // DAY_US,
        conversion_days=lambda: world["days"],
    )


def exact(halves):
    return [[(int(h) << 30) + int(w) for h, w in zip(*rows, strict=True)] for rows in zip(*halves, strict=True)]


def added_from(share, place, size):
    wanted = [[0] * size, [0] * size]
    for element, part, worth in zip(share.element.tolist(), share.part.tolist(), share.worth.tolist(), strict=True):
        if place[element] >= 0:
            wanted[0][place[element]] += part
            wanted[1][place[element]] += worth
    return wanted


@examples(150)
@given(worlds(), st.lists(yardsticks(), min_size=1, max_size=4), st.sampled_from([1, 5, 2**16]), st.booleans())
def test_sums_are_those_of_the_shares(world, several, stretch, room):
    """One yardstick or some together, two of one rule among them, in stretches of any size, kept or worked out anew."""
    asked, value, place, size = world
    asked = {str(number): asked_of(asked, yardstick) for number, yardstick in enumerate(several)}
    shares = {name: share_of(one, value) for name, one in asked.items()}
    wanted = [added_from(share, place, size) for share in shares.values()]
    other = np.roll(place, 1)

    def uncompiled(name):
        assert RULES[asked[name].yardstick.rule].kernel is None
        return shares[name]

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(summing, "COMPILED_FROM", 0)
        patch.setattr(summing, "FEWEST", 0)
        patch.setattr(adding, "STRETCH", stretch)
        patch.setattr(adding, "KEPT_MOST", 2**23 if room else len(place))
        kept = {}
        for where, those in ((place, None), (place, kept), (other, kept), (place, kept)):
            found = summing.summed(asked, uncompiled, value, where, size, those)
            assert [exact(one) for one in found] == (
                wanted if where is place else [added_from(share, other, size) for share in shares.values()]
            )
        assert len(kept) * len(place) <= adding.KEPT_MOST
        patch.setattr(summing, "kernels", lambda elements: None)
        assert [exact(one) for one in summing.summed(asked, shares.__getitem__, value, place, size)] == wanted


@pytest.mark.parametrize(("many", "days"), [(6_000, "7"), (40, "60000")])
def test_what_machine_code_cannot_hold_is_added_up_from_the_shares(monkeypatch, many, days):
    """Under decay weights whose sum passes 2^52, of 6,000 touches of one instant; and a half-life of 164 years."""
    monkeypatch.setattr(summing, "FEWEST", 0)
    monkeypatch.setattr(summing, "COMPILED_FROM", 0)
    world = {
        "trails": Trails(np.arange(1), np.array([0, many]), np.arange(many)),
        "direct": np.zeros(many, np.bool_),
        "at": np.zeros(many, np.int64),
        "player": np.zeros(many, np.int64),
        "channels": Text.blank(many),
    }
    asked = asked_of(world, Yardstick("decay", "decay", params=(("half_life_days", Decimal(days)),)))
    value = np.array([700_001])
    credit = Credit({"decay": asked}, value, asked.trails, NOBODY)
    parts, worth = exact(credit.summed_by_all(np.arange(many) % 2, 2)[0])
    assert (sum(parts), worth) == (2**60, [350_001, 350_000])
    assert credit._made


def test_a_rule_without_machine_code_is_added_up_from_its_shares(monkeypatch):
    """As one that was added by following the recipe up to there."""
    monkeypatch.setattr(summing, "FEWEST", 0)
    monkeypatch.setattr(summing, "COMPILED_FROM", 0)
    bare = {word: replace(rule, kernel=None) for word, rule in RULES.items()}
    monkeypatch.setattr(adding, "RULES", bare)
    many = 40
    trails = Trails(np.arange(2), np.array([0, 7, many]), np.arange(many))
    world = {
        "trails": trails,
        "direct": np.zeros(many, np.bool_),
        "at": np.arange(many),
        "player": np.arange(many) % 3,
        "channels": Text.blank(many),
    }
    asked = {rule: asked_of(world, Yardstick(rule, rule)) for rule in ("fair_share", "linear", "decay")}
    credit = Credit(asked, np.array([1_001, 99]), trails, NOBODY, keep=True)
    for _ in range(2):
        for high, low in credit.summed_by_all(np.zeros(many, np.int64), 1):
            parts, worth = exact((high, low))
            assert (parts, worth) == ([2 * 2**60], [1_100])


@pytest.mark.parametrize(("each", "compiled"), [(3, True), (2**49, False)])
def test_one_order_of_any_worth_among_many_is_held_and_too_many_of_them_are_not(monkeypatch, each, compiled):
    """What is added up at most has to stay below 2^61; either way it is added up to the unit."""
    monkeypatch.setattr(summing, "FEWEST", 0)
    monkeypatch.setattr(summing, "COMPILED_FROM", 0)
    many = 8_192
    trails = Trails(np.arange(many), np.arange(many + 1), np.arange(many))
    world = {
        "trails": trails,
        "direct": np.zeros(many, np.bool_),
        "at": np.arange(many),
        "player": np.zeros(many, np.int64),
        "channels": Text.blank(many),
    }
    value = np.full(many, each)
    value[7] = 2**49
    credit = Credit({"linear": asked_of(world, Yardstick("linear", "linear"))}, value, trails, NOBODY)
    assert exact(credit.summed_by_all(np.zeros(many, np.int64), 1)[0]) == [[many * 2**60], [each * (many - 1) + 2**49]]
    assert (not credit._made) == compiled


@pytest.mark.parametrize("days", ["7", "0.0001", "3.7", "1000"])
def test_decay_by_machine_code_tells_what_lies_near_to_a_half(monkeypatch, days):
    """Some hundred of these weights lie nearer to a half than one binary fraction can tell. A touch of just 41 half-lives
    before weighs half a unit, which goes to the even one, nothing."""
    monkeypatch.setattr(summing, "FEWEST", 0)
    monkeypatch.setattr(summing, "COMPILED_FROM", 0)
    half_life, many, each = int(Decimal(days) * 86_400 * 10**6), 200_000, 1_000
    chance = np.random.default_rng(1)
    older = chance.integers(0, 3 * half_life, many)
    older[::each], older[each - 1 :: each] = 41 * half_life, 0
    world = {
        "trails": Trails(np.arange(many // each), np.arange(0, many + 1, each), np.arange(many)),
        "direct": np.zeros(many, np.bool_),
        "at": 10**18 - older,
        "player": np.zeros(many, np.int64),
        "channels": Text.blank(many),
    }
    asked = asked_of(world, Yardstick("decay", "decay", params=(("half_life_days", Decimal(days)),)))
    value, place = np.full(many // each, 2**49), np.arange(many) % 7
    place[::each] = 7
    (found,) = summing.summed({"decay": asked}, lambda name: pytest.fail("not compiled"), value, place, 8)
    assert exact(found) == added_from(share_of(asked, value), place, 8)
    assert [of[7] for of in exact(found)] == [0, 0]
