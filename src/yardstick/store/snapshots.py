"""The snapshot: what a workspace says now, as a list of parts on disk less the rows that do not stand.

Every question on screen is answered from it, so a question never touches the database. It is safe to delete: parts are
rebuilt from the raw rows, and a damaged one is never read.
"""

from __future__ import annotations

import json
import threading
from collections.abc import Hashable, Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
import pyarrow as pa

from yardstick.core.base.columns import Text
from yardstick.core.base.schema import SCHEMA
from yardstick.core.base.tables import Table, Tables
from yardstick.core.plan.plan import Plan
from yardstick.core.report.fingerprint import RULES_VERSION, name_of
from yardstick.formats.cells.row_hashes import Words
from yardstick.formats.plan.link_prices import with_link_prices
from yardstick.formats.plan.settings_toml import read_settings
from yardstick.formats.rows.arrow_tables import table_of
from yardstick.formats.rows.keyed import GROUPED, Keys, ResolvedRows, all_new, contributed, resolve_versions, sum_of
from yardstick.formats.rows.origins import FileRows, origin_of

from .parts import PartFacts, Parts, StoredPart, keys_of_parts
from .states import LoadThere
from .whole_files import read_whole, write_whole

Flags = npt.NDArray[np.bool_]


class PartsMissing(LookupError):
    """Parts that a state needs are missing or damaged; they have to be rebuilt from the raw rows.

    Attributes
    ----------
    loads : whose parts they are
    """

    def __init__(self, loads: Sequence[LoadThere]) -> None:
        super().__init__("rows on disk are missing or damaged: start the app again while the database is up")
        self.loads = tuple(loads)


@dataclass(frozen=True)
class Current:
    """What a workspace says now.

    Attributes
    ----------
    data, origin : the names of its rows, and of where they came from (R27)
    change : the change it was taken after
    settings : as TOML, as they were kept
    prices : rows of the link sheet that state a price per click
    loads : loads whose rows it is made of, in their order
    """

    data: str
    origin: str
    change: int
    settings: str
    prices: tuple[Mapping[str, str], ...] = ()
    loads: tuple[LoadThere, ...] = ()


@dataclass(frozen=True)
class TableState:
    """The rows of one table in a state: its parts, their hashes end to end, and which rows stand."""

    parts: tuple[StoredPart, ...]
    keys: Keys
    standing: ResolvedRows


@dataclass(frozen=True)
class _Latest:
    """The state that was worked out last."""

    loads: tuple[LoadThere, ...]
    zone: str
    tables: dict[str, TableState]

    def begins(self, loads: Sequence[LoadThere], zone: str) -> bool:
        """Whether others are these loads and further ones."""
        return self.zone == zone and tuple(loads[: len(self.loads)]) == self.loads


@dataclass(frozen=True)
class _Made:
    """A table of the core, and the rows it was made of."""

    parts: tuple[PartFacts, ...]
    counts: Flags
    table: Table


class Snapshots:
    """The state of one workspace on disk.

    Parameters
    ----------
    folder : where it lies; made if missing
    """

    def __init__(self, folder: Path) -> None:
        self._pointer = folder / "current.json"
        self._plans: tuple[tuple[tuple[str, str], Plan], ...] = ()
        self._latest: _Latest | None = None
        self._tables: dict[str, _Made] = {}
        self._hashes: dict[Hashable, bytes] = {}
        self._lock, self._reading = threading.Lock(), threading.Lock()
        folder.mkdir(parents=True, exist_ok=True)
        self.parts = Parts(folder / "parts")

    def current(self) -> Current | None:
        """What the workspace says now; None if that is not known on disk, or not to be trusted."""
        content = read_whole(self._pointer)
        if content is None:
            return None
        said = json.loads(content)
        if said.pop("rules") != RULES_VERSION or "origin" not in said:
            return None
        loads = tuple(LoadThere(**load) for load in said.pop("loads"))
        return Current(**said | {"prices": tuple(said["prices"]), "loads": loads})

    def plan(self, current: Current) -> Plan:
        """The plan of a state, read once for as long as it stays the same."""
        key = (current.settings, json.dumps(current.prices))
        # Two: that of what stands, and of what is tried.
        found = next((plan for known, plan in self._plans if known == key), None)
        if found is None:
            found = with_link_prices(read_settings(current.settings.encode()), current.prices)
        self._plans = ((key, found), *(one for one in self._plans if one[0] != key))[:2]
        return found

    def publish(self, current: Current) -> Current:
        """Make a state the current one, in one step that either happens or does not."""
        write_whole(self._pointer, json.dumps(asdict(current) | {"rules": RULES_VERSION}).encode())
        return current

    def names(self, loads: Sequence[LoadThere], rejected: Sequence[tuple[str, int, str]], zone: str) -> tuple[str, str]:
        """The names of the rows of loads, and of where they came from (R27).

        Parameters
        ----------
        loads : that stand
        rejected : (file, line, digest) of their rejected rows
        zone : see `state`

        Raises
        ------
        PartsMissing
            If a part has to be rebuilt first.
        """
        total, rows = sum(int(digest, 16) for digest in {digest for _, _, digest in rejected}), []
        for state in self.state(loads, zone).values():
            content = contributed(state.keys.digest, state.standing.ordinal)
            total += sum_of(_those(content, state.standing.counts))
            rows += _rows_of(state, content)
        names = {(one.file, one.key) for one in rows}
        kept: dict[Hashable, bytes] = {name: known for name, known in self._hashes.items() if name in names}
        origin = origin_of([(load.file, load.lines) for load in loads], rows, rejected, kept)
        self._hashes = kept
        return name_of(total), origin

    def state(self, loads: Sequence[LoadThere], zone: str) -> dict[str, TableState]:
        """Which rows of loads stand, by table; worked out once per state.

        Raises
        ------
        PartsMissing
            If a part has to be rebuilt first.
        """
        with self._lock:
            latest = self._latest
        if latest is None or (latest.loads, latest.zone) != (tuple(loads), zone):
            before = latest if latest is not None and latest.begins(loads, zone) else None
            # A state that does not go on in this one is let go of: hashes of millions of rows are not held twice.
            latest = self._latest = None
            latest = _Latest(tuple(loads), zone, self._work_out(loads, zone, before))
            with self._lock:
                self._latest = latest
        return latest.tables

    def _work_out(self, loads: Sequence[LoadThere], zone: str, before: _Latest | None) -> dict[str, TableState]:
        opened = {load.load: self.parts.open(load.load, load.zone or zone) for load in loads}
        missing = [load for load in loads if opened[load.load] is None]
        if missing:
            raise PartsMissing(missing)
        # Numbers of sets of files in the order in which they count.
        rank: dict[int, int] = {}
        for load in loads:
            rank.setdefault(load.batch_number, len(rank))
        out = {}
        for name in SCHEMA:
            mine = [(load, part) for load in loads if load.table == name and (part := opened[load.load]) is not None]
            if mine:
                parts = tuple(part for _, part in mine)
                numbers = [(rank[load.batch_number], part.facts.rows) for load, part in mine]
                known = None if before is None else before.tables.get(name)
                out[name] = _table_state(name, parts, numbers, known)
        return out

    def read(self, current: Current) -> Tables:
        """The tables of a state, mapped from disk as far as they can be.

        Raises
        ------
        PartsMissing
            If a part has to be rebuilt first.
        """
        zone = self.plan(current).reading.time_zone
        states = self.state(current.loads, zone)
        with self._reading:
            before, self._tables = self._tables, {}
            made = {name: _made(name, state, before.pop(name, None)) for name, state in states.items()}
            self._tables = made
        found = {name: one.table for name, one in made.items()}
        return Tables(**found, data=current.data, origin=current.origin)

    def sweep(self, known: set[int]) -> None:
        """Take away what no load needs."""
        self.parts.sweep(known)


def _table_state(
    name: str, parts: tuple[StoredPart, ...], numbers: Sequence[tuple[int, int]], before: TableState | None
) -> TableState:
    """Which rows of parts stand.

    Parameters
    ----------
    numbers : (set of files, rows) of each part
    before : the state of the first of them, if it is at hand
    """
    if before is not None and len(before.parts) == len(parts):
        return before
    if before is not None and name not in GROUPED:
        more = keys_of_parts(parts[len(before.parts) :])
        if all_new(before.keys, more):
            standing = before.standing.followed_by(len(more))
            return TableState(parts, Keys.join([before.keys, more]), standing)
    keys = keys_of_parts(parts)
    number = np.repeat([n for n, _ in numbers], [rows for _, rows in numbers])
    return TableState(parts, keys, resolve_versions(name, keys, number))


def _rows_of(state: TableState, content: Words) -> list[FileRows]:
    out, start = [], 0
    for part in state.parts:
        stop = start + part.facts.rows
        given = state.standing.given[start:stop]
        rows = part.rows.select(["line", "plain_times"])
        if not given.all():
            rows = rows.filter(pa.array(given))
        whole = given.all() and not state.standing.ordinal[start:stop].any()
        key = (part.facts.load, part.facts.crc) if whole else None
        said = _those(content[start:stop], given)
        out.append(FileRows(part.facts.file, said, _lines(rows), rows["plain_times"], key))
        start = stop
    return out


def _those(content: Words, chosen: Flags) -> Words:
    return content if chosen.all() else content[chosen]


def _lines(rows: Any) -> npt.NDArray[np.int32]:
    return rows["line"].combine_chunks().to_numpy(zero_copy_only=False) if len(rows) else np.empty(0, np.int32)


def _made(name: str, state: TableState, before: _Made | None) -> _Made:
    """The rows that stand as a table of the core; where rows came to those before, only they are looked at."""
    facts = tuple(part.facts for part in state.parts)
    counts: Flags = state.standing.counts
    known = len(before.counts) if before is not None else 0
    if before is None or facts[: len(before.parts)] != before.parts or (counts[:known] != before.counts).any():
        return _Made(facts, counts, _table(name, state.parts, counts))
    if len(facts) == len(before.parts):
        return before
    more = _table(name, state.parts[len(before.parts) :], counts[known:])
    return _Made(facts, counts, before.table.joined(more))


def _table(name: str, parts: Sequence[StoredPart], counts: Flags) -> Table:
    rows = pa.concat_tables([part.rows for part in parts])
    lengths = [part.facts.rows for part in parts]
    of_file = np.repeat(np.arange(len(lengths)), lengths).astype(np.int32)
    if not counts.all():
        rows, of_file = rows.filter(pa.array(counts)), of_file[counts]
    columns = {c.name: rows[c.name] for c in SCHEMA[name]}
    table = table_of(name, columns, Text(of_file, [part.facts.file for part in parts]), _lines(rows))
    return replace(table, load=np.array([part.facts.load for part in parts], np.int64)[of_file])
