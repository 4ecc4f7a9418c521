"""The demo world into a workspace, by the same door that a person's files go through."""

from __future__ import annotations

from pathlib import Path

from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.gather.undo_loads import list_loads
from yardstick.stations.mark.edit_sheet import Sheets
from yardstick.stations.plan.share_rules import read_shared, share_rules
from yardstick.stations.workspace.desk import Desk
from yardstick.store.database import connect
from yardstick.store.links import RowChange

from .files import world_files
from .links import demo_links
from .troubles import make_troubled_world
from .world import make_clean_world


def load_demo(url: str, home: Path, workspace: str) -> bool:
    """Load the troubled demo world into an empty workspace.

    Parameters
    ----------
    url, home, workspace : see `web.app.create`

    Returns
    -------
    bool
        Whether anything was loaded; a workspace that has data is left alone.
    """
    desk = Desk(connect(url), home, workspace)
    try:
        if list_loads(desk):
            return False
        print("Loading the demo world of Lunnick Sound Ferries", flush=True)
        world, _ = make_troubled_world(make_clean_world())
        keep_now(desk, world_files(world))
        if not read_shared(desk).version:
            share_rules(desk, 0)
        changes = [RowChange(f"demo-{i:03d}", cells) for i, cells in enumerate(demo_links())]
        sheets = Sheets(desk)
        sheets.change(changes, sheets.read().basis, "links of the demo world")
        return True
    finally:
        desk.engine.dispose()
