"""Removal in the ledger (R16): what its chains go by, from some of the people, and its credit, from all of them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from ..base.axis_numbers import LEFT, TAGGED
from ..base.columns import Flags, Ints
from ..base.days import days_within
from ..base.patience import go_on
from ..base.tally import Tally, exact_tally, merged, tally
from ..credit.credit import WHOLE, Credit, players
from ..credit.removal import CONVERTED, LOST, effects, moves_of, shared_nested
from ..plan.counting_phase import Windows
from ..plan.crediting_phase import Yardstick
from ..rules.apportioning import largest_remainder
from ..trails.trails import Trails, yield_to_others
from .breakdown import Axis
from .counted import GOOD_LEAD, LEAD, NEW_SALE, OPEN_LEAD, SALE, Counted, is_sale
from .filters import Narrowed
from .ledger import (
    LEARNED,
    PASSED,
    RECORDS,
    SHARED,
    WORTH,
    Ledger,
    Removals,
    marked,
    stands_at,
)
from .prepared_data import PreparedData


@dataclass(frozen=True)
class Lessons:
    """Trails, their credit, and the breakdown and the filters laid on them, parted by line where products are asked
    for."""

    trails: Trails
    credit: Credit
    laid: Trails
    axes: Sequence[Axis]
    narrowed: Sequence[Narrowed]


@dataclass(frozen=True)
class Scene:
    """What removal learns from, and what it shares: some of the people, as they are weighed.

    Attributes
    ----------
    goals : numbers of the goals that have counted conversions, of everyone
    taught : (conversions,) bool, counted conversions of everyone, whose people have no losing path
    lessons : the trails the chain is learned from
    shared : the trails whose conversions are shared
    outside : (k,) bool, elements of these that stand outside the range (R22)
    learned : (m,) int64, touches that losing paths are made of, ascending
    shown_days : the first and last day of those of them that stand inside the range, None = no end
    paid : (campaigns,) bool
    """

    prepared: PreparedData
    counted: Counted
    windows: Windows
    goals: Sequence[int]
    taught: Flags
    lessons: Lessons
    shared: Lessons
    outside: Flags
    learned: Ints
    shown_days: tuple[date | None, date | None]
    paid: Flags


def learn_removals(scene: Scene, by: str) -> Removals:
    """What removal is computed from, as whole numbers by key.

    Parameters
    ----------
    by : "campaign" or "channel", what a state is
    """
    prepared, trails, lessons = scene.prepared, scene.shared.trails, scene.lessons.trails
    conversions = prepared.conversions
    state = players(prepared.touches, by)
    goal = conversions.goal.codes.astype(np.int64)
    moves = [moves_of(lessons, state, goal[lessons.conversion], CONVERTED)]
    taught = np.zeros(len(scene.lessons.laid.touch), np.bool_) if scene.lessons is not scene.shared else scene.outside
    lost = [(number, _losing_paths(scene, goal, number)) for number in scene.goals]
    moves += [moves_of(paths, state, np.full(len(paths.lengths), number), LOST) for number, paths in lost]

    def inside(by_campaign: bool) -> Tally:
        credited = (
            _credited(scene, scene.shared, scene.outside, goal, state, SHARED, by_campaign),
            _credited(scene, scene.lessons, taught, goal, state, LEARNED, by_campaign),
        )
        return merged([*credited, *(_lost(scene, paths, state, number, by_campaign) for number, paths in lost)])

    filled = trails.lengths > 0
    records = np.stack([goal[trails.conversion][filled], scene.counted.kind[trails.conversion][filled]])
    value = conversions.value[trails.conversion][filled]
    earned, _ = tally(records, [(None, np.ones(int(filled.sum()), np.int64)), (None, value)])
    return Removals(merged(moves), inside(False), inside(True), earned)


def _credited(
    scene: Scene, of: Lessons, outside: Flags, goal: Ints, state: Ints, amount: int, by_campaign: bool
) -> Tally:
    """The parts that linear gives on some trails, by where their touches stand."""
    trails = of.laid
    numbers = [_campaign(scene, trails.touch)] if by_campaign else [axis.elements for axis in of.axes]
    cells = _cells(scene, trails.touch, outside, numbers, [one.axis.elements for one in of.narrowed])
    part = of.credit.even().parts
    return _inside(np.repeat(goal[trails.conversion], trails.lengths), state[trails.touch], cells, part, amount)


def _campaign(scene: Scene, touch: Ints) -> Ints:
    return scene.prepared.touches.fields["campaign"].codes[touch].astype(np.int64)


def _losing_paths(scene: Scene, goal: Ints, number: int) -> Trails:
    """The paths of everyone without a counted conversion of a goal."""
    prepared = scene.prepared
    person = prepared.touches.person
    mine = scene.taught & (goal == number)
    last = int(person[-1]) if len(person) else 0
    bought = np.zeros(1 + max(last, int(prepared.conversions.person.max(initial=0))), np.bool_)
    bought[prepared.conversions.person[mine]] = True
    bought[prepared.contacts.people_of(mine)] = True
    touch = scene.learned[~bought[person[scene.learned]]]
    starts = np.flatnonzero(np.diff(person[touch], prepend=-1))
    paths = Trails(np.arange(len(starts)), np.append(starts, len(touch)), touch)
    if scene.windows.direct == "yield":
        paths = yield_to_others(paths, prepared.touches.direct)
    if scene.windows.views == "yield":
        paths = yield_to_others(paths, prepared.touches.kind != 0)
    return paths


def _lost(scene: Scene, paths: Trails, state: Ints, number: int, by_campaign: bool) -> Tally:
    """Where the touches of losing paths stand."""
    touch, name = paths.touch, scene.prepared.conversions.goal.values[number]
    axes = [] if by_campaign else [_of_touch(one, touch, name, first=i == 0) for i, one in enumerate(scene.shared.axes)]
    cells = _cells(
        scene,
        touch,
        ~days_within(scene.prepared.touches.day[touch], *scene.shown_days),
        axes or [_campaign(scene, touch)],
        [_of_touch(one.axis, touch, name, first=False) for one in scene.shared.narrowed],
    )
    ones = np.ones(len(touch), np.int64)
    return _inside(np.full(len(touch), number), state[touch], cells, ones, PASSED)


def _of_touch(axis: Axis, touch: Ints, goal: str, first: bool) -> Ints:
    """The numbers of touches that led to nothing: where only conversions have a value, that of the goal they missed."""
    if axis.touches is not None:
        return axis.touches[touch]
    number = axis.shown.index(goal) if axis.is_goal and goal in axis.shown else TAGGED if first else 0
    return np.full(len(touch), number, np.int64)


def _cells(scene: Scene, touch: Ints, outside: Flags, numbers: Sequence[Ints], of_filters: Sequence[Ints]) -> Ints:
    """Where touches stand, from the first step of the nesting to the last."""
    prepared = scene.prepared
    campaign = prepared.touches.fields["campaign"].codes[touch]
    left = [~one.holds[of] for one, of in zip(scene.shared.narrowed, of_filters, strict=True)]
    ends = marked(np.zeros(len(touch), np.int64), stands_at(prepared, touch), scene.paid[campaign].astype(np.int64))
    return np.stack([outside, *left, *numbers, ends]).astype(np.int64)


def _inside(goal: Ints, state: Ints, cells: Ints, values: Ints, amount: int) -> Tally:
    keys = np.concatenate([np.stack([goal, state]).astype(np.int64), cells])
    none = np.zeros(cells.shape[1], np.int64)
    return tally(keys, [(None, values if i == amount else none) for i in range(3)])[0]


def with_removals(ledger: Ledger, prepared: PreparedData, yardsticks: Sequence[Yardstick], filters: int) -> Ledger:
    """The ledger of all the people with the credit of yardsticks that remove states (R16).

    Parameters
    ----------
    ledger : merged
    prepared : for the names of states, which decide ties
    yardsticks : those of rule `removal`
    filters : how many the question has

    Notes
    -----
    What a cell of the ledger gets is shared nested down to it, so every row, total and drill is a sum of cells.
    """
    for yardstick in yardsticks:
        go_on()
        found = ledger.removals[yardstick.by]
        one = _credit(found, prepared, yardstick.by, filters, ledger.axes)
        ledger = replace(ledger, yardsticks=(*ledger.yardsticks, yardstick.name), credit=_joined(ledger.credit, one))
    return ledger


def _joined(credit: Tally, more: Tally) -> Tally:
    """One tally with the amounts of both."""
    old, new = credit.high.shape[0], more.high.shape[0]

    def widened(one: Tally, before: int, after: int) -> Tally:
        pads = [np.zeros((rows, len(one)), np.int64) for rows in (before, after)]
        high, low = (np.concatenate([pads[0], half, pads[1]]) for half in (one.high, one.low))
        return Tally(one.keys, high, low)

    return merged([widened(credit, 0, new), widened(more, old, 0)])


def effects_of(found: Removals, goal: int) -> tuple[list[int], list[int]]:
    """States and what conversions of a goal are shared by: effects, or where all are 0 the parts that linear gives."""
    states, effect = effects(found.moves, goal)
    if effect.any():
        return states.tolist(), effect.tolist()
    place = np.where(found.inside.keys[0] == goal, np.searchsorted(states, found.inside.keys[1]), -1)
    return states.tolist(), found.inside.sums(SHARED, place, len(states))


def state_name(prepared: PreparedData, by: str, state: int) -> str:
    """The folded name of a state."""
    fields = prepared.touches.fields
    campaigns = fields["campaign"].keys
    if by == "campaign" and state < len(campaigns):
        return campaigns[state]
    return fields["channel"].keys[state - len(campaigns) if by == "campaign" else state]


@dataclass(frozen=True)
class RemovalPiece:
    """What one state has of the conversions of a goal, in one cell of the report.

    Attributes
    ----------
    goal, state : numbers
    inside : whether it stands in the range (R22)
    key : numbers on the axes, then as `marked`, without the kind
    kind, plain : what it is credit of, and the plain kind that is one of
    units : parts of 2^-60 conversions, or minor units
    is_worth : which
    """

    goal: int
    state: int
    inside: bool
    key: tuple[int, ...]
    kind: int
    plain: int
    units: int
    is_worth: bool


def pieces(found: Removals, prepared: PreparedData, by: str, filters: int) -> Iterator[RemovalPiece]:
    """The credit of all states, shared nested down to the cells of the report (R16, R17).

    Parameters
    ----------
    found : of all the people
    prepared : for the names of states, which decide ties
    by : what a state is
    filters : how many the question has
    """
    for goal in np.unique(found.earned.keys[0]).tolist():
        states, weight = effects_of(found, goal)
        order = sorted(range(len(states)), key=lambda i: (state_name(prepared, by, states[i]), states[i]))
        mine = found.inside.keys[0] == goal
        paths = found.inside.keys[1:, mine]
        weights = _weights(found, mine)
        some = np.array([weight > 0 for weight in weights], np.bool_)
        paths, weights = paths[:, some], [weight for weight in weights if weight]
        left = (paths[2 : 2 + filters] != 0).any(axis=0)
        keys = np.concatenate([np.where(left, LEFT, paths[2 + filters : -1]), paths[-1:]]).T.tolist()
        for kind, plain, amount, is_worth in _amounts(found.earned, goal):
            units = largest_remainder(amount, [weight[i] for i in order])
            shared = shared_nested({states[i]: u for i, u in zip(order, units, strict=True)}, paths, weights)
            for i, got in enumerate(shared):
                if got:
                    inside = not paths[1, i]
                    yield RemovalPiece(goal, int(paths[0, i]), inside, tuple(keys[i]), kind, plain, got, is_worth)


def ads_credit(ledger: Ledger, prepared: PreparedData, yardstick: Yardstick, filters: int) -> Ledger:
    """The ledger with what one yardstick that removes states credits by campaign alone, whatever is shown: what the ads
    alone earned goes by it (R23).

    Parameters
    ----------
    ledger : merged
    prepared, filters : see `with_removals`
    yardstick : of rule `removal`
    """
    found = ledger.removals[yardstick.by]
    credit = _credit(replace(found, inside=found.campaigns), prepared, yardstick.by, filters, 1)
    evenly = np.zeros((1, len(credit)), np.int64)
    high, low = (np.concatenate([evenly, half]) for half in (credit.high, credit.low))
    return replace(ledger, axes=1, yardsticks=(yardstick.name,), credit=Tally(credit.keys, high, low))


def _credit(found: Removals, prepared: PreparedData, by: str, filters: int, axes: int) -> Tally:
    """Parts and minor units by (axes + 1) keys as those of `Ledger.credit`."""
    keys: list[tuple[int, ...]] = []
    parts: list[int] = []
    worth: list[int] = []

    def add(key: tuple[int, ...], kind: int, units: int, is_worth: bool) -> None:
        keys.append((*key[:-1], key[-1] + kind))
        parts.append(0 if is_worth else units)
        worth.append(units if is_worth else 0)

    for piece in pieces(found, prepared, by, filters):
        if not piece.inside:
            continue
        add(piece.key, piece.kind, piece.units, piece.is_worth)
        if piece.kind != piece.plain:
            # Of all leads or sales these are none of the plain kind.
            add(piece.key, piece.plain, -piece.units, False)
    return exact_tally(np.array(keys, np.int64).reshape(-1, axes + 1).T, [parts, worth])


def _weights(found: Removals, mine: Flags) -> list[int]:
    """What amounts of a state are shared by inside it: the parts linear gives of what is shared, else of all that the
    chain was learned from, else touches of losing paths."""
    states = found.inside.keys[1, mine].tolist()
    amounts = [
        [n for n, chosen in zip(found.inside.exact(amount), mine.tolist(), strict=True) if chosen]
        for amount in (SHARED, LEARNED, PASSED)
    ]
    sums: dict[int, list[int]] = {}
    for state, *numbers in zip(states, *amounts, strict=True):
        so_far = sums.setdefault(state, [0, 0, 0])
        sums[state] = [a + b for a, b in zip(so_far, numbers, strict=True)]
    goes_by = {state: next(i for i, n in enumerate(of_state) if n) for state, of_state in sums.items()}
    return [amounts[goes_by[state]][i] for i, state in enumerate(states)]


def _amounts(earned: Tally, goal: int) -> list[tuple[int, int, int, bool]]:
    """What of a goal is shared: kind, the plain kind it is one of, amount, and whether that is in minor units."""
    mine = earned.keys[0] == goal
    kinds, whole = earned.keys[1], int(WHOLE)
    out = []
    for plain, special in ((LEAD, (GOOD_LEAD, OPEN_LEAD)), (SALE, (NEW_SALE,))):
        of_plain = mine & (is_sale(kinds) == (plain == SALE))
        if not of_plain.any():
            continue
        out.append((plain, plain, earned.total(RECORDS, of_plain) * whole, False))
        out.append((plain, plain, earned.total(WORTH, of_plain), True))
        out += [(kind, plain, earned.total(RECORDS, mine & (kinds == kind)) * whole, False) for kind in special]
    return out
