"""A workspace at hand: its database, its snapshots, its uploads. Every station works at one."""

from __future__ import annotations

import getpass
import os
import shutil
import threading
import time
from collections.abc import Callable
from contextlib import AbstractContextManager
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property
from pathlib import Path

from sqlalchemy import Connection, Engine, select
from sqlalchemy.dialects.postgresql import insert

from yardstick.core.base.days import EPOCH, day_at
from yardstick.core.base.tables import Tables
from yardstick.core.plan.plan import Plan
from yardstick.core.report.fingerprint import fingerprint_of_data
from yardstick.store import jobs
from yardstick.store.database import begin
from yardstick.store.models import Workspace
from yardstick.store.snapshots import Current, Snapshots
from yardstick.store.states import change_behind, last_change, remember_state, subjects_between, tables_after

from .plans import KeptPlan, PlanBook, figures_plan, text_with_prices

UPLOAD_AGE_S = 86_400
"""Uploads that were rehearsed but never kept are thrown away after a day."""


def now() -> int:
    """The present instant, microseconds since 1970 in UTC."""
    return time.time_ns() // 1_000


def current_user() -> str:
    """Who makes changes until people can sign in: `YARDSTICK_USER`, else the operating system's user."""
    said = os.environ.get("YARDSTICK_USER", "").strip()
    if said:
        return said
    try:
        return getpass.getuser()
    except (KeyError, OSError):
        return f"user {os.getuid()}"


@dataclass
class Desk:
    """A workspace at hand.

    Attributes
    ----------
    engine : the database
    home : the app's data folder
    name : the workspace's name
    clock : gives the present instant, microseconds since 1970 in UTC; days are made of it in the workspace's zone
    user : who makes the changes
    refreshed : called after every change of rows or settings
    """

    engine: Engine
    home: Path
    name: str
    clock: Callable[[], int] = now
    user: str = field(default_factory=current_user)
    snapshots: Snapshots = field(init=False)
    uploads: Path = field(init=False)
    refreshed: list[Callable[[], None]] = field(init=False, default_factory=list)
    _refreshing: threading.Lock = field(init=False, default_factory=threading.Lock)

    def __post_init__(self) -> None:
        self.snapshots = Snapshots(self.home / "snapshots" / self.name)
        self.uploads = self.home / "uploads" / self.name
        self.uploads.mkdir(parents=True, exist_ok=True)

    @cached_property
    def workspace(self) -> int:
        """Id of the workspace, made on first use."""
        with self.engine.begin() as connection:
            connection.execute(insert(Workspace).values(name=self.name).on_conflict_do_nothing())
            return int(connection.execute(select(Workspace.id).where(Workspace.name == self.name)).scalar_one())

    @cached_property
    def _book(self) -> PlanBook:
        return PlanBook(self.workspace)

    def begin(self) -> AbstractContextManager[Connection]:
        """A transaction whose changes are put down to this desk's user."""
        return begin(self.engine, self.user)

    def today(self, zone: str) -> date:
        """The present day in a time zone."""
        return date.fromordinal(EPOCH.toordinal() + day_at(self.clock(), zone))

    def kept_plan(self, connection: Connection | None = None, after: int | None = None) -> KeptPlan:
        """The plan as it was kept, without what the link sheet adds.

        Parameters
        ----------
        connection : one that is open, if there is one
        after : id of the change after which it stood; None = now
        """
        if connection is None:
            with self.engine.connect() as opened:
                return self.kept_plan(opened, after)
        last = last_change(connection, self.workspace) if after is None else after
        return self._book.at(connection, last)

    def plan(self) -> Plan:
        """The plan as it was kept."""
        return self.kept_plan().plan

    def settings_text(self) -> str:
        """The settings as TOML with the prices of the link sheet: all that changes figures, for the command line."""
        with self.engine.connect() as connection:
            return text_with_prices(*self._book.priced(connection, last_change(connection, self.workspace)))

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
            kept, prices = self._book.priced(connection, change)
            text, zone = kept.document.text(), kept.plan.reading.time_zone
            current = self._only_settings_changed(connection, Current("", change, text, prices), zone)
            if current is None:
                tables = tables_after(connection, self.workspace, change, zone)
                current = self.snapshots.publish(tables, change, text, prices)
            if change:
                remember_state(connection, self.workspace, change, current.data)
        return current

    def _only_settings_changed(self, connection: Connection, now: Current, zone: str) -> Current | None:
        """The same data under new settings, where no row changed nor how its times are read."""
        before = self.snapshots.current()
        if before is None or self.snapshots.plan(before).reading.time_zone != zone:
            return None
        if subjects_between(connection, self.workspace, before.change, now.change) - {"settings", "links"}:
            return None
        return self.snapshots.repoint(Current(before.data, now.change, now.settings, now.prices))

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

    def rebuild(self, fingerprint: str) -> tuple[Tables, Plan] | None:
        """The tables and the plan behind an earlier data fingerprint, from the raw rows; None if none was."""
        with self.engine.connect() as connection:
            change = change_behind(connection, self.workspace, fingerprint)
            if change is None:
                return None
            plan = figures_plan(*self._book.priced(connection, change))
            tables = tables_after(connection, self.workspace, change, plan.reading.time_zone)
        if fingerprint_of_data(tables) != fingerprint:
            raise RuntimeError(
                f"the rows behind {fingerprint} give another fingerprint: the database was altered by hand"
            )
        return tables, plan
