"""Every format that rows come in, and which of them a file is: one module each in this room, found by itself."""

from __future__ import annotations

from collections.abc import Mapping
from importlib import import_module
from pathlib import PurePath
from pkgutil import iter_modules
from typing import BinaryIO

from yardstick.formats import files

from ..cells.row_hashes import make_ready
from .csv_in import FORMAT as CSV
from .format import FileFormat, Layout
from .raw import USUAL, FileLayout, TableFile

_MODULES = (import_module(f"{files.__name__}.{module.name}") for module in iter_modules(files.__path__))
FORMATS: tuple[FileFormat, ...] = tuple(module.FORMAT for module in _MODULES if hasattr(module, "FORMAT"))
"""All formats."""
BY_SUFFIX: Mapping[str, FileFormat] = {suffix: one for one in FORMATS for suffix in one.suffixes}
SETTINGS, PACKAGE = ".toml", ".zip"
"""Endings of files that are given beside those of rows: the plan, and a whole workspace."""


def holds_rows(file: str) -> bool:
    """Whether a file that is given is one of rows, by its name: neither settings nor a package."""
    return not file.lower().endswith((SETTINGS, PACKAGE))


def suffix_of(file: str) -> str:
    """How a name ends: a file may be called by its ending alone."""
    return PurePath(file).suffix.lower()


def known_format(file: str, head: bytes) -> FileFormat | None:
    """The format of a file by its name, else by its beginning; None where neither tells."""
    named = BY_SUFFIX.get(suffix_of(file))
    if named is None or named.begins is not None:
        # Logs that were rotated end in a number.
        return next((one for one in FORMATS if one.begins and one.begins(head)), named)
    return named


def format_of(file: str, stream: BinaryIO) -> FileFormat:
    """The format of a file; what neither name nor beginning tells is CSV. The stream is at its beginning."""
    head = stream.read(1 << 16)
    stream.seek(0)
    return known_format(file, head) or CSV


def saved_as() -> str:
    """The formats to save a file as, for a sentence."""
    *most, last = [one.label for one in FORMATS if one.offered]
    return f"{', '.join(most)} or {last}"


def layout_of(file: str, stream: BinaryIO, encoding: str = "") -> Layout:
    """How a file that nobody has described is laid out, as far as its beginning tells.

    Parameters
    ----------
    file : its name
    stream : its bytes
    encoding : the one it is in, if somebody said so

    Raises
    ------
    FileProblem
        If it has to be read for that and cannot be.
    """
    stream.seek(0)
    return BY_SUFFIX.get(suffix_of(file), CSV).look(file, stream, encoding)


def that_matters(file: str, laid: FileLayout) -> FileLayout:
    """What of a layout bears on a file's format, so that it is opened once for sources that differ in nothing of it."""
    return BY_SUFFIX.get(suffix_of(file), CSV).that_matters(laid)


def open_table(file: str, stream: BinaryIO, table: str | None = None, laid: FileLayout = USUAL) -> TableFile:
    """A file being read, whatever its format.

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
    return format_of(file, stream).open(file, stream, table, laid)


def _size_of(stream: BinaryIO) -> int:
    at = stream.tell()
    size = stream.seek(0, 2)
    stream.seek(at)
    return size
