"""What keeping one file would do, worked out by comparing hashes with what stands. Nothing is written but how it is
read, and its rows for whoever keeps it."""

from __future__ import annotations

import json
from collections.abc import Sequence
from contextlib import ExitStack, suppress
from dataclasses import asdict, dataclass, field, replace
from pathlib import Path
from typing import Any

import numpy as np
from sqlalchemy import select

from yardstick.core.base.day_numbers import day_text
from yardstick.core.base.errors import SettingsError
from yardstick.core.base.notes import Finding, Rejected
from yardstick.core.base.schema import SCHEMA
from yardstick.core.plan.gathering_phase import Source
from yardstick.formats.files.raw import FileProblem, NotSaid, TableFile
from yardstick.formats.packages import Package
from yardstick.formats.plan.settings_toml import read_settings
from yardstick.formats.plan.source_parts import SourcePart, record_of
from yardstick.formats.rows.columns import TypedBatch
from yardstick.formats.rows.gist import Gist
from yardstick.formats.rows.intake import COUNTS, MOST_SHOWN, Counts, Intake, ingest
from yardstick.formats.rows.keyed import Keys, resolve_versions
from yardstick.formats.sources.guessing import Guess, Unusable, guess
from yardstick.formats.sources.mapping import MappedFile, laid_of
from yardstick.formats.sources.mending import Mend, mends_for
from yardstick.formats.sources.previews import PreviewRow, preview_of
from yardstick.formats.sources.questions.look import Look, look_at
from yardstick.formats.sources.questions.other_source import called_anew
from yardstick.formats.sources.questions.question import FileQuestion
from yardstick.formats.sources.questions.registry import questions_of
from yardstick.formats.sources.sourcing import Ambiguous, open_by
from yardstick.formats.sources.sum_rows import Watched
from yardstick.store.models import Change
from yardstick.store.states import last_change

from ..workspace.deadline import in_time
from ..workspace.desk import Desk
from .compare_rows import compare
from .corrections import Correction, correction_of, overlaps, strangers
from .ground_rules import settings_text
from .looking import look_of
from .missing_rates import without_rate
from .near_sources import as_before
from .prepare_rows import RowsBeside
from .uploads import GivenFile, Meant, refunds_of
from .waiting_files import Record, UploadReading, choose, folder_of


@dataclass(frozen=True)
class MoneySum:
    """A sum in a currency, as decimal text; an empty currency is the home currency."""

    currency: str
    amount: str


@dataclass(kw_only=True)
class FileRehearsal(Counts):
    """What would happen to one file if it were kept; `problem` says why nothing would.

    Attributes
    ----------
    file, table : its name, and what its rows are
    problem : why nothing of it can be kept
    known : whether the source it is read by is remembered already, as it is used here
    reading : the source by which it is read, as settings have it; None where its columns have our names
    questions : what has to be said before it can be kept
    notes : what was found out about it
    warnings : what would go wrong, or has changed since the last file of its source
    names, columns, preview : the first rows as they came, under the names they have in the file, and as they will
        stand, under ours and those of columns that are kept besides
    lost : rows of replaced days that have no counterpart in the file
    correction : what changes in money, where days are replaced
    money, first_day, last_day : what its rows come to
    mends : what would mend cells that cannot be read
    rejected_rows, findings : the first of them
    """

    file: str
    table: str
    problem: str
    known: bool = True
    reading: SourcePart | None = None
    questions: list[FileQuestion] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    warnings: list[str] = field(default_factory=list)
    names: list[str] = field(default_factory=list)
    columns: list[str] = field(default_factory=list)
    extra: list[str] = field(default_factory=list)
    preview: list[PreviewRow] = field(default_factory=list)
    lost: int = 0
    correction: Correction | None = None
    money: list[MoneySum] = field(default_factory=list)
    first_day: str = ""
    last_day: str = ""
    mends: list[Mend] = field(default_factory=list)
    rejected_rows: list[Rejected] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)


def own_record(name: str, path: Path, by: Meant) -> Record:
    """A file with our own columns as a source of its own, so that what is said of it can be kept."""
    with path.open("rb") as stream:
        reader = open_by(name, stream, None)
    table = reader.header.table
    columns = {c.called: c.called for c in SCHEMA[table] if c.name in reader.header.columns}
    return {"name": called_anew(name, by.plan), "table": table, "columns": columns}


def which(desk: Desk, name: str, path: Path, by: Meant, tie: Ambiguous) -> FileRehearsal:
    """A file that several sources fit, read by the first of them until somebody says by which."""
    part = next(part for part in by.parts if part.name == tie.names[0])
    out = rehearse_file(desk, GivenFile(name, part.table, path, UploadReading(record_of(part))), by)
    text = f"{' and '.join(tie.names[:3])} have the same columns: which is it from?"
    out.questions = [FileQuestion("source", text, tie.names)]
    choose(path, UploadReading(record_of(part), open=True))
    return out


def guessed(desk: Desk, name: str, path: Path, by: Meant) -> FileRehearsal | None:
    """A file that no source fits and whose columns have other names, as it may be meant; None if it is no table."""
    try:
        with path.open("rb") as stream:
            made = guess(name, stream, by.plan)
            made = as_before(name, stream, made, by.parts) or made
    except Unusable as problem:
        return refused(name, str(problem))
    except FileProblem:
        return None
    if not made.rows:
        return None
    return by_guess(desk, name, path, by, made)


def by_guess(desk: Desk, name: str, path: Path, by: Meant, made: Guess) -> FileRehearsal:
    """A file as it is guessed to be meant, with what was found out about it."""
    part = SourcePart.model_validate(made.record)
    reading = UploadReading(record_of(part), asked=tuple(made.asked))
    choose(path, reading)
    out = rehearse_file(desk, GivenFile(name, part.table, path, reading), by)
    out.notes = [*made.notes, *out.notes]
    return out


def rehearse_file(desk: Desk, file: GivenFile, by: Meant) -> FileRehearsal:
    """What keeping one file would do; how it is read is settled by it, and whether anything is left to say."""
    try:
        if file.table == "package":
            return _package(desk, file)
        if file.table == "settings":
            return _settings(desk, file)
        out, look = _rows(desk, file, by)
        if file.reading.record is None and look.sums:
            # What of it is a sum can only be left out by a source.
            file = replace(file, reading=replace(file.reading, record=own_record(file.name, file.path, by)))
            out, look = _rows(desk, file, by)
    except (FileProblem, SettingsError) as problem:
        # What its source does not say is asked.
        out, look = refused(file.name, "" if isinstance(problem, NotSaid) else str(problem)), None
        with suppress(FileProblem), file.path.open("rb") as stream:
            source = file.reading.source
            look = look_at(file.name, stream, laid_of(source)) if source is not None else None
    if look is not None:
        record = file.reading.record
        virtual = own_record(file.name, file.path, by) if record is None else record
        out.questions = questions_of(look, virtual, by.plan, file.reading.asked)
        if record is not None or any(q.open for q in out.questions):
            still = tuple(q.field for q in out.questions if q.open)
            file = replace(file, reading=replace(file.reading, record=virtual, open=bool(still), open_fields=still))
        else:
            out.questions = []
    choose(file.path, file.reading)
    _say_reading(out, file, by)
    return out


def _rows(desk: Desk, file: GivenFile, by: Meant) -> tuple[FileRehearsal, Look]:
    source, gist = file.reading.source, Gist(file.table)
    with ExitStack() as opened:
        stream = opened.enter_context(file.path.open("rb"))
        reader = open_by(file.name, stream, source)
        reader = reader if source is not None else Watched(reader)
        taken = _read(file, by, reader, gist)
        state = desk.states().get(file.table)
        look = look_of(desk, file, stream, by, reader, gist, state)
    lost = compare(file.table, taken, state)
    out = FileRehearsal(
        file=file.name,
        table=file.table,
        problem=_all_the_same(file, taken),
        lost=lost,
        rejected_rows=taken.rejected,
        findings=taken.findings[:MOST_SHOWN],
        **asdict(taken.counts),
    )
    out.money = [MoneySum(code, f"{total.normalize():f}") for code, total in sorted(gist.money.items())]
    if gist.first is not None and gist.last is not None:
        out.first_day, out.last_day = day_text(gist.first), day_text(gist.last)
    if isinstance(reader, MappedFile):
        out.warnings += _new_columns(desk, reader)
    if file.table == "spend":
        repeated = resolve_versions("spend", taken.keys, np.zeros(len(taken.keys), np.int64)).repeated
        out.correction = correction_of(gist, repeated, state)
        out.warnings += overlaps(gist, state, desk.loads(), source.name if source else "")
        look.strange = strangers(gist, state)
    out.warnings += without_rate(desk, by, gist, folder_of(file.path))
    out.notes += _refunds(desk, file, by)
    if reader.header.left_out:
        out.notes.append(f"Left out, since they hold lists: {', '.join(reader.header.left_out[:10])}.")
    if gist.bad:
        out.mends = mends_for(source or _by_own_names(file, reader.header.columns), gist.bad, gist.bad_lines)
    return out, look


def _read(file: GivenFile, by: Meant, reader: TableFile, gist: Gist) -> Intake:
    """A file read to its end, its rows put down for whoever keeps it."""
    beside = RowsBeside(file, by, reader)

    def each(batch: TypedBatch, keys: Keys) -> None:
        gist.add(batch, keys)
        beside.add(batch, keys)

    try:
        taken = ingest(reader, by.zone(file.reading.source), in_time(file.name, file.path.stat().st_size), each)
    except BaseException:
        beside.give_up()
        raise
    beside.finish(taken)
    return taken


def _refunds(desk: Desk, file: GivenFile, by: Meant) -> list[str]:
    """What the rows below 0 of a file come to that are taken as refunds."""
    refunds = refunds_of(file)
    if refunds is None:
        return []
    gist = Gist("refunds")
    with file.path.open("rb") as stream:
        reader = open_by(file.name, stream, refunds.reading.source)
        taken = _read(refunds, by, reader, gist)
    compare("refunds", taken, desk.states().get("refunds"))
    worth = ", ".join(f"{total.normalize():f} {code}".strip() for code, total in sorted(gist.money.items()))
    count = taken.counts.read - taken.counts.rejected
    said = f"{count:,} of its rows are refunds, {worth or 0} in all: {taken.counts.new:,} new"
    return [f"{said}. They are kept as a load of their own, and can be undone by itself."]


def _new_columns(desk: Desk, reader: MappedFile) -> list[str]:
    """Columns that the last file of the source had not."""
    with desk.engine.connect() as connection:
        reading = connection.execute(
            select(Change.reading)
            .where(Change.workspace_id == desk.workspace, Change.source == reader.header.source, Change.reading != "")
            .order_by(Change.id.desc())
            .limit(1)
        ).scalar_one_or_none()
    if not reading:
        return []
    before = set(json.loads(reading)["names"])
    new = [name for name in reader.names if name not in before]
    if not before or not new:
        return []
    said = f"New since the last file of {reader.header.source}: {', '.join(new[:10])}"
    return [f"{said}. Kept with the rows, unless you say where it goes"]


def _all_the_same(file: GivenFile, taken: Intake) -> str:
    """Why a reading that makes every row the same cannot be meant."""
    rows, keys = len(taken.keys), taken.keys.key
    if rows > 2 and file.reading.record is not None and not (keys != keys[0]).any():
        return (
            f"{file.name}: all {rows} rows are one and the same under this reading: "
            "say which columns tell a row, or which column is its id"
        )
    return ""


def _by_own_names(file: GivenFile, columns: Sequence[str]) -> Source:
    return Source(Path(file.name).stem, file.table, columns=tuple((c, c) for c in columns))


def _say_reading(out: FileRehearsal, file: GivenFile, by: Meant) -> None:
    """How a file is read, and its first rows."""
    part = file.reading.part
    if part is not None:
        out.table, out.reading, out.known = part.table, part, by.knows(part)
    if file.table == "settings":
        return
    with file.path.open("rb") as stream:
        try:
            preview = preview_of(file.name, stream, file.reading.source, by.plan.reading.time_zone)
        except FileProblem:
            return
    out.names, out.preview = preview.names, preview.rows
    out.columns, out.extra = preview.columns, preview.extra


def _settings(desk: Desk, file: GivenFile) -> FileRehearsal:
    kept = desk.kept_plan()
    text = settings_text(desk, file.name, file.path)
    counts = settings_counts(kept.version, kept.text if kept.version else None, text)
    return FileRehearsal(file=file.name, table="settings", problem="", **asdict(counts))


def _package(desk: Desk, file: GivenFile) -> FileRehearsal:
    """A whole workspace: every load of it is read, as if it were kept."""
    package = Package(file.name, file.path)
    plan = read_settings(package.settings().encode(), "settings.toml")
    out = refused(file.name, "")
    out.table = "package"
    if anything_kept(desk):
        out.problem = f"{file.name}: a package comes into an empty workspace: make a new one, then load it there"
    look = in_time(file.name, sum(package.sizes.values()))
    for load in package.loads:
        rows = package.rows(load)
        taken = ingest(rows, load.zone or plan.reading.time_zone, look, lambda batch, keys: None)
        out.read += taken.counts.read + load.rejected
        out.new += taken.counts.read
        out.rejected += load.rejected
    out.notes = [f"{len(package.loads)} loads of rows, with their settings and links."]
    return out


def anything_kept(desk: Desk) -> bool:
    """Whether anything was ever changed in a workspace."""
    with desk.engine.connect() as connection:
        return last_change(connection, desk.workspace) > 0


def settings_counts(version: int, before: str | None, text: str) -> Counts:
    """What keeping settings does: they are one row that is new, replaces another or is just that."""
    same = before == text
    return Counts.of(read=1, new=int(not version), replaced=int(bool(version) and not same), unchanged=int(same))


def refused(file: str, problem: str) -> FileRehearsal:
    """A file of which nothing can be kept, and why."""
    counts: dict[str, Any] = dict.fromkeys(COUNTS, 0)
    return FileRehearsal(file=file, table="", problem=problem, **counts)
