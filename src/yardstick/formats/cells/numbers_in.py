"""Numbers as exports write them -> digits with a point before the decimals."""

from __future__ import annotations

import re
import unicodedata
from functools import cache
from typing import Any

import pyarrow as pa
import pyarrow.compute as pc

from .cells import is_currency

SPACES = " \u00a0\u202f\u2009"
MINUS = "-\u2212\u2012\u2013"
ANY = "*"
_TWO = re.compile(r"[^\W\d_]{3,6}", re.UNICODE)
_SIGN = re.compile(r"[^\W\d_]{1,4}\.?", re.UNICODE)
"""Letters beside an amount that may stand for a currency, as kr or Rs."""


@cache
def _shape(decimal: str, thousands: str) -> str:
    """A regular expression of numbers, in groups of three digits or, before the last, of two."""
    part = rf"(?:{re.escape(decimal)}\d*)?"
    if not thousands:
        return rf"^[+-]?\d+{part}$"
    between = {" ": f"[{SPACES}]", "'": "['\u2019]"}.get(thousands, re.escape(thousands))
    return rf"^[+-]?(?:\d{{1,3}}(?:{between}\d{{2,3}})*{between}\d{{3}}|\d+){part}$"


def number_of(cell: str, decimal: str, thousands: str, signs: bool, currency: str = "") -> str | None:
    """A number with a point before its decimals and nothing between its digits.

    Parameters
    ----------
    cell : trimmed, not empty
    decimal, thousands : the signs in it; the second may be empty
    signs : whether it may carry a sign of currency, which is dropped, never read
    currency : the code that may stand beside it; another is not dropped. `ANY` for all: what they say is read elsewhere

    Returns
    -------
    str, None if it is none
    """
    text = cell if cell.isascii() else "".join(str(unicodedata.decimal(c, c)) for c in cell).strip("\u200e\u200f\u061c")
    negative = text.startswith("(") and text.endswith(")")
    text = text[1:-1].strip() if negative else text
    text, minus = _without_minus(text)
    if signs:
        stripped = _without_sign(text, currency)
        if stripped is None:
            return None
        text, again = _without_minus(stripped)
        minus = minus or again
    if not re.fullmatch(_shape(decimal, thousands), text, re.ASCII) or (minus and negative):
        return None
    whole, _, part = text.partition(decimal)
    digits = "".join(c for c in whole if c.isdigit())
    sign = "-" if minus or negative or whole.startswith("-") else ""
    return f"{sign}{digits}.{part}" if part else sign + digits


def _without_minus(text: str) -> tuple[str, bool]:
    plain = text.strip("\u200e\u200f\u061c")
    if plain and plain[0] in MINUS:
        return plain[1:].lstrip(SPACES + "\u200e\u200f\u061c"), True
    if plain and plain[-1] in MINUS:
        return plain[:-1].rstrip(SPACES), True
    return plain, False


def _without_sign(text: str, currency: str) -> str | None:
    """A number without the sign of a currency before or behind it; None where that is another currency's code."""
    start = next((i for i, c in enumerate(text) if c.isdigit() or c in MINUS), len(text))
    stop = max((i + 1 for i, c in enumerate(text) if c.isdigit() or c in MINUS), default=0)
    for sign in (text[:start], text[stop:]):
        word = "".join(c for c in sign if c not in SPACES and unicodedata.category(c) not in ("Sc", "Cf"))
        if (
            word
            and word not in (".", ",", "'", "\\")
            and not _SIGN.fullmatch(word)
            and not (currency == ANY and _TWO.fullmatch(word))
        ):
            return None
        if currency != ANY and is_currency(word.upper()) and word.upper() != currency.upper():
            return None
    return text[start:stop]


def numbers_of(text: Any, decimal: str, thousands: str, signs: bool, currency: str = "") -> tuple[Any, Any]:
    """A column of numbers; see `number_of`.

    Parameters
    ----------
    text : Arrow strings, trimmed

    Returns
    -------
    tuple
        (texts, Arrow booleans: cells that are none; those stay as they came)
    """
    none = pa.repeat(pa.scalar(False), len(text))
    empty = pc.equal(text, "")
    if pc.all(pc.or_(empty, pc.match_substring_regex(text, _shape(decimal, thousands)))).as_py():
        if thousands:
            text = pc.replace_substring_regex(text, f"[^0-9{re.escape(decimal)}+-]", "")
        return (text if decimal == "." else pc.replace_substring(text, decimal, ".")), none
    if signs:
        # What most exports do: one sign before all amounts, or behind them. Codes of three letters are looked at below.
        bare = pc.replace_substring_regex(text, rf"^([+-]?)[A-Za-z]{{0,2}}\p{{Sc}}[{SPACES}]?([+-]?\d)", r"\1\2")
        bare = pc.replace_substring_regex(bare, rf"(\d)[{SPACES}]?\p{{Sc}}$", r"\1")
        if pc.all(pc.or_(empty, pc.match_substring_regex(bare, _shape(decimal, thousands)))).as_py():
            return numbers_of(bare, decimal, thousands, False)
    coded = text.dictionary_encode()
    cells = coded.dictionary.to_pylist()
    found = [number_of(cell, decimal, thousands, signs, currency) if cell else "" for cell in cells]
    out = [cell if number is None else number for cell, number in zip(cells, found, strict=True)]
    bad = pa.array([number is None for number in found], pa.bool_()).take(coded.indices)
    return pa.array(out, pa.string()).take(coded.indices), bad
