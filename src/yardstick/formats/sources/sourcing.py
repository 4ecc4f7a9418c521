"""Which source a file is read by, and the file being read by it: the one way from a file's name and bytes to rows."""

from __future__ import annotations

from collections.abc import Sequence
from typing import BinaryIO

from yardstick.core.plan.gathering_phase import Source

from ..files.headers import AS_WRITTEN
from ..files.raw import FileProblem, TableFile
from ..files.readers import open_table, that_matters
from .mapping import MappedFile, laid_of, missing_columns


class Ambiguous(FileProblem):
    """More than one source fits a file equally well; `names` are theirs."""

    def __init__(self, file: str, names: Sequence[str]) -> None:
        self.names = list(names)
        super().__init__(f"{file}: {' and '.join(names[:3])} have the same columns: say which source it is from")


def open_by(file: str, stream: BinaryIO, source: Source | None, table: str | None = None) -> TableFile:
    """A file being read by a source, or by its own names.

    Raises
    ------
    FileProblem
        If it cannot be.
    """
    stream.seek(0)
    if source is None:
        return open_table(file, stream, table)
    return MappedFile(open_table(file, stream, AS_WRITTEN, laid_of(source)), source)


def source_for(file: str, stream: BinaryIO, sources: Sequence[Source], table: str | None = None) -> Source | None:
    """The source whose columns a file has: of several the one with most.

    Parameters
    ----------
    file : its name
    stream : its bytes
    sources : those there are
    table : only sources of this table

    Returns
    -------
    Source, None if no source names columns that are all there

    Raises
    ------
    Ambiguous
        If two fit that name as many columns.
    """
    fitting: list[tuple[int, Source]] = []
    headers: dict[object, tuple[str, ...] | None] = {}
    for source in sources:
        if not source.asks_for or (table and source.table != table):
            continue
        laid = that_matters(file, laid_of(source))
        if laid not in headers:
            stream.seek(0)
            try:
                headers[laid] = open_table(file, stream, AS_WRITTEN, laid).header.extra
            except FileProblem:
                headers[laid] = None
        names = headers[laid]
        if names is not None and not missing_columns(source, names):
            fitting.append((len(source.asks_for), source))
    stream.seek(0)
    if not fitting:
        return None
    most = max(count for count, _ in fitting)
    best = [source for count, source in fitting if count == most]
    if len(best) > 1:
        raise Ambiguous(file, [source.name for source in best])
    return best[0]


def open_file(file: str, stream: BinaryIO, sources: Sequence[Source] = (), table: str | None = None) -> TableFile:
    """A file being read by the source it fits, else by its own names; see `source_for` and `open_table`."""
    return open_by(file, stream, source_for(file, stream, sources, table), table)
