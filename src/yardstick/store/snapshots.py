"""The columnar snapshot: the core's columns in memory-mapped Arrow files, named by their fingerprint.

Every question on screen is answered from it, so a question never touches the database. It is safe to delete: it is
rebuilt from the raw rows.
"""

from __future__ import annotations

import json
import os
import shutil
import tempfile
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa

from yardstick.core.base.columns import Amounts, Text
from yardstick.core.base.tables import SCHEMA, Table, Tables
from yardstick.core.plan.plan import Plan
from yardstick.core.report.fingerprint import RULES_VERSION, fingerprint_of_data
from yardstick.formats.link_prices import with_link_prices
from yardstick.formats.settings_toml import read_settings

from .whole_files import read_whole, write_whole

KEPT = 3
"""How many snapshots of a workspace stay on disk: the current one, and some that open questions may still read."""


@dataclass(frozen=True)
class Current:
    """What a workspace says now.

    Attributes
    ----------
    data : data fingerprint
    change : the change it was taken after
    settings : as TOML, as they were kept
    prices : rows of the link sheet that state a price per click
    """

    data: str
    change: int
    settings: str
    prices: tuple[Mapping[str, str], ...] = ()


class Snapshots:
    """The snapshots of one workspace.

    Parameters
    ----------
    folder : where they lie; made if missing
    """

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._pointer = folder / "current.json"
        self._plan: tuple[tuple[str, str], Plan] | None = None
        folder.mkdir(parents=True, exist_ok=True)

    def current(self) -> Current | None:
        """What the workspace says now; None if no snapshot was made yet."""
        content = read_whole(self._pointer)
        if content is None:
            return None
        said = json.loads(content)
        if said.pop("rules") != RULES_VERSION or not (self._folder / said["data"]).is_dir():
            return None
        return Current(**said | {"prices": tuple(said["prices"])})

    def plan(self, current: Current) -> Plan:
        """The plan of a state, read once for as long as it stays the same."""
        key = (current.settings, json.dumps(current.prices))
        if self._plan is None or self._plan[0] != key:
            self._plan = (key, with_link_prices(read_settings(current.settings.encode()), current.prices))
        return self._plan[1]

    def publish(
        self, tables: Tables, change: int, settings: str, prices: tuple[Mapping[str, str], ...] = ()
    ) -> Current:
        """Write a snapshot and make it the current one, in one step that either happens or does not.

        Parameters
        ----------
        tables : the data
        change : the change it was taken after
        settings, prices : see `Current`
        """
        current = Current(fingerprint_of_data(tables), change, settings, prices)
        place = self._folder / current.data
        if not place.exists():
            part = Path(tempfile.mkdtemp(prefix="part-", dir=self._folder))
            for name, table in tables.named().items():
                _write(part / f"{name}.arrow", table)
            os.replace(part, place)
        self.repoint(current)
        self._sweep(current.data)
        return current

    def repoint(self, current: Current) -> Current:
        """Say what the workspace is now, on a snapshot that is there already."""
        os.utime(self._folder / current.data)
        write_whole(self._pointer, json.dumps(asdict(current) | {"rules": RULES_VERSION}).encode())
        return current

    def read(self, fingerprint: str) -> Tables:
        """The tables of a snapshot, mapped into memory."""
        place = self._folder / fingerprint
        return Tables(**{name: _read(place / f"{name}.arrow", name) for name in SCHEMA})

    def _sweep(self, keep: str) -> None:
        """Take away old snapshots, and what a crash left half written."""
        folders = [p for p in self._folder.iterdir() if p.is_dir() and p.name != keep]
        folders.sort(key=lambda p: p.stat().st_mtime, reverse=True)
        whole = [p for p in folders if not p.name.startswith("part-")]
        for folder in [p for p in folders if p.name.startswith("part-")] + whole[KEPT - 1 :]:
            shutil.rmtree(folder, ignore_errors=True)


def _write(path: Path, table: Table) -> None:
    arrays: dict[str, Any] = {}
    decimals: dict[str, int] = {}
    for name, column in [("file", table.file), ("line", table.line), *table.columns.items()]:
        if isinstance(column, Text):
            arrays[name] = pa.DictionaryArray.from_arrays(pa.array(column.codes), pa.array(column.values, pa.string()))
        elif isinstance(column, Amounts):
            wide = column.units.dtype == object
            arrays[name] = pa.array([str(u) for u in column.units] if wide else column.units)
            arrays[f"{name} known"] = pa.array(column.known.astype(np.uint8))
            decimals[name] = column.decimals
        else:
            arrays[name] = pa.array(np.asarray(column).astype(np.uint8) if column.dtype == np.bool_ else column)
    batch = pa.record_batch(arrays)
    schema = batch.schema.with_metadata({"decimals": json.dumps(decimals)})
    with pa.OSFile(str(path), "wb") as sink, pa.ipc.new_file(sink, schema) as writer:
        writer.write_batch(batch.replace_schema_metadata(schema.metadata))


def _read(path: Path, name: str) -> Table:
    reader = pa.ipc.open_file(pa.memory_map(str(path)))
    batch = reader.get_batch(0)
    decimals = json.loads(reader.schema.metadata[b"decimals"])
    raw = {field.name: batch.column(i) for i, field in enumerate(reader.schema)}
    columns: dict[str, Any] = {}
    for column in SCHEMA[name]:
        array = raw[column.name]
        if column.name in decimals:
            known = raw[f"{column.name} known"].to_numpy().astype(np.bool_)
            wide = pa.types.is_string(array.type)
            units = np.array([int(u) for u in array.to_pylist()], dtype=object) if wide else array.to_numpy()
            columns[column.name] = Amounts(units, decimals[column.name], known)
        elif isinstance(array, pa.DictionaryArray):
            columns[column.name] = _text(array)
        else:
            plain = array.to_numpy()
            columns[column.name] = plain.view(np.bool_) if column.kind.value == "flag" else plain
    return Table(name, columns, _text(raw["file"]), raw["line"].to_numpy())


def _text(array: Any) -> Text:
    return Text(array.indices.to_numpy(), array.dictionary.to_pylist())
