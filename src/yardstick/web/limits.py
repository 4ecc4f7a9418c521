"""How much each door takes, and how long it may take to come: known before anything of it is read."""

from __future__ import annotations

import os
import re

from yardstick.core.base.errors import SettingsError

FILES = 4 * 1024**3
JSON = 16 * 1024**2
LISTS = 32 * 1024**2
TEXTS = 256 * 1024
"""Bytes for files of rows as usual; for JSON; for lists that come as files, which are read at once; for one text."""
MOST_BRACKETS = 500_000
"""Lists and records that JSON may hold: each takes far more to read than it has bytes, and holds up everybody."""
GRACE_S, LEAST_RATE = 30.0, 16 * 1024
"""A body that is slower than so many bytes a second after the first seconds is given up."""

_ROWS = "/gather/rehearsals"
_FILE_DOORS = ("/mark/links/file", "/file/rehearsal", "/file")
_TEXT_DOORS = (
    "/api/workspaces",
    "/gather/loads",
    "/mark/landed",
    "/mark/mail",
    "/mark/message",
    "/mark/names",
    "/mark/patterns/cell",
    "/mark/patterns/visit",
    "/mark/preview",
    "/plan/shared-rules/take-over",
    "/undo",
    "/stop",
    "/visit",
)
_SIZE = re.compile(r"(\d{1,15})\s*(|KiB|MiB|GiB)", re.IGNORECASE)


def upload_limit() -> int:
    """Bytes that one request with files of rows may bring: `YARDSTICK_UPLOAD_LIMIT`, such as `500 MiB`; 4 GiB as usual.

    Raises
    ------
    SettingsError
        If what is said there is no size.
    """
    said = os.environ.get("YARDSTICK_UPLOAD_LIMIT", "").strip()
    if not said:
        return FILES
    found = _SIZE.fullmatch(said)
    if found is None:
        raise SettingsError(f"YARDSTICK_UPLOAD_LIMIT: {said!r} is no size: write it as bytes, or as 500 MiB")
    return int(found[1]) * {"": 1, "kib": 2**10, "mib": 2**20, "gib": 2**30}[found[2].lower()]


def limit_of(path: str, files: int) -> int:
    """Bytes that one request to a path may bring.

    Parameters
    ----------
    path : of the whole address, without its query
    files : what files of rows may bring
    """
    if path.endswith(_ROWS):
        return files
    if path.endswith(_TEXT_DOORS):
        return min(TEXTS, files)
    return min(LISTS if path.endswith(_FILE_DOORS) else JSON, files)


def brackets_in(piece: bytes, path: str) -> int:
    """Lists and records that begin in a piece of a body; 0 where files come, which are read otherwise."""
    return 0 if path.endswith((_ROWS, *_FILE_DOORS)) else piece.count(b"[") + piece.count(b"{")


def is_too_slow(came: int, seconds: float) -> bool:
    """Whether a body of which so many bytes came in so many seconds is given up."""
    return seconds > GRACE_S + came / LEAST_RATE
