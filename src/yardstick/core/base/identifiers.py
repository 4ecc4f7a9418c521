"""What can identify a person (R6): identifiers as they are compared, and texts that stand for none."""

from __future__ import annotations

from collections.abc import Callable

from .words import fold, is_slot

VISITOR, EMAIL, PHONE, LEAD, MARK = range(5)
"""Kinds of identifiers, in the order of R6."""
IDENTIFIER_KINDS = ("visitor_id", "email", "phone", "lead_id", "click_id")
"""What settings call them."""

NO_IDENTIFIER = frozenset(("", "null", "undefined", "none", "nan", "n/a", "0", "-"))


def usable(text: str) -> bool:
    """Whether a text can identify anybody: not empty, not an unfilled slot, not a word that stands for nothing."""
    return fold(text) not in NO_IDENTIFIER and not is_slot(text)


def plain_id(text: str) -> str:
    """A visitor id, lead id or click mark as it is compared: trimmed, case kept; empty if it is no identifier."""
    return text.strip() if usable(text) else ""


def email_id(text: str) -> str:
    """An e-mail address as it is compared: folded; empty if it is no identifier.

    Examples
    --------
    >>> email_id(" Maren@Mail.Example ")
    'maren@mail.example'
    """
    return fold(text) if usable(text) else ""


def phone_id(text: str) -> str:
    """A phone number as it is compared: its ASCII digits, `+` kept before the first; empty if it is no identifier.

    Examples
    --------
    >>> phone_id("+44 (0)131 496-0000")
    '+4401314960000'
    >>> phone_id("12345")
    '12345'
    """
    if not usable(text):
        return ""
    digits = "".join(c for c in text if c in "0123456789")
    if not digits:
        return ""
    first = next(i for i, c in enumerate(text) if c in "0123456789")
    number = ("+" if "+" in text[:first] else "") + digits
    return number if usable(number) else ""


_NORMAL: tuple[Callable[[str], str], ...] = (plain_id, email_id, phone_id, plain_id, plain_id)


def stated_identifier(text: str) -> tuple[int, str]:
    """An identifier as settings write it, `kind:value`: its kind, and its value as it is compared.

    Raises
    ------
    ValueError
        Says what it is not: of no known kind, or nothing that identifies anybody.

    Examples
    --------
    >>> stated_identifier("email: Desk@Mail.example")
    (1, 'desk@mail.example')
    """
    word, colon, value = text.partition(":")
    if not colon or fold(word) not in IDENTIFIER_KINDS:
        raise ValueError(f"{text[:60]!r} is no identifier: write one of {', '.join(IDENTIFIER_KINDS)}, then : and it")
    kind = IDENTIFIER_KINDS.index(fold(word))
    found = _NORMAL[kind](value)
    if not found:
        raise ValueError(f"{text[:60]!r} identifies nobody: write the value after the colon")
    return kind, found
