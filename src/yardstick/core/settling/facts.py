"""What several kinds of matters ask of a result (R30), each worked out once."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal
from functools import cached_property

import numpy as np

from ..base.columns import Flags, Ints, Text
from ..base.day_numbers import day_number
from ..base.days import NO_DAY, day_at
from ..base.distinct import distinct_columns
from ..base.schema import CLICK
from ..base.tables import Table
from ..base.words import fold
from ..links.audit import Audited, ads_of, audit
from ..plan.costing_phase import Platform
from ..plan.gathering_phase import SaidOfMatter
from ..plan.plan import Plan
from ..plan.reporting_phase import Reporting
from ..report.record_fields import RecordFields
from ..report.weigh import Result


@dataclass(frozen=True)
class WatchedLink:
    """A placed link: its address, whether the check-up calls it wrong, tags that arrive otherwise as (field, value that
    arrives), and who mends it."""

    url: str
    is_wrong: bool
    deviations: tuple[tuple[str, str], ...] = ()
    mender: str = ""


@dataclass(frozen=True)
class Besides:
    """What matters are asked of that no table holds.

    Attributes
    ----------
    links : placed ones
    landing_pages : campaign -> its landing page, for ads without an address of their own
    """

    links: tuple[WatchedLink, ...] = ()
    landing_pages: Mapping[str, str] = field(default_factory=dict)


NOTHING_BESIDES = Besides()


class Facts:
    """A result with what is worked out of it.

    Parameters
    ----------
    result : a weighing without filters
    today : day number by which months are over; None = that of `as_of`, if the settings have one
    plan : one that gives the same figures; None = the result's
    besides : what no table holds
    """

    def __init__(
        self,
        result: Result,
        today: int | None = None,
        plan: Plan | None = None,
        besides: Besides = NOTHING_BESIDES,
    ) -> None:
        self.result, self.prepared, self.plan = result, result.prepared, plan or result.plan
        self.links, self.landing_pages = besides.links, besides.landing_pages
        self._today = today

    @property
    def range(self) -> Reporting:
        """What the result was asked, its range among it."""
        return self.result.plan.reporting

    @cached_property
    def today(self) -> int | None:
        """Day number by which months are over, None where nobody says."""
        as_of = self.plan.reporting.as_of
        if self._today is not None or not as_of:
            return self._today
        instant = (datetime.fromisoformat(as_of) - datetime(1970, 1, 1, tzinfo=UTC)) // timedelta(microseconds=1)
        return day_at(instant, self.plan.reading.time_zone)

    def threshold(self, kind: str) -> Decimal:
        """The number of a kind that has one."""
        number: Decimal = getattr(self.plan.reporting.threshold, kind)
        return number

    @cached_property
    def said_of(self) -> dict[tuple[str, str], list[SaidOfMatter]]:
        """What was said of matters, by kind and folded object."""
        out: dict[tuple[str, str], list[SaidOfMatter]] = {}
        for said in self.plan.gathering.said_of_matters:
            out.setdefault((said.kind, fold(said.object)), []).append(said)
        return out

    def within(self, days: Ints) -> Flags:
        """(n,) bool: days in the range; rows that stand on none are in every range."""
        reporting = self.range
        inside = np.ones(len(days), np.bool_)
        if reporting.report_from is not None:
            inside &= days >= day_number(reporting.report_from)
        if reporting.report_to is not None:
            inside &= days <= day_number(reporting.report_to)
        inside |= days == NO_DAY
        return inside

    # Touches

    @property
    def touch_count(self) -> int:
        """How many touches are visits; captured sets have the numbers after them."""
        return self.prepared.touches.count

    @cached_property
    def clicks(self) -> Flags:
        """(touches,) bool: touches of visits by click."""
        by_click: Flags = self.prepared.touches.kind[: self.touch_count] == CLICK
        return by_click

    @cached_property
    def untagged(self) -> Flags:
        """(touches,) bool: touches without a tag that no legend gives a campaign, as the board has them (R12)."""
        count = self.touch_count
        flags: Flags = ~self.prepared.touches.tagged[:count] & (self.label("campaign")[0][:count] == 0)
        return flags

    @cached_property
    def fields(self) -> RecordFields:
        """The fields of all records, with the trails of all of them."""
        return RecordFields(self.result)

    @cached_property
    def sets(self) -> Ints:
        """(k,) int64: numbers of the captured sets that are touches of a counted record, over all days (R8)."""
        trails = self.fields.trails
        counts = self.result.counted.flags[trails.conversion][trails.owner()]
        found: Ints = np.unique(trails.touch[counts & (trails.touch >= self.touch_count)])
        return found

    def touches_where(self, holds: Flags) -> Ints:
        """(k,) int64: numbers of touches and of captured sets that are some.

        Parameters
        ----------
        holds : (touches and sets,) bool
        """
        return np.concatenate([np.flatnonzero(holds[: self.touch_count]), self.sets[holds[self.sets]]])

    @cached_property
    def touch_values(self) -> Ints | None:
        """(touches and sets,) int64: what each has in the range under the linear yardstick; None in a plan without."""
        linear = next((y.name for y in self.plan.crediting.yardsticks if y.rule == "linear"), None)
        if linear is None:
            return None
        out = np.zeros(len(self.prepared.touches.kind), np.int64)
        np.add.at(out, self.result.trails.touch, self.result.shares[linear].value)
        return out

    def label(self, name: str) -> tuple[Ints, Sequence[str]]:
        """(touches and sets,) int64 numbers of a field's values, and what they show."""
        labels = self.prepared.touches.fields[name]
        return labels.codes, labels.shown

    @cached_property
    def first_visit_day(self) -> int | None:
        """Day number of the first visit."""
        return int(self._visit_days.min()) if len(self._visit_days) else None

    @cached_property
    def last_visit_day(self) -> int | None:
        """Day number of the last visit."""
        return int(self._visit_days.max()) if len(self._visit_days) else None

    @property
    def _visit_days(self) -> Ints:
        roles = self.prepared.roles
        return roles.day[: roles.visits]

    # Spend

    @cached_property
    def costs(self) -> Ints:
        """(s,) int64: what each row of spend counts for, minor units of the home currency."""
        return self.prepared.costs.cost

    @cached_property
    def spend_days(self) -> Ints:
        """(s,) int64: the day of each row of spend."""
        return self.prepared.spend.ints("day").astype(np.int64)

    @cached_property
    def spend_platform(self) -> Text:
        """(s,) text: the folded platform of each row of spend."""
        return self.prepared.spend.text("platform").map(fold)

    @cached_property
    def platforms_by_source(self) -> dict[str, list[Platform]]:
        """Platforms of the plan by the value that their source is compared by, in the plan's order."""
        out: dict[str, list[Platform]] = {}
        for platform in self.plan.costing.platforms:
            if platform.source.strip():
                out.setdefault(self.plan.reading.names.meant("source", platform.source), []).append(platform)
        return out

    def spend_of(self, platforms: Sequence[Platform]) -> Flags:
        """(s,) bool: rows of spend of some platforms."""
        names = {fold(one.name) for one in platforms}
        return self.spend_platform.test(names.__contains__)

    @cached_property
    def spend_of_ads(self) -> dict[tuple[str, str], Ints]:
        """Rows of spend by folded platform and ad."""
        ad, platform = self.prepared.spend.text("ad").map(fold), self.spend_platform
        named = np.flatnonzero(ad.filled())
        pairs, which = distinct_columns(np.stack([platform.codes, ad.codes]).astype(np.int64)[:, named])
        order = np.argsort(which, kind="stable")
        ends = np.searchsorted(which[order], np.arange(pairs.shape[1] + 1))
        return {
            (platform.values[p], ad.values[a]): named[order[ends[at] : ends[at + 1]]]
            for at, (p, a) in enumerate(pairs.T.tolist())
        }

    @cached_property
    def audited(self) -> list[Audited]:
        """What the audit of ads says."""
        return audit(ads_of(self.prepared.tables.ads), self.plan.linking, self.plan.reading, self.landing_pages)

    @cached_property
    def yielded(self) -> dict[int, list[tuple[int, int]]]:
        """By number of a price the days on which it stood back behind reported cost, and what it left out (R19)."""
        out: dict[int, list[tuple[int, int]]] = {}
        for finding in self.prepared.findings:
            if finding.code == "price_yields":
                day = day_number(date.fromisoformat(finding.value.rpartition(", ")[2]))
                out.setdefault(finding.line - 1, []).append((day, finding.amount or 0))
        return out

    # Records

    @cached_property
    def record_days(self) -> Ints:
        """(c,) int64: the day that reports set each record on (R22), its own where they set it on none."""
        conversions = self.prepared.conversions
        return np.where(conversions.report_day == NO_DAY, conversions.day, conversions.report_day)

    @cached_property
    def record_values(self) -> Ints:
        """(c,) int64: what each record counts for; what a counting rule drops is a row without value."""
        return np.where(self.result.counted.flags, self.prepared.conversions.value, 0)

    def table_of_records(self, is_lead: bool) -> Table:
        """The table that records stand in."""
        return self.prepared.tables.leads if is_lead else self.prepared.tables.conversions
