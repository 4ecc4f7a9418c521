"""Sources that are remembered: how a file was read is how the next of its shape is read."""

from __future__ import annotations

from sqlalchemy import Connection

from yardstick.core.base.words import fold
from yardstick.formats.plan.source_parts import SourcePart, record_of
from yardstick.store.loading import lock
from yardstick.store.plans import keep_settings

from ..workspace.desk import Desk


def remember(connection: Connection, desk: Desk, part: SourcePart) -> None:
    """Put a source into the plan, in the transaction of `connection`, unless it stands there just so.

    Raises
    ------
    SettingsError
        If it cannot stand beside what the plan has.
    """
    lock(connection, desk.workspace)
    document = desk.kept_plan(connection).document
    records = document.records("source")
    wanted = record_of(part)
    place = next((i for i, r in enumerate(records) if fold(str(r.get("name", ""))) == fold(part.name)), None)
    if place is not None and record_of(SourcePart.model_validate(records[place])) == wanted:
        return
    if place is None:
        records.append(wanted)
    else:
        records[place] = wanted
    changed = document.with_records("source", records)
    changed.plan()
    said = f"source {part.name} {'remembered' if place is None else 'changed'}"
    keep_settings(connection, desk.workspace, changed.text(), "plan", said)
