"""Personal data in links: whatever stands in an address is read by everybody on its way."""

from __future__ import annotations

import re
from urllib.parse import unquote

_EMAIL = re.compile(r"[^@\s=&?/#:;,<>()\"]{1,64}@([^@\s=&?/#:;,<>()\"]{1,253})")
_LABEL = re.compile(r"[^\W_](?:[\w-]*[^\W_])?")
_FILE_ENDINGS = frozenset(
    {
        *(
            "png",
            "jpg",
            "jpeg",
            "gif",
            "svg",
            "webp",
            "avif",
            "ico",
            "bmp",
            "tif",
            "tiff",
            "pdf",
            "css",
            "js",
            "mjs",
            "json",
        ),
        *("html", "htm", "php", "mp4", "webm", "mov", "mp3", "woff", "zip"),
    }
)
_PLUS = re.compile(r"\+[1-9][\d ().-]{6,}\d")
_TWO_ZEROS = re.compile(r"(?<![\d.])00[1-9](?:[ ().-]{0,2}\d){7,13}(?![\d.])")
_DAY = re.compile(r"\d{4}([-./])\d{1,2}\1\d{1,2}|\d{1,2}([-./])\d{1,2}\2\d{4}")
_GROUPS_OF_TWO = re.compile(r"\+?\d{2}(?:-\d{2})+")
_DIGITS = range(9, 16)
"""Of a whole number with its country (ITU-T E.164 allows 15)."""
_DIGITS_AT_HOME = range(6, 16)
_WORD = re.compile(r"[^\W\d_]+")
_TELLING = frozenset(
    {
        *("phone", "phonenumber", "telephone", "tel", "telno", "telefon", "telefoon", "telefono", "teléfono", "mobile"),
        *("mobil", "movil", "cell", "cellphone", "handy", "msisdn", "fax", "gsm"),
    }
)
_NUMBERS = frozenset(
    {
        *(
            "id",
            "ids",
            "order",
            "orderid",
            "article",
            "articleid",
            "item",
            "sku",
            "ean",
            "gtin",
            "upc",
            "isbn",
            "product",
        ),
        *("productid", "ref", "invoice"),
    }
)
"""Names of parameters that hold a number of something else."""


def has_email(text: str) -> bool:
    """Whether an e-mail address stands in a text, decoded or encoded once more: its domain could be a real one, which
    the names of images (`hero@2x.png`) are not.

    Examples
    --------
    >>> has_email("to=maren%40mail.example"), has_email("to=maren@mail.example"), has_email("photo@2x.png")
    (True, True, False)
    """
    for said in {text, unquote(text)}:
        for match in _EMAIL.finditer(said):
            labels = match.group(1).rstrip(".").split(".")
            ends = labels[-1].lower()
            real = len(labels) > 1 and len(ends) > 1 and ends.isalpha() and ends not in _FILE_ENDINGS
            if real and all(_LABEL.fullmatch(label) for label in labels):
                return True
    return False


def is_personal(name: str, value: str, raw: str) -> bool:
    """Whether an e-mail address or a telephone number stands in a value.

    Parameters
    ----------
    name : of its parameter; it may tell what kind of number it holds
    value : decoded, so that a + became a space
    raw : as it stands in the address

    Notes
    -----
    A number is somebody's only where its parameter says so, or where it is written with its country (ITU-T E.123: a +;
    by hand two zeros). Numbers of orders and articles look like any other.
    """
    if ("@" in value or "%40" in value) and has_email(value):
        return True
    words = {word.lower() for word in _WORD.findall(name)}
    written = unquote(raw)
    # Elsewhere a + is a space.
    if not raw.startswith("+"):
        written = unquote(raw.replace("+", " "))
    if words & _TELLING and _digits(value) in _DIGITS_AT_HOME and not re.search(r"[^\d\s().+/-]", value.strip()):
        return True
    plain = _DAY.sub(" ", written)
    for match in _PLUS.finditer(plain):
        text = match.group()
        if _digits(text) in _DIGITS and not ("-" in text and _GROUPS_OF_TWO.fullmatch(text)):
            return True
    return not words & _NUMBERS and any(_digits(m.group()[2:]) in _DIGITS for m in _TWO_ZEROS.finditer(plain))


def _digits(text: str) -> int:
    return sum(c.isdigit() for c in text)
