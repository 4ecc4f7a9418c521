"""Plan: what is running and what counts. Every change is a version and can be undone."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from yardstick.formats.plan.plan_fields import PlanField, fields_of, general_fields
from yardstick.formats.plan.sections import SECTIONS
from yardstick.store.loading import lock, undo
from yardstick.store.plans import Step, steps
from yardstick.store.states import last_change_of
from yardstick.store.steps import reach

from ..workspace.desk import Desk
from ..workspace.follow_renames import undo_following
from ..workspace.hold_addresses import hold_addresses
from .plan_edits import PlanEdit, general_edit, make_edit, records_edit, see_tried


@dataclass(frozen=True)
class PlanNow:
    """The plan as it stands.

    Attributes
    ----------
    basis : the change it stands after; an edit says which it was made on
    sections : records by section
    general : settings that are no lists of records
    fields : fields by section, and of the general settings under ""
    steps : changes, the latest first
    """

    basis: int
    sections: dict[str, list[dict[str, Any]]]
    general: dict[str, Any]
    fields: dict[str, tuple[PlanField, ...]]
    steps: list[Step]


def read_plan(desk: Desk) -> PlanNow:
    """The plan as it stands now."""
    with desk.engine.connect() as connection:
        document = desk.kept_plan(connection).document
        basis = last_change_of(connection, desk.workspace, "settings")
        made = steps(connection, desk.workspace)
    extra = tuple(document.general().get("extra_values", ()))
    return PlanNow(
        basis=basis,
        sections={name: document.records(name) for name in SECTIONS},
        general=document.general(),
        fields={"": general_fields()} | {name: fields_of(name, extra) for name in SECTIONS},
        steps=made,
    )


def change_records(
    desk: Desk,
    section: str,
    records: Sequence[Mapping[str, Any]],
    basis: int,
    what: str = "",
    was: Mapping[str, str] | None = None,
    merges: bool = False,
) -> None:
    """Make a list of records the section's, as one change with one undo; see `records_edit` and `keep_edit`."""
    keep_edit(desk, records_edit(desk, section, records, what, was, merges), basis)


def change_general(desk: Desk, values: Mapping[str, Any], basis: int) -> None:
    """Change settings that are no lists of records; see `general_edit` and `keep_edit`."""
    keep_edit(desk, general_edit(values), basis)


def keep_edit(desk: Desk, edit: PlanEdit, basis: int, tried: str = "") -> None:
    """Keep an edit of the plan, as one change with one undo.

    Parameters
    ----------
    desk : the workspace
    edit : what is changed
    basis : `PlanNow.basis` of the plan the edit was made on
    tried : `PlanTrial.state` of the trial that was looked at; empty = none was

    Raises
    ------
    SettingsError
        If the edit is wrong, or a locked expectation would change.
    Overtaken
        If what is edited was changed in the meantime; if `edit` merges, the same fields of it. Or if by now something
        else would be kept than was tried.
    """
    with desk.begin() as connection:
        make_edit(desk, connection, edit, basis)
        see_tried(desk, connection, tried)
        reach("plan recorded", desk.end_backends)
    reach("plan committed", desk.end_backends)
    desk.settle()


def undo_plan(desk: Desk) -> None:
    """Undo the latest change of the settings that stands.

    Raises
    ------
    CannotUndo
        If there is none.
    """
    with desk.begin() as connection:
        lock(connection, desk.workspace)
        latest = next((step.id for step in steps(connection, desk.workspace) if not step.undone), 0)
        rows = hold_addresses(desk, connection)
        undo(connection, desk.workspace, latest)
        undo_following(connection, desk.workspace, latest, rows)
    desk.settle()
