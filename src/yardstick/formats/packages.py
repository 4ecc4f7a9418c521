"""A whole workspace as one zipped tabular data package (Data Package standard, version 1): every load of rows as it was
given, what was rejected, the settings, the links with the clicks on them, and the list of changes."""

from __future__ import annotations

import json
import re
import zlib
from collections import Counter
from collections.abc import Callable, Iterator, Mapping
from dataclasses import asdict, dataclass, fields
from datetime import datetime
from pathlib import Path
from typing import Any, BinaryIO
from zipfile import BadZipFile, ZipFile
from zoneinfo import available_timezones

import numpy as np
import pyarrow as pa
from pyarrow import csv as arrow_csv

from yardstick.core.base.schema import SCHEMA
from yardstick.core.costs.levels import LEVELS
from yardstick.core.report.fingerprint import ROWS_VERSION

from .files.raw import FileProblem, Header, RawBatch
from .plan.source_parts import SourcePart

LAYOUT = 1
DESCRIPTOR, SETTINGS, LINKS, CLICKS, REJECTED, HISTORY = (
    *("datapackage.json", "settings.toml", "links.csv", "clicks.csv", "rejected.csv", "history.csv"),
)
MOST_DESCRIPTOR = 16 * 1024 * 1024
MOST_TIMES = 60
"""By how much a package may unfold; rows of a table differ, and pack less."""
LEAST_UNFOLDED = 16 * 1024 * 1024
"""What any package may unfold to."""
BLOCK = 1 << 22
AT_ONCE = 10_000
MOST_LINKS = 20_000
LINK_COLUMNS = ("key", "place", "cells")
CLICK_COLUMNS = ("code", "clicked_at", "target", "referrer", "agent")
REJECTED_COLUMNS = ("load", "file", "line", "column", "value", "reason", "digest")
HISTORY_COLUMNS = ("id", "kind", "subject", "file", "made_at", "made_by", "undoes")
_LISTS = (*((REJECTED, REJECTED_COLUMNS), (LINKS, LINK_COLUMNS), (CLICKS, CLICK_COLUMNS), (HISTORY, HISTORY_COLUMNS)),)


LONGEST_TEXT = 1_000
UNREADABLE = (
    pa.ArrowException,
    OSError,
    ValueError,
    BadZipFile,
    zlib.error,
    EOFError,
    NotImplementedError,
    RuntimeError,
)
"""What is raised where a part of an archive is not what it says: a flipped bit, a password, another way of packing."""
_PATH = re.compile(r"rows/[0-9]{1,19}-[a-z_]{1,40}\.csv")
_DIGEST, _FINGERPRINT = re.compile(r"[0-9a-f]{64}"), re.compile(r"[0-9a-f]{32}")


@dataclass(frozen=True)
class PackedLoad:
    """A load of rows as a package tells of it.

    Attributes
    ----------
    path : of its rows in the package
    number, together : of the load, and of the files it was given with
    table, file, source, finer, zone, reading : see `store.states.LoadThere` and `store.models.Change`
    made_at, made_by : when and by whom
    lines, header, skipped, rejected : of its file
    """

    path: str
    number: int
    together: int
    table: str
    file: str
    source: str
    finer: str
    zone: str
    reading: str
    made_at: str
    made_by: str
    lines: int
    header: int
    skipped: int
    rejected: int


def names_of(table: str) -> list[str]:
    """What the columns of a load's rows are called in a package: the line in its file, ours, and what was kept besides
    as a JSON object."""
    return ["row_line", *(c.name for c in SCHEMA[table]), "kept_besides"]


def descriptor(workspace: str, data: str, loads: list[PackedLoad], sizes: Mapping[str, int]) -> bytes:
    """The content of `datapackage.json`.

    Parameters
    ----------
    workspace : its name
    data : fingerprint of its rows
    loads : in the order in which they count
    sizes : bytes of each file, where known
    """
    resources = [
        _resource(load.path, f"{load.table}-{load.number}", names_of(load.table), asdict(load)) for load in loads
    ]
    for path, names in _LISTS:
        resources.append(_resource(path, path.partition(".")[0], list(names), None))
    said = {
        "profile": "tabular-data-package",
        "name": "".join(c if c.isascii() and (c.isalnum() or c in "-._") else "-" for c in workspace.lower())
        or "workspace",
        "title": workspace,
        "resources": resources,
        "yardstick": {"layout": LAYOUT, "data": data, "rows": ROWS_VERSION, "settings": SETTINGS},
    }
    for resource in resources:
        if resource["path"] in sizes:
            resource["bytes"] = sizes[resource["path"]]
    return json.dumps(said, ensure_ascii=False, indent=1).encode()


def _resource(path: str, name: str, columns: list[str], load: dict[str, Any] | None) -> dict[str, Any]:
    whole = {"row_line", "line", "load"} if load or path == REJECTED else set()
    out: dict[str, Any] = {
        "profile": "tabular-data-resource",
        "name": name.replace("_", "-"),
        "path": path,
        "format": "csv",
        "mediatype": "text/csv",
        "encoding": "utf-8",
        "schema": {
            "fields": [{"name": c, "type": "integer" if c in whole else "string"} for c in columns],
            "missingValues": [""],
        },
    }
    if load:
        out["yardstick"] = load
    return out


class Package:
    """A package that was opened.

    Parameters
    ----------
    file : its name, for messages
    path : where it lies

    Raises
    ------
    FileProblem
        If it is none of ours, unpacks to far more than a workspace does, or lacks a part it names.
    """

    def __init__(self, file: str, path: Path) -> None:
        self.file = self._file = file
        try:
            self._zip = ZipFile(path)
            infos = {info.filename: info for info in self._zip.infolist()}
        except (BadZipFile, OSError, ValueError, NotImplementedError):
            raise FileProblem(f"{file}: not readable as a zipped data package: export it again") from None
        unfolded = sum(info.file_size for info in infos.values())
        if unfolded > max(LEAST_UNFOLDED, MOST_TIMES * path.stat().st_size):
            raise FileProblem(f"{file}: unpacks to {unfolded:,} bytes: no workspace packs so small")
        if DESCRIPTOR not in infos or infos[DESCRIPTOR].file_size > MOST_DESCRIPTOR:
            raise FileProblem(f"{file}: it has no {DESCRIPTOR}: this is not a data package")
        try:
            said = json.loads(self._read(DESCRIPTOR))
            own = said["yardstick"]
            layout = own["layout"]
            self.data = own.get("data", "") if own.get("rows", ROWS_VERSION) == ROWS_VERSION else ""
            packed = [one["yardstick"] for one in said["resources"] if "yardstick" in one] if layout == LAYOUT else []
            self.loads = [_load(one) for one in packed]
        except (ValueError, KeyError, TypeError, AttributeError, RecursionError) as problem:
            which = f" ({problem} of a load)" if str(problem) in _FITS else ""
            raise FileProblem(
                f"{file}: its {DESCRIPTOR} is none of a workspace{which}: load its tables separately"
            ) from None
        if layout != LAYOUT:
            said = "it was written by another version of this program"
            raise FileProblem(f"{file}: {said}: load its tables separately")
        for part in [*(load.path for load in self.loads), SETTINGS, LINKS, REJECTED]:
            if part not in infos:
                raise FileProblem(f"{file}: {part[:80]} is not in it: export it again")
        twice = _twice([info.filename for info in self._zip.infolist()])
        twice = twice or _twice([load.path for load in self.loads]) or _twice([str(one.number) for one in self.loads])
        if twice:
            raise FileProblem(f"{file}: {twice[:80]} is in it twice: export it again")
        if own.get("rows", ROWS_VERSION) == ROWS_VERSION and not _is_fingerprint(self.data):
            raise FileProblem(f"{file}: its {DESCRIPTOR} names no fingerprint of its rows: export it again")
        self.sizes = {name: info.file_size for name, info in infos.items()}

    def settings(self) -> str:
        """The settings as TOML."""
        try:
            return self._read(SETTINGS).decode()
        except UnicodeDecodeError:
            raise FileProblem(f"{self._file}: {SETTINGS} is not UTF-8: export it again") from None

    def rows(self, load: PackedLoad) -> PackedRows:
        """The rows of a load, to be read as every file is."""
        return PackedRows(self._file, load, self._open(load.path), self.sizes[load.path])

    def table(self, path: str, columns: tuple[str, ...]) -> Iterator[list[dict[str, str]]]:
        """The rows of a small table of the package, some at a time; none if it is not in it."""
        if path not in self.sizes:
            return
        try:
            with self._open(path) as stream:
                if stream.peek(1) == b"":  # type: ignore[attr-defined]
                    return
                for some in _csv(stream, list(columns)):
                    for begin in range(0, len(some), AT_ONCE):
                        yield some.slice(begin, AT_ONCE).to_pylist()
        except UNREADABLE as problem:
            raise FileProblem(f"{self._file}: {path} cannot be read: export it again") from problem

    def _open(self, path: str) -> BinaryIO:
        try:
            return self._zip.open(path)  # type: ignore[return-value]
        except UNREADABLE as problem:
            raise FileProblem(f"{self._file}: {path} cannot be read: export it again") from problem

    def _read(self, path: str) -> bytes:
        try:
            return self._zip.read(path)
        except UNREADABLE as problem:
            raise FileProblem(f"{self._file}: {path} cannot be read: export it again") from problem


def _load(said: Mapping[str, Any]) -> PackedLoad:
    """A load as its package tells of it, each of its fields held to what the app itself writes there.

    Raises
    ------
    ValueError
        If a field is none; says which.
    """
    out: dict[str, Any] = {}
    for field in fields(PackedLoad):
        value = said[field.name]
        wanted = int if field.type == "int" else str
        if not isinstance(value, wanted) or isinstance(value, bool) or not _FITS[field.name](value):
            raise ValueError(field.name)
        out[field.name] = value
    return PackedLoad(**out)


def _is_text(value: str) -> bool:
    return len(value) <= LONGEST_TEXT and "\0" not in value and value.encode("utf-8", "replace").decode() == value


def _is_instant(value: str) -> bool:
    try:
        return datetime.fromisoformat(value).tzinfo is not None
    except ValueError:
        return False


def _is_zone(value: str) -> bool:
    return not value or value in available_timezones()


def _is_reading(value: str) -> bool:
    """Whether it is what is put on record of how a file was read: nothing, or its source and the columns it had."""
    if not value:
        return True
    try:
        said = json.loads(value)
        if said["source"] is not None:
            SourcePart.model_validate(said["source"])
        return all(isinstance(name, str) for name in said["names"])
    except (ValueError, KeyError, TypeError, RecursionError):
        return False


def _is_number(value: int) -> bool:
    return 0 < value < 2**62


def _is_count(value: int) -> bool:
    return 0 <= value < 2**31


def _is_finer(value: str) -> bool:
    return value.startswith("source ") or set(value.split()) <= {*LEVELS}


_FITS: dict[str, Callable[[Any], bool]] = {
    "path": lambda value: _PATH.fullmatch(value) is not None,
    "number": _is_number,
    "together": _is_number,
    "table": lambda value: value in SCHEMA,
    "file": lambda value: bool(value) and _is_text(value),
    "source": _is_text,
    "finer": lambda value: _is_text(value) and _is_finer(value),
    "zone": _is_zone,
    "reading": _is_reading,
    "made_at": _is_instant,
    "made_by": _is_text,
    "lines": _is_count,
    "header": _is_count,
    "skipped": _is_count,
    "rejected": _is_count,
}
"""What each field of a load may say."""


def _csv(stream: BinaryIO, columns: list[str]) -> Any:
    return arrow_csv.open_csv(
        stream,
        read_options=arrow_csv.ReadOptions(column_names=columns, skip_rows=1, block_size=BLOCK, use_threads=False),
        parse_options=arrow_csv.ParseOptions(newlines_in_values=True),
        convert_options=arrow_csv.ConvertOptions(
            column_types=dict.fromkeys(columns, pa.string()), strings_can_be_null=False, null_values=[]
        ),
    )


def is_digest(text: str) -> bool:
    """Whether it is what a rejected row adds to a fingerprint, written out."""
    return _DIGEST.fullmatch(text) is not None


def _is_fingerprint(said: object) -> bool:
    return isinstance(said, str) and _FINGERPRINT.fullmatch(said) is not None


def _twice(names: list[str]) -> str:
    """The first name that stands there twice; empty if none does."""
    return next((name for name, times in Counter(names).items() if times > 1), "")


class PackedRows:
    """The rows of a load in a package being read, each with the line it had in its own file."""

    def __init__(self, file: str, load: PackedLoad, stream: BinaryIO, size: int) -> None:
        self._file, self._load, self._stream, self._size = file, load, stream, size
        finer = load.finer.split(" ")
        # Which finer columns its file had tells whose days a load replaces (R18).
        columns = [c.name for c in SCHEMA[load.table] if c.name not in LEVELS or c.name in finer or load.source]
        self.header = Header(load.table, load.file, tuple(columns), (), load.source)
        self.header_lines = load.header

    def batches(self) -> Iterator[RawBatch]:
        """The rows, some at a time."""
        names = names_of(self._load.table)
        try:
            if not self._size or self._stream.peek(1) == b"":  # type: ignore[attr-defined]
                return
            for some in _csv(self._stream, names):
                arrays = dict(zip(names, some.columns, strict=True))
                lines = np.array([int(n) for n in arrays.pop("row_line").to_pylist()], np.int64)
                if len(lines) and not 0 < int(lines.min()) <= int(lines.max()) < 2**31:
                    raise ValueError("row_line")
                extra = arrays.pop("kept_besides")
                kept = {name: array for name, array in arrays.items() if name in self.header.columns}
                yield RawBatch({**kept, "extra": extra}, lines)
        except UNREADABLE as problem:
            raise FileProblem(f"{self._file}: {self._load.path} cannot be read: export it again") from problem
