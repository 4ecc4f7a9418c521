"""Renames and merges: a value that is another from a day on. Raw values stay; only what is shown changes."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from .columns import Ints, Text
from .days import day_number
from .settings import Rename, Settings, SettingsError
from .words import collapse, same_as

ALWAYS = -(10**9)


def renames_of(field: str, settings: Settings) -> list[Rename]:
    """Everything that renames values of a field: the renames themselves, codes of campaigns, ids of the level tree."""
    out = [r for r in settings.renames if r.field == field]
    out += [Rename(field, level.id, level.name) for level in settings.levels if level.level == field and level.id]
    if field == "campaign":
        out += [Rename(field, c.code, c.name) for c in settings.campaigns if c.code]
    return out


def check_renames(settings: Settings) -> None:
    """See that no value is renamed in a circle, or twice from one day on.

    Raises
    ------
    SettingsError
        If one is.
    """
    same = same_as(settings.fold)
    for field in sorted({r.field for r in settings.renames} | {v.level for v in settings.levels} | {"campaign"}):
        seen: dict[tuple[str, object], str] = {}
        onward: dict[str, set[str]] = {}
        for rename in renames_of(field, settings):
            old, new = same(rename.old), same(rename.new)
            if seen.setdefault((old, rename.since), new) != new:
                raise SettingsError(f"{field} {rename.old!r} is given two names from one day on: keep one of them")
            if old != new:
                onward.setdefault(old, set()).add(new)
        for start in onward:
            reached, ahead = set[str](), {start}
            while ahead:
                ahead = {n for old in ahead for n in onward.get(old, ())} - reached
                reached |= ahead
            if start in reached:
                raise SettingsError(f"{field} {start!r} is renamed in a circle: take one of the renames out")


def rename_rows(text: Text, days: Ints, renames: Sequence[Rename], same: Callable[[str], str]) -> Text:
    """The values of a column under their names of the day.

    Parameters
    ----------
    text : (n,) text
    days : (n,) int64, days since 1970
    renames : of this field; of several for one value the latest that has begun holds, and new names are looked up again
    same : when two values are one (R2)

    Returns
    -------
    (n,) text
    """
    if not renames or not len(text):
        return text
    starts = sorted({_start(r) for r in renames})
    seen = {value: code for code, value in enumerate(text.values)}
    codes = text.codes.astype(np.int64)
    out = codes.copy()
    edges = np.searchsorted(np.array(starts), days, side="right")
    for number, start in enumerate(starts, 1):
        holds = {same(r.old): collapse(r.new) for r in sorted(renames, key=_start) if _start(r) <= start}
        table = [seen.setdefault(_follow(value, holds, same), len(seen)) for value in text.values]
        mine = edges == number
        out[mine] = np.array(table, np.int64)[codes[mine]]
    return Text(out.astype(np.int32), list(seen))


def _start(rename: Rename) -> int:
    return ALWAYS if rename.since is None else day_number(rename.since)


def _follow(value: str, holds: dict[str, str], same: Callable[[str], str]) -> str:
    passed: set[str] = set()
    key = same(value)
    while key in holds and key not in passed:
        passed.add(key)
        value = holds[key]
        key = same(value)
    return value
