"""Lists of records: leads, orders and deals of a workspace, filtered, grouped, and taken away."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yardstick.core.report.capture_agreement import CaptureAgreement, capture_agreements
from yardstick.core.report.consent import consented
from yardstick.core.report.record_fields import RecordFields
from yardstick.core.report.record_list import (
    ListedRecord,
    RecordGroup,
    RecordList,
    RecordQuestion,
    list_records,
    listed,
    unlisted_words,
)
from yardstick.core.report.weigh import Result
from yardstick.formats.results.csv_out import money

from ..weigh.record_tables import RecordTable
from ..weigh.weigh_board import BoardQuestion, Weighing


@dataclass(frozen=True)
class AskedRecords:
    """What a question about records found.

    Attributes
    ----------
    result : the weighing whose records these are
    found : their numbers and sums
    rows : those that are listed
    quarantined : how many of the records found are test records
    purpose, withheld : for what people must have agreed to be listed, and how many of the records found are of others
    unlisted : words without a meaning
    """

    result: Result
    found: RecordList
    rows: list[ListedRecord]
    quarantined: int
    purpose: str
    withheld: int
    unlisted: tuple[RecordGroup, ...]


def ask_records(
    weighing: Weighing, question: RecordQuestion, columns: Sequence[str], first: int, limit: int, every: bool = False
) -> AskedRecords:
    """Records of a workspace.

    Parameters
    ----------
    weighing : the workspace's
    question : what is asked
    columns : fields that each listed record is shown with
    first, limit : which of them are listed
    every : whether those are listed, too, who did not agree to it

    Raises
    ------
    SettingsError
        If a field or a condition cannot be understood.
    NothingYet
        If nothing was loaded.
    """
    for name in columns:
        RecordQuestion(by=(name,)).checked()
    fields = _fields(weighing)
    found = list_records(fields, question)
    purpose = weighing.plan().gathering.list_purpose.strip()
    asks = purpose and not every
    may = found.numbers[consented(fields.result, purpose)[found.numbers]] if asks else found.numbers
    rows = listed(fields, may[first : first + limit], columns) if limit else []
    withheld = len(found.numbers) - len(may)
    tests = fields.result.prepared.quarantine
    quarantined = int(np.concatenate([tests.leads, tests.conversions])[found.numbers].sum())
    return AskedRecords(fields.result, found, rows, quarantined, purpose, withheld, unlisted_words(fields))


def agreements(weighing: Weighing) -> list[CaptureAgreement]:
    """What forms captured against what visits say; see `ask_records` for what it raises."""
    return capture_agreements(_fields(weighing))


def _fields(weighing: Weighing) -> RecordFields:
    result, _ = weighing.result(BoardQuestion())
    return RecordFields(result)


def rows_table(records: AskedRecords, columns: Sequence[str]) -> RecordTable:
    """Listed records as a table: people by the ids of their records alone."""
    digits = records.result.plan.money.minor_digits
    heads = ["table", "id", "at", "goal", "value", *columns, "file", "line"]
    lines = [
        [
            *(row.table, row.id, row.at, row.goal, money(row.value, digits)),
            *(row.cells[name] for name in columns),
            *(row.file, str(row.line)),
        ]
        for row in records.rows
    ]
    return RecordTable(heads, lines, frozenset(("value", "line")))


def groups_table(records: AskedRecords, by: Sequence[str]) -> RecordTable:
    """Groups of records as a table."""
    digits = records.result.plan.money.minor_digits
    heads = [*by, "records", "value", "counted", "counted_value"]
    lines = [
        [
            *group.values,
            *(str(group.sums.records), money(group.sums.value, digits)),
            *(str(group.sums.counted), money(group.sums.counted_value, digits)),
        ]
        for group in records.found.groups
    ]
    return RecordTable(heads, lines, frozenset(heads[len(by) :]))
