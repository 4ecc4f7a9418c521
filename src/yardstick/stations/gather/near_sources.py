"""A file that a source would fit but for a column or a sheet: what has changed since last time."""

from __future__ import annotations

from collections.abc import Sequence
from typing import BinaryIO

from yardstick.core.base.words import fold
from yardstick.formats.files.headers import AS_WRITTEN
from yardstick.formats.files.raw import FileLayout, FileProblem
from yardstick.formats.files.readers import open_table
from yardstick.formats.plan.source_parts import SourcePart, record_of
from yardstick.formats.sources.guessing import Guess
from yardstick.formats.sources.mapping import laid_of, missing_columns
from yardstick.formats.sources.questions.question import FileQuestion

NEAR = 0.6
"""Share of a source's columns that have to be there."""


def as_before(file: str, stream: BinaryIO, made: Guess, parts: Sequence[SourcePart]) -> Guess | None:
    """The reading of the source that a file nearly fits, with what has changed; None if none is near.

    Parameters
    ----------
    file : its name
    stream : its bytes
    made : what was guessed of it
    parts : the sources there are
    """
    laid = FileLayout(
        made.record.get("encoding", ""),
        made.record.get("delimiter", ""),
        made.record.get("sheet", ""),
        made.record.get("skip_top", 0),
        made.record.get("headed", True),
    )
    stream.seek(0)
    names = open_table(file, stream, AS_WRITTEN, laid).header.extra
    best: tuple[float, SourcePart | None] = (0.0, None)
    for known in parts:
        source = known.plain()
        wanted = source.asks_for
        if len(wanted) > 1:
            share = 1 - len(missing_columns(source, names)) / len(wanted)
            if share >= NEAR and share > best[0]:
                best = (share, known)
    part = best[1]
    if part is None:
        return None
    out = Guess(record_of(part), rows=made.rows)
    out.notes.append(f"It looks like {part.name}, but is not as the files before it.")
    _layout(out, part, laid, file, stream)
    _renamed(out, part, names, made)
    return out


def _layout(out: Guess, part: SourcePart, laid: FileLayout, file: str, stream: BinaryIO) -> None:
    before = laid_of(part.plain())
    try:
        stream.seek(0)
        there = open_table(file, stream, AS_WRITTEN, before).header.extra
        if len(missing_columns(part.plain(), there)) < len(part.plain().asks_for):
            return
    except FileProblem:
        pass
    for name, was, now in (
        ("sheet", before.sheet, laid.sheet),
        ("skip_top", before.skip_top, laid.skip_top),
        ("delimiter", before.delimiter, laid.delimiter),
        ("encoding", before.encoding, laid.encoding),
    ):
        if was != now:
            out.record[name] = now
            said = {"sheet": "Its sheet", "skip_top": "The number of lines above the header"}.get(name, f"Its {name}")
            out.notes.append(f"{said} was {was or 'as usual'}, now it is {now or 'as usual'}.")


def _renamed(out: Guess, part: SourcePart, names: Sequence[str], made: Guess) -> None:
    """Columns that are gone: what the guess takes for the same column of the table, if nothing else has it."""
    missing = missing_columns(part.plain(), tuple(names))
    used = {fold(written) for written in part.columns.values()}
    free = [name for name in names if fold(name) not in used]
    columns = dict(part.columns)
    for column, written in part.columns.items():
        if written not in missing:
            continue
        guessed = made.record["columns"].get(column, "")
        if guessed and guessed in free:
            columns[column] = guessed
            free.remove(guessed)
            out.notes.append(f"The column {written} is gone; {guessed} is taken for it now.")
        else:
            columns[column] = ""
            out.asked.append(FileQuestion(f"columns.{column}", f"The column {written} is gone: which is it now?", free))
    out.record["columns"] = columns
