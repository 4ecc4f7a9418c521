"""Edits of one list in two windows, made one: what each changed stands, unless both changed the same field."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

Record = Mapping[str, Any]


class SameField(ValueError):
    """Both windows changed one field, or moved or removed records; the text says which."""


def merged(seen: Sequence[Record], mine: Sequence[Record], theirs: Sequence[Record]) -> list[dict[str, Any]]:
    """A list as both edits want it.

    Parameters
    ----------
    seen : the list that mine was made of
    mine : as it is wanted here
    theirs : as it stands by now

    Returns
    -------
    theirs, with the fields that were changed here, and the records that were added here at its end

    Raises
    ------
    SameField
        If both changed one field of one record to something else, either moved or removed records, or both changed a
        record that either calls otherwise, or that has no name: one may have put another in its place.
    """
    for one in (mine, theirs):
        _same_places(seen, one)
    out = [_fields(old, here, there) for old, here, there in zip(seen, mine, theirs, strict=False)]
    added = [dict(record) for record in mine[len(seen) :] if record not in theirs[len(seen) :]]
    return [*out, *map(dict, theirs[len(seen) :]), *added]


def _same_places(seen: Sequence[Record], now: Sequence[Record]) -> None:
    """Records may be changed where they stand and added at the end, no more."""
    if len(now) < len(seen):
        raise SameField("records were removed")
    for at, (old, new) in enumerate(zip(seen, now, strict=False)):
        if old == new:
            continue
        # What looks like another record is one that stood elsewhere: something was moved or removed.
        elsewhere = [*seen[:at], *seen[at + 1 :]]
        names = [record.get("name") for record in elsewhere]
        if new in elsewhere or (new.get("name") is not None and new.get("name") in names):
            raise SameField("records were moved or removed")


def _fields(seen: Record, mine: Record, theirs: Record) -> dict[str, Any]:
    if theirs == seen or mine == theirs:
        return dict(mine)
    if mine == seen:
        return dict(theirs)
    # Only a name that all three have tells that it is one record, and not another in its place.
    if not seen.get("name") or not seen.get("name") == mine.get("name") == theirs.get("name"):
        raise SameField(f"{seen.get('name') or 'a record'} was changed")
    out = dict(theirs)
    for name in sorted({*seen, *mine}):
        old, here, there = (record.get(name) for record in (seen, mine, theirs))
        if here in (old, there):
            continue
        if there != old:
            raise SameField(f"{name} of {seen['name']} was changed")
        if here is None:
            out.pop(name, None)
        else:
            out[name] = here
    return out
