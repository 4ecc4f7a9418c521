"""A workspace at hand: its database, its snapshots, its uploads. Every station works at one."""

from __future__ import annotations

import getpass
import os
import shutil
import threading
import time
import traceback
from collections.abc import Callable, Collection
from contextlib import AbstractContextManager, suppress
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property
from pathlib import Path

from sqlalchemy import Connection, Engine, create_engine, select
from sqlalchemy.dialects.postgresql import insert

from yardstick.core.base.day_numbers import EPOCH
from yardstick.core.base.days import day_at
from yardstick.core.base.tables import Tables
from yardstick.core.plan.plan import Plan
from yardstick.store import jobs
from yardstick.store.database import AWAY, begin, end_backends
from yardstick.store.models import Workspace
from yardstick.store.rebuilding import rebuild_part
from yardstick.store.snapshots import Current, PartsMissing, Snapshots, TableState
from yardstick.store.states import (
    LoadCame,
    LoadThere,
    all_loads,
    change_behind,
    last_change,
    loads_after,
    loads_came,
    rejected_rows,
    remember_state,
)
from yardstick.store.steps import reach

from .arrived import LinkArrivals
from .kept_plans import KeptPlan, PlanBook, figures_plan, text_with_prices
from .reading_now import ReadingsNow
from .unnamed_state import UnnamedState

RETRY_S = 5.0
"""How long nobody tries again to work out a state that cannot be."""
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
    behind : why the figures are not those of what was kept; empty where they are
    """

    engine: Engine
    home: Path
    name: str
    clock: Callable[[], int] = now
    user: str = field(default_factory=current_user)
    snapshots: Snapshots = field(init=False)
    uploads: Path = field(init=False)
    arrivals: LinkArrivals = field(init=False)
    refreshed: list[Callable[[], None]] = field(init=False, default_factory=list)
    behind: str = field(init=False, default="")
    _retry_at: float = field(init=False, default=0.0)
    _refreshing: threading.Lock = field(init=False, default_factory=threading.Lock)

    def __post_init__(self) -> None:
        self.snapshots = Snapshots(self.home / "snapshots" / self.name)
        self.arrivals = LinkArrivals(self)
        self.readings = ReadingsNow()
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

    def end_backends(self) -> None:
        """End all connections to the database; for tests that cut the app off."""
        end_backends(create_engine(self.engine.url))

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
        """Work out what stands now and put that state on record."""
        current = self._renew()
        for tell in self.refreshed:
            tell()
        return current

    def settle(self) -> None:
        """Work out what stands after a change that is kept already: whatever happens here, it stays kept."""
        self.behind = "they are being worked out"
        # Always: that others, who began before this change, are done meanwhile says nothing of it.
        self._work_out()
        for tell in self.refreshed:
            tell()

    def catch_up(self) -> None:
        """Work out what stands if that failed after the last change; until then the board shows the state before, and
        says so."""
        if self.behind and time.monotonic() >= self._retry_at:
            self._work_out()

    def _work_out(self) -> None:
        try:
            self._renew()
        except AWAY:
            # Made up for at the next question.
            self.behind = "the database does not answer"
        except Exception as problem:  # a change that is kept stays kept, and its workspace can be looked at and mended
            self.behind = f"they cannot be worked out ({_reason(problem)})"
            self._retry_at = time.monotonic() + RETRY_S
            if not isinstance(problem, OSError):
                traceback.print_exc()

    def _renew(self) -> Current:
        # One at a time, so that the pointer never goes back to an older state.
        with self._refreshing, self.engine.begin() as connection:
            current = self._state_after(connection, last_change(connection, self.workspace))
            if current.change:
                remember_state(connection, self.workspace, current.change, current.data)
            reach("state worked out", self.end_backends)
            published = self.snapshots.publish(current)
            reach("state published", self.end_backends)
        self.behind = ""
        return published

    def fingerprint_in(self, connection: Connection) -> str:
        """The data fingerprint of what stands in an open transaction."""
        return self._state_after(connection, last_change(connection, self.workspace)).data

    def _state_after(self, connection: Connection, change: int) -> Current:
        """The state after a change; parts that are missing are made anew."""
        return self._named(connection, self._unnamed_after(connection, change))

    def _unnamed_after(self, connection: Connection, change: int) -> UnnamedState:
        kept, prices = self._book.priced(connection, change)
        loads = loads_after(connection, self.workspace, change)
        rejected = rejected_rows(connection, self.workspace, [load.load for load in loads])
        return UnnamedState(change, kept, prices, tuple(loads), rejected)

    def _named(self, connection: Connection, state: UnnamedState) -> Current:
        zone, loads = state.kept.plan.reading.time_zone, list(state.loads)
        try:
            data, origin = self.snapshots.names(loads, state.rejected, zone)
        except PartsMissing as missing:
            for load in missing.loads:
                rebuild_part(connection, load, zone, self.snapshots.parts)
            data, origin = self.snapshots.names(loads, state.rejected, zone)
        return Current(
            data=data,
            origin=origin,
            change=state.change,
            settings=state.kept.text,
            prices=state.prices,
            loads=state.loads,
        )

    def state_in(self, connection: Connection) -> UnnamedState:
        """What stands in an open transaction."""
        return self._unnamed_after(connection, last_change(connection, self.workspace))

    def named(self, state: UnnamedState) -> Current:
        """A state with the names of its rows; parts that are missing, as in another time zone, are made."""
        with self.engine.connect() as connection:
            return self._named(connection, state)

    def wake(self) -> None:
        """After a start: say which work was cut off, and work out the state if it is behind, missing or damaged.

        A workspace whose state cannot be worked out is open all the same: its loads can be looked at and undone.
        """
        jobs.close_interrupted(self.engine, self.workspace)
        self.sweep_uploads()
        with self.engine.connect() as connection:
            change = last_change(connection, self.workspace)
            self.snapshots.sweep(all_loads(connection, self.workspace))
        if self._is_behind(change):
            self.settle()

    def _is_behind(self, change: int) -> bool:
        try:
            current = self.snapshots.current()
            return current is None or current.change != change or not self._whole(current)
        except Exception:  # what cannot be read is made anew
            return True

    def sweep_uploads(self) -> None:
        """Throw away uploads that were rehearsed but never kept, a day after; an app that runs for months has them,
        too."""
        for folder in self.uploads.iterdir():
            with suppress(FileNotFoundError):
                if time.time() - folder.stat().st_mtime > UPLOAD_AGE_S:
                    shutil.rmtree(folder, ignore_errors=True)

    def _whole(self, current: Current) -> bool:
        try:
            self.snapshots.state(current.loads, self.snapshots.plan(current).reading.time_zone)
        except PartsMissing:
            return False
        return True

    def states(self) -> dict[str, TableState]:
        """Which rows stand now, by table. Damaged parts are made anew."""
        current = self.snapshots.current()
        if current is None or not current.loads:
            return {}
        zone = self.snapshots.plan(current).reading.time_zone
        try:
            return self.snapshots.state(current.loads, zone)
        except PartsMissing:
            return self.snapshots.state(self.refresh().loads, zone)

    def loads(self) -> tuple[LoadThere, ...]:
        """The loads whose rows stand."""
        current = self.snapshots.current()
        return current.loads if current is not None else ()

    def tables(self) -> Tables | None:
        """The rows of the current state; None before anything was loaded. Damaged parts are made anew."""
        current = self.snapshots.current()
        if current is None or not current.change:
            return None
        try:
            return self.snapshots.read(current)
        except PartsMissing:
            return self.snapshots.read(self.refresh())

    def loads_came(self, loads: Collection[int]) -> dict[int, LoadCame]:
        """When loads of rows came, by their numbers."""
        with self.engine.connect() as connection:
            return loads_came(connection, self.workspace, loads)

    def rebuild(self, fingerprint: str) -> tuple[Tables, Plan] | None:
        """The tables and the plan behind an earlier data fingerprint, from the raw rows; None if none was."""
        with self.engine.connect() as connection:
            change = change_behind(connection, self.workspace, fingerprint)
            if change is None:
                return None
            plan = figures_plan(*self._book.priced(connection, change))
            current = self._state_after(connection, change)
        if current.data != fingerprint:
            raise RuntimeError(
                f"the rows behind {fingerprint} give another fingerprint: the database was altered by hand"
            )
        return self.snapshots.read(current), plan


def _reason(problem: Exception) -> str:
    if isinstance(problem, OSError):
        return problem.strerror or type(problem).__name__
    return str(problem)[:300] or type(problem).__name__
