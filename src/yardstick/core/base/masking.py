"""What is shown of somebody: no more than tells one from another."""

from __future__ import annotations

from .identifiers import EMAIL, PHONE


def masked_email(email: str) -> str:
    """An e-mail address by its first letter and its host.

    Examples
    --------
    >>> masked_email("ada@lunnick.example"), masked_email("")
    ('a...@lunnick.example', '')
    """
    name, at, host = email.strip().rpartition("@")
    return f"{name[:1]}...{at}{host}" if at else "..." if email.strip() else ""


def masked_phone(phone: str) -> str:
    """A phone number by its last two digits.

    Examples
    --------
    >>> masked_phone("+4401314960000")
    '...00'
    """
    return f"...{phone.strip()[-2:]}" if len(phone.strip()) > 4 else "..." if phone.strip() else ""


def masked_name(name: str) -> str:
    """A name by the first letters of its words.

    Examples
    --------
    >>> masked_name("Maren Holt")
    'M... H...'
    """
    return " ".join(f"{word[0]}..." for word in name.split())


def masked_identifier(kind: int, value: str) -> str:
    """An identifier of a kind of R6: addresses and numbers masked, ids as they are."""
    return masked_email(value) if kind == EMAIL else masked_phone(value) if kind == PHONE else value
