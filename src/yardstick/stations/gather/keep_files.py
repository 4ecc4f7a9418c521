"""Gather: files in, each kept whole or not at all; the list of loads, each with its undo."""

from __future__ import annotations

import json
import re
import shutil
import threading
import time
from collections.abc import Callable, Collection, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from functools import partial
from io import BytesIO
from pathlib import Path

from sqlalchemy import Connection, select
from sqlalchemy.exc import SQLAlchemyError

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.notes import Rejected
from yardstick.core.links.links import HELD
from yardstick.formats.files.raw import FileProblem, Header
from yardstick.formats.files.readers import holds_rows
from yardstick.formats.packages import Package
from yardstick.formats.plan.settings_toml import read_settings
from yardstick.formats.rows.intake import Counts, Intake
from yardstick.formats.sources.sourcing import open_by
from yardstick.store import jobs
from yardstick.store.database import AWAY, is_full, is_locked
from yardstick.store.jobs import JobStage, JobState
from yardstick.store.loading import Stopped, load_file, load_prepared, lock, next_load, record_load, redo, undo
from yardstick.store.memory import give_back
from yardstick.store.models import Change, RejectedRow
from yardstick.store.packages import read_package
from yardstick.store.plans import keep_settings
from yardstick.store.prepared_rows import prepared_rows
from yardstick.store.steps import reach
from yardstick.store.undone import STEPS_BACK, undone

from ..mark.edit_sheet import check_rows
from ..workspace.desk import Desk
from ..workspace.hold_addresses import hold_addresses
from ..workspace.refusals import NotFound
from .compare_rows import compare
from .ground_rules import ask_for_ground, settings_text
from .prepare_rows import key_of, said_of
from .rehearse_files import rehearse
from .remember_sources import remember
from .uploads import GivenFile, Meant, beside_all, classify_uploads, prepared_of, reading_of, uploaded

TOKEN = re.compile(r"[0-9a-f]{24}")
Progress = Callable[[str, int, int, int], None]
"""Told (file, rows done, bytes done, bytes in all); raises `Stopped` to stop."""


def keep_now(desk: Desk, files: Sequence[tuple[str, bytes]]) -> list[str]:
    """Keep files at once, without a rehearsal to look at. Returns the names of those that were kept.

    Parameters
    ----------
    desk : the workspace
    files : (name, content); those that cannot be read are left out
    """
    token = rehearse(desk, [(name, BytesIO(content)) for name, content in files]).token
    folder = desk.uploads / token
    paths = [(name, path) for (name, _), (_, path) in zip(files, uploaded(folder), strict=True)]
    given, _, by = classify_uploads(desk, paths)
    kept: list[str] = []
    batch_number = next_number(desk)
    try:
        for file in given:
            keep_file(desk, file, by, batch_number, lambda *_: None, None)
            kept.append(file.name)
    finally:
        shutil.rmtree(folder, ignore_errors=True)
        if kept:
            desk.refresh()
    return kept


def next_number(desk: Desk) -> int:
    """A number for files that are given together."""
    with desk.engine.begin() as connection:
        return next_load(connection)


@dataclass
class _JobNote:
    """What the database is told of a job in the very transaction that keeps a file."""

    job: int
    kept: list[str]
    left: int
    asking: int = 0


def keep_file(
    desk: Desk, file: GivenFile, by: Meant, batch_number: int, progress: Progress, job_note: _JobNote | None
) -> None:
    """Keep one file in one transaction, the word about it and the source it is read by included.

    Parameters
    ----------
    desk : the workspace
    file : what to keep
    by : by what it is read
    batch_number : number of the files it is given with
    progress : told how far it is
    job_note : the job it is part of
    """
    note = ""
    with desk.begin() as connection:
        if file.table == "settings":
            lock(connection, desk.workspace)
            hold_addresses(desk, connection)
            text = settings_text(desk, file.name, file.path)
            keep_settings(connection, desk.workspace, text, "load", file.name)
        elif file.table == "package":
            package, size = Package(file.name, file.path), sum(Package(file.name, file.path).sizes.values())
            reading = read_settings(package.settings().encode(), "settings.toml").reading
            note = read_package(
                connection, desk.workspace, package, reading.time_zone, desk.snapshots.parts,
                lambda rows, done: progress(file.name, rows, done, size),
                lambda changes: check_rows(changes, (*reading.extra_values, *reading.tag_parameters, HELD)),
            )  # fmt: skip
            hold_to(package, desk.fingerprint_in(connection))
        else:
            load = next_load(connection)
            reach("load begun", desk.end_backends)
            taken, header, reading_said = _load_rows(connection, desk, file, by, load, progress)
            reach("load copied", desk.end_backends)
            compare(file.table, taken, desk.states().get(file.table))
            if file.reading.part is not None and not file.derived:
                remember(connection, desk, file.reading.part)
            zone = file.reading.source.time_zone if file.reading.source else ""
            record_load(connection, desk.workspace, load, batch_number, header, taken.counts, zone, reading_said)
        if job_note is not None:
            job_note.kept.append(file.name)
            state = JobStage.DONE if not job_note.left else JobStage.RUNNING
            words = [f"kept {_names(job_note.kept)}", note, _still(job_note.asking) if job_note.asking else ""]
            jobs.say(connection, job_note.job, state, "; ".join(word for word in words if word))
        reach("load recorded", desk.end_backends)
    reach("load committed", desk.end_backends)


def _load_rows(
    connection: Connection, desk: Desk, file: GivenFile, by: Meant, load: int, progress: Progress
) -> tuple[Intake, Header, str]:
    """The rows of a file into the database and a part: those that its rehearsal read, else read now."""
    source, parts = file.reading.source, desk.snapshots.parts
    prepared = prepared_rows(prepared_of(file.path, file.table), key_of(file, by))
    if prepared is not None:
        size = prepared.size
        with suppress(FileNotFoundError):
            taken = load_prepared(
                connection, desk.workspace, prepared, load, parts,
                lambda rows, done: progress(file.name, rows, done, size),
            )  # fmt: skip
            return taken, prepared.header, prepared.reading
    size = file.path.stat().st_size
    with file.path.open("rb") as stream:
        reader = open_by(file.name, stream, source)
        taken = load_file(
            connection, desk.workspace, reader, by.zone(source), load, parts,
            lambda rows, done: progress(file.name, rows, done, size),
        )  # fmt: skip
        return taken, reader.header, said_of(file, reader)


def hold_to(package: Package, came: str) -> None:
    """See that the rows of a package are those that were packed.

    Raises
    ------
    FileProblem
        If they are others.
    """
    if package.data and came != package.data:
        said = f"its rows have the fingerprint {came}, and it says {package.data}"
        raise FileProblem(f"{package.file}: {said}: it was altered, or is damaged. Write it out anew")


def _still(asking: int) -> str:
    return f"{asking} {'file still asks' if asking == 1 else 'files still ask'}"


def _take_ready(folder: Path, job: int) -> tuple[Path, int]:
    """Move the files of a rehearsal about which nothing is left to say, so that nobody keeps them twice.

    Returns
    -------
    tuple
        (folder they are in, how many files still ask)
    """
    taken = folder.with_name(f"{folder.name}-kept-{job}")
    taken.mkdir()
    asking = 0
    for name, path in uploaded(folder):
        rows = holds_rows(name)
        reading = reading_of(path) if rows else None
        if reading is not None and reading.open:
            # What can only be refused asks nothing.
            asking += bool(reading.record is not None)
            continue
        for one in (*beside_all(path), path):
            one.rename(taken / one.name)
    if not asking:
        shutil.rmtree(folder, ignore_errors=True)
    return taken, asking


def _put_back(taken: Path, folder: Path, kept: Collection[str]) -> str:
    """Give the files that a stopped job did not keep whole back to their rehearsal; what that comes to, in words."""
    try:
        _move_back(taken, folder, kept)
    except OSError:
        # The job has ended all the same, and must be said to have.
        return f"{NOTHING_ELSE}; choose the other files again"
    return f"{NOTHING_ELSE}; the rehearsal stands"


def _move_back(taken: Path, folder: Path, kept: Collection[str]) -> None:
    folder.mkdir(exist_ok=True)
    for name, path in uploaded(taken):
        if name not in kept:
            for one in (*beside_all(path), path):
                one.rename(folder / one.name)


class Loader:
    """Keeps rehearsed files, one set at a time, in a thread of its own; each can be stopped."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="load")
        self._stop: dict[int, threading.Event] = {}
        self._live: dict[int, JobState] = {}
        self._begun: dict[int, float] = {}
        self._unsaid: dict[int, tuple[JobStage, str, str]] = {}
        self._taking = threading.Lock()

    def keep(self, token: str) -> int:
        """Start keeping the files of a rehearsal; returns the id of the job.

        Files about which something is left to say stay where they are, under the same token.

        Raises
        ------
        NotFound
            If there is no such rehearsal, or it was kept already.
        Unsaid
            If nobody has said the home currency or the time zone of the workspace.
        """
        folder = self._desk.uploads / token if TOKEN.fullmatch(token) else None
        if folder is None or not folder.is_dir():
            raise NotFound("that rehearsal is over: choose the files again")
        ask_for_ground(self._desk, uploaded(folder))
        with self._taking:
            job = jobs.begin(self._desk.engine, self._desk.workspace, "waiting")
            try:
                taken, asking = _take_ready(folder, job)
            except OSError:
                raise NotFound("that rehearsal is over: choose the files again") from None
        self._stop[job] = threading.Event()
        self._pool.submit(self._run, job, folder, taken, asking)
        return job

    def stop(self, job: int) -> None:
        """Ask a job to stop; nothing of the file it is at will be kept."""
        if job in self._stop:
            self._stop[job].set()

    def state(self, job: int) -> JobState:
        """How far a job is, as it is now.

        Raises
        ------
        NotFound
            If there is no such job.
        """
        live = self._live.get(job)
        if live is not None:
            return live
        self._say_end(job)
        found = jobs.find(self._desk.engine, self._desk.workspace, job)
        if found is None:
            raise NotFound("there is no such job")
        return found

    @property
    def busy(self) -> bool:
        """Whether files are being kept."""
        return bool(self._stop or self._live)

    def close(self) -> None:
        """Stop what runs and wait for it to end in order."""
        for event in self._stop.values():
            event.set()
        self._pool.shutdown(wait=True)

    def _run(self, job: int, came: Path, folder: Path, asking: int) -> None:
        desk = self._desk
        kept: list[str] = []
        self._live[job] = JobState(job, JobStage.RUNNING, "waiting", 0, 0, "", 0, None)
        try:
            given, _, by = classify_uploads(desk, uploaded(folder), chosen=True)
            batch_number = next_number(desk)
            self._begun[job] = time.monotonic()
            for i, file in enumerate(given):
                job_note = _JobNote(job, list(kept), len(given) - i - 1, asking)
                keep_file(desk, file, by, batch_number, partial(self._progress, job), job_note)
                kept.append(file.name)
            if not given:
                why = f"nothing is kept yet: {_still(asking)}" if asking else "none of the files could be read"
                self._end(job, JobStage.FAILED, why, NOTHING_ELSE)
        except Stopped:
            # What was read stays read: it can still be kept. Of a file in two parts (orders, and refunds among them)
            # one may be kept and the other not: it goes back, and what is there then is left unchanged.
            whole = {*kept} - {file.name for file in given[len(kept) :]}
            self._end(job, JobStage.STOPPED, "stopped", _put_back(folder, came, whole))
        except (SQLAlchemyError, OSError, FileProblem, SettingsError) as problem:
            self._end(job, JobStage.FAILED, *_why(problem))
        except Exception as problem:
            self._end(job, JobStage.FAILED, f"{type(problem).__name__}: {problem}", NOTHING_ELSE)
            raise
        finally:
            shutil.rmtree(folder, ignore_errors=True)
            try:
                give_back()
                # Whatever was kept: a commit may have gone through though its answer was lost.
                desk.settle()
            finally:
                give_back()
                # Only now is the job over for those who wait for the board it makes.
                self._live.pop(job, None)
                self._stop.pop(job, None)

    def _end(self, job: int, state: JobStage, why: str, then: str) -> None:
        self._unsaid[job] = (state, why[:1500], then)
        with suppress(*AWAY):
            self._say_end(job)

    def _say_end(self, job: int) -> None:
        """Put on record how a job ended; while the database is away that waits until somebody asks."""
        word = self._unsaid.get(job)
        if word is not None:
            jobs.end(self._desk.engine, job, *word)
            self._unsaid.pop(job, None)

    def _progress(self, job: int, name: str, rows: int, done: int, size: int) -> None:
        if self._stop[job].is_set():
            raise Stopped
        took = max(time.monotonic() - self._begun[job], 1e-6)
        left = took * (size - done) / done if done else None
        share = min(1.0, done / size) if size else 1.0
        total = max(rows, round(rows / share)) if share else rows
        self._live[job] = JobState(job, JobStage.RUNNING, f"loading {name}", rows, total, "", round(rows / took), left)


NOTHING_ELSE = "nothing else was changed"


def _why(problem: Exception) -> tuple[str, str]:
    """Why a job ended before its time, and what to do then."""
    if is_full(problem):
        return "the disk is full", "make room, then load the other files again"
    if is_locked(problem):
        return "the data folder cannot be written", "give it its rights, then load the other files again"
    if isinstance(problem, AWAY):
        return f"{type(problem).__name__}: the database went away", "load the other files again when it is back"
    return str(problem), NOTHING_ELSE


def _names(kept: Sequence[str]) -> str:
    return ", ".join(kept) or "nothing"


@dataclass(kw_only=True)
class Load(Counts):
    """One entry of the list of loads."""

    id: int
    subject: str
    source: str
    file: str
    made_at: datetime
    made_by: str
    answers: dict[str, str]
    undone: bool
    can_undo: bool
    can_redo: bool


def list_loads(desk: Desk) -> list[Load]:
    """All loads, the latest first. Rows can be undone and brought back in any order, settings the latest first."""
    with desk.engine.connect() as connection:
        changes = connection.execute(
            select(Change).where(Change.workspace_id == desk.workspace).order_by(Change.id.desc())
        ).all()
        out_now = set(connection.execute(undone(desk.workspace)).scalars())
    out = []
    settings_stand = False
    for c in changes:
        if c.kind in STEPS_BACK:
            continue
        is_undone = c.id in out_now
        can_undo = not is_undone and not (c.subject == "settings" and settings_stand)
        settings_stand |= c.subject == "settings" and not is_undone
        if c.kind != "load":
            continue
        out.append(
            Load(
                id=c.id,
                subject=c.subject,
                source=c.source,
                file=c.file,
                made_at=c.made_at,
                made_by=c.made_by,
                answers=_answers(c.reading),
                read=c.rows_read,
                new=c.rows_new,
                replaced=c.rows_replaced,
                unchanged=c.rows_unchanged,
                repeated=c.rows_repeated,
                rejected=c.rows_rejected,
                lines=c.lines,
                header=c.lines_header,
                skipped=c.lines_skipped,
                undone=is_undone,
                can_undo=can_undo,
                can_redo=is_undone and c.load_no is not None,
            )
        )
    return out


def _answers(reading: str) -> dict[str, str]:
    """What was said when a load was rehearsed."""
    record = json.loads(reading).get("source") if reading else None
    return dict((record or {}).get("answers", {}))


def undo_load(desk: Desk, load: int) -> None:
    """Undo a load and work out what stands.

    Raises
    ------
    CannotUndo
        If it cannot be undone; says what to do first.
    """
    with desk.begin() as connection:
        lock(connection, desk.workspace)
        mine = (Change.id == load, Change.workspace_id == desk.workspace)
        if connection.execute(select(Change.subject).where(*mine)).scalar_one_or_none() == "settings":
            hold_addresses(desk, connection)
        undo(connection, desk.workspace, load)
        reach("undo recorded", desk.end_backends)
    reach("undo committed", desk.end_backends)
    desk.settle()


def redo_load(desk: Desk, load: int) -> None:
    """Bring an undone load of rows back and work out what stands.

    Raises
    ------
    CannotUndo
        If there is nothing to bring back.
    """
    with desk.begin() as connection:
        redo(connection, desk.workspace, load)
    desk.settle()


def rejected_of(desk: Desk, load: int) -> list[Rejected]:
    """The rejected rows of a load, in file order.

    Raises
    ------
    NotFound
        If there is no such load.
    """
    with desk.engine.connect() as connection:
        found = connection.execute(
            select(Change.subject, Change.load_no).where(Change.id == load, Change.workspace_id == desk.workspace)
        ).one_or_none()
        if found is None:
            raise NotFound("there is no such load: reload the list")
        rows = connection.execute(
            select(RejectedRow.file, RejectedRow.line, RejectedRow.column, RejectedRow.value, RejectedRow.reason)
            .where(RejectedRow.load_no == found.load_no)
            .order_by(RejectedRow.line, RejectedRow.id)
        ).all()
    return [Rejected(found.subject, r.file, r.line, r.column, r.value, r.reason) for r in rows]
