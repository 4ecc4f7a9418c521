"""Gather: files in, with a rehearsal before anything is kept; the list of loads, each with its undo."""

from __future__ import annotations

import secrets
import shutil
import threading
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import Any

from sqlalchemy import Connection, select

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.notes import Finding, Rejected
from yardstick.formats.columns import Parsed, parse
from yardstick.formats.csv_in import FileProblem, RawTable, read_csv, shown
from yardstick.formats.settings_toml import read_settings
from yardstick.store import jobs
from yardstick.store.database import AWAY
from yardstick.store.loading import Loaded, Stopped, load_rows, undo
from yardstick.store.models import Change, RejectedRow
from yardstick.store.plans import keep_settings

from .desk import Desk

ORDER = ("settings", "rates", "spend", "other_costs", "visits", "leads", "conversions")
SAMPLE_ROWS = 5
MOST_SHOWN = 200


class NotFound(LookupError):
    """What was asked for is not there; the text says what."""


@dataclass(frozen=True, kw_only=True)
class FileRehearsal:
    """What would happen to one file if it were kept; `problem` says why nothing would."""

    file: str
    table: str
    problem: str
    read: int
    new: int
    replaced: int
    unchanged: int
    rejected: int
    columns: list[str]
    extra: list[str]
    sample: list[list[str]]
    rejected_rows: list[Rejected]
    findings: list[Finding]


def _refused(file: str, problem: str) -> FileRehearsal:
    counts: dict[str, Any] = {"read": 0, "new": 0, "replaced": 0, "unchanged": 0, "rejected": 0}
    empty: dict[str, Any] = {"columns": [], "extra": [], "sample": [], "rejected_rows": [], "findings": []}
    return FileRehearsal(file=file, table="", problem=problem, **counts, **empty)


@dataclass
class Rehearsal:
    """What would happen to a set of files; `token` keeps them."""

    token: str
    files: list[FileRehearsal]


@dataclass
class _File:
    """A file as read: settings, or the rows of a table."""

    name: str
    table: str
    content: bytes
    raw: RawTable | None = None
    parsed: Parsed | None = None


def rehearse(desk: Desk, files: Sequence[tuple[str, bytes]]) -> Rehearsal:
    """Read files and say what keeping them would do. Nothing is changed; the files wait under a token.

    Parameters
    ----------
    desk : the workspace
    files : (name, content)

    Returns
    -------
    Rehearsal, files in the order given

    Raises
    ------
    sqlalchemy.exc.OperationalError
        If the database is away.
    """
    read, problems = _read_all(desk, files)
    token = secrets.token_urlsafe(12)
    folder = desk.uploads / token
    folder.mkdir(parents=True)
    for i, (name, content) in enumerate(files):
        (folder / f"{i:03d}-{Path(name).name}").write_bytes(content)
    said: dict[str, FileRehearsal] = {}
    with desk.engine.connect() as connection, connection.begin() as transaction:
        for file in read:
            loaded = _apply(connection, desk.workspace, file, lambda done, total: None)
            said[file.name] = _describe(file, loaded)
        transaction.rollback()
    # Of two files with one name only the first was read, so only the first takes what was said of it.
    out = [said.pop(name) if name in said else _refused(name, problems[name]) for name, _ in files]
    return Rehearsal(token, out)


def _read_all(desk: Desk, files: Sequence[tuple[str, bytes]]) -> tuple[list[_File], dict[str, str]]:
    """Read every file that can be read, in loading order; why the others cannot."""
    read: list[_File] = []
    problems: dict[str, str] = {}
    zone = desk.plan().reading.time_zone
    for name, content in files:
        if name in problems or any(f.name == name for f in read):
            problems[name] = f"{name}: two files have this name: rename one"
        elif name.lower().endswith(".toml"):
            try:
                zone = read_settings(content, name).reading.time_zone
                read.append(_File(name, "settings", content))
            except SettingsError as problem:
                problems[name] = str(problem)
        else:
            try:
                raw = read_csv(name, content)
                read.append(_File(name, raw.table, content, raw))
            except FileProblem as problem:
                problems[name] = str(problem)
    for file in read:
        if file.raw is not None:
            file.parsed = parse(file.raw, zone)
    return sorted(read, key=lambda f: ORDER.index(f.table)), problems


def _apply(connection: Connection, workspace: int, file: _File, progress: Callable[[int, int], None]) -> Loaded:
    if file.raw is not None and file.parsed is not None:
        return load_rows(connection, workspace, file.raw, file.parsed, progress)
    return _apply_settings(connection, workspace, file.name, file.content.decode("utf-8-sig"))


def _apply_settings(connection: Connection, workspace: int, name: str, toml: str) -> Loaded:
    kept = keep_settings(connection, workspace, toml, "load", name)
    return Loaded(kept.change, 1, int(not kept.was_set), int(kept.was_set and not kept.same), int(kept.same), 0)


def _describe(file: _File, loaded: Loaded) -> FileRehearsal:
    raw, parsed = file.raw, file.parsed
    kept = parsed.kept[:SAMPLE_ROWS] if parsed else []
    return FileRehearsal(
        file=file.name,
        table=file.table,
        problem="",
        read=loaded.read,
        new=loaded.new,
        replaced=loaded.replaced,
        unchanged=loaded.unchanged,
        rejected=loaded.rejected,
        columns=raw.columns if raw else [],
        extra=raw.extra if raw else [],
        sample=[[shown(cell) for cell in raw.rows[row]] for row in kept] if raw else [],
        rejected_rows=parsed.rejected[:MOST_SHOWN] if parsed else [],
        findings=parsed.findings[:MOST_SHOWN] if parsed else [],
    )


def keep_now(
    desk: Desk,
    files: Sequence[tuple[str, bytes]],
    progress: Callable[[str, int, int], None] = lambda name, done, total: None,
    kept: list[str] | None = None,
) -> list[str]:
    """Keep files, one transaction each, then rebuild the snapshot. Returns the names of those that were kept.

    Parameters
    ----------
    desk : the workspace
    files : (name, content); those that cannot be read are left out
    progress : told (name, rows done, rows in all)
    kept : filled as files are kept, so that the caller knows how far it came if this is cut off
    """
    kept = [] if kept is None else kept
    read, _ = _read_all(desk, files)
    try:
        for file in read:
            with desk.begin() as connection:
                _apply(connection, desk.workspace, file, partial(progress, file.name))
            kept.append(file.name)
    except Stopped:
        if kept:
            desk.refresh()
        raise
    desk.refresh()
    return kept


class Loader:
    """Keeps rehearsed files, one set at a time, in a thread of its own; each can be stopped."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="load")
        self._stop: dict[int, threading.Event] = {}

    def keep(self, token: str) -> int:
        """Start keeping the files of a rehearsal; returns the id of the job.

        Raises
        ------
        NotFound
            If there is no such rehearsal, or it was kept already.
        """
        folder = self._desk.uploads / Path(token).name
        if not token or not folder.is_dir():
            raise NotFound("that rehearsal is over: choose the files again")
        job = jobs.begin(self._desk.engine, self._desk.workspace, "waiting")
        self._stop[job] = threading.Event()
        self._pool.submit(self._run, job, folder)
        return job

    def stop(self, job: int) -> None:
        """Ask a job to stop; nothing of the file it is at will be kept."""
        if job in self._stop:
            self._stop[job].set()

    def close(self) -> None:
        """Stop what runs and wait for it to end in order."""
        for event in self._stop.values():
            event.set()
        self._pool.shutdown(wait=True)

    def _run(self, job: int, folder: Path) -> None:
        desk = self._desk
        kept: list[str] = []
        try:
            files = [(p.name[4:], p.read_bytes()) for p in sorted(folder.iterdir())]
            keep_now(desk, files, partial(self._progress, job), kept)
            shutil.rmtree(folder, ignore_errors=True)
            jobs.end(desk.engine, job, jobs.DONE, f"kept {_names(kept)}")
        except Stopped:
            message = f"stopped; kept {_names(kept)}; nothing else was changed"
            jobs.end(desk.engine, job, jobs.STOPPED, message)
        except AWAY:
            self._fail(job, f"the database went away; kept {_names(kept)}; load the other files again when it is back")
        except Exception as problem:
            self._fail(job, f"{type(problem).__name__}: {problem}; kept {_names(kept)}; nothing else was changed")
            raise
        finally:
            self._stop.pop(job, None)

    def _fail(self, job: int, message: str) -> None:
        try:
            jobs.end(self._desk.engine, job, jobs.FAILED, message)
        except AWAY:
            # It will be closed as interrupted when the app starts again.
            return

    def _progress(self, job: int, name: str, done: int, total: int) -> None:
        if self._stop[job].is_set():
            raise Stopped
        jobs.advance(self._desk.engine, job, f"loading {name}", done, total)


def _names(kept: list[str]) -> str:
    return ", ".join(kept) or "nothing"


@dataclass(frozen=True)
class Load:
    """One entry of the list of loads."""

    id: int
    subject: str
    file: str
    made_at: datetime
    made_by: str
    read: int
    new: int
    replaced: int
    unchanged: int
    rejected: int
    undone: bool
    can_undo: bool


def list_loads(desk: Desk) -> list[Load]:
    """All loads, the latest first. A load can be undone unless a later one of the same table stands on it."""
    with desk.engine.connect() as connection:
        changes = connection.execute(
            select(Change).where(Change.workspace_id == desk.workspace).order_by(Change.id.desc())
        ).all()
    undone = {c.undoes for c in changes if c.undoes is not None}
    out, standing = [], set()
    for c in changes:
        if c.kind == "undo":
            continue
        is_undone = c.id in undone
        can_undo = not is_undone and c.subject not in standing
        if not is_undone:
            standing.add(c.subject)
        if c.kind != "load":
            continue
        counts = (c.rows_read, c.rows_new, c.rows_replaced, c.rows_unchanged, c.rows_rejected)
        out.append(Load(c.id, c.subject, c.file, c.made_at, c.made_by, *counts, is_undone, can_undo))
    return out


def undo_load(desk: Desk, load: int) -> None:
    """Undo a load and rebuild the snapshot.

    Raises
    ------
    CannotUndo
        If it cannot be undone; says what to do first.
    """
    with desk.begin() as connection:
        undo(connection, desk.workspace, load)
    desk.refresh()


def rejected_of(desk: Desk, load: int) -> list[Rejected]:
    """The rejected rows of a load, in file order.

    Raises
    ------
    NotFound
        If there is no such load.
    """
    with desk.engine.connect() as connection:
        subject = connection.execute(
            select(Change.subject).where(Change.id == load, Change.workspace_id == desk.workspace)
        ).scalar_one_or_none()
        if subject is None:
            raise NotFound("there is no such load: look at the list again")
        found = connection.execute(
            select(RejectedRow.file, RejectedRow.line, RejectedRow.column, RejectedRow.value, RejectedRow.reason)
            .where(RejectedRow.change_id == load)
            .order_by(RejectedRow.line, RejectedRow.id)
        ).all()
    return [Rejected(subject, r.file, r.line, r.column, r.value, r.reason) for r in found]
