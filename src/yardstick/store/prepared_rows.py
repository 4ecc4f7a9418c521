"""The rows of a file as a rehearsal read them: typed and hashed as a part, and as the text that a COPY takes.

What is kept is what was shown: keeping gives the part its name and the text to the database, and parses nothing again.
It is safe to delete, and is of use only to whoever reads the file in just that way; what is not as it says is not used.
"""

from __future__ import annotations

import hashlib
import io
import json
import shutil
from collections.abc import Iterator
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import pyarrow as pa
from pyarrow import csv as arrow_csv

from yardstick.core.base.notes import Rejected
from yardstick.core.base.schema import SCHEMA
from yardstick.formats.files.raw import Header
from yardstick.formats.rows.columns import TypedBatch
from yardstick.formats.rows.intake import Counts, Intake
from yardstick.formats.rows.keyed import Keys

from .parts import LAYOUT, Parts, keys_of_parts
from .whole_files import SummedFile, crc_of, read_whole, write_whole

PIECE = 1 << 20
_OPTIONS = arrow_csv.WriteOptions(include_header=False)


def copied_text(table: str, batch: TypedBatch) -> memoryview:
    """The rows of a batch as a COPY takes them: line, extra columns, then the table's, as they came."""
    blank = pa.repeat(pa.scalar(""), len(batch))
    columns = [pa.array(batch.lines), batch.extra, *(batch.raw.get(c.name, blank) for c in SCHEMA[table])]
    out = io.BytesIO()
    rows = pa.table(columns, names=[str(i) for i in range(len(columns))])
    arrow_csv.write_csv(rows, out, write_options=_OPTIONS)
    return out.getbuffer()


def reading_key(file: str, path: Path, table: str, zone: str, record: object) -> str:
    """What the rows of a file depend on: the file, how it is read, and how this program types and hashes.

    Parameters
    ----------
    file, path : its name and where it lies
    table, zone, record : what it is read as: its table, the zone of its times, its source as settings have it
    """
    stat = path.stat()
    said = json.dumps([LAYOUT, file, stat.st_size, stat.st_mtime_ns, table, zone, record], sort_keys=True, default=str)
    return hashlib.sha256(said.encode()).hexdigest()


@dataclass(frozen=True)
class PreparedRows:
    """A file that was read.

    Attributes
    ----------
    folder : where its rows lie
    header, reading : of the file; what goes on record of how it was read
    counts, zone_matters : see `Intake`
    """

    folder: Path
    header: Header
    reading: str
    counts: Counts
    zone_matters: bool

    def adopted(self, parts: Parts, load: int) -> None:
        """Have its part be a load's. The rehearsal has it still: a load that fails is kept from it the next time."""
        parts.adopt(self.folder, 0, load)

    @property
    def size(self) -> int:
        """Bytes of its rows."""
        return (self.folder / ROWS).stat().st_size

    def copied(self) -> Iterator[bytes]:
        """Its rows as a COPY takes them, piece by piece."""
        with (self.folder / ROWS).open("rb") as stream:
            while piece := stream.read(PIECE):
                yield piece

    def rejected(self) -> Iterator[Rejected]:
        """Its rejected rows."""
        with (self.folder / REJECTED).open(encoding="utf-8") as lines:
            for line in lines:
                yield Rejected(**json.loads(line))

    def intake(self) -> Intake:
        """The file as it was taken in, without what was shown of it.

        Raises
        ------
        FileNotFoundError
            If its part is gone or damaged.
        """
        part = Parts(self.folder).open(0, None)
        if part is None:
            raise FileNotFoundError(str(self.folder))
        return Intake(counts=self.counts, keys=keys_of_parts([part]), zone_matters=self.zone_matters)


ROWS, REJECTED, SAID = "rows", "rejected", "said.json"


class Preparing:
    """Writes the rows of a file while they are read.

    Parameters
    ----------
    folder : of its own; what is in there goes
    header, zone : of the file
    """

    def __init__(self, folder: Path, header: Header, zone: str) -> None:
        shutil.rmtree(folder, ignore_errors=True)
        self._folder, self._header = folder, header
        self._part = Parts(folder).writer(0, header.table, header.file, zone)
        self._rows, self._rejected = SummedFile(folder / ROWS), SummedFile(folder / REJECTED)

    def add(self, batch: TypedBatch, keys: Keys) -> None:
        """Append the rows of a batch."""
        for row in batch.rejected:
            self._rejected.write(json.dumps(asdict(row)).encode() + b"\n")
        if len(batch):
            self._part.add(batch, keys)
            self._rows.write(copied_text(self._header.table, batch))

    def finish(self, key: str, taken: Intake, reading: str) -> None:
        """Put down that they are whole.

        Parameters
        ----------
        key : see `reading_key`
        taken : the file
        reading : what goes on record of how it was read
        """
        self._part.finish(taken.zone_matters)
        self._rows.close()
        self._rejected.close()
        said = {
            "key": key,
            "header": asdict(self._header),
            "reading": reading,
            "counts": asdict(taken.counts),
            "zone_matters": taken.zone_matters,
            "sums": {ROWS: self._rows.crc, REJECTED: self._rejected.crc},
        }
        write_whole(self._folder / SAID, json.dumps(said).encode())

    def give_up(self) -> None:
        """Leave nothing behind."""
        self._part.give_up()
        self._rows.close()
        self._rejected.close()
        shutil.rmtree(self._folder, ignore_errors=True)


def prepared_rows(folder: Path, key: str) -> PreparedRows | None:
    """The rows of a file, if they were read in just that way and are whole."""
    content = read_whole(folder / SAID) if folder.is_dir() else None
    if content is None:
        return None
    said: dict[str, Any] = json.loads(content)
    try:
        if said["key"] != key or any(crc_of(folder / name) != crc for name, crc in said["sums"].items()):
            return None
    except OSError:
        return None
    stated: dict[str, Any] = said["header"]
    header: dict[str, Any] = {n: tuple(value) if isinstance(value, list) else value for n, value in stated.items()}
    return PreparedRows(folder, Header(**header), said["reading"], Counts(**said["counts"]), said["zone_matters"])
