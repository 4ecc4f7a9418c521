"""The fields by which records are listed: of the record, of its person's first and latest source, of its days."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from ..base.columns import NO_INSTANT, Ints, Text
from ..base.day_numbers import day_text
from ..base.days import NO_DAY, local_days
from ..base.report_fields import CREATED, CUSTOMER, PRODUCT, REASON, STATES
from ..base.tables import Table
from ..base.words import collapse, fold
from ..trails.present import event_instants, latest_said
from ..trails.quarantine import quarantined_by
from ..trails.trails import Trails
from .apart import apart_codes, apart_words
from .breakdown import codes_of_conversions, lay_axis, newness
from .counted import trails_of
from .recorded import Apart
from .weigh import Result

NOT_GOOD, GOOD, OPEN = "not good", "good", "not known yet"


@dataclass(frozen=True)
class Laid:
    """One field: the number each record has in it, and what the numbers show; the empty text is nothing said."""

    codes: Ints
    shown: list[str]


class RecordFields:
    """The records of a result, field by field; each is laid once.

    Parameters
    ----------
    result : a weighing, whose windows say which touches are a record's
    """

    def __init__(self, result: Result) -> None:
        self.result = result
        self._laid: dict[str, Laid] = {}
        self._trails: Trails | None = None

    def field(self, name: str) -> Laid:
        """One of `RECORD_FIELDS`."""
        if name not in self._laid:
            self._laid[name] = RECORD_FIELDS[name](self)
        return self._laid[name]

    @property
    def trails(self) -> Trails:
        """The trail of every record, counted or not."""
        if self._trails is None:
            every = np.ones(len(self.result.prepared.conversions), np.bool_)
            prepared, plan = self.result.prepared, self.result.plan
            self._trails = trails_of(every, prepared, plan.windows, self.result.counted.after)
        return self._trails

    @property
    def won(self) -> Ints:
        """(c,) int64: the day on which each record became what it is now and what its goal calls good (R10).

        That of the last row that says so; of a record that says so by itself its own day; `NO_DAY` of any other.
        """
        prepared, trailing = self.result.prepared, self.result.plan.trailing
        conversions = prepared.conversions
        words = {fold(word.word) for word in trailing.status_words if word.means == "good"}
        words |= {fold(stage) for goal in prepared.goals for stage in goal.good_stages}
        at = np.full(len(conversions), NO_INSTANT, np.int64)
        for word in sorted(words):
            found = [event_instants(table, prepared.tables.statuses, word) for table in _tables(self.result)]
            at = np.maximum(at, np.concatenate(found))
        days = np.where(at == NO_INSTANT, conversions.day, 0)
        said = np.flatnonzero(at != NO_INSTANT)
        days[said] = local_days(at[said], self.result.plan.reading.time_zone)
        return np.where(conversions.good, days, NO_DAY)


def _tables(result: Result) -> tuple[Table, Table]:
    return result.prepared.tables.leads, result.prepared.tables.conversions


def _of_text(text: Text) -> Laid:
    """A text as a field: spaces apart, what is written alike is one."""
    own = text.map(collapse)
    return Laid(own.codes.astype(np.int64), list(own.values))


def _own(name: str) -> Callable[[RecordFields], Laid]:
    """A column of the tables; where one has none it says nothing."""

    def lay(of: RecordFields) -> Laid:
        texts = [t.text(name) if name in t.columns else Text.blank(len(t)) for t in _tables(of.result)]
        return _of_text(Text.join(texts))

    return lay


def _of_record(name: str) -> Callable[[RecordFields], Laid]:
    """A field of records that reports have, too."""
    return lambda of: Laid(*codes_of_conversions(name, of.result.prepared))


def _reason(of: RecordFields) -> Laid:
    """Why a lead has a source: that of its trail (R32)."""
    axis = lay_axis(REASON, of.result.prepared, of.trails, of.result.counted)
    assert axis.trails is not None
    codes = np.zeros(len(of.result.prepared.conversions), np.int64)
    codes[of.trails.conversion] = axis.trails
    return Laid(codes, list(axis.shown))


def _source(name: str, latest: bool) -> Callable[[RecordFields], Laid]:
    """What the first or the latest touch of a record's trail has in a field; nothing without a trail."""

    def lay(of: RecordFields) -> Laid:
        trails, field = of.trails, of.result.prepared.touches.fields[name]
        filled = np.flatnonzero(trails.lengths > 0)
        at = trails.offsets[1:][filled] - 1 if latest else trails.offsets[:-1][filled]
        shown = list(field.shown)
        codes = np.full(len(of.result.prepared.conversions), len(shown), np.int64)
        codes[trails.conversion[filled]] = field.codes[trails.touch[at]]
        return Laid(codes, [*(text or NO_SOURCE for text in shown), ""])

    return lay


NO_SOURCE = "(touches without any)"
"""What stands for the value of touches that say none, beside records without a trail."""


def _captured(of: RecordFields) -> Laid:
    """The source that the form of a lead captured, its latest set before its first (R8)."""
    prepared = of.result.prepared
    field = prepared.touches.fields["source"]
    leads = len(prepared.tables.leads)
    shown = list(field.shown)
    codes = np.full(len(prepared.conversions), len(shown), np.int64)
    for offset in (0, 1):
        sets = 2 * np.arange(leads) + offset
        rows = np.flatnonzero(prepared.captured.filled[sets])
        codes[rows] = field.codes[prepared.touches.count + sets[rows]]
    return Laid(codes, [*(text or NO_SOURCE for text in shown), ""])


def _days(days: Ints, length: int) -> Laid:
    """Days as what stands in the first characters of their text: months, or days."""
    known, codes = np.unique(days, return_inverse=True)
    texts = Text.of(["" if day == NO_DAY else day_text(day)[:length] for day in known.tolist()])
    return Laid(texts.codes[codes.reshape(-1)].astype(np.int64) if len(days) else codes, list(texts.values))


def _flags(result: Result, texts: tuple[str, ...], choose: Callable[[Result], Ints]) -> Laid:
    return Laid(choose(result), list(texts))


def _goodness(of: RecordFields) -> Laid:
    """Of counted leads whether they are good, of others nothing."""

    def choose(result: Result) -> Ints:
        counted, conversions = result.counted, result.prepared.conversions
        of_lead = np.where(counted.good, 2, np.where(counted.open, 3, 1))
        return np.where(conversions.is_lead_row & counted.flags, of_lead, 0)

    return _flags(of.result, ("", NOT_GOOD, GOOD, OPEN), choose)


def _newness(of: RecordFields) -> Laid:
    return Laid(*newness(of.result.prepared, of.result.counted))


def _pipeline(of: RecordFields) -> Laid:
    statuses = of.result.prepared.tables.statuses
    return _of_text(Text.join([latest_said(table, statuses, "pipeline") for table in _tables(of.result)]))


def _of_table(of: RecordFields) -> Laid:
    return Laid((~of.result.prepared.conversions.is_lead_row).astype(np.int64), ["lead", "order"])


def _products(of: RecordFields) -> Laid:
    """All that is in an order: the products of its lines in their order, each once; without lines its own."""
    own, lines = of.field(PRODUCT), of.result.prepared.lines
    codes, shown = own.codes.copy(), list(own.shown)
    numbers = {text: number for number, text in enumerate(shown)}
    for order in np.flatnonzero(lines.count).tolist():
        first, last = lines.offsets[order : order + 2].tolist()
        text = " + ".join(dict.fromkeys(lines.product[line] for line in range(first, last)))
        codes[order] = numbers.setdefault(text, len(numbers))
    return Laid(codes, list(numbers))


def _quarantine(of: RecordFields) -> Laid:
    """What takes a test record out: its own word or flag, a rule by its number, or somebody by hand (R9)."""
    apart, reading = of.field("counts"), of.result.plan.reading
    rules = np.concatenate([quarantined_by(table, reading) for table in _tables(of.result)])
    shown = ["", "by itself", "by hand", *(f"rule {number}" for number in range(1, len(reading.quarantine) + 1))]
    is_ = {word: apart.codes == apart.shown.index(word) for word in (Apart.TEST, Apart.QUARANTINED)}
    codes = np.select(
        [is_[Apart.TEST], is_[Apart.QUARANTINED] & (rules == 0), is_[Apart.QUARANTINED]], [1, 2, rules + 2]
    )
    return Laid(codes.astype(np.int64), shown)


def _consent_days(of: RecordFields) -> Laid:
    """The day on which consent was given or refused, as far as a record says one."""
    days = []
    for table in _tables(of.result):
        at = table.ints("consent_at") if "consent_at" in table.columns else np.full(len(table), NO_INSTANT, np.int64)
        told = np.flatnonzero(at != NO_INSTANT)
        mine = np.full(len(table), NO_DAY, np.int64)
        mine[told] = local_days(at[told], of.result.plan.reading.time_zone)
        days.append(mine)
    return _days(np.concatenate(days), 10)


def _report_days(length: int) -> Callable[[RecordFields], Laid]:
    return lambda of: _days(of.result.prepared.conversions.report_day, length)


RECORD_FIELDS: Mapping[str, Callable[[RecordFields], Laid]] = {
    "goal": _of_record("goal"),
    "table": _of_table,
    "counts": lambda of: Laid(apart_codes(of.result), apart_words()),
    **{name: _of_record(name) for name in (*STATES, PRODUCT, CREATED)},
    "products": _products,
    "quarantined_by": _quarantine,
    REASON: _reason,
    "pipeline": _pipeline,
    "form": _own("form"),
    **{
        f"{end}_{name}": _source(name, end == "latest")
        for end in ("first", "latest")
        for name in ("source", "campaign", "channel")
    },
    "captured_source": _captured,
    "self_reported": _own("self_reported"),
    "good": _goodness,
    CUSTOMER: _newness,
    "consent": _own("consent"),
    "consent_base": _own("consent_base"),
    "consent_day": _consent_days,
    "created_day": lambda of: _days(of.result.prepared.conversions.day, 10),
    "won_month": lambda of: _days(of.won, 7),
    "report_month": _report_days(7),
}
"""Every field of records: what it is called, and how it is laid."""
