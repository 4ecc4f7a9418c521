"""What a settings file that waits would move, with nothing kept (R33)."""

from __future__ import annotations

from ..plan.try_plan import PlanTrial, try_change
from ..weigh.weigh_board import Weighing
from ..workspace.desk import Desk
from ..workspace.refusals import NotFound
from .keep_files import put_settings
from .uploads import classify_uploads
from .waiting_files import uploaded


def try_settings(desk: Desk, weighing: Weighing, token: str) -> PlanTrial:
    """What the settings among the files of a rehearsal would move on the rows that stand.

    Parameters
    ----------
    desk, weighing : the workspace
    token : of the rehearsal

    Raises
    ------
    NotFound
        If it is over, or has no settings that can be used.
    """
    folder = desk.uploads / token
    if not token.isalnum() or not folder.is_dir():
        raise NotFound("this rehearsal is over: choose the files again")
    given, _, _ = classify_uploads(desk, uploaded(folder))
    file = next((one for one in given if one.table == "settings"), None)
    if file is None:
        raise NotFound("none of these files is one of settings that can be used")
    return try_change(desk, weighing, lambda connection: put_settings(desk, connection, file))
