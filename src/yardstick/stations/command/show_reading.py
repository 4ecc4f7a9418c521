"""What a file becomes under its source, for a terminal."""

from __future__ import annotations

from pathlib import Path

import tomli_w

from yardstick.core.plan.plan import Plan
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.plan.source_parts import SourcePart, record_of
from yardstick.formats.rows.gist import Gist
from yardstick.formats.rows.intake import ingest
from yardstick.formats.sources.guessing import guess
from yardstick.formats.sources.mending import mends_for
from yardstick.formats.sources.previews import preview_of
from yardstick.formats.sources.sourcing import open_by, source_for

from .tables_of_text import in_columns

MOST_COLUMNS = 8
WIDEST = 28


def read_shown(path: Path, plan: Plan) -> tuple[str, bool]:
    """What a file becomes, as text, and whether it can be read without more being said.

    Parameters
    ----------
    path : of the file
    plan : with its sources

    Raises
    ------
    FileProblem
        If it is no table at all, or two sources fit it.
    OSError
        If it cannot be read.
    """
    with path.open("rb") as stream:
        source = source_for(path.name, stream, plan.gathering.sources)
        out: list[str] = []
        if source is None:
            try:
                reader = open_by(path.name, stream, None)
                out.append(f"{path.name}: {reader.header.table}, by its own names")
            except FileProblem as problem:
                stream.seek(0)
                return _guessed(path, plan, str(problem)), False
        else:
            reader = open_by(path.name, stream, source)
            out.append(f"{path.name}: {source.table}, read by {source.name}")
        zone = (source.time_zone if source else "") or plan.reading.time_zone
        gist = Gist(reader.header.table)
        taken = ingest(reader, zone, lambda rows, done: None, gist.add)
        counts = taken.counts
        out.append(
            f"{counts.lines} lines = {counts.header} header + {counts.read} rows + {counts.skipped} that are none; "
            f"{counts.read - counts.rejected} accepted, {counts.rejected} rejected"
        )
        for code, total in sorted(gist.money.items()):
            out.append(f"worth {total.normalize():f} {code or plan.money.home_currency}")
        preview = preview_of(path.name, stream, source, plan.reading.time_zone)
        rows = [["line", *preview.columns[:MOST_COLUMNS]]]
        rows += [[str(r.line), *(c[:WIDEST] for c in r.stands[:MOST_COLUMNS])] for r in preview.rows if r.stands]
        out += ["", *in_columns(rows)] if len(rows) > 1 else []
        if gist.bad and source is not None:
            out.append("")
        for mend in mends_for(source, gist.bad, gist.bad_lines) if source is not None else ():
            cells = ", ".join(mend.examples)
            what = f": {mend.text} ({mend.mends} of them)" if mend.text else ""
            out.append(f"{mend.cells} cells of {mend.column} such as {cells}: {mend.reason}{what}")
    return "\n".join(out), True


def _guessed(path: Path, plan: Plan, problem: str) -> str:
    with path.open("rb") as stream:
        made = guess(path.name, stream, plan)
    if not made.record["columns"]:
        raise FileProblem(problem)
    lines = [f"{problem}", "", "It may be meant so; put it into settings.toml once it is right:", ""]
    lines.append(tomli_w.dumps({"source": [record_of(SourcePart.model_validate(made.record))]}).rstrip())
    lines += ["", *(f"# {note}" for note in made.notes), *(f"# ? {question.text}" for question in made.questions)]
    return "\n".join(lines)
