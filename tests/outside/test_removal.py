"""The effects of removal against numpy: the chain solved anew without each state."""

from __future__ import annotations

import numpy as np
import pytest

from yardstick.core.base.tally import merged
from yardstick.core.credit import chains
from yardstick.core.credit.removal import CONVERTED, EFFECT_UNITS, LOST, START, effects, moves_of
from yardstick.core.trails.trails import Trails


@pytest.mark.parametrize("seed", range(20))
def test_effects_are_those_of_the_chain_without_the_state(seed, monkeypatch):
    """numpy.linalg.solve on the transition matrix, once with all states and once for each whose inflow is lost."""
    chance = np.random.default_rng(seed)
    states = int(chance.integers(1, 40))
    lengths = chance.integers(0, 6, 200)
    offsets = np.concatenate([[0], np.cumsum(lengths)])
    # A few states that everyone passes, and a long tail.
    state = np.minimum((chance.pareto(1, offsets[-1]) * 2).astype(np.int64), states - 1)
    converts = chance.random(200) < 0.3
    converts[lengths > 0] |= np.arange((lengths > 0).sum()) == 0
    trails = Trails(np.arange(200), offsets, np.arange(offsets[-1]))
    none = np.zeros(200, np.int64)
    moves = merged(
        [
            moves_of(trails.only(some), state, none[some], end)
            for some, end in ((converts, CONVERTED), (~converts, LOST))
        ]
    )
    found, effect = effects(moves, 0)
    # Of very many states those with few neighbours are taken out of the chain first, which gives the same.
    whole, rounds = np.linalg.inv, []
    monkeypatch.setattr(chains, "WIDEST_INVERSE", 2)
    monkeypatch.setattr(np.linalg, "inv", lambda rest: rounds.append(len(rest)) or whole(rest))
    assert effects(moves, 0)[1].tolist() == pytest.approx(effect.tolist(), abs=2)
    monkeypatch.undo()
    assert len(found) < 2 or rounds[0] < len(found) + 1

    times = np.zeros((states + 1, states + 2))
    for one, two, count in zip(*moves.keys[1:].tolist(), moves.exact(0), strict=True):
        row = 0 if one == START else one + 1
        times[row, {CONVERTED: states, LOST: states + 1}.get(two, two)] += count

    def convert(without=None):
        share = np.divide(
            times,
            times.sum(axis=1, keepdims=True),
            where=times.sum(axis=1, keepdims=True) > 0,
            out=np.zeros_like(times),
        )
        inner = np.zeros((states + 1, states + 1))
        inner[:, 1:] = share[:, :states]
        if without is not None:
            inner[:, without + 1] = 0
        return np.linalg.solve(np.eye(states + 1) - inner, share[:, states])[0]

    assert sorted(set(state.tolist())) == found.tolist()
    for number, got in zip(found.tolist(), effect.tolist(), strict=True):
        assert got / EFFECT_UNITS == pytest.approx(1 - convert(number) / convert(), abs=2e-12)
