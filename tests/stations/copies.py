"""Desks that are copies of one that was filled once: its database and its folder."""

from __future__ import annotations

import shutil

from yardstick.stations.workspace.desk import Desk
from yardstick.store.database import connect


class Copies:
    """Copies of a desk.

    Parameters
    ----------
    databases : of the worker
    folder : for the first one
    fill : puts into it what all of them have
    """

    def __init__(self, databases, folder, fill):
        self._databases, self._folder, self._url = databases, folder, databases.fresh()
        engine = connect(self._url)
        fill(Desk(engine, folder, "test"))
        # A database that somebody is connected to cannot be copied.
        engine.dispose()

    def copy(self, home):
        """A desk of its own, in that folder."""
        shutil.copytree(self._folder, home)
        return Desk(connect(self._databases.fresh(like=self._url)), home, "test")
