"""The trace under yardsticks that credit states (R16): which states give a figure, by which effect."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from ..base.axis_numbers import LEFT
from ..credit.credit import WHOLE
from ..credit.removal import EFFECT_UNITS, effects
from ..plan.crediting_phase import Yardstick
from ..rules.registry import by_states
from .counted import GOOD_LEAD, LEAD, NEW_SALE, SALE
from .ledger import NAMED_PART, NO_VALUE_PART, UNTAGGED_PART, paid_of, stands_of
from .removals import RemovalPiece, pieces
from .weigh import Result


@dataclass(frozen=True)
class TracedState:
    """A state's part of a figure: what would be lost without it, of all conversions of the goal, and what it is
    credited with here. Value in minor units."""

    state: str
    goal: str
    effect: float
    share: float
    value: int


OfRow = Callable[[RemovalPiece], bool]


def removing(result: Result, yardstick: str) -> Yardstick | None:
    """The yardstick of that name, if it credits states."""
    found = (y for y in result.plan.crediting.yardsticks if y.name == yardstick and by_states(y))
    return next(found, None)


def of_place(numbers: tuple[int, ...]) -> OfRow:
    """What counts in one row."""
    return lambda piece: piece.inside and piece.key[:-1] == numbers


def of_totals(ads_only: bool) -> OfRow:
    """What counts in a total."""
    return lambda piece: piece.inside and piece.key[0] != LEFT and (not ads_only or paid_of(piece.key[-1]) == 1)


def of_part(part: str) -> OfRow:
    """What counts in a part of the tie line."""
    stands = {"named": NAMED_PART, "untagged": UNTAGGED_PART, "no_value": NO_VALUE_PART}
    if part in stands:
        return lambda piece: piece.inside and stands_of(piece.key[-1]) == stands[part]
    return lambda piece: part == "booked" or (part == "outside" and not piece.inside)


def trace_states(
    result: Result, yardstick: Yardstick, wanted: OfRow, figure: str, by_campaign: bool = False
) -> list[TracedState]:
    """The states that give a figure, the largest value first.

    Parameters
    ----------
    result : what was weighed
    yardstick : one that credits states
    wanted : which pieces stand in the figure
    figure : one of `trace.CREDIT_FIGURES`, or "everything"
    by_campaign : whether states are shared by campaign alone, as what the ads earned is (R23), or as the report is
    """
    prepared, found = result.prepared, result.ledger.removals[yardstick.by]
    units: dict[tuple[int, int], list[int]] = {}
    shared = replace(found, inside=found.campaigns) if by_campaign else found
    for piece in pieces(shared, prepared, yardstick.by, len(result.where)):
        if wanted(piece) and _counts(piece, figure):
            sums = units.setdefault((piece.goal, piece.state), [0, 0])
            sums[piece.is_worth] += piece.units
    lost: dict[tuple[int, int], float] = {}
    for goal in {goal for goal, _ in units}:
        states, effect = effects(found.moves, goal)
        lost |= {(goal, s): e / EFFECT_UNITS for s, e in zip(states.tolist(), effect.tolist(), strict=True)}
    goals = prepared.conversions.goal.values
    out = [
        TracedState(_shown(result, yardstick.by, state), goals[goal], lost[goal, state], parts / int(WHOLE), value)
        for (goal, state), (parts, value) in units.items()
    ]
    return sorted(out, key=lambda one: (-one.value, -one.share, one.state, one.goal))


def _counts(piece: RemovalPiece, figure: str) -> bool:
    if figure == "value":
        return piece.is_worth or piece.kind == piece.plain
    if figure == "everything":
        return piece.kind == piece.plain
    kind = {"leads": LEAD, "good_leads": GOOD_LEAD, "conversions": SALE, "new_customers": NEW_SALE}[figure]
    if piece.is_worth:
        return piece.plain == (SALE if kind in (SALE, NEW_SALE) else LEAD)
    return piece.kind == kind


def _shown(result: Result, by: str, state: int) -> str:
    campaign, channel = (result.prepared.touches.fields[name] for name in ("campaign", "channel"))
    if by == "channel":
        return channel.shown[state]
    if state < len(campaign.keys):
        return campaign.shown[state]
    return f"no campaign, {channel.shown[state - len(campaign.keys)]}"
