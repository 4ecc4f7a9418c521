"""Removal (R16): what would be lost without a state, from an absorbing Markov chain over start, states and two ends.

It credits states, not touches: what each is worth depends on all paths together, those that led to nothing included.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from ..base.columns import Ints
from ..base.tally import LIMB, Tally, carried, counted_by
from ..rules.apportioning import largest_remainder
from ..trails.trails import Trails
from .chains import fundamental, with_diagonal
from .summing import kernels

Floats = npt.NDArray[np.float64]
START, CONVERTED, LOST = -1, -2, -3
"""Numbers of the states that are no state of a touch."""
EFFECT_UNITS = 10**12
"""Effects are whole multiples of 1 / this, so that everyone gets the same ones."""


def moves_of(trails: Trails, state: Ints, goal: Ints, end: int) -> Tally:
    """How often each step is taken on some paths.

    Parameters
    ----------
    trails : the paths; empty ones take no step
    state : (n_touches,) int64, the state of each touch
    goal : (c,) int64, the goal each path is of
    end : `CONVERTED` or `LOST`, where all of them end

    Returns
    -------
    keys (goal, from, to)
    """
    size = int(state.max(initial=0)) + 1
    # A move is one number, with room for the states that are of no touch; few enough have a place each to count in.
    room = (int(goal.max(initial=0)) + 1) * (size - START) * (size - LOST)
    if room > max(_ROOM, len(trails.touch)):
        return _by_sorting(trails, state, goal, end)
    compiled = kernels(len(trails.touch))
    if compiled is not None:
        counts = np.zeros(room, np.int64)
        columns = [np.ascontiguousarray(column, np.int64) for column in (trails.offsets, trails.touch, state, goal)]
        compiled.count_moves(*columns, size, -START, -LOST, end - LOST, counts)
    else:
        one, two, of = _steps(trails, state, goal, end)
        counts = np.bincount((of * (size - START) + one - START) * (size - LOST) + two - LOST, minlength=room)
    there = np.flatnonzero(counts)
    before, to = np.divmod(there, size - LOST)
    of_goal, came = np.divmod(before, size - START)
    high, low = carried(np.zeros(len(there), np.int64), counts[there].astype(np.int64))
    return Tally(np.stack([of_goal, came + START, to + LOST]), high[None], low[None])


def _by_sorting(trails: Trails, state: Ints, goal: Ints, end: int) -> Tally:
    one, two, of = _steps(trails, state, goal, end)
    return counted_by(np.stack([of, one, two]))


def _steps(trails: Trails, state: Ints, goal: Ints, end: int) -> tuple[Ints, Ints, Ints]:
    """Of all steps: from, to, goal; in any order."""
    filled = np.flatnonzero(trails.lengths > 0)
    starts, ends = trails.offsets[:-1][filled], trails.offsets[1:][filled] - 1
    of_touch = state[trails.touch].astype(np.int64)
    came_from = np.empty(len(of_touch), np.int64)
    came_from[1:] = of_touch[:-1]
    came_from[starts] = START
    return (
        np.concatenate([came_from, of_touch[ends]]),
        np.concatenate([of_touch, np.full(len(ends), end, np.int64)]),
        np.concatenate([np.repeat(goal, trails.lengths), goal[filled]]),
    )


_ROOM = 1_000_000
"""So many places to count moves in are always made, more where there are more steps."""


def effects(moves: Tally, goal: int) -> tuple[Ints, Ints]:
    """The effect of every state on the conversions of one goal.

    Parameters
    ----------
    moves : see `moves_of`, of converting and losing paths together
    goal : which

    Returns
    -------
    states : (m,) int64, ascending
    effect : (m,) int64, 1 - P(convert | its inflow goes to lost) / P(convert) in parts of 10^-12; 0 where nothing
        converts

    Notes
    -----
    With N the inverse of I - Q over start and states, a path comes to state s with probability N[start, s] / N[s, s]
    and converts from there with probability b[s]; all of that is lost when its inflow is. One inversion gives them all.

    References
    ----------
    J. G. Kemeny, J. L. Snell, "Finite Markov Chains", 1960: the fundamental matrix of an absorbing chain.
    """
    mine = moves.keys[0] == goal
    one, two = moves.keys[1][mine], moves.keys[2][mine]
    times: Floats = moves.high[0][mine] * 2.0**LIMB + moves.low[0][mine]
    # Every state that is gone to is one, and none is come from that was not gone to.
    states = np.unique(two[two >= 0])
    if not len(states):
        return states, states
    size = len(states) + 1
    row = np.where(one == START, 0, np.searchsorted(states, one) + 1)
    leaves = np.bincount(row, times, size)
    share = times / leaves[row]
    inner, ends = two >= 0, two == CONVERTED
    stays = with_diagonal(row[inner], np.searchsorted(states, two[inner]) + 1, -share[inner], size)
    converts: Floats = np.bincount(row[ends], share[ends], size).astype(np.float64)
    found = fundamental(stays, converts)
    if found.reach[0] <= 0:
        return states, np.zeros(len(states), np.int64)
    lost = found.visits[1:] / found.own[1:] * found.reach[1:] / found.reach[0]
    return states, np.rint(lost * EFFECT_UNITS).astype(np.int64)


def shared_nested(amounts: Mapping[int, int], paths: Ints, weights: Sequence[int]) -> list[int]:
    """Whole units of several states shared step by step: over the second number of the paths, inside it over the next.

    Parameters
    ----------
    amounts : state -> units
    paths : (steps + 1, m) int64, distinct columns in lexicographic order; the first row is the state
    weights : (m,) whole numbers

    Returns
    -------
    (m,) units per path, adding up to the amount of every state that has a weight; at each step by largest remainder,
    ties to the smaller number (R16, R17)
    """
    out = [0] * len(weights)
    rows = paths.tolist()

    def share(units: int, begin: int, end: int, step: int) -> None:
        if not units:
            return
        if end - begin == 1:
            out[begin] = units
            return
        edges = [begin, *(i for i in range(begin + 1, end) if rows[step][i] != rows[step][i - 1]), end]
        groups = list(pairwise(edges))
        each = largest_remainder(units, [sum(weights[one:two]) for one, two in groups])
        for (one, two), some in zip(groups, each, strict=True):
            share(some, one, two, step + 1)

    states = paths[0]
    for begin, end in zip(*_stretches(states), strict=True):
        share(amounts.get(int(states[begin]), 0), begin, end, 1)
    return out


def _stretches(sorted_numbers: Ints) -> tuple[list[int], list[int]]:
    begins = np.flatnonzero(np.diff(sorted_numbers, prepend=sorted_numbers[:1] - 1))
    return begins.tolist(), [*begins[1:].tolist(), len(sorted_numbers)] if len(begins) else []
