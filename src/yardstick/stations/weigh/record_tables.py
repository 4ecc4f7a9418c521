"""Records as tables, one line each, for files that leave the app."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, fields, is_dataclass
from datetime import date, datetime
from enum import StrEnum
from types import UnionType
from typing import Any, get_args, get_type_hints

from yardstick.formats.results.csv_out import money
from yardstick.formats.results.sheets import write_table

SHARE_DECIMALS = 10
"""Of shares and ratios, as everywhere in files."""


@dataclass(frozen=True)
class RecordTable:
    """Columns, text per column of each line, and which columns hold decimal numbers."""

    columns: list[str]
    rows: list[list[str]]
    numbers: frozenset[str]

    def beside(self, same: dict[str, str]) -> RecordTable:
        """With columns that hold the same on every line."""
        # A column of the records that is called so keeps its name; two of one name could not be told apart.
        named = {f"asked_{name}" if name in self.columns else name: cell for name, cell in same.items()}
        rows = [[*row, *named.values()] for row in self.rows]
        return RecordTable([*self.columns, *named], rows, self.numbers)

    def file(self, kind: str) -> bytes:
        """As a file; see `write_table`."""
        return write_table(kind, self.columns, self.rows, self.numbers)


def record_table(
    of: type,
    records: Sequence[Any],
    *,
    minor: Collection[str] = (),
    digits: int = 0,
    decimals: Collection[str] = (),
    without: Collection[str] = (),
) -> RecordTable:
    """Records of one dataclass as a table.

    Parameters
    ----------
    of : the dataclass
    records : each one line
    minor, digits : fields that hold whole minor units, and how many decimals they are written with
    decimals : fields of text that hold decimal numbers
    without : fields that are left out
    """
    names = [field.name for field in fields(of) if field.name not in without]
    hints = get_type_hints(of)
    counted = {name for name in names if _is_number(hints[name])}
    lines = [[_cell(getattr(record, name), digits if name in minor else None) for name in names] for record in records]
    return RecordTable(names, lines, frozenset(counted | {*minor} | {*decimals}))


def _is_number(hint: Any) -> bool:
    kinds = get_args(hint) if isinstance(hint, UnionType) else (hint,)
    return all(kind in (int, float, type(None)) for kind in kinds)


def _cell(value: Any, minor_digits: int | None) -> str:
    if value is None or value is False:
        return ""
    if value is True:
        return "yes"
    if isinstance(value, StrEnum):
        return value.replace("_", " ")
    if minor_digits is not None:
        return money(value, minor_digits)
    if isinstance(value, float):
        return f"{value:.{SHARE_DECIMALS}f}"
    if isinstance(value, date | datetime):
        return value.isoformat()
    if isinstance(value, list | tuple):
        return "; ".join(_cell(getattr(one, "message", one), None) for one in value)
    if is_dataclass(value):
        return " ".join(_cell(getattr(value, field.name), None) for field in fields(value))
    return str(value)
