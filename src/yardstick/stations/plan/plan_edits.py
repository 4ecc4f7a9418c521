"""Edits of the plan: what is changed, and the one way in which that is put on record, for trying and for keeping."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import Connection

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import fold
from yardstick.formats.plan.plan_document import Document
from yardstick.formats.plan.renaming import Renamed, follow, renamed_in
from yardstick.formats.plan.sections import SECTIONS
from yardstick.store.links import change_rows
from yardstick.store.loading import lock, next_load
from yardstick.store.plans import keep_settings
from yardstick.store.states import last_change_of

from ..workspace.desk import Desk
from ..workspace.follow_renames import rows_that_follow
from ..workspace.hold_addresses import hold_addresses
from ..workspace.keep_locks import keep_locks
from ..workspace.refusals import Overtaken
from .merge_edits import SameField, merged

OTHER_WINDOW = "the same list was changed in another window"


@dataclass(frozen=True)
class EditedPlan:
    """A plan after an edit, with the records that are called otherwise, and how many of each section follow."""

    document: Document
    renamed: Sequence[Renamed] = ()
    followed: Counter[str] = field(default_factory=Counter)


@dataclass(frozen=True)
class PlanEdit:
    """An edit of the plan that is neither tried nor kept yet.

    Attributes
    ----------
    what : for the list of changes
    changed : makes the new document of the one that stands, and of the one that the edit was made on where both differ
        in what it is about
    read : the part of the document that the edit is about; edits of other parts meanwhile stay
    merges : whether `changed` can make one of two edits of that part
    """

    what: str
    changed: Callable[[Document, Document | None], EditedPlan]
    read: Callable[[Document], object]
    merges: bool = False


def records_edit(
    desk: Desk,
    section: str,
    records: Sequence[Mapping[str, Any]],
    what: str = "",
    was: Mapping[str, str] | None = None,
    merges: bool = False,
) -> PlanEdit:
    """A list of records becomes the section's. What refers to a record by its name follows when it is called otherwise,
    in the plan and in the link sheet; old names stay the same as the new ones.

    Parameters
    ----------
    desk : the workspace
    section : key of `SECTIONS`
    records : all of them, in order
    what : what was done, for the list of changes
    was : of records that are called otherwise now, name now -> name before, see `renamed_in`
    merges : whether other fields that were changed in the meantime stay as they are, see `merging.merged`

    Raises
    ------
    SettingsError
        If there is no such section.
    """
    if section not in SECTIONS:
        raise SettingsError(f"the plan has no section {section!r}; there are {', '.join(SECTIONS)}")

    def changed(document: Document, seen: Document | None = None) -> EditedPlan:
        before = document.records(section)
        wanted = records if seen is None else merged(seen.records(section), records_kept(section, records), before)
        out = document.with_records(section, wanted)
        renamed = renamed_in(section, before, out.records(section), was or {})
        if section == "campaign":
            keep_locks(desk, before, out.records(section), {fold(str(r.old["name"])): r.new for r in renamed})
        followed: Counter[str] = Counter()
        for one in renamed:
            out, counts = follow(out, one)
            followed += counts
        return EditedPlan(out, renamed, followed)

    said = what or f"{section.replace('_', ' ')} changed"
    return PlanEdit(said, changed, lambda document: document.records(section), merges)


def records_kept(section: str, records: Sequence[Mapping[str, Any]]) -> list[dict[str, Any]]:
    """Records of a section as the plan would keep them: typed, without their empty fields."""
    return Document("").with_records(section, records).records(section)


def general_edit(values: Mapping[str, Any]) -> PlanEdit:
    """Settings that are no lists of records become others; a value of None brings the default back."""
    return PlanEdit(
        f"{', '.join(values)} changed",
        lambda document, _: EditedPlan(document.with_general(values)),
        lambda document: {name: document.general().get(name) for name in values},
    )


def make_edit(desk: Desk, connection: Connection, edit: PlanEdit, basis: int) -> None:
    """Put an edit on record, with all that follows it, unless what it was made on is no longer what stands.

    Parameters
    ----------
    desk, connection : the workspace, and the transaction: committed to keep the edit, rolled back after trying it
    edit, basis : see `change_plan.keep_edit`

    Raises
    ------
    SettingsError, Overtaken
        See `change_plan.keep_edit`.
    """
    lock(connection, desk.workspace)
    now = desk.kept_plan(connection).document
    last = last_change_of(connection, desk.workspace, "settings")
    if basis > last:
        raise Overtaken("the plan has changed since you opened it; nothing was saved. Reload and repeat")
    seen = desk.kept_plan(connection, basis).document if basis != last else None
    if seen is not None and edit.read(seen) == edit.read(now):
        seen = None
    if seen is not None and not edit.merges:
        raise Overtaken(f"{OTHER_WINDOW}; nothing was saved. Reload and repeat")
    try:
        edited = edit.changed(now, seen)
    except SameField as both:
        raise Overtaken(f"{OTHER_WINDOW} ({both}); nothing was saved. Reload and repeat") from None
    edited.document.plan()
    rows = hold_addresses(desk, connection)
    following = rows_that_follow(edited.renamed, rows)
    followed = edited.followed + Counter({"link": len(following)})
    names = [one.said for one in edited.renamed if "renamed" in one.said]
    said = f"{', '.join(names)}: {_many(followed)} with it" if names and followed.total() else edit.what
    batch_number = next_load(connection) if following else None
    keep_settings(connection, desk.workspace, edited.document.text(), "plan", said, batch_number)
    if following:
        change_rows(connection, desk.workspace, rows, following, said, batch_number)


def see_tried(desk: Desk, connection: Connection, tried: str) -> None:
    """See that what is on record in a transaction is what was tried.

    Raises
    ------
    Overtaken
        If it is something else; an empty name was not tried.
    """
    if tried and desk.state_in(connection).name != tried:
        raise Overtaken("something else has changed since you tried this; nothing was saved. Try it again")


def _many(counts: Counter[str]) -> str:
    named = ((name.replace("_", " "), number) for name, number in sorted(counts.items()) if number)
    return ", ".join(f"{number} {name}" if number == 1 else f"{number} {name}s" for name, number in named)
