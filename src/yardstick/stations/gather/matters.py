"""What is open in a workspace (R30), with the rows that each matter is made of."""

from __future__ import annotations

from dataclasses import dataclass

from yardstick.core.base.day_numbers import day_text, instant_text
from yardstick.core.base.schema import ROW_ID
from yardstick.core.report.weigh import Result
from yardstick.core.settling.matter import Matter, RowsOf
from yardstick.core.settling.matters import find_matters
from yardstick.formats.results.csv_out import MATTER_COLUMNS, matter_rows

from ..weigh.record_tables import RecordTable
from ..weigh.weigh_board import BoardQuestion, Weighing

MOST_ROWS = 20


@dataclass(frozen=True)
class MatterRow:
    """A row of a matter.

    Attributes
    ----------
    table, id : which it is
    at : instant as ISO 8601 text in UTC
    value : minor units of the home currency that it puts at stake; None where rows have none
    beside : the row to be seen beside it
    """

    table: str
    id: str
    at: str
    value: int | None
    file: str
    line: int
    beside: MatterRow | None = None


@dataclass(frozen=True)
class OpenMatter:
    """A matter as a list shows it.

    Attributes
    ----------
    kind, object : which it is
    first_day : ISO 8601
    rows, value : in the settings' range; value in minor units, None where none is at stake
    rule : when it is found, with its threshold
    mendings : words for what mends it
    listed : its first rows, over all days
    """

    kind: str
    object: tuple[str, ...]
    first_day: str
    rows: int
    value: int | None
    rule: str
    mendings: tuple[str, ...]
    listed: tuple[MatterRow, ...]


def open_matters(weighing: Weighing) -> tuple[Result, list[OpenMatter]]:
    """What is open, the largest stake first, with the result it was found in.

    Raises
    ------
    NothingYet
        If nothing was loaded.
    """
    result, _ = weighing.result(BoardQuestion())
    return result, [_shown(result, one) for one in find_matters(result)]


def _shown(result: Result, one: Matter) -> OpenMatter:
    rows = [_row(result, part, at) for part in one.parts for at in range(min(len(part.rows), MOST_ROWS))]
    return OpenMatter(
        kind=one.kind.name,
        object=one.object,
        first_day=day_text(one.first_day),
        rows=one.rows,
        value=one.value,
        rule=one.kind.rule,
        mendings=one.kind.mendings,
        listed=tuple(rows[:MOST_ROWS]),
    )


def _row(result: Result, part: RowsOf, at: int) -> MatterRow:
    value = None if part.values is None else int(part.values[at])
    beside = None if part.beside is None else _of(result, part.table, int(part.beside[at]), value)
    return _of(result, part.table, int(part.rows[at]), value, beside)


def _of(result: Result, name: str, row: int, value: int | None, beside: MatterRow | None = None) -> MatterRow:
    table = getattr(result.prepared.tables, name)
    at = instant_text(int(table.ints("occurred_at")[row]))
    id = table.text(ROW_ID[name])[row].strip()
    return MatterRow(name, id, at, value, table.file[row], int(table.line[row]), beside)


def matters_table(weighing: Weighing) -> RecordTable:
    """What is open as a table, as the command writes it."""
    result, _ = weighing.result(BoardQuestion())
    rows = [list(row) for row in matter_rows(result)]
    return RecordTable(list(MATTER_COLUMNS), rows, frozenset(("rows", "spend", "value")))
