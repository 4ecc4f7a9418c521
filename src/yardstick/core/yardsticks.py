"""Yardsticks (R14, R15): how the credit of one conversion is shared among the touches of its trail.

Every rule built so far gives a touch either nothing or one part in a whole number: share = 1 / divisor. Divisors are
integers, so shares, money and sums of shares stay exact, and the order in which people are counted cannot matter.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from .columns import Flags, Ints
from .settings import Yardstick
from .trails import Trails


@dataclass(frozen=True)
class Parts:
    """Who gets what: the trail elements that get anything, and what.

    Attributes
    ----------
    element : (m,) int64, numbers of trail elements, ascending; every filled trail has at least one
    divisor : (m,) int64; the share of an element is 1 / divisor, and shares add up to 1 per filled trail
    even : whether every element of a trail has the same share
    """

    element: Ints
    divisor: Ints
    even: bool = False


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
    marked = np.flatnonzero(~direct[trails.touch])
    before = np.searchsorted(marked, last, side="right") - 1
    candidate = marked[np.maximum(before, 0)] if len(marked) else np.full(len(last), -1)
    return _all_to(np.where((before >= 0) & (candidate >= start), candidate, last))


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
        return Parts(every, every)
    kinds = int(players.max()) + 1
    count = _count_by_table if len(trails.lengths) * kinds <= WIDEST_TABLE * len(players) else _count_by_sorting
    touches_of_player, players_in_trail = count(trails, players, kinds)
    return Parts(every, touches_of_player * np.repeat(players_in_trail, trails.lengths))


WIDEST_TABLE = 32
"""Counting in a table of trails x players pays up to this many cells per touch; beyond it sorting is faster."""
TABLE_CELLS = 400_000
"""Cells of the table that are held at a time, so that they stay in the processor's cache."""


def _count_by_table(trails: Trails, players: Ints, kinds: int) -> tuple[Ints, Ints]:
    """(k,) touches of each element's player in its trail; (c,) players per trail. A stretch of trails at a time."""
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
    # A player's touches in a trail hold one part each in its number of touches: together they count to 1.
    parts = np.zeros(len(players) + 1)
    np.cumsum(1.0 / touches_of_player, out=parts[1:])
    players_in_trail = np.rint(parts[trails.offsets[1:]] - parts[trails.offsets[:-1]]).astype(np.int64)
    return touches_of_player, players_in_trail


def _count_by_sorting(trails: Trails, players: Ints, kinds: int) -> tuple[Ints, Ints]:
    """The same as `_count_by_table`, for very many players."""
    owner = trails.owner()
    order, fresh = _grouped(owner, players)
    group = np.cumsum(fresh) - 1
    touches_of_player = np.empty(len(players), np.int64)
    touches_of_player[order] = np.bincount(group)[group]
    return touches_of_player, np.bincount(owner[order[fresh]], minlength=len(trails.lengths))


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
