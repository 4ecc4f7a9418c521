"""Which reader a file is for, by how its name ends."""

from __future__ import annotations

from pathlib import PurePath
from typing import BinaryIO

from ..cells.row_hashes import make_ready
from .csv_in import CsvFile
from .jsonl_in import JsonLinesFile
from .logs_in import LogFile, is_log
from .parquet_in import ParquetTable
from .raw import USUAL, FileLayout, TableFile
from .xlsx_in import XlsxFile

READERS: dict[str, type[CsvFile] | type[JsonLinesFile] | type[ParquetTable] | type[XlsxFile] | type[LogFile]] = {
    ".csv": CsvFile,
    ".tsv": CsvFile,
    ".jsonl": JsonLinesFile,
    ".ndjson": JsonLinesFile,
    ".parquet": ParquetTable,
    ".xlsx": XlsxFile,
    ".xlsm": XlsxFile,
    ".log": LogFile,
}


def open_table(file: str, stream: BinaryIO, table: str | None = None, laid: FileLayout = USUAL) -> TableFile:
    """A file being read, whatever its format; a name that says nothing is read as CSV.

    Parameters
    ----------
    file : its name
    stream : the bytes
    table : which table it must hold, or `headers.AS_WRITTEN`; without it what stands in the file decides, then its name
    laid : how it is laid out, as far as that is known

    Raises
    ------
    FileProblem
        If it cannot be read as a whole.
    """
    make_ready(_size_of(stream))
    suffix = PurePath(file).suffix.lower()
    if suffix not in READERS or suffix == ".log":
        # Logs that were rotated end in a number.
        head = stream.read(1 << 16)
        stream.seek(0)
        if is_log(head):
            return LogFile(file, stream, table, laid)
    return READERS.get(suffix, CsvFile)(file, stream, table, laid)


def _size_of(stream: BinaryIO) -> int:
    at = stream.tell()
    size = stream.seek(0, 2)
    stream.seek(at)
    return size
