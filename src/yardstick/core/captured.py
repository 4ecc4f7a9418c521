"""Captured sources (R8): the tags a form kept with a lead, as touches of last resort."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from .columns import NO_INSTANT, Flags, Ints, Text
from .tables import Table
from .tags import FIELDS
from .words import collapse, is_slot

SETS = ("first", "last")


@dataclass(frozen=True)
class Captured:
    """Two sets per lead row: number 2 x row is its first set, 2 x row + 1 its last.

    Attributes
    ----------
    fields : per name of `FIELDS`, (2 n,) text, trimmed, empty where unfilled
    filled : (2 n,) bool, sets with any value
    at : (2 n,) int64, when the set counts as a touch
    sameness : (2 n,) int64, equal numbers = equal in all fields after folding
    """

    fields: dict[str, Text]
    filled: Flags
    at: Ints
    sameness: Ints


def clean_value(text: str) -> str:
    """A captured value as it counts: trimmed, empty where it is a slot that was never filled (R4)."""
    return "" if is_slot(text) else collapse(text)


def read_captured(leads: Table, same: Callable[[str], str]) -> Captured:
    """The captured sets of every lead row.

    Parameters
    ----------
    leads : the leads table
    same : when two values are one (R2)
    """
    n = len(leads)
    fields: dict[str, Text] = {}
    for name in FIELDS:
        both = Text.join([leads.text(f"{which}_{name}").map(clean_value) for which in SETS])
        fields[name] = both.take(_interleave(np.arange(n), np.arange(n, 2 * n)))
    lead_at, first_seen = leads.ints("occurred_at"), leads.ints("first_seen_at")
    at = _interleave(np.where(first_seen == NO_INSTANT, lead_at, first_seen), lead_at)
    filled = np.zeros(2 * n, np.bool_)
    for column in fields.values():
        filled |= column.filled()
    folded = np.stack([column.map(same).codes for column in fields.values()])
    sameness = np.unique(folded, axis=1, return_inverse=True)[1].reshape(-1) if n else np.empty(0, np.int64)
    return Captured(fields, filled, at, sameness)


def _interleave(first: Ints, second: Ints) -> Ints:
    out = np.empty(len(first) + len(second), first.dtype)
    out[0::2], out[1::2] = first, second
    return out


def captured_for(
    captured: Captured, lead: Ints, conversion_at: Ints, look_back: Ints, after: Ints
) -> tuple[Ints, Ints]:
    """The captured touches that serve conversions whose trail is empty (R8, R11).

    Parameters
    ----------
    lead : (m,) int64, row of the lead each conversion is or names
    conversion_at, look_back, after : (m,) int64, its time, its window for clicks, and the instant after which touches
        count (the smallest int64 where there is none)

    Returns
    -------
    owner : (t,) int64, which of the m conversions each captured touch is for, ascending
    number : (t,) int64, number of the set; of two equal sets the earlier one only; in time order
    """
    first, last = 2 * lead, 2 * lead + 1
    ok = {}
    for which, number in (("first", first), ("last", last)):
        age = conversion_at - captured.at[number]
        ok[which] = captured.filled[number] & (age >= 0) & (age <= look_back) & (captured.at[number] > after)
    first_is_later = captured.at[first] > captured.at[last]
    double = ok["first"] & ok["last"] & (captured.sameness[first] == captured.sameness[last])
    ok["last"] &= ~(double & ~first_is_later)
    ok["first"] &= ~(double & first_is_later)
    owner = np.concatenate([np.flatnonzero(ok["first"]), np.flatnonzero(ok["last"])])
    number = np.concatenate([first[ok["first"]], last[ok["last"]]])
    order = np.lexsort((number, captured.at[number], owner))
    return owner[order], number[order]
