"""Parquet in: row groups as batches of text, as every file."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, BinaryIO

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

from .arrow_text import ArrowColumns, nested_in
from .csv_in import MOST_COLUMNS
from .format import FileFormat
from .raw import USUAL, FileLayout, FileProblem, RawBatch

ROWS = 50_000
"""Rows of a batch, fewer where they are long."""
BATCH = 2**25
"""Bytes a batch may unfold to, as far as the file tells."""
MOST_UNFOLDED = 2**30
"""Bytes a row group may say that it unpacks to: one is held at a time."""
MOST_TIMES, FEW_BYTES = 100, 2**26
"""How many times its size a file may unfold to, and what one of any size may: real tables hardly shrink so far."""
MOST_A_BYTE = 10
"""Rows a byte of the file may stand for: rows of a table differ in their ids or amounts."""


class ParquetTable:
    """A Parquet file being read. Binary floats are read to 15 decimal digits.

    Parameters
    ----------
    file : name for messages; its beginning may say which table it holds
    stream : the bytes
    table : which table it must hold; without it the columns decide, then the file's name
    laid : how it is laid out; no part of it bears on this format

    Raises
    ------
    FileProblem
        If it is no Parquet, unpacks to too much, holds no known table, or lacks a required column.
    """

    def __init__(self, file: str, stream: BinaryIO, table: str | None = None, laid: FileLayout = USUAL) -> None:
        self.header_lines = 0
        self._file, self._stream = file, stream
        stream.seek(0, 2)
        self._size = stream.tell()
        stream.seek(0)
        try:
            schema = pq.read_schema(stream)
            stream.seek(0)
            # Texts are left in their dictionaries until it is known how long they would become.
            texts = [field.name for field in schema if pa.types.is_string(field.type)]
            self._parquet: Any = pq.ParquetFile(stream, read_dictionary=texts)
            names = [str(name) for name in schema.names]
            groups = [self._parquet.metadata.row_group(i) for i in range(self._parquet.num_row_groups)]
        except (pa.ArrowException, OSError, ValueError) as problem:
            raise FileProblem(f"{file}: not readable as Parquet: write it again") from problem
        if len(names) > MOST_COLUMNS:
            raise FileProblem(f"{file}: {len(names):,} columns; a table has at most {MOST_COLUMNS:,}")
        rows = self._parquet.metadata.num_rows
        if rows > MOST_A_BYTE * self._size:
            raise FileProblem(f"{file}: {rows:,} rows in {self._size:,} bytes: that is not a table of different rows")
        if any(group.total_byte_size > MOST_UNFOLDED for group in groups):
            said = f"a row group unpacks to more than {MOST_UNFOLDED >> 20} MiB"
            raise FileProblem(f"{file}: {said}: write it in smaller ones")
        self._room = max(FEW_BYTES, MOST_TIMES * self._size)
        if sum(group.total_byte_size for group in groups) > self._room:
            raise self._too_much(0)
        widest = max((group.total_byte_size / max(1, group.num_rows) for group in groups), default=1.0)
        self._at_once = int(min(ROWS, max(1, BATCH / max(1.0, widest))))
        self._columns = ArrowColumns(file, table, names, floats=True, nested=nested_in(schema))
        self.header = self._columns.header

    def _too_much(self, row: int) -> FileProblem:
        said = f"it unpacks to more than {self._room >> 20} MiB, from {self._size:,} bytes: save it as CSV"
        return FileProblem(f"{self._file}: {f'row {row:,}: ' if row else ''}{said}")

    def batches(self) -> Iterator[RawBatch]:
        """The rows, some at a time; a row's line is its number from 1."""
        rows, done, unfolded = self._parquet.metadata.num_rows, 0, 0
        try:
            for some in self._parquet.iter_batches(self._at_once, use_threads=False):
                at = np.arange(done + 1, done + 1 + len(some), dtype=np.int64)
                done += len(some)
                batch = self._columns.batch(some, at, self._size * done // max(1, rows))
                unfolded += sum(column.nbytes for column in batch.columns.values())
                if unfolded > self._room:
                    raise self._too_much(done)
                yield batch
        except pa.ArrowMemoryError as problem:
            said = f"row {done + 1}: it takes more memory than there is: write it in smaller row groups"
            raise FileProblem(f"{self._file}: {said}") from problem
        except (pa.ArrowException, OSError) as problem:
            raise FileProblem(f"{self._file}: row {done + 1}: not readable as Parquet: write it again") from problem
        if not done:
            yield self._columns.batch(self._parquet.schema_arrow.empty_table(), np.empty(0, np.int64))


FORMAT = FileFormat("Parquet", (".parquet",), ParquetTable)
