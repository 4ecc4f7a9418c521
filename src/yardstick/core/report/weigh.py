"""The one path through all rules: learn, weigh the parts of the people, merge, report."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.axis_numbers import NOWHERE
from ..base.columns import Flags, Ints
from ..base.days import NO_DAY
from ..base.notes import Finding, Rejected
from ..base.patience import go_on
from ..base.tables import Tables
from ..credit.credit import Credit
from ..plan.plan import Plan
from ..rules.registry import by_states
from ..trails.trails import Trails
from .breakdown import BY_CAMPAIGN, Breakdown, place_spend
from .counted import Counted, count
from .filters import Filter, Kept, keep_spend
from .fingerprint import fingerprint_of
from .ledger import Ledger
from .part import Glossary, PartQuestion, WeighedPart, weigh_part
from .prepared_data import PreparedData, prepare_data
from .removals import with_removals
from .report import BreakdownPlace, Report, Row, SpendRows


@dataclass(frozen=True)
class Result:
    """Everything a weighing gives.

    Attributes
    ----------
    fingerprint, data, origin : of the result, of the rows it was made from, and of where these came from (R27)
    rows : the report, yardstick by yardstick
    ledger : what the report was formed from
    shares : per yardstick name, the credit of every trail element that stands in the range
    trails : the trails of the counted conversions in the report range; under `touch` of all that have a touch
    laid, laid_shares : the same, or where products are asked for and orders have lines, parted by line
    whole, whole_shares : the trails of all conversions whose touches may stand in the range, and all their credit (R22)
    counted : which conversions count, and as what
    where, kept, kept_spend : the filters, and what they leave in the report; `kept` is None without any
    places : the rows' places; `element_place` (of trails as laid), `touch_place`, `spend_place` say which place
        each of them stands in (-1 = none), so that every figure can be traced
    """

    plan: Plan
    by: Breakdown
    where: tuple[Filter, ...]
    fingerprint: str
    data: str
    origin: str
    prepared: PreparedData
    counted: Counted
    ledger: Ledger
    trails: Trails
    shares: Credit
    laid: Trails
    laid_shares: Credit
    whole: Trails
    whole_shares: Credit
    rows: list[Row]
    places: list[BreakdownPlace]
    credit_place: Ints
    element_place: Ints
    touch_place: Ints
    spend_place: Ints
    spend_rows: Flags
    kept_spend: Flags
    touch_in_range: Flags
    kept: Kept | None
    findings: list[Finding]
    rejected: list[Rejected]

    def without_event(self) -> int:
        """How many counted conversions never had the word or stage on whose day records stand (R22)."""
        return int((self.counted.flags & (self.prepared.conversions.report_day == NO_DAY)).sum())

    def met_campaigns(self) -> Ints:
        """Numbers of the campaigns that have a touch in the range or credit under any yardstick (R19)."""
        met: Ints = self.ledger.met.keys[0]
        return met


def learn(tables: Tables, plan: Plan, prepared: PreparedData | None = None) -> Glossary:
    """Find out all that is of everyone: people, spellings, names by id, levels of spend, and what counts.

    Parameters
    ----------
    tables : visits, leads, conversions, spend, rates
    plan : see `core.plan.plan.Plan`
    prepared : what `prepare_data` gave for the same tables and plan, if it is at hand

    Raises
    ------
    SettingsError
        If a setting is wrong or asks for what is not built.
    """
    lasting = prepared is not None
    prepared = prepared or prepare_data(tables, plan.reading, plan.trailing, plan.costing, plan.money)
    counted = prepared.read.latest_counted.get(
        (plan.windows, plan.trailing), lambda: count(prepared, plan.windows, plan.trailing)
    )
    return Glossary(prepared, counted, lasting)


def complete(ledger: Ledger, glossary: Glossary, plan: Plan, question: PartQuestion) -> Ledger:
    """The ledger of all the people with what can only be said of all of them: the credit of states (R16)."""
    removing = [yardstick for yardstick in plan.crediting.yardsticks if by_states(yardstick)]
    return with_removals(ledger, glossary.prepared, removing, len(question.where))


def report(ledger: Ledger, glossary: Glossary, plan: Plan, question: PartQuestion, part: WeighedPart) -> Report:
    """Form the report of a ledger.

    Parameters
    ----------
    ledger : of all the people, see `complete`
    glossary, plan, question : as they were weighed with
    part : any of the parts it was added up from; numbers on its axes mean the same in all
    """
    return Report(
        ledger,
        glossary.prepared,
        plan,
        question.by,
        part.axes,
        _spend(ledger, glossary.prepared, question, part),
        bool(question.where),
    )


def _spend(ledger: Ledger, prepared: PreparedData, question: PartQuestion, part: WeighedPart) -> SpendRows:
    rows = part.spend_rows
    of_filters = [place_spend(one.axis, prepared, rows, ledger.pairs.get(one.stated.field)) for one in part.narrowed]
    return SpendRows(
        counts=rows,
        kept=keep_spend(part.narrowed, of_filters, len(rows)),
        numbers=[
            place_spend(axis, prepared, rows, ledger.pairs.get(name))
            for name, axis in zip(question.by, part.axes, strict=True)
        ],
    )


def weigh(
    tables: Tables,
    plan: Plan,
    by: Breakdown = BY_CAMPAIGN,
    *,
    where: tuple[Filter, ...] = (),
    prepared: PreparedData | None = None,
) -> Result:
    """Attribute every conversion to the touches before it and set the credit beside the spend.

    Parameters
    ----------
    tables : visits, leads, conversions, spend, rates
    plan : see `core.plan.plan.Plan`
    by : what rows stand for
    where : filters; what they leave out stands in one row of its own
    prepared : what `prepare_data` gave for the same tables and plan, if it is at hand

    Returns
    -------
    Result

    Raises
    ------
    SettingsError
        If a setting is wrong or asks for what is not built.

    Notes
    -----
    Rules R1 to R23 in the order in which they apply. Neither the order of rows nor that of people changes a figure.
    All the people are one part here, so that every figure can be traced; see `ledger.merge` for more parts.
    """
    by.checked(plan.reading)
    glossary, question = learn(tables, plan, prepared), PartQuestion(by, where)
    prepared = glossary.prepared
    go_on()
    part = weigh_part(glossary, plan, question)
    go_on()
    count = prepared.touches.count
    in_range, touch_cell = np.ones(count, np.bool_), part.touch_cell
    if len(part.touch) < count:
        in_range, touch_cell = np.zeros(count, np.bool_), np.full(count, NOWHERE, np.int64)
        in_range[part.touch], touch_cell[part.touch] = True, part.touch_cell
    ledger = complete(part.ledger, glossary, plan, question)
    found = report(ledger, glossary, plan, question, part)
    return Result(
        plan=plan,
        by=by,
        where=where,
        fingerprint=fingerprint_of(plan, by, tables.data, tuple(map(str, where))),
        data=tables.data,
        origin=tables.origin,
        prepared=prepared,
        counted=glossary.counted,
        ledger=ledger,
        trails=part.trails,
        shares=part.shares,
        laid=part.laid,
        laid_shares=part.laid_shares,
        whole=part.whole,
        whole_shares=part.whole_shares,
        rows=found.rows(),
        places=found.places,
        credit_place=found.of_credit,
        element_place=_at(found.of_keys(part.ledger.credit.keys), part.element_cell),
        touch_place=_at(found.of_touches, touch_cell),
        spend_place=found.of_spend,
        spend_rows=part.spend_rows,
        kept_spend=found.spend.kept,
        touch_in_range=in_range,
        kept=part.kept,
        findings=list(prepared.findings),
        rejected=list(prepared.rejected),
    )


def _at(place: Ints, cell: Ints) -> Ints:
    """The place of each cell, `NOWHERE` where there is none."""
    return np.append(place, NOWHERE)[cell]
