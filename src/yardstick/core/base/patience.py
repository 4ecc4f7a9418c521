"""Long loops ask here whether they may go on; whoever began them says so, since nothing in the core knows the time."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar


def _always() -> None:
    return None


_ask: ContextVar[Callable[[], None]] = ContextVar("may_go_on", default=_always)


def go_on() -> None:
    """Called by long loops at each turn; raises what whoever began the work raises to end it."""
    _ask.get()()


@contextmanager
def asking(may_go_on: Callable[[], None]) -> Iterator[None]:
    """Have long loops ask, in this thread, until this is left.

    Parameters
    ----------
    may_go_on : raises something to end the work
    """
    before = _ask.set(may_go_on)
    try:
        yield
    finally:
        _ask.reset(before)
