"""Many records: leads, orders and deals filtered and grouped by any field, with their number and money."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from ..base.columns import Flags, Ints, total
from ..base.conditions import condition
from ..base.day_numbers import day_number, instant_text
from ..base.days import NO_DAY
from ..base.errors import SettingsError
from ..base.schema import CANCELLED, TEST
from ..base.words import fold
from .filters import Filter
from .record_fields import RECORD_FIELDS, RecordFields

DAYS = ("created", "won", "report")
"""By which day a list is cut: the record's own, that on which it became good, the one it stands on in reports (R22)."""


@dataclass(frozen=True)
class RecordQuestion:
    """What is asked of records.

    Attributes
    ----------
    by : none, one or two of `RECORD_FIELDS`
    where : conditions on these; all must hold
    day_of : one of `DAYS`
    first_day, last_day : range, both ends included; None = open
    """

    by: tuple[str, ...] = ()
    where: tuple[Filter, ...] = ()
    day_of: str = "created"
    first_day: date | None = None
    last_day: date | None = None

    def checked(self) -> RecordQuestion:
        """The same, if there are such fields.

        Raises
        ------
        SettingsError
            Names what there is not, and what there is.
        """
        for name in (*self.by, *(one.field for one in self.where)):
            if name not in RECORD_FIELDS:
                raise SettingsError(f"records have no field {name!r}; they have {', '.join(RECORD_FIELDS)}")
        if len(set(self.by)) != len(self.by) or len(self.by) > 2:
            raise SettingsError("group records by one field, or by two different ones")
        if self.day_of not in DAYS:
            raise SettingsError(f"records have no day {self.day_of!r}; they have {', '.join(DAYS)}")
        return self


@dataclass(frozen=True)
class RecordSums:
    """Number and money of some records; money in minor units of the home currency.

    Attributes
    ----------
    records, value : of all of them
    counted, counted_value : of those that count
    """

    records: int
    value: int
    counted: int
    counted_value: int


@dataclass(frozen=True)
class RecordGroup:
    """Records with the same values of the fields they are grouped by; an empty value is nothing said."""

    values: tuple[str, ...]
    sums: RecordSums


@dataclass(frozen=True)
class RecordList:
    """What was found.

    Attributes
    ----------
    numbers : of the records among all conversions, the latest first
    sums : of them
    groups : with more records first, of as many those with more value
    elsewhere : records that fit and are on other days
    """

    numbers: Ints
    sums: RecordSums
    groups: tuple[RecordGroup, ...]
    elsewhere: int


@dataclass(frozen=True)
class ListedRecord:
    """One record of a list.

    Attributes
    ----------
    table, id : which it is
    at : instant as ISO 8601 text in UTC
    value : minor units of the home currency
    cells : what it has in the fields asked for
    """

    table: str
    id: str
    at: str
    goal: str
    value: int
    cells: dict[str, str]
    file: str
    line: int


def list_records(fields: RecordFields, question: RecordQuestion) -> RecordList:
    """The records that fit, their sums, and these by group.

    Parameters
    ----------
    fields : the records of a result
    question : what is asked

    Raises
    ------
    SettingsError
        If a field or a condition cannot be understood.
    """
    question.checked()
    conversions = fields.result.prepared.conversions
    fits = np.ones(len(conversions), np.bool_)
    for one in question.where:
        laid = fields.field(one.field)
        test = condition(f"the filter {str(one)!r}", one.op, one.values, fold)
        holds = np.array(test.of_each([shown or None for shown in laid.shown]) or [False], np.bool_)
        fits &= holds[laid.codes]
    within = fits & _within(fields, question)
    found = np.flatnonzero(within)
    order = np.lexsort((found, -conversions.at[found]))
    return RecordList(
        numbers=found[order],
        sums=_sums(fields, found),
        groups=tuple(_groups(fields, question.by, found)) if question.by else (),
        elsewhere=int((fits & ~within).sum()),
    )


def unlisted_words(fields: RecordFields) -> tuple[RecordGroup, ...]:
    """Present status words of records that the plan gives no meaning, and that so count (R10)."""
    listed_words = {fold(word.word) for word in fields.result.plan.trailing.status_words} | {CANCELLED, TEST, ""}
    laid = fields.field("status")
    open_words = np.array([fold(text) not in listed_words for text in laid.shown] or [False], np.bool_)
    return tuple(_groups(fields, ("status",), np.flatnonzero(open_words[laid.codes])))


def _within(fields: RecordFields, question: RecordQuestion) -> Flags:
    conversions = fields.result.prepared.conversions
    days = {"created": conversions.day, "report": conversions.report_day}.get(question.day_of)
    if days is None:
        days = fields.won
    # What has no such day is on none.
    within: Flags = days != NO_DAY if question.day_of != "created" else np.ones(len(days), np.bool_)
    if question.first_day is not None:
        within = within & (days >= day_number(question.first_day))
    if question.last_day is not None:
        within = within & (days <= day_number(question.last_day))
    return within


def _sums(fields: RecordFields, numbers: Ints) -> RecordSums:
    conversions, counted = fields.result.prepared.conversions, fields.result.counted.flags
    mine = numbers[counted[numbers]]
    return RecordSums(len(numbers), total(conversions.value[numbers]), len(mine), total(conversions.value[mine]))


def _groups(fields: RecordFields, by: Sequence[str], numbers: Ints) -> list[RecordGroup]:
    laid = [fields.field(name) for name in by]
    if not len(numbers):
        return []
    key = np.zeros(len(numbers), np.int64)
    for one in laid:
        key = key * len(one.shown) + one.codes[numbers]
    order = np.argsort(key, kind="stable")
    keys, starts = np.unique(key[order], return_index=True)
    groups = []
    for number, mine in zip(keys.tolist(), np.split(numbers[order], starts[1:]), strict=True):
        values = []
        for one in reversed(laid):
            number, code = divmod(number, len(one.shown))
            values.append(one.shown[code])
        groups.append(RecordGroup(tuple(reversed(values)), _sums(fields, mine)))
    return sorted(groups, key=lambda group: (-group.sums.records, -group.sums.value, group.values))


def listed(fields: RecordFields, numbers: Ints, columns: Sequence[str]) -> list[ListedRecord]:
    """Records as a list shows them.

    Parameters
    ----------
    fields : the records of a result
    numbers : of those asked for
    columns : of `RECORD_FIELDS`
    """
    prepared = fields.result.prepared
    conversions = prepared.conversions
    laid = {name: fields.field(name) for name in columns}
    out = []
    for number in numbers.tolist():
        lead = bool(conversions.is_lead_row[number])
        table = prepared.tables.leads if lead else prepared.tables.conversions
        row = int(conversions.row[number])
        out.append(
            ListedRecord(
                table=table.name,
                id=conversions.id[number],
                at=instant_text(int(conversions.at[number])),
                goal=conversions.goal[number],
                value=int(conversions.value[number]),
                cells={name: one.shown[int(one.codes[number])] for name, one in laid.items()},
                file=table.file[row],
                line=int(table.line[row]),
            )
        )
    return out
