"""Work on a file on both cores: the next batch is read and the last one hashed while this one is typed."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Generator, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from itertools import islice
from typing import TypeVar

A = TypeVar("A")
B = TypeVar("B")
C = TypeVar("C")
WAITING = 2
"""Batches that may wait for their last step."""
ALONE = 14
"""Batches, 28 MB or so, that are done before it is worth it to begin further threads."""


def steps(first: Iterator[A], second: Callable[[A], B], third: Callable[[B], C], *, at_once: bool) -> Generator[C]:
    """What comes of things in three steps, in their order.

    Parameters
    ----------
    first : makes the things; asked from one thread at a time, though not always the same
    second : done here, of one thing after the other
    third : depends on nothing but what it is given
    at_once : after some things, do the three of different ones at the same time; for steps that hold no other thread

    Notes
    -----
    Whoever stops asking waits for what was begun, one thing a step at most; an error comes where its thing would.
    """
    yield from (third(second(one)) for one in (islice(first, ALONE) if at_once else first))
    if not at_once:
        return
    with ThreadPoolExecutor(1) as before, ThreadPoolExecutor(1) as after:
        waiting: deque[Future[C]] = deque()
        coming = before.submit(_next, first)
        while (one := coming.result()) is not None:
            coming = before.submit(_next, first)
            waiting.append(after.submit(third, second(one[0])))
            if len(waiting) > WAITING:
                yield waiting.popleft().result()
        while waiting:
            yield waiting.popleft().result()


def _next(things: Iterator[A]) -> tuple[A] | None:
    return next(((one,) for one in things), None)
