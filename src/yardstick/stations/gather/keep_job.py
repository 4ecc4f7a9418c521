"""Files that were rehearsed are kept in a thread of its own, which says how far it is and can be stopped."""

from __future__ import annotations

import re
import shutil
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from functools import partial
from pathlib import Path

from sqlalchemy.exc import SQLAlchemyError

from yardstick.core.base.errors import SettingsError
from yardstick.formats.files.raw import FileProblem
from yardstick.store import jobs
from yardstick.store.database import AWAY, is_full, is_locked
from yardstick.store.jobs import JobStage, JobState
from yardstick.store.loading import Stopped
from yardstick.store.memory import give_back

from ..workspace.desk import Desk
from ..workspace.refusals import NotFound
from .ground_rules import ask_for_ground
from .keep_files import JobNote, keep_file, next_number, still_asking
from .uploads import classify_uploads
from .waiting_files import put_back, take_ready, uploaded

TOKEN = re.compile(r"[0-9a-f]{24}")


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
                taken, asking = take_ready(folder, job)
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
                job_note = JobNote(job, list(kept), len(given) - i - 1, asking)
                keep_file(desk, file, by, batch_number, partial(self._progress, job), job_note)
                kept.append(file.name)
            if not given:
                why = f"nothing is kept yet: {still_asking(asking)}" if asking else "none of the files could be read"
                self._end(job, JobStage.FAILED, why, NOTHING_ELSE)
        except Stopped:
            # What was read stays read: it can still be kept. Of a file in two parts (orders, and refunds among them)
            # one may be kept and the other not: it goes back, and what is there then is left unchanged.
            whole = {*kept} - {file.name for file in given[len(kept) :]}
            back = "the rehearsal stands" if put_back(folder, came, whole) else "choose the other files again"
            self._end(job, JobStage.STOPPED, "stopped", f"{NOTHING_ELSE}; {back}")
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
