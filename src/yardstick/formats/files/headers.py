"""Headers: which table a file holds, and what its columns are called in here."""

from __future__ import annotations

from collections.abc import Sequence

from yardstick.core.base.schema import SCHEMA
from yardstick.core.base.words import fold

from .raw import FileProblem, Header

AS_WRITTEN = ""
"""In place of a table's name: every column is taken by the name it has, for a source to say what it is."""


def header_of(file: str, table: str | None, names: list[str]) -> tuple[Header, list[int]]:
    """What a header says, and the places of its columns: those that the table knows first.

    Parameters
    ----------
    file : name, for messages
    table : which table it must hold, or `AS_WRITTEN`; None = the header decides, then the file's name
    names : of the columns, as written

    Raises
    ------
    FileProblem
        If it is no table, lacks a required column, or has one twice.
    """
    if table == AS_WRITTEN:
        return Header(AS_WRITTEN, file, (), tuple(told_apart(names))), list(range(len(names)))
    name = table or which_table(file, names)
    columns = canonical(file, name, names)
    known = {c.name for c in SCHEMA[name]}
    order = sorted(range(len(columns)), key=lambda i: columns[i] not in known)
    mine = tuple(columns[i] for i in order if columns[i] in known)
    return Header(name, file, mine, tuple(names[i] for i in order if columns[i] not in known)), order


def keys_of(header: Header) -> list[str]:
    """Names of the columns of a batch, in the order of `header_of`."""
    return [*header.columns, *(f"extra {i}" for i in range(len(header.extra)))]


def told_apart(names: Sequence[str]) -> list[str]:
    """Names of columns of which none is empty and no two are the same."""
    out: list[str] = []
    for i, name in enumerate(names):
        called, number = name or f"Column {i + 1}", 2
        while called in out:
            called, number = f"{name or f'Column {i + 1}'} ({number})", number + 1
        out.append(called)
    return out


def canonical(file: str, table: str, header: list[str]) -> list[str]:
    """The names of a header as the table knows them.

    Raises
    ------
    FileProblem
        If one appears twice, or a required one is missing.
    """
    names = _known(table, header)
    seen: set[str] = set()
    for name in names:
        if name and name in seen:
            raise FileProblem(f"{file}: line 1: the column {name} appears twice: keep one of them")
        seen.add(name)
    missing = [c.called for c in SCHEMA[table] if c.required and c.name not in seen]
    if missing:
        raise FileProblem(
            f"{file}: line 1: required column {', '.join(missing)} of {table} is missing; "
            f"found {', '.join(header)[:200]}"
        )
    return names


def _known(table: str, header: Sequence[str]) -> list[str]:
    known = {column.called: column.name for column in SCHEMA[table]}
    names = (fold(name).replace(" ", "_") for name in header)
    return [known.get(name, name) for name in names]


def which_table(file: str, header: Sequence[str]) -> str:
    """Which table a file holds: the one whose required columns its header has; the file's name settles the rest.

    Raises
    ------
    FileProblem
        If it is none.
    """
    by_name = [table for table in SCHEMA if file.rpartition("/")[2].lower().startswith(table)]
    known = {table: set(_known(table, header)) for table in SCHEMA}
    fitting = [t for t, columns in SCHEMA.items() if {c.name for c in columns if c.required} <= known[t]]
    if len(fitting) > 1:
        fitting = [t for t in fitting if t in by_name] or [max(fitting, key=lambda t: len(_overlap(t, known[t])))]
    for table in fitting or by_name:
        return table
    near = max(SCHEMA, key=lambda t: len(_overlap(t, known[t])))
    if _overlap(near, known[near]):
        required = ", ".join(c.called for c in SCHEMA[near] if c.required)
        raise FileProblem(
            f"{file}: line 1: unknown table; nearest is {near}, which needs the columns {required}; "
            f"found {', '.join(header)[:200]}"
        )
    raise FileProblem(
        f"{file}: line 1: unknown table: no column of {', '.join(SCHEMA)} is in the header; "
        f"found {', '.join(header)[:200]}"
    )


def _overlap(table: str, names: set[str]) -> set[str]:
    return {c.name for c in SCHEMA[table]} & names
