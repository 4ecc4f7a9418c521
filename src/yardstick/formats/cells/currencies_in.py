"""Currencies that stand beside amounts: codes, and signs that were said to be one. None is ever guessed."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Any

import pyarrow as pa
import pyarrow.compute as pc

from .cells import is_currency

SPACES = " \u00a0\u202f\u2009"
_NUMBER = "[+\\-−‒–(]*[0-9٠-٩۰-۹][0-9٠-٩۰-۹.,'’٫٬ \u00a0\u202f\u2009]*[)]?-?"
_LOOSE = " \u00a0\u202f\u2009.,'’()+-−‒–\u200e\u200f\u061c٫٬"


def marks_of(text: Any) -> Any:
    """What stands beside the digits of each amount: a code, a sign, or nothing.

    Parameters
    ----------
    text : Arrow strings, trimmed

    Returns
    -------
    Arrow strings, upper case for codes of ISO 4217
    """
    bare = pc.replace_substring_regex(text, _NUMBER, " ")
    coded = bare.dictionary_encode()
    made = [mark_of(cell or "") for cell in coded.dictionary.to_pylist()]
    return pa.array(made, pa.string()).take(coded.indices)


def mark_of(rest: str) -> str:
    """The code or sign in what stands beside the digits of an amount."""
    said = " ".join(part for part in (word.strip(_LOOSE) for word in rest.split()) if part)
    return said.upper() if is_currency(said.upper()) and said.isascii() else said


def code_of(mark: str, signs: Mapping[str, str]) -> str:
    """The currency that a mark says; empty where it says none."""
    if mark in signs:
        return signs[mark]
    # 12 US$, EUR €: a code beside its sign.
    codes = {part.upper() for part in mark.split() if is_currency(part.upper()) and part.isascii()}
    return codes.pop() if len(codes) == 1 else ""


@cache
def codes_by_sign() -> Mapping[str, tuple[str, ...]]:
    """Sign -> the currencies that somebody writes so, as CLDR has them in the languages of exports."""
    from babel import Locale  # a tenth of a second that few files need

    found: dict[str, dict[str, None]] = {}
    for tag in _PLACES:
        for code, sign in Locale.parse(tag).currency_symbols.items():
            sign = sign.strip(_LOOSE)
            if is_currency(code) and sign and sign != code and not code.startswith("X"):
                found.setdefault(sign, {})[code] = None
    # In Shift_JIS the sign of the yen stands where others have a backslash.
    return {sign: tuple(codes) for sign, codes in found.items()} | {"\\": ("JPY",)}


_TAGS = (
    "en en_AU en_CA en_GB en_NZ en_IN en_ZA en_SG en_HK de de_CH fr fr_CA es es_MX es_AR es_CL es_CO it pt pt_BR nl "
    "sv da nb fi is pl cs sk hu ro bg hr sr tr el ru uk he ar_EG fa hi bn ta th vi id ms fil ko ja zh zh_TW"
)
_PLACES = tuple(_TAGS.split(" "))
