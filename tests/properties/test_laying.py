"""Touches in order and trails laid, by columns of numbers and by machine code, beside a loop over all of them."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from effort import examples
from yardstick.core.base import machine_code
from yardstick.core.base.columns import Text
from yardstick.core.trails import touches, trails

WAYS = pytest.mark.parametrize("compiled", [False, True])
"""By columns of numbers alone, or by machine code."""


@pytest.fixture(autouse=True)
def way(monkeypatch, compiled):
    monkeypatch.setattr(machine_code, "FEWEST", 0 if compiled else 2**60)
    assert machine_code.machine_code(touches.COMPILED, pays=True) is not None
    assert (machine_code.at_hand(touches.COMPILED, 1) is not None) == compiled


@st.composite
def rows(draw):
    """Persons and instants of some rows, many of them alike, some far apart."""
    chance = np.random.default_rng(draw(st.integers(0, 2**32)))
    many = draw(st.sampled_from([0, 1, 2, 7, 60]))
    person = chance.integers(0, draw(st.sampled_from([1, 3, 50, 2**40, 2**62])), many)
    first = draw(st.sampled_from([0, -(2**45), 1_780_000_000_000_000]))
    return person, first + chance.integers(0, draw(st.sampled_from([1, 5, 10**9, 2**51])), many)


@WAYS
@examples(150)
@given(rows(), st.booleans())
def test_touches_are_in_the_order_of_person_time_and_text(compiled, given_rows, tied):
    """Equal instants too, and such as differ by less than the packed key can hold."""
    person, at = given_rows
    texts = [f"v{number * 7 % 11}" for number in range(len(person))]
    order = touches.order_by_person(person, at, Text.of(texts) if tied else None).tolist()
    wanted = sorted(range(len(person)), key=lambda row: (person[row], at[row], texts[row] if tied else "", row))
    assert order == wanted


@WAYS
@examples(150)
@given(rows(), rows(), st.lists(st.integers(0, 2**40), min_size=3, max_size=3), st.booleans())
def test_a_trail_holds_what_its_person_did_within_the_window(compiled, seen, bought, windows, clicks_only):
    """Both ends inclusive, each kind by its own window; conversions in any order, of people without a touch too."""
    person, at = seen[0] % 20, seen[1]
    order = touches.order_by_person(person, at)
    person, at = person[order], at[order]
    buyer, bought_at = bought[0] % 25, bought[1]
    if len(at) and len(bought_at):
        bought_at[::3] = at[0]
        windows[1] = int(abs(int(bought_at[-1]) - int(at[-1])))
    kind = np.arange(len(at)) % (1 if clicks_only else 3)
    back = np.array([[(window + row) % 2**45 for window in windows] for row in range(len(buyer))]).reshape(-1, 3)
    begins = trails.begins_of(person)
    people = range(int(person.max(initial=-1)) + 1)
    assert begins.tolist() == [*(int((person < who).sum()) for who in people), len(at), len(at)]
    laid = trails.lay_trails(begins, at, kind, buyer, bought_at, back)
    found = [laid.touch[a:b].tolist() for a, b in zip(laid.offsets, laid.offsets[1:], strict=False)]
    assert found == [
        [
            touch
            for touch in range(len(at))
            if person[touch] == buyer[row] and 0 <= bought_at[row] - at[touch] <= back[row, kind[touch]]
        ]
        for row in range(len(buyer))
    ]
