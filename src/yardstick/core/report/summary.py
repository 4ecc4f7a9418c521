"""The summary of a result: totals, and where every unit of money stands (the tie line)."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from ..base.columns import Ints, total
from ..base.day_numbers import day_number
from ..base.days import days_within
from ..base.notes import Finding
from ..base.tally import Tally
from .counted import GOOD_LEAD, is_sale
from .ledger import NAMED_PART, NO_VALUE_PART, RECORDS, UNTAGGED_PART, WORTH
from .proportions import Proportion, proportion
from .unrated import WithoutRate, without_rate
from .weigh import Result


@dataclass(frozen=True)
class TiePart:
    """Counted conversions of one part of the books. Value in minor units of the home currency."""

    leads: int
    good_leads: int
    conversions: int
    value: int


def money_without_rate(result: Result) -> list[WithoutRate]:
    """What of the range is in no figure because it has no exchange rate (R20)."""
    reporting = result.plan.reporting
    first = None if reporting.report_from is None else day_number(reporting.report_from)
    last = None if reporting.report_to is None else day_number(reporting.report_to)
    return without_rate(result.prepared.unrated, first, last)


@dataclass(frozen=True)
class TieLine:
    """Booked = named + untagged + no value + no trail + outside; invoiced = matched + unmatched; quarantined stands
    outside of all.

    Attributes
    ----------
    booked, no_trail : counted conversions of the report range, and those without any touch
    named, untagged, no_value : per yardstick, value credited to campaigns, to touches without any tag, and to tagged
        touches without a campaign (R12), minor units
    outside : per yardstick, under the touch basis (R22) the value whose touch, or conversion without a trail, is
        outside the range; booked are all counted conversions then
    invoiced, matched, unmatched : spend of the range, minor units; matched has touches or credit of its campaign
    quarantined_records, quarantined_value : test records of the range and what they say they are worth
    captured_first, captured_last : of the leads of the range with visits and a captured set, in how many that set says
        what their first or last touch says (R8)
    """

    booked: TiePart
    no_trail: TiePart
    named: dict[str, int]
    untagged: dict[str, int]
    no_value: dict[str, int]
    outside: dict[str, int]
    invoiced: int
    matched: int
    unmatched: int
    quarantined_records: int
    quarantined_value: int
    captured_first: Proportion
    captured_last: Proportion


def tie_line(result: Result) -> TieLine:
    """Account for every unit of money of a result, whatever its breakdown (R12, R19)."""
    prepared, ledger = result.prepared, result.ledger
    by_part = {
        part: {name: ledger.credit.total(ledger.part_of(name) + 1, ledger.stands == part) for name in ledger.yardsticks}
        for part in (NAMED_PART, UNTAGGED_PART, NO_VALUE_PART)
    }
    named, untagged, no_value = by_part[NAMED_PART], by_part[UNTAGGED_PART], by_part[NO_VALUE_PART]
    cost = prepared.costs.cost
    matched = result.spend_rows & np.isin(prepared.spend_campaign, result.met_campaigns())
    visits, records = quarantined_in_range(result)
    booked, no_trail = _part(ledger.booked), _part(ledger.alone)
    inside = {name: named[name] + untagged[name] + no_value[name] + no_trail.value for name in named}
    return TieLine(
        booked=booked,
        no_trail=no_trail,
        outside={name: booked.value - value for name, value in inside.items()},
        named=named,
        untagged=untagged,
        no_value=no_value,
        invoiced=total(cost[result.spend_rows]),
        matched=total(cost[matched]),
        unmatched=total(cost[result.spend_rows & ~matched]),
        quarantined_records=visits + len(records),
        quarantined_value=total(prepared.conversions.value[records]),
        captured_first=proportion(ledger.captured["first_agree"], ledger.captured["first_compared"]),
        captured_last=proportion(ledger.captured["last_agree"], ledger.captured["last_compared"]),
    )


def quarantined_in_range(result: Result) -> tuple[int, Ints]:
    """Test records of the range (R9): how many visits, and the rows of `ground.conversions`."""
    prepared, reporting = result.prepared, result.plan.reporting
    asked = (reporting.report_from, reporting.report_to)
    visits = prepared.quarantine.visits & days_within(prepared.roles.day[: prepared.roles.visits], *asked)
    flags = np.concatenate([prepared.quarantine.leads, prepared.quarantine.conversions])
    inside = days_within(prepared.conversions.report_day, *asked) if any(asked) else np.ones(len(flags), np.bool_)
    return int(visits.sum()), np.flatnonzero(flags & inside)


def _part(records: Tally) -> TiePart:
    """Whole conversions by kind, which is the last row of the keys."""
    kind = records.keys[-1]
    return TiePart(
        leads=records.total(RECORDS, ~is_sale(kind)),
        good_leads=records.total(RECORDS, kind == GOOD_LEAD),
        conversions=records.total(RECORDS, is_sale(kind)),
        value=records.total(WORTH),
    )


def finding_counts(findings: Iterable[Finding]) -> dict[str, int]:
    """How often each code stands among findings."""
    return dict(sorted(Counter(f.code for f in findings).items()))
