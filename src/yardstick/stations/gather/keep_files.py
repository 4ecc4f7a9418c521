"""Files in, each kept whole or not at all."""

from __future__ import annotations

import shutil
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass
from io import BytesIO

from sqlalchemy import Connection

from yardstick.core.links.links import HELD
from yardstick.formats.files.raw import FileProblem, Header
from yardstick.formats.packages import Package
from yardstick.formats.plan.settings_toml import read_settings
from yardstick.formats.rows.intake import Intake
from yardstick.formats.sources.sourcing import open_by
from yardstick.store import jobs
from yardstick.store.jobs import JobStage
from yardstick.store.loading import load_file, load_prepared, lock, next_load, record_load
from yardstick.store.packages import read_package
from yardstick.store.plans import keep_settings
from yardstick.store.prepared_rows import prepared_rows
from yardstick.store.steps import reach

from ..mark.edit_sheet import check_rows
from ..workspace.desk import Desk
from ..workspace.hold_addresses import hold_addresses
from .compare_rows import compare
from .ground_rules import settings_text
from .prepare_rows import key_of, said_of
from .rehearse_files import rehearse
from .remember_sources import remember
from .uploads import GivenFile, Meant, classify_uploads
from .waiting_files import prepared_of, uploaded

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
    given, _, by = classify_uploads(desk, uploaded(folder))
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
class JobNote:
    """What the database is told of a job in the very transaction that keeps a file."""

    job: int
    kept: list[str]
    left: int
    asking: int = 0


def keep_file(
    desk: Desk, file: GivenFile, by: Meant, batch_number: int, progress: Progress, job_note: JobNote | None
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
            put_settings(desk, connection, file)
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
            words = [f"kept {_names(job_note.kept)}", note, still_asking(job_note.asking) if job_note.asking else ""]
            jobs.say(connection, job_note.job, state, "; ".join(word for word in words if word))
        reach("load recorded", desk.end_backends)
    reach("load committed", desk.end_backends)


def put_settings(desk: Desk, connection: Connection, file: GivenFile) -> None:
    """Put a settings file on record, to keep it or to try it."""
    lock(connection, desk.workspace)
    hold_addresses(desk, connection)
    text = settings_text(desk, file.name, file.path)
    keep_settings(connection, desk.workspace, text, "load", file.name)


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


def still_asking(asking: int) -> str:
    """How many files still ask, in words."""
    return f"{asking} {'file still asks' if asking == 1 else 'files still ask'}"


def _names(kept: Sequence[str]) -> str:
    return ", ".join(kept) or "nothing"
