"""Lists of the plan as files: out in every format, in by adding, updating or replacing, with what each would do."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any, Literal

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import fold
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.plan.list_files import read_cells
from yardstick.formats.plan.plan_fields import PlanField
from yardstick.formats.results.sheets import read_table, write_table

from ..workspace.desk import Desk
from .change_plan import keep_edit, read_plan
from .plan_edits import PlanEdit, records_edit, records_kept

Record = dict[str, Any]
How = Literal["add", "update", "replace"]
KEYS: dict[str, tuple[str, ...]] = {
    "campaign": ("name",),
    "level": ("campaign", "level", "id", "name"),
    "goal": ("name", "from"),
    "status": ("word",),
    "record": ("table", "id"),
    "rename": ("field", "old", "from"),
    "naming": ("field",),
    "allowed": ("field",),
    "landing_page": ("name",),
    "platform": ("name",),
    "yardstick": ("name",),
    "dialect": ("platform",),
    "place": ("name",),
    "store": ("host", "scheme"),
    "preset": ("name",),
    "pattern": ("platform", "level", "name", "kind"),
    "own_slot": ("platform", "level", "name", "slot"),
    "sender": ("name", "kind"),
    "source": ("name",),
}
"""Fields that tell which record is meant; a record of any other list is told by all of its fields."""
_NUMBER = re.compile(r"-?\d+(\.\d+)?")


@dataclass(frozen=True)
class ListRehearsal:
    """What a file would do to a list.

    Attributes
    ----------
    rows : of the file
    new, changed, same : of them: not there yet, there with other fields, there just so
    gone : records that stand and are not in the file
    """

    rows: int
    new: int
    changed: int
    same: int
    gone: int


def section_file(desk: Desk, section: str, kind: str) -> bytes:
    """The records of a section as a file; records inside a record are written as JSON."""
    plan = read_plan(desk)
    if section not in plan.sections:
        raise SettingsError(f"the plan has no section {section!r}; there are {', '.join(plan.sections)}")
    names = [field.name for field in plan.fields[section]]
    lines = [[_as_cell(record.get(name)) for name in names] for record in plan.sections[section]]
    stated = {field.name: number for number, field in enumerate(plan.fields[section]) if field.kind == "number"}
    numbers = [name for name, at in stated.items() if all(not ln[at] or _NUMBER.fullmatch(ln[at]) for ln in lines)]
    return write_table(kind, names, lines, numbers)


def rehearse_section(desk: Desk, section: str, name: str, content: bytes) -> ListRehearsal:
    """What a file would do to a section; nothing is kept. See `take_in_section`."""
    before, records, columns = _read(desk, section, name, content)
    found = _matched(section, before, records)
    changed = sum(old is not None and _but_empty({**old, **new}, columns) != old for old, new in found)
    new = sum(old is None for old, _ in found)
    named = {_key(section, old) for old, _ in found if old is not None}
    gone = sum(_key(section, record) not in named for record in before)
    return ListRehearsal(len(records), new, changed, len(records) - new - changed, gone)


def take_in_section(desk: Desk, section: str, name: str, content: bytes, how: How = "replace") -> None:
    """Take the rows of a file into a section, as one change; see `file_edit`."""
    keep_edit(desk, *file_edit(desk, section, name, content, how))


def file_edit(desk: Desk, section: str, name: str, content: bytes, how: How = "replace") -> tuple[PlanEdit, int]:
    """The rows of a file are taken into a section.

    Parameters
    ----------
    desk, section : the list
    name, content : the file: CSV, XLSX, Parquet or JSON Lines
    how : `add` takes what is not there yet, `update` changes what is there besides, in the columns the file has, and
        `replace` makes the file the list

    Returns
    -------
    the edit, and the plan it is made on

    Raises
    ------
    FileProblem
        If the file cannot be read.
    """
    basis = read_plan(desk).basis
    before, records, columns = _read(desk, section, name, content)
    if how != "replace":
        out = list(before)
        place = {_key(section, record): at for at, record in enumerate(before)}
        for old, new in _matched(section, before, records):
            if old is None:
                out.append(_but_empty(new, columns))
            elif how == "update":
                out[place[_key(section, old)]] = _but_empty({**old, **new}, columns)
        records = out
    else:
        records = [_but_empty(record, columns) for record in records]
    said = {"add": "added from", "update": "updated from", "replace": "replaced by"}[how]
    return records_edit(desk, section, records, f"{section.replace('_', ' ')}s {said} {name}"), basis


def _read(desk: Desk, section: str, name: str, content: bytes) -> tuple[list[Record], list[Record], set[str]]:
    """The records that stand, those of a file with its empty cells, and the columns that it has. A number that a
    workbook gave back without its last zeros is the one that stands, and keeps its digits."""
    plan = read_plan(desk)
    if section not in plan.sections:
        raise SettingsError(f"the plan has no section {section!r}; there are {', '.join(plan.sections)}")
    fields = {field.name: field for field in plan.fields[section]}
    header, lines = read_table(name, content)
    unknown = [h for h in header if h not in fields]
    if unknown:
        raise FileProblem(f"{name}: line 1: {unknown[0]} is not a column here; there are {', '.join(fields)}")
    days = [h for h in header if fields[h].kind == "day"]
    numbers = [h for h in header if fields[h].kind == "number"]
    records = []
    for number, line in enumerate(read_cells(name, lines, days, numbers), 2):
        record: Record = {}
        for column, cell in line.items():
            try:
                record[column] = _from_cell(fields[column], cell)
            except (ValueError, RecursionError):
                where = f"{name}: line {number}, {column}"
                raise FileProblem(f"{where}: not readable: write it as it was written out") from None
        records.append(record)
    # Typed as they will be kept, so that what is the same reads the same.
    kept = records_kept(section, [_but_empty(record, set(header)) for record in records])
    before = plan.sections[section]
    typed = []
    for old, new in _matched(section, before, kept):
        same = [n for n in numbers if old is not None and _is_one_number(old.get(n), new.get(n))]
        typed.append({**dict.fromkeys(header, ""), **new, **{n: (old or {})[n] for n in same}})
    return before, typed, set(header)


def _is_one_number(one: Any, other: Any) -> bool:
    if not (isinstance(one, str | int) and isinstance(other, str | int)):
        return False
    return bool(_NUMBER.fullmatch(str(one)) and _NUMBER.fullmatch(str(other)) and Decimal(one) == Decimal(other))


def _matched(section: str, before: Sequence[Record], records: Sequence[Record]) -> list[tuple[Record | None, Record]]:
    there = {_key(section, record): record for record in before}
    return [(there.get(_key(section, record)), record) for record in records]


def _key(section: str, record: Mapping[str, Any]) -> tuple[str, ...]:
    names = KEYS.get(section)
    if names is None:
        filled = {name: value for name, value in record.items() if value not in ("", None, [], {})}
        return (json.dumps(filled, sort_keys=True, default=str),)
    return tuple(fold(str(record.get(name, "") or "")) for name in names)


def _but_empty(record: Mapping[str, Any], columns: set[str]) -> Record:
    return {name: value for name, value in record.items() if name not in columns or value not in ("", None, [], {})}


def _as_cell(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, list):
        plain = all(isinstance(v, str) for v in value)
        return "\n".join(value) if plain else json.dumps(value, ensure_ascii=False)
    return json.dumps(value, ensure_ascii=False) if isinstance(value, dict) else str(value)


def _from_cell(field: PlanField, cell: str) -> Any:
    if field.kind == "words":
        return [word for word in cell.split("\n") if word.strip()]
    return json.loads(cell) if field.kind in ("records", "group") and cell else cell
