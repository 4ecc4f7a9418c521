"""The snapshot: what a workspace says now, as a list of parts on disk less the rows that do not stand.

Every question on screen is answered from it, so a question never touches the database. It is safe to delete: parts are
rebuilt from the raw rows, and a damaged one is never read.
"""

from __future__ import annotations

import json
import threading
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
import pyarrow as pa

from yardstick.core.base.columns import Text
from yardstick.core.base.tables import SCHEMA, Table, Tables
from yardstick.core.plan.plan import Plan
from yardstick.core.report.fingerprint import RULES_VERSION, name_of
from yardstick.formats.arrow_tables import table_of
from yardstick.formats.keyed import Keys, Standing, Words, contributed, stand, sum_of
from yardstick.formats.link_prices import with_link_prices
from yardstick.formats.origins import FileRows, origin_of
from yardstick.formats.settings_toml import read_settings

from .parts import Part, Parts, keys_of_parts
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

    parts: tuple[Part, ...]
    keys: Keys
    standing: Standing


class Snapshots:
    """The state of one workspace on disk.

    Parameters
    ----------
    folder : where it lies; made if missing
    """

    def __init__(self, folder: Path) -> None:
        self._pointer = folder / "current.json"
        self._plan: tuple[tuple[str, str], Plan] | None = None
        self._states: dict[tuple[object, ...], dict[str, TableState]] = {}
        self._lock = threading.Lock()
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
        if self._plan is None or self._plan[0] != key:
            self._plan = (key, with_link_prices(read_settings(current.settings.encode()), current.prices))
        return self._plan[1]

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
        return name_of(total), origin_of([(load.file, load.lines) for load in loads], rows, rejected)

    def state(self, loads: Sequence[LoadThere], zone: str) -> dict[str, TableState]:
        """Which rows of loads stand, by table; worked out once per state.

        Raises
        ------
        PartsMissing
            If a part has to be rebuilt first.
        """
        key = (tuple(loads), zone)
        with self._lock:
            found = self._states.get(key)
        if found is None:
            # The state before is let go of first: hashes of millions of rows are not held twice.
            with self._lock:
                self._states = {}
            found = self._work_out(loads, zone)
            with self._lock:
                self._states = {key: found}
        return found

    def _work_out(self, loads: Sequence[LoadThere], zone: str) -> dict[str, TableState]:
        opened = {load.load: self.parts.open(load.load, zone) for load in loads}
        missing = [load for load in loads if opened[load.load] is None]
        if missing:
            raise PartsMissing(missing)
        # Numbers of sets of files in the order in which they count.
        rank: dict[int, int] = {}
        for load in loads:
            rank.setdefault(load.together, len(rank))
        out = {}
        for name in SCHEMA:
            mine = [(load, part) for load in loads if load.table == name and (part := opened[load.load]) is not None]
            if mine:
                parts = [part for _, part in mine]
                keys = keys_of_parts(parts)
                number = np.repeat([rank[load.together] for load, _ in mine], [part.facts.rows for part in parts])
                out[name] = TableState(tuple(parts), keys, stand(name, keys, number))
        return out

    def read(self, current: Current) -> Tables:
        """The tables of a state, mapped from disk as far as they can be.

        Raises
        ------
        PartsMissing
            If a part has to be rebuilt first.
        """
        zone = self.plan(current).reading.time_zone
        found = {name: _table(name, state) for name, state in self.state(current.loads, zone).items()}
        return Tables(**found, data=current.data, origin=current.origin)

    def sweep(self, known: set[int]) -> None:
        """Take away what no load needs."""
        self.parts.sweep(known)


def _rows_of(state: TableState, content: Words) -> list[FileRows]:
    out, start = [], 0
    for part in state.parts:
        stop = start + part.facts.rows
        given = state.standing.given[start:stop]
        rows = part.rows.select(["line", "plain_times"])
        if not given.all():
            rows = rows.filter(pa.array(given))
        out.append(FileRows(part.facts.file, _those(content[start:stop], given), _lines(rows), rows["plain_times"]))
        start = stop
    return out


def _those(content: Words, chosen: Flags) -> Words:
    return content if chosen.all() else content[chosen]


def _lines(rows: Any) -> npt.NDArray[np.int32]:
    return rows["line"].combine_chunks().to_numpy(zero_copy_only=False) if len(rows) else np.empty(0, np.int32)


def _table(name: str, state: TableState) -> Table:
    rows = pa.concat_tables([part.rows for part in state.parts])
    lengths = [part.facts.rows for part in state.parts]
    of_file = np.repeat(np.arange(len(lengths)), lengths).astype(np.int32)
    counts: Flags = state.standing.counts
    if not counts.all():
        rows, of_file = rows.filter(pa.array(counts)), of_file[counts]
    columns = {c.name: rows[c.name] for c in SCHEMA[name]}
    return table_of(name, columns, Text(of_file, [part.facts.file for part in state.parts]), _lines(rows))
