"""Rehearsals: what keeping files would do, worked out by comparing hashes with what stands; nothing is written but the
files themselves, which wait under a token."""

from __future__ import annotations

import json
import secrets
import shutil
from collections.abc import Mapping, Sequence
from contextlib import ExitStack, suppress
from dataclasses import asdict, dataclass, field, replace
from pathlib import Path
from typing import Any, BinaryIO

import numpy as np
from sqlalchemy import select

from yardstick.core.base.day_numbers import day_text
from yardstick.core.base.errors import SettingsError
from yardstick.core.base.notes import Finding, Rejected
from yardstick.core.base.schema import SCHEMA
from yardstick.core.plan.gathering_phase import Source
from yardstick.formats.files.raw import FileProblem, NotSaid, TableFile
from yardstick.formats.files.readers import holds_rows
from yardstick.formats.files.workbooks import reading_once
from yardstick.formats.packages import Package
from yardstick.formats.plan.settings_toml import plan_from, read_settings
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
from yardstick.formats.sources.questions.registry import answered, questions_of, settled_by_hand
from yardstick.formats.sources.sourcing import Ambiguous, open_by
from yardstick.formats.sources.sum_rows import Watched
from yardstick.store.models import Change
from yardstick.store.states import last_change

from ..workspace.deadline import in_time
from ..workspace.desk import Desk
from ..workspace.reading_now import ReadingStopped
from .compare_rows import compare
from .corrections import Correction, correction_of, overlaps, strangers
from .ground_rules import ground_in, ground_of, settings_text
from .looking import look_of
from .missing_rates import without_rate
from .near_sources import as_before
from .prepare_rows import RowsBeside
from .uploads import (
    GivenFile,
    Meant,
    Record,
    UploadReading,
    choose,
    classify_uploads,
    reading_of,
    refunds_of,
    short_name,
    uploaded,
)


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


@dataclass
class Rehearsal:
    """What would happen to a set of files; `token` keeps them. `first` is asked of a workspace whose home currency or
    time zone nobody has said yet: all else is read by them."""

    token: str
    files: list[FileRehearsal]
    first: list[FileQuestion] = field(default_factory=list)


def rehearse(desk: Desk, files: Sequence[tuple[str, BinaryIO]], called: str = "") -> Rehearsal:
    """Read files and say what keeping them would do. Nothing is changed; the files wait under a token.

    Parameters
    ----------
    desk : the workspace
    files : (name, content)
    called : the name by which `desk.readings` says how far it is, and by which it is stopped

    Returns
    -------
    Rehearsal, files in the order given

    Raises
    ------
    ReadingStopped
        If somebody stopped it; nothing is left of it.
    """
    desk.sweep_uploads()
    token = secrets.token_hex(12)
    folder = desk.uploads / token
    folder.mkdir(parents=True)
    with desk.readings.reading(called):
        try:
            return _rehearse(desk, token, folder, files)
        except ReadingStopped:
            shutil.rmtree(folder, ignore_errors=True)
            raise


def waiting(desk: Desk, token: str) -> list[str]:
    """Names of the files of a rehearsal that were not kept, in the order given; none where it is over."""
    folder = desk.uploads / token
    return [name for name, _ in uploaded(folder)] if token.isalnum() and folder.is_dir() else []


@reading_once()
def _rehearse(desk: Desk, token: str, folder: Path, files: Sequence[tuple[str, BinaryIO]]) -> Rehearsal:
    paths = []
    for i, (name, content) in enumerate(files):
        path = folder / f"{i:03d}-{short_name(name)}"
        with path.open("wb") as there:
            shutil.copyfileobj(content, there, 1 << 20)
        paths.append((name, path))
    given, problems, by = classify_uploads(desk, paths)
    said: dict[Path, FileRehearsal] = {}
    for file in given:
        choose(file.path, file.reading)
        said[file.path] = _one(desk, file, by)
    seen: set[str] = set()
    for name, path in paths:
        if path not in said:
            problem = problems[path]
            table = holds_rows(name) and name not in seen
            if isinstance(problem, Ambiguous):
                said[path] = _which(desk, name, path, by, problem)
            else:
                guessed = _guessed(desk, name, path, by) if table else None
                said[path] = guessed or _refused(name, str(problem))
        seen.add(name)
    found = [said[path] for _, path in paths]
    offered = [one.reading.currency for one in found if one.reading is not None]
    offered += [money.currency for one in found for money in one.money]
    return Rehearsal(token, found, ground_of(desk, ground_in(desk, paths), offered))


@reading_once()
def read_otherwise(
    desk: Desk,
    token: str,
    name: str,
    part: SourcePart | None,
    called: str,
    answers: Mapping[str, str] | None = None,
) -> FileRehearsal:
    """Rehearse one file of a rehearsal again, read in another way.

    Parameters
    ----------
    desk : the workspace
    token : of the rehearsal
    name : of the file
    part : how to read it
    called : where `part` is None, the name of a source to read it by, of a table to guess under, or nothing
    answers : to questions, by what they are about; they change the way it is read, and are kept with it

    Raises
    ------
    FileProblem
        If there is no such file in the rehearsal.
    SettingsError
        If the source is none that can be, or there is none of that name.
    """
    folder = desk.uploads / token
    there = uploaded(folder) if token.isalnum() and folder.is_dir() else []
    path = next((path for known, path in there if known == short_name(name)), None)
    if path is None:
        raise FileProblem(f"{name}: that file is not in this rehearsal any more: choose it again")
    # Settings that were given together with the file hold for it.
    _, _, by = classify_uploads(desk, [one for one in there if one[0].lower().endswith(".toml")])
    if part is None and called and called not in SCHEMA:
        part = next((known for known in by.parts if known.name == called), None)
        if part is None:
            raise SettingsError(f"there is no source called {called!r}: reload the list")
    before = reading_of(path)
    if part is None and not answers:
        with path.open("rb") as stream:
            made = guess(name, stream, by.plan, called)
        return _by_guess(desk, name, path, by, made)
    given: Record | None = record_of(part) if part is not None else before.record
    record = dict(given) if given is not None else own_record(name, path, by)
    if before.record is not None and part is not None:
        still = [q.field for q in before.asked] if not before.open else [*before.open_fields]
        record = settled_by_hand(before.record, record, still)
    asked = before.asked
    for about, answer in (answers or {}).items():
        record = answered(record, about, answer)
        if about in ("encoding", "table"):
            # Names and cells are other ones then: all else is guessed anew.
            with path.open("rb") as stream:
                made = guess(name, stream, by.plan, str(record["table"]), str(record.get("encoding", "")))
            record = made.record | {"answers": {**record.get("answers", {}), about: answer}}
            asked = (*(q for q in asked if q.field == about), *(q for q in made.asked if q.field != about))
    made_part = SourcePart.model_validate(record)
    # As if it stood in the plan: the same limits at both doors.
    plan_from({"source": [record_of(made_part)]}, "source")
    reading = UploadReading(record_of(made_part), asked=asked)
    choose(path, reading)
    return _one(desk, GivenFile(name, made_part.table, path, reading), by)


def own_record(name: str, path: Path, by: Meant) -> Record:
    """A file with our own columns as a source of its own, so that what is said of it can be kept."""
    with path.open("rb") as stream:
        reader = open_by(name, stream, None)
    table = reader.header.table
    columns = {c.called: c.called for c in SCHEMA[table] if c.name in reader.header.columns}
    return {"name": called_anew(name, by.plan), "table": table, "columns": columns}


def _which(desk: Desk, name: str, path: Path, by: Meant, tie: Ambiguous) -> FileRehearsal:
    """A file that several sources fit, read by the first of them until somebody says by which."""
    part = next(part for part in by.parts if part.name == tie.names[0])
    out = _one(desk, GivenFile(name, part.table, path, UploadReading(record_of(part))), by)
    text = f"{' and '.join(tie.names[:3])} have the same columns: which is it from?"
    out.questions = [FileQuestion("source", text, tie.names)]
    choose(path, UploadReading(record_of(part), open=True))
    return out


def _guessed(desk: Desk, name: str, path: Path, by: Meant) -> FileRehearsal | None:
    """A file that no source fits and whose columns have other names, as it may be meant; None if it is no table."""
    try:
        with path.open("rb") as stream:
            made = guess(name, stream, by.plan)
            made = as_before(name, stream, made, by.parts) or made
    except Unusable as problem:
        return _refused(name, str(problem))
    except FileProblem:
        return None
    if not made.rows:
        return None
    return _by_guess(desk, name, path, by, made)


def _by_guess(desk: Desk, name: str, path: Path, by: Meant, made: Guess) -> FileRehearsal:
    part = SourcePart.model_validate(made.record)
    reading = UploadReading(record_of(part), asked=tuple(made.asked))
    choose(path, reading)
    out = _one(desk, GivenFile(name, part.table, path, reading), by)
    out.notes = [*made.notes, *out.notes]
    return out


def _one(desk: Desk, file: GivenFile, by: Meant) -> FileRehearsal:
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
        out, look = _refused(file.name, "" if isinstance(problem, NotSaid) else str(problem)), None
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
    out.warnings += without_rate(desk, by, gist, file.path.parent)
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
    out = _refused(file.name, "")
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


def _refused(file: str, problem: str) -> FileRehearsal:
    counts: dict[str, Any] = dict.fromkeys(COUNTS, 0)
    return FileRehearsal(file=file, table="", problem=problem, **counts)
