"""The Shapley value (R15)."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ...base.columns import Flags, Ints
from ..allocation import Allocation, ByKind, Even
from ..apportioning import Kinds
from ..kernel import Fill, Kernel, Kernels, Stretch, codes, whole_numbers
from ..rule import Need, ParameterKind, Rule, RuleParameter
from ..trail_context import TrailContext

if TYPE_CHECKING:
    from ...trails.trails import Trails


def fair_share(asked: TrailContext) -> Allocation:
    """Each conversion equally among the distinct players of its trail (R15); a player's part equally to its touches.

    References
    ----------
    L. S. Shapley, "A value for n-person games", 1953. For the game in which a set of players earns the conversions
    whose trails it holds entirely, the value of a player is the sum of 1 / (players in the trail) over its trails.
    """
    trails = asked.trails
    players = asked.players(asked.yardstick.by)[trails.touch]
    if not len(players):
        return Even(trails)
    kinds = int(players.max()) + 1
    count = _count_by_table if len(trails.lengths) * kinds <= WIDEST_TABLE * len(players) else _count_by_sorting
    by_touches = Kinds.of(trails.offsets, count(trails, players, kinds) - 1)
    # A player with t touches in a trail holds t of the touches of that kind.
    touches = by_touches.number + 1
    in_trail = np.bincount(by_touches.trail, by_touches.count // touches, len(trails.lengths)).astype(np.int64)
    divisor = touches * in_trail[by_touches.trail]
    return ByKind(trails, by_touches, divisor)


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


def _fill(compiled: Kernels, asked: TrailContext) -> Fill:
    touch, player = whole_numbers(asked.trails.touch), codes(asked.players(asked.yardstick.by))
    players = int(player.max(initial=0)) + 1

    def fill(some: Stretch, part: Ints, worth: Ints) -> bool:
        return bool(compiled.among_players(some.offsets, some.value, touch, player, players, part, worth))

    return fill


RULE = Rule(
    "fair_share",
    "Fair share",
    8,
    fair_share,
    to_all=True,
    needs=frozenset({Need.PLAYERS}),
    parameters=(RuleParameter("by", "what a player is", "channel", ParameterKind.PLAYER),),
    kernel=Kernel(fill=_fill),
)
