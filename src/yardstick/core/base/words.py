"""Folding (R2) and unfilled slots (R4): when two spellings are one value, and when a value is none."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Iterable
from functools import lru_cache

_PAIRS = (
    ("{{", "}}", "{}"),
    ("{", "}", "{}"),
    ("<", ">", "<>"),
    ("[[", "]]", "[]"),
    ("[", "]", "[]"),
    ("%%", "%%", "%"),
    ("%", "%", "%"),
    ("~", "~", "~"),
    ("(:", ":)", "(:)"),
)
_WHOLE = re.compile("|".join(f"{re.escape(a)}[^{re.escape(c)}]*{re.escape(b)}" for a, b, c in _PAIRS), re.DOTALL)
_WHOLE_PERCENT = re.compile("%%[^%]*%%|%[^%]*%")
# Inside a longer value only text that reads like a name counts, so that "50%-70%" is left in peace.
_NO_ESCAPE = "(?![0-9A-Fa-f]{2})"
_INSIDE = re.compile(
    "|".join(rf"{re.escape(a)}[A-Za-z_][\w .:-]*?{re.escape(b)}{_NO_ESCAPE if c == '%' else ''}" for a, b, c in _PAIRS)
)
# Before decoding, where a name that begins like an escape was decoded away; the last sign begins no escape itself.
_INSIDE_UNDECODED = re.compile(r"%%?[A-Za-z_][A-Za-z0-9_.:-]{2,}%%?" + _NO_ESCAPE)
_WHOLE_IN_ADDRESS = r"(?<==)%%?[^%&#=]+%%?(?=&|#|$)"


def collapse(text: str) -> str:
    """Trim, and make each run of white space one space (R1)."""
    return " ".join(text.split())


@lru_cache(maxsize=65_536)
def fold(text: str) -> str:
    """Fold: collapse white space, NFKC, casefold, NFKC, collapse (R2).

    Examples
    --------
    >>> fold("  Spring  WHALE Boats ") == fold("spring whale boats")
    True
    """
    if text.isascii():
        return collapse(text).lower()
    once = unicodedata.normalize("NFKC", collapse(text)).casefold()
    return collapse(unicodedata.normalize("NFKC", once))


def same_as(folding: bool) -> Callable[[str], str]:
    """The function under which two values compare equal: `fold`, or only `collapse` where folding is off (R2)."""
    return fold if folding else collapse


class Slots:
    """Tells unfilled slots from values (R4): the pairs every workspace knows, and those of dialects a user entered.

    Parameters
    ----------
    pairs : (opens, closes) of the user's dialects
    """

    def __init__(self, pairs: Iterable[tuple[str, str]] = ()) -> None:
        own = [(a, b, "".join(sorted(set(a + b)))) for a, b in pairs if a and b]
        written = [f"{re.escape(a)}[^{re.escape(c)}&#?/]+{re.escape(b)}" for a, b, c in (*own, *_PAIRS) if c != "%"]
        self.in_addresses = re.compile("|".join([*written, _WHOLE_IN_ADDRESS, _INSIDE_UNDECODED.pattern]))
        """Finds slots in an address as it is written, whatever stands in them."""
        self.in_plain_text = any(re.fullmatch(r"[\w.@+-]+", a + b) for a, b, _ in own)
        """Whether a text without any bracket, percent sign or tilde can be a slot."""
        if not own:
            self._whole, self._inside = _WHOLE, _INSIDE
        else:
            wholes = [f"{re.escape(a)}[^{re.escape(c)}]*{re.escape(b)}" for a, b, c in own]
            insides = [rf"{re.escape(a)}[A-Za-z_][\w .:-]*?{re.escape(b)}" for a, b, _ in own]
            self._whole = re.compile("|".join([_WHOLE.pattern, *wholes]), re.DOTALL)
            self._inside = re.compile("|".join([_INSIDE.pattern, *insides]))

    def is_slot(self, value: str, undecoded: str = "") -> bool:
        """Whether a value as a whole is a slot that was never filled.

        Parameters
        ----------
        value : decoded value
        undecoded : the same value before percent-decoding; percent pairs are looked for there too
        """
        return bool(self._whole.fullmatch(value.strip())) or bool(undecoded and _WHOLE_PERCENT.fullmatch(undecoded))

    def has_slot(self, value: str, undecoded: str = "") -> bool:
        """Whether a slot stands inside a longer value (a finding only); the parameters are those of `is_slot`."""
        if self._inside.search(value):
            return True
        return "\ufffd" in value and bool(_INSIDE_UNDECODED.search(undecoded))

    def clean(self, value: str) -> str:
        """A value as it counts: trimmed, empty where it is a slot that was never filled."""
        return "" if self.is_slot(value) else collapse(value)


SLOTS = Slots()
is_slot, has_slot = SLOTS.is_slot, SLOTS.has_slot
"""The pairs every workspace knows."""
