"""Answers that are kept for whoever asks the same."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from concurrent.futures import Future
from typing import TypeVar

T = TypeVar("T")


class KeptAnswers:
    """Keeps the latest answers, so that one question asked again costs nothing.

    The lock is held to look answers up, never to make one: a slow question holds up nobody but those who ask the same.
    """

    def __init__(self, capacity: int) -> None:
        self._capacity = capacity
        self._kept: OrderedDict[Hashable, Future[object]] = OrderedDict()
        self._lock = threading.Lock()

    def forget(self) -> None:
        """Keep nothing of what was."""
        with self._lock:
            self._kept.clear()

    def has(self, key: Hashable) -> bool:
        """Whether an answer is there, or on its way."""
        with self._lock:
            return key in self._kept

    def get(self, key: Hashable, make: Callable[[], T]) -> T:
        """The answer that is kept or on its way, else a new one."""
        with self._lock:
            found = self._kept.get(key)
            mine = found is None
            future: Future[object] = Future() if found is None else found
            if mine:
                self._kept[key] = future
                if len(self._kept) > self._capacity:
                    self._kept.popitem(last=False)
            self._kept.move_to_end(key)
        if mine:
            try:
                future.set_result(make())
            except BaseException as problem:
                with self._lock:
                    if self._kept.get(key) is future:
                        del self._kept[key]
                future.set_exception(problem)
        return future.result()  # type: ignore[return-value]
