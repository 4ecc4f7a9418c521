"""What can identify a person (R6): identifiers as they are compared, and texts that stand for none."""

from __future__ import annotations

from collections.abc import Callable

from .columns import Text, all_match
from .words import SLOTS, Slots, fold, is_slot

NO_IDENTIFIER = frozenset(("", "null", "undefined", "none", "nan", "n/a", "0", "-"))


def usable(text: str) -> bool:
    """Whether a text can identify anybody: not empty, not an unfilled slot, not a word that stands for nothing."""
    return fold(text) not in NO_IDENTIFIER and not is_slot(text)


def plain_id(text: str) -> str:
    """A visitor id, lead id or click mark as it is compared: trimmed, case kept; empty if it is no identifier."""
    return text.strip() if usable(text) else ""


def email_id(text: str) -> str:
    """An e-mail address as it is compared: folded; empty if it is no identifier."""
    return fold(text) if usable(text) else ""


def phone_id(text: str) -> str:
    """A phone number as it is compared: its ASCII digits, `+` kept before the first; empty if it is no identifier."""
    if not usable(text):
        return ""
    digits = "".join(c for c in text if c in "0123456789")
    if not digits:
        return ""
    first = next(i for i, c in enumerate(text) if c in "0123456789")
    number = ("+" if "+" in text[:first] else "") + digits
    return number if usable(number) else ""


_PLAIN = r"^[A-Za-z0-9_.-]*[0-9][A-Za-z0-9_.-]*[A-Za-z_.-]$|^[A-Za-z0-9_.-]*[A-Za-z_.-][0-9]+$|^[0-9]{2,}$"
"""Texts with a digit, more than one character and nothing but letters, digits and signs: identifiers as they stand."""
_PLAIN_EMAIL = r"^[a-z0-9._+-]+@[a-z0-9.-]+$"
LARGE = 5_000


def normalised(column: Text, normal: Callable[[str], str], slots: Slots = SLOTS) -> Text:
    """A column of identifiers as they are compared, each distinct one looked at once.

    Parameters
    ----------
    column : as it came
    normal : one of `NORMAL`
    slots : tells unfilled slots; one is no identifier

    Notes
    -----
    Of large columns those whose values all are identifiers as they stand are told by one expression for all of them.
    """
    pattern = _PLAIN if normal is plain_id else _PLAIN_EMAIL if normal is email_id else None
    if pattern is not None and not slots.in_plain_text and all_match(column.values, f"{pattern}|^$", LARGE):
        return column
    return column.map(lambda v: "" if slots.is_slot(v) else normal(v))


NORMAL: tuple[Callable[[str], str], ...] = (plain_id, email_id, phone_id, plain_id, plain_id)
"""How each kind of identifier is normalised, in the order of `KINDS`."""
