"""The rows of a file that is rehearsed are put down as they are read, so that keeping it reads nothing again."""

from __future__ import annotations

import json
from contextlib import suppress

from yardstick.formats.files.raw import TableFile
from yardstick.formats.rows.columns import TypedBatch
from yardstick.formats.rows.intake import Intake
from yardstick.formats.rows.keyed import Keys
from yardstick.formats.sources.mapping import MappedFile
from yardstick.store.prepared_rows import Preparing, reading_key

from .uploads import GivenFile, Meant
from .waiting_files import prepared_of


def key_of(file: GivenFile, by: Meant) -> str:
    """What the rows of a file depend on."""
    zone = by.zone(file.reading.source)
    return reading_key(file.name, file.path, file.table, zone, file.reading.record)


def said_of(file: GivenFile, reader: TableFile) -> str:
    """What is put on record of how a file was read: its source as it was then, and the columns the file had."""
    if not isinstance(reader, MappedFile):
        return ""
    return json.dumps({"source": file.reading.record, "names": reader.names}, ensure_ascii=False)


class RowsBeside:
    """Puts down the rows of a file that is read, as far as there is room: without them it is read again."""

    def __init__(self, file: GivenFile, by: Meant, reader: TableFile) -> None:
        self._file, self._by, self._reader = file, by, reader
        self._rows: Preparing | None = None
        with suppress(OSError):
            self._rows = Preparing(prepared_of(file.path, file.table), reader.header, by.zone(file.reading.source))

    def add(self, batch: TypedBatch, keys: Keys) -> None:
        """Append a batch."""
        if self._rows is not None:
            try:
                self._rows.add(batch, keys)
            except OSError:
                self.give_up()

    def finish(self, taken: Intake) -> None:
        """The file was read to its end."""
        if self._rows is not None:
            try:
                self._rows.finish(key_of(self._file, self._by), taken, said_of(self._file, self._reader))
            except OSError:
                self.give_up()

    def give_up(self) -> None:
        """Leave nothing behind."""
        if self._rows is not None:
            with suppress(OSError):
                self._rows.give_up()
            self._rows = None
