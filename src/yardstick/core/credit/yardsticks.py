"""Yardsticks (R14, R15): how the credit of one conversion is shared among the touches of its trail.

Every rule built so far gives a touch either nothing or one part in a whole number: share = 1 / divisor. Divisors are
integers, so shares, money and sums of shares stay exact, and the order in which people are counted cannot matter.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints
from ..plan.records import Yardstick
from ..trails.trails import Trails
from .apportioning import Kinds


@dataclass(frozen=True)
class Parts:
    """Who gets what: the trail elements that get anything, and what.

    Attributes
    ----------
    element : (m,) int64, numbers of trail elements, ascending; every filled trail has at least one
    divisor : (m,) int64; the share of an element is 1 / divisor, and shares add up to 1 per filled trail
    even : whether every element has a share, and all of a trail the same
    kinds, kind_divisor : the elements by share, where shares differ inside a trail, and the divisor of each kind;
        None with `even` False = one element of each filled trail has all
    """

    element: Ints
    divisor: Ints
    even: bool = False
    kinds: Kinds | None = None
    kind_divisor: Ints | None = None


def _all_to(element: Ints) -> Parts:
    return Parts(element, np.ones(len(element), np.int64))


def first_touch(trails: Trails) -> Parts:
    """All credit to the first touch (R14)."""
    return _all_to(trails.offsets[:-1][trails.lengths > 0])


def last_touch(trails: Trails) -> Parts:
    """All credit to the last touch (R14)."""
    return _all_to(trails.offsets[1:][trails.lengths > 0] - 1)


def last_marked_touch(trails: Trails, direct: Flags) -> Parts:
    """All credit to the last touch that is not Direct, or to the last if all are (R14).

    Parameters
    ----------
    direct : (n_touches,) bool
    """
    filled = trails.lengths > 0
    start, last = trails.offsets[:-1][filled], trails.offsets[1:][filled] - 1
    found = last.copy()
    open_trails = np.flatnonzero(direct[trails.touch[last]])
    # Most trails end with a marked touch or have one soon: step back together, while that is worth it.
    for _ in range(STEPS_BACK):
        if not len(open_trails):
            return _all_to(found)
        found[open_trails] -= 1
        gone = found[open_trails] < start[open_trails]
        found[open_trails[gone]] = last[open_trails[gone]]
        open_trails = open_trails[~gone]
        open_trails = open_trails[direct[trails.touch[found[open_trails]]]]
    marked = np.flatnonzero(~direct[trails.touch])
    before = np.searchsorted(marked, found[open_trails], side="right") - 1
    candidate = marked[np.maximum(before, 0)] if len(marked) else np.full(len(open_trails), -1)
    there = (before >= 0) & (candidate >= start[open_trails])
    found[open_trails] = np.where(there, candidate, last[open_trails])
    return _all_to(found)


STEPS_BACK = 8
"""Steps back from the end of all trails at once; after that the last marked touch of the rest is searched for."""


def linear(trails: Trails) -> Parts:
    """The same part to every touch (R14)."""
    return Parts(np.arange(len(trails.touch)), np.repeat(trails.lengths, trails.lengths), even=True)


def fair_share(trails: Trails, player: Ints) -> Parts:
    """The Shapley value: each conversion equally among the distinct players of its trail (R15).

    Parameters
    ----------
    player : (n_touches,) int64, the state each touch belongs to; a player's part goes equally to its touches

    References
    ----------
    L. S. Shapley, "A value for n-person games", 1953. For the game in which a set of players earns the conversions
    whose trails it holds entirely, the value of a player is the sum of 1 / (players in the trail) over its trails.
    """
    players = player[trails.touch]
    every = np.arange(len(players))
    if not len(players):
        return Parts(every, every, even=True)
    kinds = int(players.max()) + 1
    count = _count_by_table if len(trails.lengths) * kinds <= WIDEST_TABLE * len(players) else _count_by_sorting
    by_touches = Kinds.of(trails.offsets, count(trails, players, kinds) - 1)
    # A player with t touches in a trail holds t of the touches of that kind.
    touches = by_touches.number + 1
    in_trail = np.bincount(by_touches.trail, by_touches.count // touches, len(trails.lengths)).astype(np.int64)
    divisor = touches * in_trail[by_touches.trail]
    return Parts(every, by_touches.spread(divisor), kinds=by_touches, kind_divisor=divisor)


WIDEST_TABLE = 32
"""Counting in a table of trails x players pays up to this many cells per touch; beyond it sorting is faster."""
TABLE_CELLS = 50_000
"""Cells of the table that are held at a time, so that they stay in the processor's cache."""


def _count_by_table(trails: Trails, players: Ints, kinds: int) -> Ints:
    """(k,) touches of each element's player in its trail. A stretch of trails at a time."""
    trail_count = len(trails.lengths)
    touches_of_player = np.empty(len(players), np.int64)
    cell = trails.owner() * kinds + players
    step = max(1, TABLE_CELLS // kinds)
    for begin in range(0, trail_count, step):
        end = min(begin + step, trail_count)
        elements = slice(int(trails.offsets[begin]), int(trails.offsets[end]))
        key = cell[elements] - begin * kinds
        table = np.bincount(key, minlength=(end - begin) * kinds)
        touches_of_player[elements] = table[key]
    return touches_of_player


def _count_by_sorting(trails: Trails, players: Ints, kinds: int) -> Ints:
    """The same as `_count_by_table`, for very many players."""
    owner = trails.owner()
    order, fresh = _grouped(owner, players)
    group = np.cumsum(fresh) - 1
    touches_of_player = np.empty(len(players), np.int64)
    touches_of_player[order] = np.bincount(group)[group]
    return touches_of_player


def _grouped(owner: Ints, player: Ints) -> tuple[Ints, Flags]:
    """Element numbers with those of one trail and player side by side, and where a new such group begins."""
    player_bits, row_bits = int(player.max()).bit_length(), (len(owner) - 1).bit_length()
    if int(owner[-1]).bit_length() + player_bits + row_bits > 64:
        order = np.lexsort((player, owner))
        o, p = owner[order], player[order]
        return order, np.concatenate([[True], (o[1:] != o[:-1]) | (p[1:] != p[:-1])])
    # One sort of a packed key (trail | player | element).
    key = ((owner.astype(np.uint64) << np.uint64(player_bits)) | player.astype(np.uint64)) << np.uint64(row_bits)
    key |= np.arange(len(owner), dtype=np.uint64)
    key.sort()
    pair = key >> np.uint64(row_bits)
    fresh = np.ones(len(pair), np.bool_)
    np.not_equal(pair[1:], pair[:-1], out=fresh[1:])
    return (key & np.uint64((1 << row_bits) - 1)).astype(np.int64), fresh


def parts_of(yardstick: Yardstick, trails: Trails, direct: Flags, players: Callable[[str], Ints]) -> Parts:
    """The shares a yardstick gives.

    Parameters
    ----------
    yardstick : a rule that is built
    trails : all trails
    direct : (n_touches,) bool
    players : gives (n_touches,) int64 for "campaign" or "channel"

    Raises
    ------
    ValueError
        If the rule is not built.
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
