"""What cannot be right about a source."""

from __future__ import annotations

from collections.abc import Sequence

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.schema import SCHEMA, Kind
from yardstick.core.base.words import fold
from yardstick.core.plan.gathering_phase import TAG_COLUMNS, Source

from ..cells.cells import BadCell, readers
from ..files.encodings import is_encoding


def check_sources(sources: Sequence[Source]) -> None:
    """Hold sources against the tables they fill and against each other.

    Raises
    ------
    SettingsError
        Says which source and what is wrong with it.
    """
    seen: set[str] = set()
    for source in sources:
        if fold(source.name) in seen:
            raise SettingsError(f"source {source.name!r} appears twice: give one of them another name")
        seen.add(fold(source.name))
        try:
            check_source(source)
        except SettingsError as problem:
            raise SettingsError(f"source {source.name!r}: {problem}") from None


def check_source(source: Source) -> None:
    """Hold one source against the table it fills; see `check_sources`."""
    if source.table not in SCHEMA:
        raise SettingsError(f"table: {source.table!r} is none: it is one of {', '.join(SCHEMA)}")
    kinds = {c.name: c.kind for c in SCHEMA[source.table]}
    columns = {*kinds, *(TAG_COLUMNS if source.table == "visits" else ())}
    named = [*(c for c, _ in source.columns), *(c for c, _ in source.constant)]
    named += [i for s in source.split for i in s.into if i] + [j.into for j in source.join]
    named += [r.column for r in source.replace]
    for column in named:
        if column not in columns:
            known = ", ".join(c.called for c in SCHEMA[source.table])
            raise SettingsError(f"{source.table} has no column {column!r}; it has {known}")
    filled = [c for c, written in source.columns if written]
    filled += [i for s in source.split for i in s.into if i] + [j.into for j in source.join]
    twice = next((c for c in filled if filled.count(c) > 1), None)
    if twice:
        raise SettingsError(f"{twice} is filled twice: keep one way")
    if source.decimal == source.thousands:
        raise SettingsError(f"decimal and thousands are both {source.decimal!r}: they must differ")
    if source.decimal.isalnum() or source.decimal.isspace() or source.decimal in "+-\"'":
        raise SettingsError(f"decimal: {source.decimal!r} cannot stand before decimals: it is , or .")
    if source.thousands and (source.thousands.isalnum() or source.thousands in '+-"'):
        raise SettingsError(f"thousands: {source.thousands!r} cannot stand between digits")
    if source.delimiter and source.delimiter in '"\r\n\0':
        raise SettingsError("delimiter: it cannot be a quote or the end of a line")
    if source.encoding and not is_encoding(source.encoding):
        raise SettingsError(f"encoding: {source.encoding!r} is not known: it is utf-8, utf-16, windows-1252...")
    if source.starts and source.ends and source.starts > source.ends:
        raise SettingsError("starts is after ends: swap them")
    read = readers("UTC", lambda code, text: None)
    for column, text in source.constant:
        try:
            read[kinds.get(column, Kind.TEXT)](text)
        except BadCell as problem:
            raise SettingsError(f"constant {column}: {problem}") from None
