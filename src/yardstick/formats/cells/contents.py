"""What the cells of a column are, by looking at them: days, numbers, addresses, e-mails, words."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from yardstick.core.base.schema import Kind
from yardstick.core.plan.gathering_phase import DAY_FIRST, MILLISECONDS, MONTH_FIRST, SECONDS, YEAR_FIRST

from .cells import is_currency
from .dates_in import iso_of
from .numbers_in import SPACES, number_of

NOTHING = ("--", "-", "—", "–", "n/a", "na", "null", "none", "nil", "\\n", ".", "#n/a")
"""Words that stand for an empty cell in exports; the short ones only among numbers and days."""
SHORT = ("-", "—", "–", ".", "na", "none", "nil")
_MAIL = re.compile(r"[^@\s]+@[^@\s]+\.[^@\s]+")
_ADDRESS = re.compile(r"(?:https?://\S+|/[^\s]*|[\w-]+(?:\.[\w-]+)+(?:[/?#]\S*)?)", re.IGNORECASE)
_NUMBER = re.compile(
    rf"[-−+(]?[^\W\d_]{{0,3}}[^\w\s]?[{SPACES}]*[-−]?(\d[\d.,'’{SPACES}]*)[{SPACES}]*[^\w\s]?[^\W\d_]{{0,3}}\)?-?"
)
_ZEROED = re.compile(r"0\d")
ENOUGH = 0.85


@dataclass
class Content:
    """What a column holds: one of `date`, `number`, `mail`, `address`, `currency`, `word`, `nothing`.

    Attributes
    ----------
    what : see above
    nothing : words for an empty cell that stand in it
    signs : whether numbers carry signs of currency
    """

    what: str
    nothing: set[str] = field(default_factory=set)
    signs: bool = False


def fits(content: Content, kind: Kind) -> bool:
    """Whether cells of a column can be what a column of a table holds."""
    if content.what == "nothing" or kind in (Kind.TEXT, Kind.FLAG, Kind.VISIT_KIND):
        return True
    if kind in (Kind.DAY, Kind.INSTANT, Kind.MONTH):
        return content.what == "date"
    if kind is Kind.ADDRESS:
        return content.what == "address"
    if kind is Kind.CURRENCY:
        return content.what == "currency"
    return content.what == "number"


def content_of(cells: Iterable[str]) -> Content:
    """What distinct cells of a column are."""
    filled = [cell for cell in dict.fromkeys(c.strip() for c in cells) if cell]
    empty = {cell for cell in filled if cell.lower() in NOTHING}
    real = [cell for cell in filled if cell not in empty]
    if not real:
        return Content("nothing", empty)
    tests = {"mail": is_mail, "date": _is_date, "number": is_number, "currency": _is_currency, "address": _is_address}
    for what, test in tests.items():
        if sum(map(test, real)) >= ENOUGH * len(real):
            words = empty if what in ("date", "number") else {c for c in empty if c.lower() not in SHORT}
            signs = what == "number" and any(_has_sign(cell) for cell in real)
            return Content(what, words, signs)
    return Content("word", {cell for cell in empty if cell.lower() not in SHORT})


def is_mail(cell: str) -> bool:
    """Whether a cell is an e-mail address."""
    return bool(_MAIL.fullmatch(cell))


def is_number(cell: str) -> bool:
    """Whether a cell is a number, in whatever way it is written."""
    return bool(_NUMBER.fullmatch(cell))


def _is_date(cell: str) -> bool:
    if cell.isdigit():
        # Eight digits may be a day, ten or thirteen an instant; whether they are is for the column's name to say.
        return False
    return any(iso_of(cell, order) for order in (YEAR_FIRST, DAY_FIRST, MONTH_FIRST))


def is_unix(cells: Sequence[str]) -> str:
    """The order of times that are numbers since 1970, empty if cells are none."""
    filled = [c for c in cells if c.strip()]
    plain = [c.partition(".")[0] for c in filled]
    if not plain or not all(c.isdigit() for c in plain):
        return ""
    return (
        SECONDS if all(len(c) in (9, 10) for c in plain) else MILLISECONDS if all(len(c) == 13 for c in plain) else ""
    )


def is_compact(cells: Sequence[str]) -> bool:
    """Whether cells are days of eight digits."""
    filled = [c for c in cells if c.strip()]
    return bool(filled) and all(len(c) == 8 and c.isdigit() and iso_of(c, YEAR_FIRST) for c in filled)


def _is_currency(cell: str) -> bool:
    return len(cell) == 3 and is_currency(cell.upper())


def _is_address(cell: str) -> bool:
    return bool(_ADDRESS.fullmatch(cell)) and not is_number(cell)


def _has_sign(cell: str) -> bool:
    return any(not c.isdigit() and c not in f".,'’{SPACES}-−+()" for c in cell)


@dataclass(frozen=True)
class Signs:
    """The signs in numbers; `unsure` is a cell that can be read in two ways, if nothing decides."""

    decimal: str
    thousands: str
    unsure: str = ""


def signs_of(cells: Iterable[str]) -> Signs:
    """Which signs stand before decimals and between digits."""
    as_decimal: Counter[str] = Counter()
    as_thousands: Counter[str] = Counter()
    unsure = ""
    for cell in cells:
        match = _NUMBER.fullmatch(cell.strip())
        if not match:
            continue
        text = match[1].rstrip(SPACES)
        for sign in {c for c in text if c in f"'’{SPACES}"}:
            as_thousands[" " if sign in SPACES else "'"] += 1
        text = "".join(c for c in text if c not in f"'’{SPACES}")
        found = [c for c in text if c in ".,"]
        if len(set(found)) == 2:
            as_decimal[found[-1]] += 1
            as_thousands[found[0]] += 1
        elif len(found) > 1:
            as_thousands[found[0]] += 1
        elif found:
            whole, _, part = text.partition(found[0])
            if len(part) == 3 and 1 <= len(whole) <= 3 and whole != "0" and not _ZEROED.match(whole):
                unsure = unsure or cell
            else:
                as_decimal[found[0]] += 1
    decimal = as_decimal.most_common(1)[0][0] if as_decimal else ""
    others = [sign for sign, _ in as_thousands.most_common() if sign != decimal]
    thousands = others[0] if others else ""
    if unsure and not decimal and not thousands:
        sign = "." if "." in unsure else ","
        # Whole numbers in groups are commoner than three decimals.
        return Signs("," if sign == "." else ".", sign, unsure)
    if unsure and decimal and not thousands:
        sign = "." if "." in unsure else ","
        thousands = sign if sign != decimal else ""
    return Signs(decimal or ("," if thousands == "." else "."), thousands)


def readable(cell: str, signs: Signs, currency: bool) -> bool:
    """Whether a cell is a number with certain signs."""
    return number_of(cell, signs.decimal, signs.thousands, currency) is not None
