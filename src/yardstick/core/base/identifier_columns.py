"""Columns of identifiers as they are compared (R6)."""

from __future__ import annotations

from collections.abc import Callable

from .columns import Text, all_match
from .identifiers import email_id, plain_id
from .words import SLOTS, Slots

_PLAIN = r"^[A-Za-z0-9_.-]*[0-9][A-Za-z0-9_.-]*[A-Za-z_.-]$|^[A-Za-z0-9_.-]*[A-Za-z_.-][0-9]+$|^[0-9]{2,}$"
"""Texts with a digit, more than one character and nothing but letters, digits and signs: identifiers as they stand."""
_PLAIN_EMAIL = r"^[a-z0-9._+-]+@[a-z0-9.-]+$"
LARGE = 1_000


def normalised(column: Text, normal: Callable[[str], str], slots: Slots = SLOTS) -> Text:
    """A column of identifiers as they are compared, each distinct one looked at once.

    Parameters
    ----------
    column : as it came
    normal : `plain_id`, `email_id` or `phone_id`
    slots : tells unfilled slots; one is no identifier

    Notes
    -----
    Of large columns those whose values all are identifiers as they stand are told by one expression for all of them.
    """
    pattern = _PLAIN if normal is plain_id else _PLAIN_EMAIL if normal is email_id else None
    if pattern is not None and not slots.in_plain_text and all_match(column.values, f"{pattern}|^$", LARGE):
        return column
    return column.map(lambda v: "" if slots.is_slot(v) else normal(v))
