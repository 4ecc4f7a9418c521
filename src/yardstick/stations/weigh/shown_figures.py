"""Credits and ratios as the board is sent them, and as it shows them: a file that says so goes by the same numbers."""

from __future__ import annotations

from decimal import ROUND_HALF_UP, Decimal
from fractions import Fraction

CREDIT_DECIMALS, RATIO_DIGITS = 10, 8


def as_float(number: Fraction) -> float:
    """The nearest binary number: as `float` gives it, in a third of its time."""
    return number.numerator / number.denominator


def credit_sent(number: Fraction) -> float:
    """A credit for the screen, to ten decimals as in files: what comes behind costs more than it says."""
    return round(as_float(number), CREDIT_DECIMALS)


def ratio_sent(number: Fraction | None) -> float | None:
    """A ratio for the screen, to eight digits; files have it in full. None = no figure."""
    return None if number is None else float(f"{as_float(number):.{RATIO_DIGITS}g}")


def as_shown(sent: float | None, places: int) -> str:
    """A figure as a browser writes it: its shortest decimal, halves away from zero (ECMA-402, halfExpand); empty = no
    figure."""
    if sent is None:
        return ""
    return format(Decimal(repr(sent)).quantize(Decimal(1).scaleb(-places), ROUND_HALF_UP), "f")
