"""Personal data in values of links: whatever stands in an address is read by everybody on its way."""

from __future__ import annotations

import re
from urllib.parse import unquote

_EMAIL = re.compile(r"[^@\s=&?/]+@[^@\s=&?/]+\.[A-Za-z]{2,}")
_DAY = re.compile(r"\d{4}([-./])\d{1,2}\1\d{1,2}|\d{1,2}([-./])\d{1,2}\2\d{4}")
_PHONE = re.compile(r"\+\d[\d ().-]{6,}\d|\(0\d{1,4}\)[\d ().-]{5,}\d|\b0\d[\d()]*(?:[ .-]+[\d()]+)+")
_GROUPS_OF_TWO = re.compile(r"\+?\d{2}(?:-\d{2})+")
_PHONE_DIGITS = range(9, 16)
"""Of a whole number with its area (ITU-T E.164 allows 15)."""


def is_personal(value: str, raw: str) -> bool:
    """Whether an e-mail address or a telephone number stands in a value.

    Parameters
    ----------
    value : decoded, so that a + became a space
    raw : as it stands in the address; letters and digits alone are an id, whatever number they look like
    """
    if _EMAIL.search(value):
        return True
    return not raw.isalnum() and (_has_phone(value) or _has_phone(unquote(raw)))


def _has_phone(value: str) -> bool:
    """Whether a telephone number stands in a value: written with its +, or with a 0 before and in groups."""
    for match in _PHONE.finditer(_DAY.sub(" ", value)):
        text = match.group()
        digits = sum(c.isdigit() for c in text)
        if digits in _PHONE_DIGITS and not (text.startswith("+") and "-" in text and _GROUPS_OF_TWO.fullmatch(text)):
            return True
    return False
