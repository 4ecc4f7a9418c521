"""Clicks on short links: on record before the visitor is sent on, many in one transaction.

While the database is away clicks go to a spool on disk, a line each with a sum of its own; they come in as soon as it
is back, each once.
"""

from __future__ import annotations

import asyncio
import contextlib
import json
import os
import re
import sys
import threading
import zlib
from collections.abc import Collection, Iterable, Sequence
from dataclasses import asdict, dataclass, field, fields
from datetime import datetime
from pathlib import Path
from secrets import token_hex
from urllib.parse import quote

from sqlalchemy import ColumnElement, Connection, Engine, func, select, text, true
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.exc import SQLAlchemyError

from .models import ShortClick, Workspace
from .steps import reach

LONGEST = 1_000
PATIENCE_S = 0.5
"""How often the spool is tried again while nothing else happens."""


@dataclass(frozen=True)
class Click:
    """One click on a short link. `uid` tells it from every other, so that it is kept once however often it is tried."""

    code: str
    clicked_at: str
    target: str
    referrer: str = ""
    agent: str = ""
    workspace: str = ""
    uid: str = field(default_factory=lambda: token_hex(12))


_FIELDS = frozenset(f.name for f in fields(Click))


class ClickRecorder:
    """Records clicks from one thread, all that wait in one transaction, and tells each waiter when it is safe.

    Parameters
    ----------
    engine : the database; the recorder has it to itself, so that it never waits for others' connections
    spool : a file for clicks that come while the database is away

    Notes
    -----
    Nothing ends the thread but `close`. A click that neither database nor disk takes is counted in `lost`, and its
    visitor is sent on all the same: a link that hangs costs more than a count that is one short.
    """

    def __init__(self, engine: Engine, spool: Path) -> None:
        self._engine, self._spool = engine, Spool(spool)
        self._waiting: list[tuple[Click, asyncio.AbstractEventLoop, asyncio.Future[None]]] = []
        self._lock, self._some = threading.Lock(), threading.Event()
        self._closing = False
        self.lost = 0
        self._thread = threading.Thread(target=self._run, name="clicks", daemon=True)
        self._thread.start()

    async def record(self, click: Click) -> None:
        """Return once the click is on disk."""
        loop = asyncio.get_running_loop()
        future: asyncio.Future[None] = loop.create_future()
        with self._lock:
            self._waiting.append((click, loop, future))
        self._some.set()
        await future

    def close(self) -> None:
        """Record what waits and end."""
        self._closing = True
        self._some.set()
        self._thread.join(10)
        self._engine.dispose()

    def _run(self) -> None:
        while True:
            self._some.wait(PATIENCE_S if self._spool.filled else None)
            self._some.clear()
            with self._lock:
                batch, self._waiting = self._waiting, []
            if batch:
                self._keep([click for click, _, _ in batch])
                for loop in {loop for _, loop, _ in batch}:
                    mine = [future for _, at, future in batch if at is loop]
                    try:
                        loop.call_soon_threadsafe(_settle, mine)
                    except RuntimeError:
                        # That loop has ended, and its visitors with it.
                        continue
            elif self._spool.filled:
                self._drain()
            if self._closing and not self._waiting:
                return

    def _keep(self, clicks: list[Click]) -> None:
        try:
            self._into_database(clicks)
        except Exception as problem:  # whatever it is, the thread goes on
            try:
                self._spool.add(clicks)
                reach("click spooled")
            except OSError as full:
                self.lost += len(clicks)
                _say(f"{len(clicks)} clicks could not be kept: {problem}; {full}")

    def _into_database(self, clicks: Sequence[Click]) -> None:
        with self._engine.begin() as connection:
            connection.execute(text("SET LOCAL statement_timeout = '10s'"))
            keep_clicks(connection, clicks)
        reach("click kept")

    def _drain(self) -> None:
        """Take the spool in; what was taken in and not yet struck off after a crash is known by its uid."""
        try:
            clicks = self._spool.clicks()
            if clicks:
                self._into_database(clicks)
            self._spool.clear()
        except Exception as problem:  # whatever it is, the thread goes on
            if not isinstance(problem, SQLAlchemyError | OSError):
                _say(f"clicks on disk could not be imported: {problem}")


class Spool:
    """Clicks on disk, a line each: a sum, a space, the click as JSON.

    Parameters
    ----------
    path : the file; lines in it that were cut short or altered are put aside beside it, never taken for clicks
    """

    def __init__(self, path: Path) -> None:
        self._path = path
        self.filled = path.exists()
        self._bad: list[str] = []

    def add(self, clicks: Iterable[Click]) -> None:
        """Put clicks on disk, flushed, before anybody is told."""
        lines = []
        for click in clicks:
            said = json.dumps(asdict(click))
            lines.append(f"{zlib.crc32(said.encode()):08x} {said}\n")
        fresh = not self._path.exists()
        # A line that a crash cut short must not swallow the next one.
        torn = not fresh and not _ends_with_newline(self._path)
        with self._path.open("a", encoding="utf-8") as file:
            file.write(("\n" if torn else "") + "".join(lines))
            file.flush()
            os.fsync(file.fileno())
        self.filled = True

    def clicks(self) -> list[Click]:
        """The clicks in it."""
        if not self._path.exists():
            return []
        good: list[Click] = []
        bad: list[str] = []
        for line in self._path.read_text(encoding="utf-8", errors="replace").splitlines():
            sum_, _, said = line.partition(" ")
            click = _click_of(said) if line and sum_ == f"{zlib.crc32(said.encode()):08x}" else None
            if click is not None:
                good.append(click)
            elif line.strip():
                bad.append(line + "\n")
        self._bad = bad
        return good

    def clear(self) -> None:
        """Take it away; what was in it is in the database, and what could not be read beside it."""
        if self._bad:
            aside = self._path.with_name(self._path.name + ".unread")
            with aside.open("a", encoding="utf-8") as file:
                file.writelines(self._bad)
            _say(f"{len(self._bad)} lines of {self._path.name} cannot be read and stand in {aside.name}")
            self._bad = []
        self._path.unlink(missing_ok=True)
        self.filled = False


def _click_of(said: str) -> Click | None:
    """The click of a line, also of one that an earlier or a later version wrote; None if it says too little."""
    try:
        record = json.loads(said)
        known = {name: value for name, value in record.items() if name in _FIELDS}
        datetime.fromisoformat(known["clicked_at"])
        return Click(**known) if all(isinstance(value, str) for value in known.values()) else None
    except (ValueError, TypeError, KeyError, AttributeError, RecursionError):
        return None


def _say(text: str) -> None:
    """Tell whoever runs the app; a log that takes nothing, as on a full disk, ends no thread."""
    with contextlib.suppress(OSError, ValueError):
        print(text, file=sys.stderr, flush=True)


def _ends_with_newline(path: Path) -> bool:
    with path.open("rb") as file:
        file.seek(0, os.SEEK_END)
        if file.tell() == 0:
            return True
        file.seek(-1, os.SEEK_END)
        return file.read(1) == b"\n"


def _settle(futures: list[asyncio.Future[None]]) -> None:
    for future in futures:
        if not future.done():
            future.set_result(None)


def keep_clicks(connection: Connection, clicks: Iterable[Click]) -> None:
    """Store clicks in the transaction of `connection`; those that are there already are left alone."""
    rows = [
        {
            "workspace": c.workspace,
            "code": c.code,
            "clicked_at": datetime.fromisoformat(c.clicked_at),
            "target": c.target,
            "referrer": c.referrer[:LONGEST].replace("\x00", ""),
            "agent": c.agent[:LONGEST].replace("\x00", ""),
            "uid": c.uid,
        }
        for c in clicks
    ]
    named = select(Workspace.name, Workspace.id).where(Workspace.name.in_({r["workspace"] for r in rows}))
    known = {row.name: row.id for row in connection.execute(named)}
    kept = [r | {"workspace_id": known[str(r.pop("workspace"))]} for r in rows if r["workspace"] in known]
    if kept:
        connection.execute(insert(ShortClick).on_conflict_do_nothing(index_elements=["uid"]), kept)


@dataclass(frozen=True)
class Clicked:
    """Clicks on one short link."""

    code: str
    clicks: int
    first: datetime
    last: datetime


def clicks_by_code(connection: Connection, workspace: int, test_parameter: str = "") -> list[Clicked]:
    """How often each short link was clicked, and when first and last.

    Parameters
    ----------
    connection, workspace : whose
    test_parameter : clicks that carry it are tests, and none of them (R9)
    """
    real = _real(test_parameter)
    found = connection.execute(
        select(ShortClick.code, func.count(), func.min(ShortClick.clicked_at), func.max(ShortClick.clicked_at))
        .where(ShortClick.workspace_id == workspace, real)
        .group_by(ShortClick.code)
        .order_by(ShortClick.code)
    )
    return [Clicked(*row) for row in found]


def clicked_codes(connection: Connection, workspace: int, codes: Collection[str], test_parameter: str = "") -> set[str]:
    """Those of some short codes that somebody clicked on. See `clicks_by_code`."""
    if not codes:
        return set()
    found = (
        select(ShortClick.code)
        .where(ShortClick.workspace_id == workspace, ShortClick.code.in_(list(codes)), _real(test_parameter))
        .distinct()
    )
    return set(connection.execute(found).scalars())


def _real(test_parameter: str) -> ColumnElement[bool]:
    if not test_parameter:
        return true()
    name = re.escape(quote(test_parameter, safe=""))
    return ShortClick.target.op("!~*")(f"[?&]{name}(=|&|#|$)")
