"""Clicks on short links: on record before the visitor is sent on, many in one transaction."""

from __future__ import annotations

import asyncio
import json
import os
import threading
from collections.abc import Iterable
from dataclasses import asdict, dataclass
from datetime import datetime
from pathlib import Path

from sqlalchemy import Connection, Engine, func, insert, select

from .database import AWAY
from .models import ShortClick

LONGEST = 1_000


@dataclass(frozen=True)
class Click:
    """One click on a short link."""

    code: str
    clicked_at: str
    target: str
    referrer: str = ""
    agent: str = ""


class ClickRecorder:
    """Records clicks from one thread, all that wait in one transaction, and tells each waiter when it is safe.

    Parameters
    ----------
    engine : the database
    workspace : id
    spool : a file for clicks that come while the database is away; taken in at the next start
    """

    def __init__(self, engine: Engine, workspace: int, spool: Path) -> None:
        self._engine, self._workspace, self._spool = engine, workspace, spool
        self._waiting: list[tuple[Click, asyncio.AbstractEventLoop, asyncio.Future[None]]] = []
        self._lock, self._some = threading.Lock(), threading.Event()
        self._closing = False
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

    def _run(self) -> None:
        while True:
            self._some.wait()
            self._some.clear()
            with self._lock:
                batch, self._waiting = self._waiting, []
            if batch:
                self._keep([click for click, _, _ in batch])
                for loop in {loop for _, loop, _ in batch}:
                    mine = [future for _, at, future in batch if at is loop]
                    loop.call_soon_threadsafe(_settle, mine)
            elif self._closing:
                return

    def _keep(self, clicks: list[Click]) -> None:
        try:
            with self._engine.begin() as connection:
                keep_clicks(connection, self._workspace, clicks)
        except AWAY:
            with self._spool.open("a", encoding="utf-8") as file:
                file.writelines(json.dumps(asdict(click)) + "\n" for click in clicks)
                file.flush()
                os.fsync(file.fileno())


def _settle(futures: list[asyncio.Future[None]]) -> None:
    for future in futures:
        if not future.done():
            future.set_result(None)


def keep_clicks(connection: Connection, workspace: int, clicks: Iterable[Click]) -> None:
    """Store clicks in the transaction of `connection`."""
    rows = [
        {
            "workspace_id": workspace,
            "code": c.code,
            "clicked_at": datetime.fromisoformat(c.clicked_at),
            "target": c.target,
            "referrer": c.referrer[:LONGEST].replace("\x00", ""),
            "agent": c.agent[:LONGEST].replace("\x00", ""),
        }
        for c in clicks
    ]
    connection.execute(insert(ShortClick), rows)


def take_in_spool(engine: Engine, workspace: int, spool: Path) -> int:
    """Store clicks that came while the database was away. Returns how many."""
    if not spool.exists():
        return 0
    clicks = [Click(**json.loads(line)) for line in spool.read_text(encoding="utf-8").splitlines() if line.strip()]
    if clicks:
        with engine.begin() as connection:
            keep_clicks(connection, workspace, clicks)
    spool.unlink()
    return len(clicks)


@dataclass(frozen=True)
class Clicked:
    """Clicks on one short link."""

    code: str
    clicks: int
    first: datetime
    last: datetime


def clicks_by_code(connection: Connection, workspace: int) -> list[Clicked]:
    """How often each short link was clicked, and when first and last."""
    found = connection.execute(
        select(ShortClick.code, func.count(), func.min(ShortClick.clicked_at), func.max(ShortClick.clicked_at))
        .where(ShortClick.workspace_id == workspace)
        .group_by(ShortClick.code)
        .order_by(ShortClick.code)
    )
    return [Clicked(*row) for row in found]
