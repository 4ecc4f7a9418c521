"""Times of ways to do the same, each done once in every round, so that what slows a round slows all of them."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable, Mapping
from typing import NamedTuple


class Took(NamedTuple):
    """Seconds: medians over the rounds. CPU is that of all threads of this process."""

    cpu: float
    wall: float


def interleaved(ways: Mapping[str, Callable[[], object]], rounds: int = 5) -> dict[str, Took]:
    """Do each way once a round.

    Parameters
    ----------
    ways : by name
    rounds : the first is one of them: nobody's caches are warmed on purpose
    """
    took: dict[str, list[Took]] = {name: [] for name in ways}
    for _ in range(rounds):
        for name, work in ways.items():
            cpu, wall = time.process_time(), time.perf_counter()
            work()
            took[name].append(Took(time.process_time() - cpu, time.perf_counter() - wall))
    return {
        name: Took(statistics.median(one.cpu for one in all_of_it), statistics.median(one.wall for one in all_of_it))
        for name, all_of_it in took.items()
    }
