"""What is open in a workspace (R30), with the rows that each matter is made of."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yardstick.core.base.columns import Ints
from yardstick.core.base.day_numbers import day_text, instant_text
from yardstick.core.base.days import NO_DAY, day_at
from yardstick.core.base.schema import ROW_ID
from yardstick.core.report.weigh import Result
from yardstick.core.settling.matter import Matter, RowsOf
from yardstick.core.settling.matters import find_matters
from yardstick.formats.results.csv_out import MATTER_COLUMNS, matter_rows

from ..weigh.record_tables import RecordTable
from ..weigh.weigh_board import BoardQuestion, Weighing, present_of

MOST_ROWS = 10


@dataclass(frozen=True)
class MatterRow:
    """A row of a matter.

    Attributes
    ----------
    table, id : which it is; rows of spend and of ads have no id, a day without rows no table
    at : instant as ISO 8601 text in UTC, or a day
    words : what tells a row that has no id
    value, spend : minor units of the home currency that it puts at stake; None where rows have none
    file, line : where it stands; empty and 0 of a day without rows
    beside : the row to be seen beside it
    """

    table: str
    id: str
    at: str
    words: str
    value: int | None
    spend: int | None
    file: str
    line: int
    beside: MatterRow | None = None


@dataclass(frozen=True)
class OpenMatter:
    """A matter as a list shows it.

    Attributes
    ----------
    kind, object : which it is
    first_day : ISO 8601; empty where its rows stand on no day
    rows, spend, value : in the range; amounts in minor units, None where none is at stake
    rule : when it is found, with its threshold
    said : what the object alone does not say
    station, mendings : where and by what it is mended
    listed : its first rows, over all days
    """

    kind: str
    object: tuple[str, ...]
    first_day: str
    rows: int
    spend: int | None
    value: int | None
    rule: str
    said: str
    station: str
    mendings: tuple[str, ...]
    listed: tuple[MatterRow, ...]


def open_matters(weighing: Weighing, now: int) -> tuple[Result, list[OpenMatter]]:
    """What is open, the largest stake first, with the result it was found in.

    Parameters
    ----------
    now : the present instant, microseconds since 1970; a month is over by its day

    Raises
    ------
    NothingYet
        If nothing was loaded.
    """
    result, _ = weighing.result(BoardQuestion())
    return result, [_shown(one) for one in find_matters(result, _today(result, now))]


def _today(result: Result, now: int) -> int:
    return day_at(present_of(result.plan, now), result.plan.reading.time_zone)


def _shown(one: Matter) -> OpenMatter:
    own = [part for part in one.parts if part.own] or list(one.parts)
    places = [(part, at) for part in own for at in _heaviest(part)]
    rows = [_row(part, at) for part, at in sorted(places, key=lambda place: -_amount(*place))]
    return OpenMatter(
        kind=one.kind.name,
        object=one.object,
        first_day="" if one.first_day is None else day_text(one.first_day),
        rows=one.rows,
        spend=one.spend,
        value=one.value,
        rule=one.rule,
        said=one.said,
        station=one.kind.station,
        mendings=one.kind.mendings,
        listed=tuple(rows[:MOST_ROWS]),
    )


def _amounts(part: RowsOf) -> Ints:
    column = part.spends if part.values is None else part.values
    return np.zeros(len(part.rows), np.int64) if column is None else column


def _amount(part: RowsOf, at: int) -> int:
    return int(_amounts(part)[at])


def _heaviest(part: RowsOf) -> list[int]:
    """Places of the rows with the largest amounts, of equal ones the earlier."""
    places = np.arange(len(part.rows))
    found: list[int] = np.lexsort((places, -_amounts(part)))[:MOST_ROWS].tolist()
    return found


def _row(part: RowsOf, at: int) -> MatterRow:
    beside = None if part.beside is None else _of(part, int(part.beside[at]), at, None)
    return _of(part, int(part.rows[at]), at, beside)


TELLING = ("platform", "account", "campaign", "ad_group", "ad", "keyword", "placement")


def _of(part: RowsOf, row: int, at: int, beside: MatterRow | None) -> MatterRow:
    table, day = part.table, int(part.days[at])
    value, spend = (None if column is None else int(column[at]) for column in (part.values, part.spends))
    if row < 0:
        return MatterRow("", "", day_text(day), "", value, spend, "", 0)
    instant = "occurred_at" in table.columns
    when = instant_text(int(table.ints("occurred_at")[row])) if instant else "" if day == NO_DAY else day_text(day)
    id = table.text(ROW_ID[table.name])[row].strip() if table.name in ROW_ID else ""
    said = [table.text(name)[row].strip() for name in TELLING if not id and name in table.columns]
    words = ", ".join(text for text in said if text)
    return MatterRow(table.name, id, when, words, value, spend, table.file[row], int(table.line[row]), beside)


def matters_table(weighing: Weighing, now: int) -> RecordTable:
    """What is open as a table, as the command writes it."""
    result, _ = weighing.result(BoardQuestion())
    rows = [list(row) for row in matter_rows(result, _today(result, now))]
    return RecordTable(list(MATTER_COLUMNS), rows, frozenset(("rows", "spend", "value")))
