"""The steps at which tests cut the app off, to see that nothing is half done.

Nothing happens here unless the environment names a step: `YARDSTICK_CUT_AT` = `step kind`, kind being `app` (the
process ends as by kill -9), `backend` (the database ends this app's connections) or `database` (the process whose
number `YARDSTICK_DATABASE_PID` gives ends as by kill -9).
"""

from __future__ import annotations

import os
import signal
from collections.abc import Callable

STEPS = (
    "load begun",
    "load batch",
    "load copied",
    "part named",
    "load recorded",
    "load committed",
    "undo recorded",
    "undo committed",
    "plan recorded",
    "plan committed",
    "state worked out",
    "state published",
    "click kept",
    "click spooled",
)
"""Every step of the app, in the order in which they come."""
BACKUP_STEPS = ("clicks copied", "database dumped", "archive written")
RESTORE_STEPS = ("archive unpacked", "database restored", "clicks restored", "restored", "old database gone")
"""The steps of a backup and of a restore."""


def reach(step: str, backends: Callable[[], None] | None = None) -> None:
    """Say that a step is reached.

    Parameters
    ----------
    step : one of `STEPS`, `BACKUP_STEPS`, `RESTORE_STEPS`
    backends : ends this app's connections to the database
    """
    named = os.environ.get("YARDSTICK_CUT_AT")
    if not named:
        return
    at, _, kind = named.partition(" ")
    if step.replace(" ", "-") != at:
        return
    if kind == "app":
        os.kill(os.getpid(), signal.SIGKILL)
    elif kind == "database":
        os.kill(int(os.environ["YARDSTICK_DATABASE_PID"]), signal.SIGKILL)
    elif backends is not None:
        backends()
