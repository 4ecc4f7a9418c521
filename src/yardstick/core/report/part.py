"""Weighing some of the people: their trails, the credit of every touch, and the ledger these add up to."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from ..base.axis_numbers import LEFT, NO_AXIS, NOWHERE
from ..base.columns import Flags, Ints, sums_by
from ..base.days import days_within
from ..base.distinct import distinct_columns
from ..base.latest import Latest, Same, SameNumbers
from ..base.report_fields import PRODUCT
from ..base.schema import CLICK
from ..base.tally import Tally, tally
from ..credit.credit import Credit, credit_of
from ..credit.lined import LinedCredit, LinedTrails, lay_lines
from ..plan.crediting_phase import Crediting
from ..plan.plan import Plan
from ..plan.reporting_phase import CONVERSION, TOUCH
from ..rules.registry import by_states
from ..trails.trails import Trails
from .breakdown import Axis, Breakdown, asks_touches, campaign_values, days_of_elements, hide, lay_axis, part_empty
from .counted import Counted, agreement, trails_of
from .filters import Filter, Kept, Narrowed, keep, narrow
from .ledger import Ledger, Removals, marked, stands_at
from .prepared_data import PreparedData
from .removals import Lessons, Scene, learn_removals


@dataclass(frozen=True)
class Glossary:
    """All that is not of one part of the people but of everyone.

    Attributes
    ----------
    prepared, counted : what was read, and what counts of it
    lasting : whether more will be asked on that ground
    of_touches : where touches stand on the axes that the parts of one question share
    """

    prepared: PreparedData
    counted: Counted
    lasting: bool = False
    of_touches: Latest = field(default_factory=Latest, compare=False)


@dataclass(frozen=True)
class PartQuestion:
    """What a report asks: one or two fields, and filters."""

    by: Breakdown
    where: tuple[Filter, ...] = ()

    def asks(self, field: str) -> bool:
        """Whether a field is among them."""
        return field in self.by or any(stated.field == field for stated in self.where)


@dataclass(frozen=True)
class WeighedPart:
    """Some of the people, weighed.

    Attributes
    ----------
    ledger : what they add up to
    trails : of the counted conversions in the report range; under `touch` of all that have a touch
    shares : per yardstick, the credit of every trail element that stands in the range
    laid, laid_shares : the same, or where products are asked for and orders have lines, parted by line
    whole, whole_shares : the trails of all conversions whose touches may stand in the range, and all their credit (R22)
    axes, narrowed, kept : the breakdown, the filters, and what these leave (None without any), on trails as laid
    element_cell : (k,) int64, the key of the ledger's credit that each element of the trails as laid is added up in,
        -1 = none
    touch, touch_cell : (m,) int64, the touches in the range, ascending, and the key of the ledger's touches of each
    spend_rows : (s,) bool
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
    touch: Ints
    touch_cell: Ints
    spend_rows: Flags


def weigh_part(glossary: Glossary, plan: Plan, question: PartQuestion, people: Flags | None = None) -> WeighedPart:
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
    prepared, counted, reporting = glossary.prepared, glossary.counted, plan.reporting
    conversions, touches, basis = prepared.conversions, prepared.touches, reporting.date_basis
    asked = (reporting.report_from, reporting.report_to)
    ours = counted.flags if people is None else counted.flags & people[conversions.person]
    in_sight = days_within(conversions.report_day, *asked)
    chosen = ours if basis == TOUCH else ours & in_sight

    def lay(keep: bool) -> tuple[Trails, Credit]:
        found = trails_of(chosen, prepared, plan.windows, counted.after)
        return found, credit_of(found, conversions, touches, plan.crediting, keep)

    if glossary.lasting and people is None:
        # What rules ask of touches are their numbers in two fields: the same columns give the same credit.
        of = (Same(touches.fields["campaign"].codes), Same(touches.fields["channel"].codes))
        trails, shares = prepared.read.latest_trails.get(
            (plan.windows, asked, basis, plan.crediting, *of), lambda: lay(True)
        )
    else:
        trails, shares = lay(False)
    whole, whole_shares = trails, shares
    stands = np.ones(len(whole.touch), np.bool_)
    if basis == TOUCH:
        stands = days_within(days_of_elements(prepared, whole), *asked)
        shares = whole_shares.only(stands)
        # A trail without touches has no elements, so those that stay keep their numbers.
        trails = whole.only((whole.lengths > 0) | in_sight[whole.conversion])
    theirs = np.arange(touches.count) if people is None else touches.of_people(people)
    in_range = theirs if asked == (None, None) else theirs[days_within(touches.day[theirs], *asked)]
    spend_rows = prepared.costs.counts & days_within(prepared.spend.ints("day"), *asked)

    laid: Trails = trails
    laid_shares, laid_stands = shares, stands
    if question.asks(PRODUCT) and len(prepared.lines.weight):
        laid = lay_lines(trails, prepared.lines)
        laid_shares, laid_stands = LinedCredit(shares, laid, prepared.lines), stands[laid.whole]
    narrowed = narrow(question.where, prepared, laid, counted, plan.reading, basis)
    axes = [lay_axis(name, prepared, laid, counted, basis) for name in question.by]
    kept = keep(narrowed, prepared, laid) if narrowed else None
    fields = [*zip(question.by, axes, strict=True), *((one.stated.field, one.axis) for one in narrowed)]
    pairs = {name: campaign_values(axis, prepared, in_range) for name, axis in fields if asks_touches(axis, spend_rows)}
    axes = _as_shown(axes, question.by, glossary, laid, plan)

    paid = paid_campaigns(prepared, spend_rows)
    credit, element_cell = _credit(prepared, counted, laid, laid_shares, laid_stands, axes, kept, paid)
    groups = _group(prepared, axes, kept, in_range, glossary.lasting and people is None)
    touched, touch_cell = _touches(groups, paid)
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
        met=_met(groups, campaign[trails.touch][credited]),
        pairs=pairs,
        captured=agreement(trails, prepared),
        removals=_removals(glossary, plan, question, people, shared, ~laid_stands, theirs, in_range, paid),
    )
    return WeighedPart(
        ledger, trails, shares, laid, laid_shares, whole, whole_shares, axes, narrowed, kept, element_cell, in_range,
        touch_cell, spend_rows,
    )  # fmt: skip


def _removals(
    glossary: Glossary,
    plan: Plan,
    question: PartQuestion,
    people: Flags | None,
    shared: Lessons,
    outside: Flags,
    theirs: Ints,
    in_range: Ints,
    paid: Flags,
) -> dict[str, Removals]:
    """What yardsticks that remove states go by, as far as any is asked for (R16).

    The chain learns from the range; under the other date bases from all days.
    """
    by = sorted({y.by for y in plan.crediting.yardsticks if by_states(y)})
    if not by:
        return {}
    prepared, counted, reporting = glossary.prepared, glossary.counted, plan.reporting
    conversions, touches, basis = prepared.conversions, prepared.touches, reporting.date_basis
    taught, lessons, asked = counted.flags, shared, (reporting.report_from, reporting.report_to)
    # Losing paths are of touches in the range where the chain learns from it; else of all, and shown or not.
    learned, shown_days = (
        (in_range, asked) if basis == CONVERSION else (theirs, asked if basis == TOUCH else (None, None))
    )
    if basis == CONVERSION:
        taught = counted.flags & days_within(conversions.report_day, *asked)
    elif basis != TOUCH:
        ours = taught if people is None else taught & people[conversions.person]
        trails = trails_of(ours, prepared, plan.windows, counted.after)
        credit = credit_of(trails, conversions, touches, Crediting())
        laid: Trails = trails
        if isinstance(shared.laid, LinedTrails):
            laid = lay_lines(trails, prepared.lines)
            credit = LinedCredit(credit, laid, prepared.lines)
        axes = [lay_axis(name, prepared, laid, counted, TOUCH) for name in question.by]
        narrowed = narrow(question.where, prepared, laid, counted, plan.reading, TOUCH)
        lessons = Lessons(trails, credit, laid, _as_shown(axes, question.by, glossary, laid, plan), narrowed)
    scene = Scene(
        prepared=prepared,
        counted=counted,
        windows=plan.windows,
        goals=np.unique(conversions.goal.codes[taught]).tolist(),
        taught=taught,
        lessons=lessons,
        shared=shared,
        outside=outside,
        learned=learned,
        shown_days=shown_days,
        paid=paid,
    )
    return {one: learn_removals(scene, one) for one in by}


def _as_shown(axes: list[Axis], by: Breakdown, glossary: Glossary, trails: Trails, plan: Plan) -> list[Axis]:
    """Axes with hidden channels as one, and with the first one's empty value parted.

    Where touches stand is the same for every part of a question, so it is worked out for the first one.
    """
    hidden, prepared = plan.reporting.hidden_channels, glossary.prepared

    def shown(axes: list[Axis]) -> list[Axis]:
        out = [hide(axis, hidden) if name == "channel" else axis for name, axis in zip(by, axes, strict=True)]
        return [part_empty(out[0], prepared, trails), *out[1:]]

    of_touches = glossary.of_touches.get((by, hidden), lambda: [axis.touches for axis in shown(axes)])
    without = [replace(axis, touches=None if axis.touches is None else axis.touches[:0]) for axis in axes]
    return [replace(axis, touches=touches) for axis, touches in zip(shown(without), of_touches, strict=True)]


def _credited(shares: Credit, stands: Flags) -> Flags:
    """(k,) bool: trail elements that get credit under any yardstick."""
    if not shares or shares.to_all:
        return stands
    credited = np.zeros(len(stands), np.bool_)
    for share in shares.values():
        credited[share.element] = True
    return credited


def _met(groups: TouchGroups, credited: Ints) -> Tally:
    """How often each campaign has a touch in the range or an element with credit (R19)."""
    campaigns = np.concatenate([groups.keys[-1], credited.astype(np.int64)])
    times = np.concatenate([groups.counts[0], np.ones(len(credited), np.int64)])
    return tally(campaigns[None], [(None, times)])[0]


def _records(cells: Ints, value: Ints) -> Tally:
    return tally(cells, [(None, np.ones(cells.shape[1], np.int64)), (None, value)])[0]


def paid_campaigns(prepared: PreparedData, spend_rows: Flags) -> Flags:
    """(campaigns,) bool: those whose spend in the range is other than 0 (R23)."""
    size = len(prepared.touches.fields["campaign"].keys)
    spend = sums_by(prepared.spend_campaign[spend_rows], prepared.costs.cost[spend_rows], size)
    paid = np.array([cost != 0 for cost in spend], np.bool_)
    # Number 0 is the empty value: touches without a campaign are no campaign's.
    paid[0] = False
    return paid


def _credit(
    prepared: PreparedData,
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
    campaign = prepared.touches.fields["campaign"].codes[touch]
    kind = np.repeat(counted.kind[trails.conversion], trails.lengths)[element]
    numbers = np.stack([axis.elements[element] for axis in axes]).astype(np.int64)
    if kept is not None:
        numbers = np.where(kept.elements[element], numbers, LEFT)
    cells = np.concatenate([numbers, marked(kind, stands_at(prepared, touch), paid[campaign].astype(np.int64))[None]])
    keys, which = distinct_columns(cells)
    place = np.full(len(stands), NOWHERE, np.int64)
    place[element] = which
    size = keys.shape[1]
    (high, low), *halves = shares.summed_with_even(place, size)
    halves.insert(0, (high[:1], low[:1]))
    return Tally(keys, *(np.concatenate(rows) for rows in zip(*halves, strict=True))), place


@dataclass(frozen=True)
class TouchGroups:
    """Touches that stand at one place and are of one campaign, counted together.

    Attributes
    ----------
    keys : (axes + 1, m) int64, the numbers on the axes, then the campaign's
    which : (n,) int64, the group of each touch
    counts : (3, m) int64: touches, click touches, bounces
    """

    keys: Ints
    which: Ints
    counts: Ints


def _group(prepared: PreparedData, axes: list[Axis], kept: Kept | None, which: Ints, lasting: bool) -> TouchGroups:
    """Some touches by place and campaign. Costs move neither, so the groups of the last question may serve again."""
    touches = prepared.touches
    columns = [axis.touches for axis in axes]
    # As they stand where all are in the range: a copy of very many is what this would cost.
    some = len(which) < touches.count
    rows: Ints | slice = which if some else slice(None)
    cells = [np.full(len(which), NO_AXIS, np.int64) for _ in axes]
    if all(column is not None for column in columns):
        cells = [column[rows] for column in columns if column is not None]
    if kept is not None:
        cells = [np.where(kept.touches[rows], column, LEFT) for column in cells]
    cells.append(touches.fields["campaign"].codes[: touches.count][rows])

    def group() -> TouchGroups:
        keys, of = distinct_columns(np.stack(cells).astype(np.int64, copy=False))
        size = keys.shape[1]
        click = touches.kind[which] == CLICK
        bounce = click & (touches.visits[which] == 1)
        counts = [np.bincount(rows, minlength=size) for rows in (of, of[click], of[bounce])]
        return TouchGroups(keys, of, np.stack(counts).astype(np.int64))

    known = SameNumbers(*([which] if some else []), *cells)
    return prepared.read.latest_touches.get((some, known), group) if lasting else group()


def _touches(groups: TouchGroups, paid: Flags) -> tuple[Tally, Ints]:
    """Touches by key, and the key of each."""
    *numbers, campaign = groups.keys
    cells = np.stack([*numbers, paid[campaign].astype(np.int64)])
    counted, place = tally(cells, [(None, counts) for counts in groups.counts])
    return counted, place[groups.which]
