"""Plan: what is running and what counts. Every change is a version and can be undone."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import fold
from yardstick.formats.plan.plan_document import Document
from yardstick.formats.plan.plan_fields import PlanField, fields_of, general_fields
from yardstick.formats.plan.renaming import Renamed, follow, renamed_in
from yardstick.formats.plan.sections import SECTIONS
from yardstick.store.links import change_rows
from yardstick.store.loading import lock, next_load, undo
from yardstick.store.plans import Step, keep_settings, steps
from yardstick.store.states import last_change_of
from yardstick.store.steps import reach

from ..workspace.desk import Desk
from ..workspace.follow_renames import rows_that_follow, undo_following
from ..workspace.hold_addresses import hold_addresses
from ..workspace.keep_locks import keep_locks
from ..workspace.refusals import Overtaken
from .merge_edits import SameField, merged


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
    """Make a list of records the section's, as one change with one undo. What refers to a record by its name follows
    when it is called otherwise, in the plan and in the link sheet; old names stay the same as the new ones.

    Parameters
    ----------
    desk : the workspace
    section : key of `SECTIONS`
    records : all of them, in order
    basis : `PlanNow.basis` of the plan the change was made on
    what : what was done, for the list of changes
    was : of records that are called otherwise now, name now -> name before, see `renamed_in`
    merges : whether other fields that were changed in the meantime stay as they are, see `merging.merged`

    Raises
    ------
    SettingsError
        If there is no such section, a record is wrong, or a locked expectation would change.
    Overtaken
        If the list was changed in the meantime; with `merges`, the same fields of it.
    """
    if section not in SECTIONS:
        raise SettingsError(f"the plan has no section {section!r}; there are {', '.join(SECTIONS)}")

    def changed(document: Document, seen: Document | None = None) -> _Edit:
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
        return _Edit(out, renamed, followed)

    said = what or f"{section.replace('_', ' ')} changed"
    _change(desk, changed, basis, said, lambda document: document.records(section), merges)


OTHER_WINDOW = "the same list was changed in another window"


def records_kept(section: str, records: Sequence[Mapping[str, Any]]) -> list[dict[str, Any]]:
    """Records of a section as the plan would keep them: typed, without their empty fields."""
    return Document("").with_records(section, records).records(section)


def change_general(desk: Desk, values: Mapping[str, Any], basis: int) -> None:
    """Change settings that are no lists of records; a value of None brings the default back. See `change_records`."""
    _change(
        desk,
        lambda document, _: _Edit(document.with_general(values)),
        basis,
        f"{', '.join(values)} changed",
        lambda document: {name: document.general().get(name) for name in values},
    )


@dataclass(frozen=True)
class _Edit:
    """A plan after an edit, with the records that are called otherwise, and how many of each section follow."""

    document: Document
    renamed: Sequence[Renamed] = ()
    followed: Counter[str] = field(default_factory=Counter)


def _change(
    desk: Desk,
    changed: Callable[[Document, Document | None], _Edit],
    basis: int,
    what: str,
    read: Callable[[Document], object],
    merges: bool = False,
) -> None:
    """Change the settings, unless what the edit was made on is no longer what stands.

    Parameters
    ----------
    changed : makes the new document of the one that stands, and of the one that the edit was made on where both
        differ in what it is about
    basis : `PlanNow.basis` of the plan the edit was made on
    what : for the list of changes
    read : the part of the document that the edit is about; edits of other parts meanwhile stay
    merges : whether `changed` can make one of two edits of that part
    """
    with desk.begin() as connection:
        lock(connection, desk.workspace)
        now = desk.kept_plan(connection).document
        last = last_change_of(connection, desk.workspace, "settings")
        if basis > last:
            raise Overtaken("the plan has changed since you opened it; nothing was saved. Reload and repeat")
        seen = desk.kept_plan(connection, basis).document if basis != last else None
        if seen is not None and read(seen) == read(now):
            seen = None
        if seen is not None and not merges:
            raise Overtaken(f"{OTHER_WINDOW}; nothing was saved. Reload and repeat")
        try:
            edit = changed(now, seen)
        except SameField as both:
            raise Overtaken(f"{OTHER_WINDOW} ({both}); nothing was saved. Reload and repeat") from None
        edit.document.plan()
        rows = hold_addresses(desk, connection)
        following = rows_that_follow(edit.renamed, rows)
        followed = edit.followed + Counter({"link": len(following)})
        names = [one.said for one in edit.renamed if "renamed" in one.said]
        said = f"{', '.join(names)}: {_many(followed)} with it" if names and followed.total() else what
        batch_number = next_load(connection) if following else None
        keep_settings(connection, desk.workspace, edit.document.text(), "plan", said, batch_number)
        if following:
            change_rows(connection, desk.workspace, rows, following, said, batch_number)
        reach("plan recorded", desk.end_backends)
    reach("plan committed", desk.end_backends)
    desk.settle()


def _many(counts: Counter[str]) -> str:
    named = ((name.replace("_", " "), number) for name, number in sorted(counts.items()) if number)
    return ", ".join(f"{number} {name}" if number == 1 else f"{number} {name}s" for name, number in named)


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
