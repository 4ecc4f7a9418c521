"""Parts: the typed rows of one load, with their hashes, in one Arrow file. Safe to delete: made anew from raw rows."""

from __future__ import annotations

import json
import os
import shutil
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa

from yardstick.core.base.schema import SCHEMA
from yardstick.core.report.fingerprint import ROWS_VERSION
from yardstick.formats.rows.columns import FILE_TYPES, TypedBatch
from yardstick.formats.rows.keyed import Keys

from .whole_files import SummedFile, crc_of, flush_folder, read_whole, write_whole

LAYOUT = f"{ROWS_VERSION}.2"
"""Goes up when rows are typed, keyed or laid out in another way; older parts are made anew."""
HASHES = ("key0", "key1", "group", "digest0", "digest1", "digest2", "digest3")


@dataclass(frozen=True)
class PartFacts:
    """What is to be known of a part before it is opened.

    Attributes
    ----------
    load : its number
    table, file : what was loaded, and from where
    zone : time zone in which times without offset were read
    zone_matters : whether there are any
    rows, size, crc : of the Arrow file
    version : of typing and keying
    """

    load: int
    table: str
    file: str
    zone: str
    zone_matters: bool
    rows: int
    size: int
    crc: int
    version: str = LAYOUT


@dataclass(frozen=True)
class StoredPart:
    """A part that was opened: its facts, its file, and its rows with their hashes as a mapped Arrow table."""

    facts: PartFacts
    path: Path
    rows: Any


def keys_of_parts(parts: Sequence[StoredPart]) -> Keys:
    """The hashes of all rows of parts, end to end."""
    out = Keys.empty(sum(part.facts.rows for part in parts))
    places = (out.key[:, 0], out.key[:, 1], out.group, *(out.digest[:, i] for i in range(4)))
    start = 0
    for part in parts:
        # Read, not mapped: hashes of millions of rows would stand in memory twice.
        with pa.OSFile(str(part.path)) as file:
            wanted = [part.rows.schema.get_field_index(name) for name in HASHES]
            reader = pa.ipc.open_file(file, options=pa.ipc.IpcReadOptions(included_fields=wanted))
            for number in range(reader.num_record_batches):
                batch = reader.get_batch(number)
                stop = start + len(batch)
                for name, place in zip(HASHES, places, strict=True):
                    hashes = batch[name].to_numpy()
                    if name != "group" or hashes.any():
                        place[start:stop] = hashes
                start = stop
    return out


class PartWriter:
    """Writes the part of one load, batch by batch; it has its name only once it is whole and on disk.

    Parameters
    ----------
    folder : of the parts
    load, table, file, zone : see `PartFacts`
    """

    def __init__(self, folder: Path, load: int, table: str, file: str, zone: str) -> None:
        self._folder, self._load, self._table, self._file, self._zone = folder, load, table, file, zone
        self._path = folder / f"{load}.arrow.part"
        self._sink = SummedFile(self._path)
        self._writer = pa.ipc.new_file(pa.PythonFile(self._sink, mode="w"), _schema(table))
        self._rows = 0

    def add(self, batch: TypedBatch, keys: Keys) -> None:
        """Append the rows of a batch."""
        arrays = [batch.columns[c.name] for c in SCHEMA[self._table]]
        hashes = [keys.key[:, 0], keys.key[:, 1], keys.group, *(keys.digest[:, i] for i in range(4))]
        arrays += [
            batch.extra,
            batch.plain_times,
            pa.array(batch.lines.astype(np.int32)),
            *(pa.array(h) for h in hashes),
        ]
        plain = [a.combine_chunks() if isinstance(a, pa.ChunkedArray) else a for a in arrays]
        self._writer.write_batch(pa.record_batch(plain, schema=_schema(self._table)))
        self._rows += len(batch)

    def finish(self, zone_matters: bool) -> None:
        """Put the part in place, flushed, with its facts beside it."""
        self._writer.close()
        self._sink.finish()
        facts = PartFacts(
            load=self._load,
            table=self._table,
            file=self._file,
            zone=self._zone,
            zone_matters=zone_matters,
            rows=self._rows,
            size=self._sink.size,
            crc=self._sink.crc,
        )
        os.replace(self._path, self._folder / f"{self._load}.arrow")
        write_whole(self._folder / f"{self._load}.json", json.dumps(asdict(facts)).encode())
        flush_folder(self._folder)

    def give_up(self) -> None:
        """Leave nothing behind."""
        self._writer.close()
        self._sink.close()
        self._path.unlink(missing_ok=True)


class Parts:
    """The parts of one workspace.

    Parameters
    ----------
    folder : where they lie; made if missing
    """

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._verified: set[int] = set()
        folder.mkdir(parents=True, exist_ok=True)

    def writer(self, load: int, table: str, file: str, zone: str) -> PartWriter:
        """Begin the part of a load."""
        self._verified.discard(load)
        return PartWriter(self._folder, load, table, file, zone)

    def adopt(self, folder: Path, number: int, load: int) -> None:
        """Have a part of another folder on the same disk be the part of a load, too."""
        self._verified.discard(load)
        content = read_whole(folder / f"{number}.json")
        if content is None:
            raise FileNotFoundError(str(folder))
        facts: dict[str, Any] = json.loads(content)
        path = self._folder / f"{load}.arrow"
        path.unlink(missing_ok=True)
        try:
            os.link(folder / f"{number}.arrow", path)
        except OSError:
            # Not every file system gives one file two names.
            shutil.copyfile(folder / f"{number}.arrow", path)
        write_whole(self._folder / f"{load}.json", json.dumps(facts | {"load": load}).encode())
        flush_folder(self._folder)

    def open(self, load: int, zone: str | None) -> StoredPart | None:
        """A part; None where it is missing, damaged, of an older version, or was typed in another zone than `zone`, if
        that is given."""
        content = read_whole(self._folder / f"{load}.json")
        path = self._folder / f"{load}.arrow"
        if content is None:
            return None
        said: Mapping[str, Any] = json.loads(content)
        other = zone is not None and said["zone_matters"] and said["zone"] != zone
        if said.get("version") != LAYOUT or other:
            return None
        facts = PartFacts(**said)
        if load not in self._verified:
            if not path.exists() or path.stat().st_size != facts.size or crc_of(path) != facts.crc:
                return None
            self._verified.add(load)
        try:
            rows = pa.ipc.open_file(pa.memory_map(str(path))).read_all()
        except (pa.ArrowInvalid, OSError):
            return None
        return StoredPart(facts, path, rows)

    def sweep(self, keep: set[int]) -> None:
        """Take away what a crash left half written, and parts of loads that never came to be."""
        for path in self._folder.iterdir():
            number = path.name.split(".", 1)[0]
            if path.name.endswith(".part") or (number.isdigit() and int(number) not in keep):
                path.unlink(missing_ok=True)


def _schema(table: str) -> Any:
    fields = [pa.field(c.name, FILE_TYPES.get(c.kind, pa.string())) for c in SCHEMA[table]]
    fields += [pa.field("extra", pa.string()), pa.field("plain_times", pa.string()), pa.field("line", pa.int32())]
    return pa.schema([*fields, *(pa.field(name, pa.uint64()) for name in HASHES)])
