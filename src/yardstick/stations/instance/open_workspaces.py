"""All workspaces of one instance: opened when they are first asked for, each with its stations."""

from __future__ import annotations

import re
import threading
import time
from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path

from sqlalchemy import Engine, select

from yardstick.core.base.errors import SettingsError
from yardstick.store.database import AWAY
from yardstick.store.models import Workspace

from ..gather.keep_job import Loader
from ..mark.edit_sheet import Sheets
from ..mark.place_links import Placing
from ..weigh.weigh_board import Weighing
from ..workspace.desk import Desk, current_user, now
from ..workspace.refusals import NotFound

MOST_OPEN, IDLE_S = 8, 900.0
"""So many workspaces stay open; of others those that nobody asked for so long are given back."""
NAME = re.compile(r"[a-z0-9][a-z0-9-]{0,39}")


@dataclass(frozen=True)
class AtWork:
    """A workspace with its stations: what changes it, what only reads its snapshots, its link sheet."""

    desk: Desk
    loader: Loader
    weighing: Weighing
    sheets: Sheets
    placing: Placing


@dataclass
class Workspaces:
    """The workspaces of one instance.

    Parameters
    ----------
    engine : the database they share
    home : the app's data folder
    clock : gives the present instant, microseconds since 1970 in UTC
    user : who makes changes
    resolve : host -> host:port for test visits, where a stand-in takes a host's place
    links_changed : called with the name of a workspace after every change of its sheet or plan
    """

    engine: Engine
    home: Path
    clock: Callable[[], int] = now
    user: str = field(default_factory=current_user)
    resolve: Mapping[str, str] = field(default_factory=dict)
    links_changed: Callable[[str], None] = lambda _: None
    _opened: dict[str, AtWork] = field(init=False, default_factory=dict)
    _locks: dict[str, threading.Lock] = field(init=False, default_factory=dict)
    _lock: threading.Lock = field(init=False, default_factory=threading.Lock)
    _asked_at: dict[str, float] = field(init=False, default_factory=dict)
    _known: set[str] = field(init=False, default_factory=set)
    _listed: bool = field(init=False, default=False)

    def names(self) -> list[str]:
        """Names of all workspaces in order; those on disk while the database is away."""
        try:
            with self.engine.connect() as connection:
                found = set(connection.execute(select(Workspace.name)).scalars())
            self._known |= found
            self._listed = True
        except AWAY:
            folder = self.home / "snapshots"
            on_disk = {p.name for p in folder.iterdir() if p.is_dir()} if folder.is_dir() else set()
            self._known |= {name for name in on_disk if NAME.fullmatch(name)}
        return sorted(self._known | set(self._opened))

    def make(self, name: str) -> AtWork:
        """A workspace, a new one if there is none of that name.

        Raises
        ------
        SettingsError
            If the name is none.
        """
        if not NAME.fullmatch(name):
            raise SettingsError(f"{name[:60]!r} is not a valid workspace name: use small letters, digits and hyphens")
        self._known.add(name)
        at_work = self.at(name)
        with suppress(*AWAY):
            # On record at once, so that everybody sees it.
            _ = at_work.desk.workspace
        return at_work

    def at(self, name: str) -> AtWork:
        """A workspace, opened if it is not yet.

        Raises
        ------
        NotFound
            If there is none of that name.
        """
        self._asked_at[name] = time.monotonic()
        found = self._opened.get(name)
        if found is not None:
            found.desk.catch_up()
            return found
        if name not in self._known and name not in self.names():
            self._asked_at.pop(name, None)
            raise NotFound(f"there is no workspace {name[:60]!r}: see the list of workspaces")
        with self._lock:
            lock = self._locks.setdefault(name, threading.Lock())
        # Opening one never holds up another.
        with lock:
            found = self._opened.get(name)
            if found is None:
                found = self._opened[name] = self._open(name)
        self._give_back()
        return found

    def _give_back(self) -> None:
        """Close workspaces that nobody has asked for a while and that have no work to do, if many are open."""
        with self._lock:
            by_age = sorted(self._opened, key=lambda name: self._asked_at.get(name, 0.0))
            for name in by_age[: max(0, len(by_age) - MOST_OPEN)]:
                idle = time.monotonic() - self._asked_at.get(name, 0.0) > IDLE_S
                if idle and not self._opened[name].loader.busy:
                    self._opened.pop(name).loader.close()

    def _open(self, name: str) -> AtWork:
        desk = Desk(self.engine, self.home, name, self.clock, self.user)
        # Without the database Weigh still answers from the snapshot; the health check says that it is away.
        with suppress(*AWAY):
            desk.wake()
        sheets = Sheets(desk)
        placing = Placing(desk, sheets, self.resolve)
        sheets.when_changed(lambda: self.links_changed(name))
        return AtWork(desk, Loader(desk), Weighing(desk.snapshots, desk.refresh), sheets, placing)

    @property
    def opened(self) -> list[str]:
        """Names of the workspaces that are open."""
        return list(self._opened)

    def behind(self) -> dict[str, str]:
        """Of workspaces that are open, why the figures of some are not those of what was kept."""
        return {name: one.desk.behind for name, one in sorted(self._opened.items()) if one.desk.behind}

    def close(self) -> None:
        """End all work in order."""
        for at_work in self._opened.values():
            at_work.loader.close()
        self.engine.dispose()
