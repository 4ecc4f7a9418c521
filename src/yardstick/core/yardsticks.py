"""Yardsticks (R14, R15): how the credit of one conversion is shared among the touches of its trail.

Every rule built so far gives a touch either nothing or one part in a whole number: share = 1 / divisor. Divisors are
integers, so shares, money and sums of shares stay exact, and the order in which people are counted cannot matter.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from .columns import Flags, Ints
from .settings import Yardstick
from .trails import Trails


def first_touch(trails: Trails) -> Ints:
    """All credit to the first touch (R14). Returns (k,) divisors, 0 = nothing."""
    divisors = np.zeros(len(trails.touch), np.int64)
    divisors[trails.offsets[:-1][trails.lengths > 0]] = 1
    return divisors


def last_touch(trails: Trails) -> Ints:
    """All credit to the last touch (R14). Returns (k,) divisors, 0 = nothing."""
    divisors = np.zeros(len(trails.touch), np.int64)
    divisors[trails.offsets[1:][trails.lengths > 0] - 1] = 1
    return divisors


def last_marked_touch(trails: Trails, direct: Flags) -> Ints:
    """All credit to the last touch that is not Direct, or to the last if all are (R14).

    Parameters
    ----------
    direct : (n_touches,) bool

    Returns
    -------
    (k,) divisors, 0 = nothing
    """
    divisors = np.zeros(len(trails.touch), np.int64)
    filled = trails.lengths > 0
    start, last = trails.offsets[:-1][filled], trails.offsets[1:][filled] - 1
    index = np.where(direct[trails.touch], -1, np.arange(len(trails.touch)))
    marked = np.maximum.accumulate(index)[last] if len(last) else last
    divisors[np.where(marked >= start, marked, last)] = 1
    return divisors


def linear(trails: Trails) -> Ints:
    """The same part to every touch (R14). Returns (k,) divisors."""
    return np.repeat(trails.lengths, trails.lengths)


def fair_share(trails: Trails, player: Ints) -> Ints:
    """The Shapley value: each conversion equally among the distinct players of its trail (R15).

    Parameters
    ----------
    player : (n_touches,) int64, the state each touch belongs to

    Returns
    -------
    (k,) divisors; a player's part goes equally to its touches in the trail

    References
    ----------
    L. S. Shapley, "A value for n-person games", 1953. For the game in which a set of players earns the conversions
    whose trails it holds entirely, the value of a player is the sum of 1 / (players in the trail) over its trails.
    """
    lengths = trails.lengths
    players = player[trails.touch]
    divisors = np.ones(len(players), np.int64)
    # Trails of one touch, most of them, need no counting.
    longer = np.repeat(lengths > 1, lengths)
    owner = trails.owner()[longer]
    span = int(players.max(initial=0)) + 1
    pair = owner * span + players[longer]
    order = np.argsort(pair, kind="stable")
    ordered = pair[order]
    fresh = np.ones(len(ordered), np.bool_)
    fresh[1:] = ordered[1:] != ordered[:-1]
    group = np.cumsum(fresh) - 1
    touches_of_player = np.bincount(group) if len(group) else np.empty(0, np.int64)
    players_in_trail = np.bincount(owner[order][fresh], minlength=len(lengths))
    out = np.empty(len(pair), np.int64)
    out[order] = touches_of_player[group] if len(group) else group
    divisors[longer] = out * players_in_trail[owner]
    return divisors


def divisors_of(yardstick: Yardstick, trails: Trails, direct: Flags, players: Callable[[str], Ints]) -> Ints:
    """The shares a yardstick gives, as divisors.

    Parameters
    ----------
    yardstick : a rule that is built
    trails : all trails
    direct : (n_touches,) bool
    players : gives (n_touches,) int64 for "campaign" or "channel"

    Returns
    -------
    (k,) int64; a touch's share of its conversion is 1 / divisor, 0 = nothing; shares add up to 1 per filled trail
    """
    if yardstick.rule == "first":
        return first_touch(trails)
    if yardstick.rule == "last":
        return last_touch(trails)
    if yardstick.rule == "last_marked":
        return last_marked_touch(trails, direct)
    if yardstick.rule == "linear":
        return linear(trails)
    if yardstick.rule == "fair_share":
        return fair_share(trails, players(yardstick.by))
    raise ValueError(f"the rule {yardstick.rule!r} is not built")
