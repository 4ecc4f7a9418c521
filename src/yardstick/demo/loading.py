"""The demo world into a workspace, by the same door that a person's files go through."""

from __future__ import annotations

from pathlib import Path

from yardstick.stations.desk import Desk
from yardstick.stations.gather import keep_now, list_loads
from yardstick.store.database import connect

WORKED_WEEK = Path(__file__).parent / "worked_week"


def load_demo(url: str, home: Path, workspace: str) -> bool:
    """Load the demo files into an empty workspace.

    Parameters
    ----------
    url, home, workspace : see `web.app.create`

    Returns
    -------
    bool
        Whether anything was loaded; a workspace that has data is left alone.
    """
    desk = Desk(connect(url), home, workspace)
    if list_loads(desk):
        return False
    files = [(path.name, path.read_bytes()) for path in sorted(WORKED_WEEK.iterdir())]
    keep_now(desk, files)
    desk.engine.dispose()
    return True
