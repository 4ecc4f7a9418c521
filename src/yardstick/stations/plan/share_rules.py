"""Channel rules shared with other workspaces.

A workspace keeps its own copy of them, so that nobody else's change moves its figures: it takes a newer list over when
its people say so, as a change with an undo like any other.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from yardstick.core.base.errors import SettingsError
from yardstick.formats.plan.plan_document import Record
from yardstick.store.shared_rules import SharedVersion, lock_shared, share, standing, withdraw

from ..workspace.desk import Desk
from ..workspace.refusals import Overtaken
from .change_plan import keep_edit
from .plan_edits import PlanEdit, records_edit

SECTION = "shared_channel"


@dataclass(frozen=True)
class SharedList:
    """The shared list beside this workspace's copy.

    Attributes
    ----------
    version : 0 before anything was shared
    records : the rules that stand
    by, shared_at : the workspace that shared them, and when
    mine : whether this workspace did
    only_shared, only_here : rules one has and the other lacks, by channel; the same rule changed stands in both
    same : whether the copy equals the list, order included
    """

    version: int
    records: list[Record]
    by: str
    shared_at: datetime | None
    mine: bool
    only_shared: list[str]
    only_here: list[str]
    same: bool


def read_shared(desk: Desk) -> SharedList:
    """The shared list as it stands."""
    with desk.engine.connect() as connection:
        here = desk.kept_plan(connection).document.records(SECTION)
        found = standing(connection)
    if found is None:
        return SharedList(0, [], "", None, False, [], _channels(here), not here)
    return SharedList(
        found.id,
        found.records,
        found.by,
        found.shared_at,
        found.by == desk.name,
        _channels([r for r in found.records if r not in here]),
        _channels([r for r in here if r not in found.records]),
        here == found.records,
    )


def _channels(records: list[Record]) -> list[str]:
    return [str(record["name"]) for record in records]


def share_rules(desk: Desk, version: int) -> None:
    """Make this workspace's copy the shared list.

    Parameters
    ----------
    desk : the workspace
    version : `SharedList.version` that stood when it was decided

    Raises
    ------
    Overtaken
        If another list was shared in the meantime.
    """
    with desk.begin() as connection:
        lock_shared(connection)
        _still(standing(connection), version)
        share(connection, desk.workspace, desk.kept_plan(connection).document.records(SECTION))


def withdraw_rules(desk: Desk, version: int) -> None:
    """Take back the list this workspace shared last; the one before it stands again.

    Raises
    ------
    Overtaken
        If another list was shared in the meantime.
    SettingsError
        If another workspace shared it.
    """
    with desk.begin() as connection:
        lock_shared(connection)
        found = standing(connection)
        _still(found, version)
        if found is None or found.by != desk.name:
            raise SettingsError("only the workspace that shared these rules can take them back")
        withdraw(connection, version)


def take_over(desk: Desk, version: int, basis: int) -> None:
    """Make the shared list this workspace's copy, as one change of its plan; see `take_over_edit`."""
    keep_edit(desk, take_over_edit(desk, version), basis)


def take_over_edit(desk: Desk, version: int) -> PlanEdit:
    """The shared list becomes this workspace's copy.

    Parameters
    ----------
    desk : the workspace
    version : `SharedList.version` that was looked at

    Raises
    ------
    Overtaken
        If another list was shared in the meantime.
    """
    with desk.engine.connect() as connection:
        found = standing(connection)
    _still(found, version)
    records = found.records if found else []
    return records_edit(desk, SECTION, records, f"shared rules of {found.by if found else 'nobody'} taken over")


def _still(found: SharedVersion | None, version: int) -> None:
    if (found.id if found else 0) != version:
        raise Overtaken("another list of rules was shared in the meantime: reload and repeat")
