"""Weighing some of the people: their trails, the credit of every touch, and the ledger these add up to."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints, sums_by
from ..base.days import days_within
from ..base.distinct import distinct_columns
from ..base.tables import CLICK
from ..base.tally import Tally, counted_by, tally
from ..credit.credit import Credit, credit_of
from ..credit.lined import LinedCredit, LinedTrails, lay_lines
from ..plan.plan import CONVERSION, REMOVAL, TOUCH, Crediting, Plan
from ..trails.trails import Trails
from .breakdown import (
    PRODUCT,
    Axis,
    asks_touches,
    campaign_values,
    days_of_elements,
    hide,
    lay_axis,
    part_empty,
)
from .counted import Counted, agreement, trails_of
from .filters import Filter, Kept, Narrowed, keep, narrow
from .ground import Ground
from .ledger import LEFT, NO_AXIS, Ledger, Removals, marked, stands_at
from .removals import Lessons, Scene, learn_removals


@dataclass(frozen=True)
class Glossary:
    """All that is not of one part of the people but of everyone: the ground, and what counts."""

    ground: Ground
    counted: Counted


@dataclass(frozen=True)
class Question:
    """What a report asks: one or two fields, and filters."""

    by: tuple[str, ...]
    where: tuple[Filter, ...] = ()

    def asks(self, field: str) -> bool:
        """Whether a field is among them."""
        return field in self.by or any(stated.field == field for stated in self.where)


@dataclass(frozen=True)
class Part:
    """Some of the people, weighed.

    Attributes
    ----------
    ledger : what they add up to
    trails : of the counted conversions in the report range; under `touch` of all that have a touch
    shares : per yardstick, the credit of every trail element that stands in the range
    laid, laid_shares : the same, or where products are asked for and orders have lines, parted by line
    whole, whole_shares : the trails of all conversions whose touches may stand in the range, and all their credit (R22)
    axes, narrowed, kept : the breakdown, the filters, and what these leave (None without any), on trails as laid
    element_cell, touch_cell : (k,), (n_touches,) int64: the key of the ledger's credit and touches that each element
        of the trails as laid and each touch is added up in, -1 = none
    touch_in_range, spend_rows : (n_touches,), (s,) bool
    """

    ledger: Ledger
    trails: Trails
    shares: Credit
    laid: Trails
    laid_shares: Credit
    whole: Trails
    whole_shares: Credit
    axes: list[Axis]
    narrowed: list[Narrowed]
    kept: Kept | None
    element_cell: Ints
    touch_cell: Ints
    touch_in_range: Flags
    spend_rows: Flags


def weigh_part(glossary: Glossary, plan: Plan, question: Question, people: Flags | None = None) -> Part:
    """Weigh the conversions and touches of some people.

    Parameters
    ----------
    glossary : see `Glossary`
    plan : see `core.plan.plan.Plan`
    question : breakdown and filters
    people : (people,) bool, whom; None = everyone

    Raises
    ------
    SettingsError
        If a filter names no field of a breakdown, or cannot be understood.
    """
    ground, counted, reporting = glossary.ground, glossary.counted, plan.reporting
    conversions, touches, basis = ground.conversions, ground.touches, reporting.date_basis
    asked = (reporting.report_from, reporting.report_to)
    ours = counted.flags if people is None else counted.flags & people[conversions.person]
    in_sight = days_within(conversions.stands, *asked)
    chosen = ours if basis == TOUCH else ours & in_sight
    trails = whole = trails_of(chosen, ground, plan.windows, counted.after)
    shares = whole_shares = credit_of(whole, conversions.value[whole.conversion], touches, plan.crediting)
    stands = np.ones(len(whole.touch), np.bool_)
    if basis == TOUCH:
        stands = days_within(days_of_elements(ground, whole), *asked)
        shares = whole_shares.only(stands)
        # A trail without touches has no elements, so those that stay keep their numbers.
        trails = whole.only((whole.lengths > 0) | in_sight[whole.conversion])
    in_range = days_within(touches.day, *asked)
    if people is not None:
        in_range &= people[touches.person]
    spend_rows = ground.costs.counts & days_within(ground.spend.ints("day"), *asked)

    laid: Trails = trails
    laid_shares, laid_stands = shares, stands
    if question.asks(PRODUCT) and len(ground.lines.weight):
        laid = lay_lines(trails, ground.lines)
        laid_shares, laid_stands = LinedCredit(shares, laid, ground.lines), stands[laid.whole]
    narrowed = narrow(question.where, ground, laid, plan.reading, basis)
    axes = [lay_axis(name, ground, laid, basis) for name in question.by]
    kept = keep(narrowed, ground, laid) if narrowed else None
    fields = [*zip(question.by, axes, strict=True), *((one.stated.field, one.axis) for one in narrowed)]
    pairs = {name: campaign_values(axis, ground, in_range) for name, axis in fields if asks_touches(axis, spend_rows)}
    axes = _as_shown(axes, question.by, ground, laid, plan)

    paid = paid_campaigns(ground, spend_rows)
    credit, element_cell = _credit(ground, counted, laid, laid_shares, laid_stands, axes, kept, paid)
    touched, touch_cell = _touches(ground, axes, kept, in_range, paid)
    empty = trails.lengths == 0
    shown = np.ones(len(empty), np.bool_) if kept is None else kept.trails
    kind, value = counted.kind[trails.conversion], conversions.value[trails.conversion]
    campaign = touches.fields["campaign"].codes
    credited = _credited(shares, stands)
    shared = Lessons(trails, laid_shares, laid, axes, narrowed)
    booked = counted.kind[whole.conversion][None]
    ledger = Ledger(
        yardsticks=tuple(shares),
        axes=len(axes),
        credit=credit,
        touches=touched,
        alone=_records(np.stack([shown[empty].astype(np.int64), kind[empty]]), value[empty]),
        booked=_records(booked, conversions.value[whole.conversion]),
        met=counted_by(
            np.concatenate([campaign[: touches.count][in_range], campaign[trails.touch][credited]])[None].astype(
                np.int64
            )
        ),
        pairs=pairs,
        captured=agreement(trails, ground),
        removals=_removals(glossary, plan, question, people, shared, ~laid_stands, in_range, paid),
    )
    return Part(
        ledger, trails, shares, laid, laid_shares, whole, whole_shares, axes, narrowed, kept, element_cell, touch_cell,
        in_range, spend_rows,
    )  # fmt: skip


def _removals(
    glossary: Glossary,
    plan: Plan,
    question: Question,
    people: Flags | None,
    shared: Lessons,
    outside: Flags,
    in_range: Flags,
    paid: Flags,
) -> dict[str, Removals]:
    """What yardsticks that remove states go by, as far as any is asked for (R16).

    The chain learns from the range; under the other date bases from all days.
    """
    by = sorted({y.by for y in plan.crediting.yardsticks if y.rule == REMOVAL})
    if not by:
        return {}
    ground, counted, reporting = glossary.ground, glossary.counted, plan.reporting
    conversions, touches, basis = ground.conversions, ground.touches, reporting.date_basis
    taught, learned, shown_touch = counted.flags, _of(people, touches.person), np.ones(touches.count, np.bool_)
    lessons = shared
    if basis == CONVERSION:
        taught = counted.flags & days_within(conversions.stands, reporting.report_from, reporting.report_to)
        learned = in_range
    elif basis == TOUCH:
        shown_touch = in_range
    else:
        ours = taught & _of(people, conversions.person)
        trails = trails_of(ours, ground, plan.windows, counted.after)
        credit = credit_of(trails, conversions.value[trails.conversion], touches, Crediting())
        laid: Trails = trails
        if isinstance(shared.laid, LinedTrails):
            laid = lay_lines(trails, ground.lines)
            credit = LinedCredit(credit, laid, ground.lines)
        axes = [lay_axis(name, ground, laid, TOUCH) for name in question.by]
        narrowed = narrow(question.where, ground, laid, plan.reading, TOUCH)
        lessons = Lessons(trails, credit, laid, _as_shown(axes, question.by, ground, laid, plan), narrowed)
    scene = Scene(
        ground=ground,
        counted=counted,
        windows=plan.windows,
        goals=np.unique(conversions.goal.codes[taught]).tolist(),
        taught=taught,
        lessons=lessons,
        shared=shared,
        outside=outside,
        learned=learned,
        shown_touch=shown_touch,
        paid=paid,
    )
    return {one: learn_removals(scene, one) for one in by}


def _as_shown(axes: list[Axis], by: tuple[str, ...], ground: Ground, trails: Trails, plan: Plan) -> list[Axis]:
    """Axes with hidden channels as one, and with the first one's empty value parted."""
    hidden = plan.reporting.hidden_channels
    out = [hide(axis, hidden) if name == "channel" else axis for name, axis in zip(by, axes, strict=True)]
    return [part_empty(out[0], ground, trails), *out[1:]]


def _of(people: Flags | None, person: Ints) -> Flags:
    return np.ones(len(person), np.bool_) if people is None else people[person]


def _credited(shares: Credit, stands: Flags) -> Flags:
    """(k,) bool: trail elements that get credit under any yardstick."""
    if not shares or shares.to_all:
        return stands
    credited = np.zeros(len(stands), np.bool_)
    for share in shares.values():
        credited[share.element] = True
    return credited


def _records(cells: Ints, value: Ints) -> Tally:
    return tally(cells, [(None, np.ones(cells.shape[1], np.int64)), (None, value)])[0]


def paid_campaigns(ground: Ground, spend_rows: Flags) -> Flags:
    """(campaigns,) bool: those whose spend in the range is other than 0 (R23)."""
    size = len(ground.touches.fields["campaign"].keys)
    spend = sums_by(ground.spend_campaign[spend_rows], ground.costs.cost[spend_rows], size)
    paid = np.array([cost != 0 for cost in spend], np.bool_)
    # Number 0 is the empty value: touches without a campaign are no campaign's.
    paid[0] = False
    return paid


def _credit(
    ground: Ground,
    counted: Counted,
    trails: Trails,
    shares: Credit,
    stands: Flags,
    axes: list[Axis],
    kept: Kept | None,
    paid: Flags,
) -> tuple[Tally, Ints]:
    """Credit by key, and the key of every trail element that gets any, linear's included."""
    element = np.flatnonzero(stands)
    touch = trails.touch[element]
    campaign = ground.touches.fields["campaign"].codes[touch]
    kind = np.repeat(counted.kind[trails.conversion], trails.lengths)[element]
    numbers = np.stack([axis.elements[element] for axis in axes]).astype(np.int64)
    if kept is not None:
        numbers = np.where(kept.elements[element], numbers, LEFT)
    cells = np.concatenate([numbers, marked(kind, stands_at(ground, touch), paid[campaign].astype(np.int64))[None]])
    keys, which = distinct_columns(cells)
    place = np.full(len(stands), -1, np.int64)
    place[element] = which
    size = keys.shape[1]
    high, low = (half[:1] for half in shares.evenly(place, size))
    halves = [(high, low), *shares.summed_by_all(place, size)]
    return Tally(keys, *(np.concatenate(rows) for rows in zip(*halves, strict=True))), place


def _touches(ground: Ground, axes: list[Axis], kept: Kept | None, in_range: Flags, paid: Flags) -> tuple[Tally, Ints]:
    """Touches by key, and the key of every touch in the range."""
    which = np.flatnonzero(in_range)
    touches = ground.touches
    columns = [axis.touches for axis in axes]
    numbers = np.full((len(axes), len(which)), NO_AXIS, np.int64)
    if all(column is not None for column in columns):
        numbers = np.stack([column[which] for column in columns if column is not None]).astype(np.int64)
    if kept is not None:
        numbers = np.where(kept.touches[which], numbers, LEFT)
    campaign = touches.fields["campaign"].codes[which]
    cells = np.concatenate([numbers, paid[campaign].astype(np.int64)[None]])
    click = touches.kind[which] == CLICK
    bounce = click & (touches.visits[which] == 1)
    counts = [(None, np.ones(len(which), np.int64)), (None, click.astype(np.int64)), (None, bounce.astype(np.int64))]
    found, cell = tally(cells, counts)
    place = np.full(len(in_range), -1, np.int64)
    place[which] = cell
    return found, place
