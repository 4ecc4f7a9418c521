"""A workspace at hand: its database, its snapshots, its uploads. Every station works at one."""

from __future__ import annotations

import shutil
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date
from pathlib import Path

from sqlalchemy import Connection, Engine, select
from sqlalchemy.dialects.postgresql import insert

from yardstick.core.days import EPOCH, day_at
from yardstick.core.fingerprint import fingerprint_of_data
from yardstick.core.settings import Settings
from yardstick.core.tables import Tables
from yardstick.formats.link_prices import with_link_prices
from yardstick.formats.settings_toml import read_settings
from yardstick.store import jobs
from yardstick.store.links import rows_after
from yardstick.store.models import Workspace
from yardstick.store.snapshots import Current, Snapshots
from yardstick.store.states import (
    change_behind,
    last_change,
    remember_state,
    settings_text,
    subjects_between,
    tables_after,
)

UPLOAD_AGE_S = 86_400
"""Uploads that were rehearsed but never kept are thrown away after a day."""


def now() -> int:
    """The present instant, microseconds since 1970 in UTC."""
    return time.time_ns() // 1_000


@dataclass
class Desk:
    """A workspace at hand.

    Attributes
    ----------
    engine : the database
    home : the app's data folder
    name : the workspace's name
    clock : gives the present instant, microseconds since 1970 in UTC; days are made of it in the workspace's zone
    refreshed : called after every change of rows or settings
    """

    engine: Engine
    home: Path
    name: str
    clock: Callable[[], int] = now
    snapshots: Snapshots = field(init=False)
    uploads: Path = field(init=False)
    refreshed: list[Callable[[], None]] = field(init=False, default_factory=list)
    _id: int | None = field(init=False, default=None)
    _refreshing: threading.Lock = field(init=False, default_factory=threading.Lock)

    def __post_init__(self) -> None:
        self.snapshots = Snapshots(self.home / "snapshots" / self.name)
        self.uploads = self.home / "uploads" / self.name
        self.uploads.mkdir(parents=True, exist_ok=True)

    @property
    def workspace(self) -> int:
        """Id of the workspace, made on first use."""
        if self._id is None:
            with self.engine.begin() as connection:
                connection.execute(insert(Workspace).values(name=self.name).on_conflict_do_nothing())
                self._id = connection.execute(select(Workspace.id).where(Workspace.name == self.name)).scalar_one()
        return self._id

    def today(self, zone: str) -> date:
        """The present day in a time zone."""
        return date.fromordinal(EPOCH.toordinal() + day_at(self.clock(), zone))

    def settings(self) -> Settings:
        """The workspace's settings as they stand now, from the database."""
        with self.engine.connect() as connection:
            text = settings_text(connection, self.workspace, last_change(connection, self.workspace))
        return read_settings(text.encode())

    def figures_text(self, connection: Connection, after: int) -> str:
        """The settings as they stood after a change, with the prices of the link sheet: all that changes figures."""
        text = settings_text(connection, self.workspace, after)
        rows = [row.cells for row in rows_after(connection, self.workspace, after)]
        return with_link_prices(text, rows)

    def refresh(self) -> Current:
        """Rebuild the snapshot from the raw rows and put the state behind it on record."""
        current = self._renew()
        for tell in self.refreshed:
            tell()
        return current

    def _renew(self) -> Current:
        # One at a time, so that the pointer never goes back to an older state.
        with self._refreshing, self.engine.begin() as connection:
            change = last_change(connection, self.workspace)
            text = self.figures_text(connection, change)
            zone = read_settings(text.encode()).time_zone
            current = self._only_settings_changed(connection, change, text, zone)
            if current is not None:
                remember_state(connection, self.workspace, change, current.data)
                return current
            tables = tables_after(connection, self.workspace, change, zone)
            current = self.snapshots.publish(tables, change, text)
            if change:
                remember_state(connection, self.workspace, change, current.data)
        return current

    def _only_settings_changed(self, connection: Connection, change: int, text: str, zone: str) -> Current | None:
        """The same data under new settings, where no row changed nor how its times are read."""
        before = self.snapshots.current()
        if before is None or read_settings(before.settings.encode()).time_zone != zone:
            return None
        if subjects_between(connection, self.workspace, before.change, change) - {"settings", "links"}:
            return None
        return self.snapshots.repoint(Current(before.data, change, text))

    def wake(self) -> None:
        """After a start: say which work was cut off, and rebuild the snapshot if it is behind or missing."""
        jobs.close_interrupted(self.engine, self.workspace)
        for folder in self.uploads.iterdir():
            if time.time() - folder.stat().st_mtime > UPLOAD_AGE_S:
                shutil.rmtree(folder, ignore_errors=True)
        current = self.snapshots.current()
        with self.engine.connect() as connection:
            change = last_change(connection, self.workspace)
        if current is None or current.change != change:
            self.refresh()

    def rebuild(self, fingerprint: str) -> tuple[Tables, Settings] | None:
        """The tables and settings behind an earlier data fingerprint, from the raw rows; None if none was."""
        with self.engine.connect() as connection:
            change = change_behind(connection, self.workspace, fingerprint)
            if change is None:
                return None
            settings = read_settings(self.figures_text(connection, change).encode())
            tables = tables_after(connection, self.workspace, change, settings.time_zone)
        if fingerprint_of_data(tables) != fingerprint:
            raise RuntimeError(
                f"the rows behind {fingerprint} give another fingerprint: the database was altered by hand"
            )
        return tables, settings
