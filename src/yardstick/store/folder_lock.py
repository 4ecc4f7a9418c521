"""One process at a time works in a data folder: whoever does holds its lock, and says who it is."""

from __future__ import annotations

import errno
import fcntl
import os
from pathlib import Path
from typing import IO

NAME = "running"
HANDED_ON = "YARDSTICK_LOCK"
"""In the environment of a child: the number of the open lock file it was handed."""


class FolderHeld(RuntimeError):
    """Another process works in the data folder; the text says which."""


class FolderLock:
    """The lock of a data folder, held until this process and all it was handed to have ended.

    Parameters
    ----------
    home : the data folder; made if missing
    doing : what holds it, for whoever wants it too

    Raises
    ------
    FolderHeld
        If another process holds it.
    """

    def __init__(self, home: Path, doing: str) -> None:
        handed = os.environ.get(HANDED_ON, "")
        self._file = _handed_on(home, int(handed)) if handed.isdigit() else None
        if self._file is None:
            self._file = _take(home)
        self.say(doing)

    def say(self, doing: str) -> None:
        """Say what holds it now."""
        assert self._file is not None
        self._file.seek(0)
        self._file.truncate()
        self._file.write(f"process {os.getpid()}, {doing}\n")
        self._file.flush()

    def hand_on(self) -> tuple[int, dict[str, str]]:
        """What a child needs to hold it as well: the file to pass on, and what to put into its environment."""
        assert self._file is not None
        return self._file.fileno(), {HANDED_ON: str(self._file.fileno())}

    def release(self) -> None:
        """Let go of it here; children that it was handed to hold on."""
        if self._file is not None:
            self._file.close()
            self._file = None


def _take(home: Path) -> IO[str]:
    home.mkdir(parents=True, exist_ok=True)
    file = (home / NAME).open("a+", encoding="utf-8")
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as held:
        file.seek(0)
        who = file.read().strip() or "another process"
        file.close()
        if held.errno not in (errno.EWOULDBLOCK, errno.EACCES):
            raise
        raise FolderHeld(f"The data in {home} are in use: {who}. End it first.") from None
    return file


def _handed_on(home: Path, number: int) -> IO[str] | None:
    """The lock file that the parent holds and handed on; None if what it handed is that of another folder."""
    try:
        there, here = os.fstat(number), (home / NAME).stat()
    except OSError:
        return None
    if (there.st_dev, there.st_ino) != (here.st_dev, here.st_ino):
        return None
    return os.fdopen(number, "r+", encoding="utf-8")
