"""What a record is now: its own cells and the rows of `statuses` about it, the latest filled one of each (R10)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.columns import NO_INSTANT, Amounts, Flags, Ints, Text, narrow
from ..base.schema import ROW_ID
from ..base.tables import Table
from ..base.words import fold


@dataclass(frozen=True)
class Present:
    """The present state of the rows of leads or conversions.

    Attributes
    ----------
    word : (n,) text, folded status word, empty where none was ever said
    stage, owner : (n,) text, as they came
    total : (n,) what each is said to be worth in its own currency
    """

    word: Text
    stage: Text
    total: Amounts
    owner: Text


def present_of(table: Table, statuses: Table) -> Present:
    """The present state of every row of leads or conversions.

    Parameters
    ----------
    table : its own `status` and `stage` stand at `updated_at`, or before all others where it has none
    statuses : of two rows of one record and instant the later holds

    Notes
    -----
    Of a word in the record and one in `statuses` from the same instant the latter holds.
    """
    n = len(table)
    own_word = table.text("status").map(fold)
    own_stage = table.text("stage") if "stage" in table.columns else Text.blank(n)
    own_owner = table.text("owner") if "owner" in table.columns else Text.blank(n)
    total = table.amounts("total") if "total" in table.columns else Amounts.unknown(n)
    if not len(statuses):
        return Present(own_word, own_stage, total, own_owner)
    updated = table.ints("updated_at") if "updated_at" in table.columns else np.full(n, NO_INSTANT, np.int64)
    record = _records(table, statuses)
    order = _latest_rows(statuses)
    words, value = statuses.text("status").map(fold), statuses.amounts("value")

    def latest(filled: Flags) -> Ints:
        """(n,) int64: the latest row of `statuses` about each record in which a cell is filled, -1 if there is none."""
        rows = order[filled[order]]
        last = np.full(len(statuses.text("record_id").values) + 1, -1, np.int64)
        last[statuses.text("record_id").codes[rows]] = rows  # of several the last assignment holds: the latest
        return last[record]

    def merged(own: Text, said: Text) -> Text:
        row = latest(said.filled())
        keeps = own.filled() & (row >= 0) & (updated > statuses.ints("occurred_at")[row])
        return own.where((row < 0) | keeps, said.take(np.maximum(row, 0)))

    row = latest(value.known)
    there = row >= 0
    decimals = max(total.decimals, value.decimals)
    units = np.where(there, value.at(decimals).astype(object)[row], total.at(decimals).astype(object))
    worth = Amounts(narrow(units.tolist()), decimals, there | total.known)
    stage, owner = (merged(own, statuses.text(name)) for own, name in ((own_stage, "stage"), (own_owner, "owner")))
    return Present(merged(own_word, words), stage, worth, owner)


def latest_said(table: Table, statuses: Table, name: str) -> Text:
    """(n,) text: what `statuses` said last of each record in a column that records themselves have not.

    Parameters
    ----------
    table, statuses : see `present_of`
    name : a text column of `statuses`
    """
    said = statuses.text(name)
    order = _latest_rows(statuses)
    rows = order[said.filled()[order]]
    last = np.full(len(statuses.text("record_id").values) + 1, -1, np.int64)
    last[statuses.text("record_id").codes[rows]] = rows
    row = last[_records(table, statuses)]
    if not len(statuses):
        return Text.blank(len(table))
    return said.take(np.maximum(row, 0)).where(row >= 0, Text.blank(len(table)))


UPDATED = "updated"
"""In place of a word: whatever was said last of a record (R22)."""


def event_instants(table: Table, statuses: Table, word: str) -> Ints:
    """When each row of leads or conversions last had a status word or stage (R22).

    Parameters
    ----------
    table, statuses : see `present_of`; the record's own word and stage stand at `updated_at`, else at its own time
    word : folded, or `UPDATED`: the last status row, else `updated_at`

    Returns
    -------
    (n,) int64, `NO_INSTANT` where it never had it
    """
    n = len(table)
    updated = table.ints("updated_at") if "updated_at" in table.columns else np.full(n, NO_INSTANT, np.int64)
    if word == UPDATED:
        own, asked = updated, np.ones(len(statuses), np.bool_)
    else:
        columns = [table.text(name) for name in ("status", "stage") if name in table.columns]
        has = np.logical_or.reduce([column.test(lambda text: fold(text) == word) for column in columns])
        own = np.where(has, np.where(updated == NO_INSTANT, table.ints("occurred_at"), updated), NO_INSTANT)
        said = [statuses.text(name) for name in ("status", "stage")]
        asked = np.logical_or.reduce([column.test(lambda text: fold(text) == word) for column in said])
    if not len(statuses):
        return own
    order = _latest_rows(statuses)
    rows = order[asked[order]]
    last = np.full(len(statuses.text("record_id").values) + 1, NO_INSTANT, np.int64)
    last[statuses.text("record_id").codes[rows]] = statuses.ints("occurred_at")[rows]
    of_rows = last[_records(table, statuses)]
    if word == UPDATED:
        return np.where(of_rows == NO_INSTANT, own, of_rows)
    return np.maximum(own, of_rows)


def _records(table: Table, statuses: Table) -> Ints:
    """(n,) int64: the code of each row's id among the records of `statuses`, one past the last where it is none."""
    ids, records = table.text(ROW_ID[table.name]), statuses.text("record_id").values
    code = {record.strip(): at for at, record in enumerate(records)}
    known = np.array([code.get(value.strip(), len(records)) for value in ids.values] or [0], np.int64)
    return known[ids.codes] if len(ids) else np.empty(0, np.int64)


def _latest_rows(statuses: Table) -> Ints:
    """Rows that stand, each record's by time; of several from one instant the later row."""
    record, at = statuses.text("record_id").codes, statuses.ints("occurred_at")
    order = np.lexsort((np.arange(len(statuses)), at, record))
    last = np.ones(len(order), np.bool_)
    last[:-1] = (record[order][1:] != record[order][:-1]) | (at[order][1:] != at[order][:-1])
    stands: Ints = order[last]
    return stands
