"""A whole workspace on its way out as one file, piece by piece: a browser shows how far it is, and may stop."""

from __future__ import annotations

import io
import queue
import threading
from collections.abc import Iterator

from yardstick.store.links import rows_after
from yardstick.store.packages import write_package

from ..workspace.desk import Desk
from ..workspace.refusals import NotFound

PIECE, WAITING = 1 << 18, 16
"""Bytes of a piece, and how many wait at most for the one who takes them."""
PATIENCE_S = 0.5


def pack(desk: Desk) -> Iterator[bytes]:
    """All that stands of a workspace as a zipped tabular data package, in pieces. If it fails or is left, what was
    taken until then is no package, and is refused as none.

    Raises
    ------
    NotFound
        If nothing was kept yet.
    """
    current = desk.refresh()
    if not current.change:
        raise NotFound("nothing is kept here yet: there is nothing to take away")
    pieces = _Pieces()

    def write() -> None:
        try:
            with desk.engine.connect() as connection, io.BufferedWriter(pieces, PIECE) as target:
                settings = desk.kept_plan(connection, current.change).text
                links = rows_after(connection, desk.workspace, current.change)
                write_package(
                    connection, desk.workspace, desk.name, current.data, current.loads, settings, links, target
                )
            pieces.end(None)
        except BaseException as problem:
            pieces.end(problem)

    threading.Thread(target=write, name="packing", daemon=True).start()
    return pieces.taken()


class _Left(OSError):
    """Nobody takes the pieces any more."""


class _Pieces(io.RawIOBase):
    """What one thread writes and another takes."""

    def __init__(self) -> None:
        self._queue: queue.Queue[bytes] = queue.Queue(WAITING)
        self._left, self._ended = threading.Event(), threading.Event()
        self._problem: BaseException | None = None

    def writable(self) -> bool:
        """It is."""
        return True

    def write(self, given: object) -> int:
        """Let a piece wait to be taken; `_Left` once nobody will."""
        piece = bytes(given)  # type: ignore[call-overload]
        while not self._left.is_set():
            try:
                self._queue.put(piece, timeout=PATIENCE_S)
                return len(piece)
            except queue.Full:
                continue
        raise _Left

    def end(self, problem: BaseException | None) -> None:
        """Nothing more comes."""
        self._problem = problem
        self._ended.set()

    def taken(self) -> Iterator[bytes]:
        """The pieces as they come; raises what stopped the writer."""
        try:
            while True:
                ended = self._ended.is_set()
                try:
                    yield self._queue.get(timeout=0 if ended else PATIENCE_S / 10)
                except queue.Empty:
                    if ended:
                        break
        finally:
            self._left.set()
        if self._problem is not None:
            raise self._problem
