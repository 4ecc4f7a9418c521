"""Days and times as exports write them -> ISO 8601 text, which is all that is read further on.

Cells that share one layout, as those of an export do, are brought into order as columns of bytes; each other distinct
cell is read by itself.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta
from functools import cache
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from yardstick.core.base.words import fold
from yardstick.core.plan.gathering_phase import DAY_FIRST, MILLISECONDS, MONTH_FIRST, SECONDS, YEAR_FIRST

_TIME = (
    r"(?P<hour>\d{1,2})[:.h](?P<minute>\d{2})(?:[:.](?P<second>\d{2})(?:[.,](?P<fraction>\d{1,9}))?)?"
    r"(?:\s*(?P<half>[ap])\.?m\.?)?"
)
_ZONE = (
    r"(?:\s*(?:\(?(?P<utc>z|utc|gmt)\)?)?(?P<offset>[+-]\d{2}:?\d{2}|[+-]\d{1,2})?(?(offset)(?:\s*\((?P<beside>[a-z]{2,5})\))?)"
    r"|\s*\(?(?P<zone>[A-Za-z]{2,5})\)?)?"
)
OFFSETS = {
    "wet": "+00:00", "west": "+01:00", "cet": "+01:00", "mez": "+01:00", "cest": "+02:00",
    "mesz": "+02:00", "eet": "+02:00", "eest": "+03:00", "msk": "+03:00", "trt": "+03:00",
    "est": "-05:00", "edt": "-04:00", "cdt": "-05:00", "mst": "-07:00", "mdt": "-06:00",
    "pst": "-08:00", "pdt": "-07:00", "akst": "-09:00", "akdt": "-08:00", "hst": "-10:00",
    "nst": "-03:30", "ndt": "-02:30", "adt": "-03:00", "brt": "-03:00", "art": "-03:00",
    "clt": "-04:00", "clst": "-03:00", "sast": "+02:00", "cat": "+02:00", "eat": "+03:00",
    "wat": "+01:00", "pkt": "+05:00", "npt": "+05:45", "wib": "+07:00", "ict": "+07:00",
    "wita": "+08:00", "wit": "+09:00", "hkt": "+08:00", "sgt": "+08:00", "awst": "+08:00",
    "jst": "+09:00", "kst": "+09:00", "acst": "+09:30", "acdt": "+10:30", "aest": "+10:00",
    "aedt": "+11:00", "nzst": "+12:00", "nzdt": "+13:00",
}  # fmt: skip
"""Names of zones that mean one offset wherever they are written (common practice). CST, IST, BST and AST mean two or
three: a cell with one of them cannot be read."""
_AFTER = rf"(?:\s*[,t]?\s*{_TIME}{_ZONE})?"
_S = r"\s*[./\s年月-]\s*"
_ORDERS = {
    YEAR_FIRST: rf"(?P<year>\d{{4}}){_S}(?P<month>\d{{1,2}}){_S}(?P<day>\d{{1,2}})[.日]?",
    DAY_FIRST: rf"(?P<day>\d{{1,2}}){_S}(?P<month>\d{{1,2}}){_S}(?P<year>\d{{4}}|\d{{2}})\.?",
    MONTH_FIRST: rf"(?P<month>\d{{1,2}}){_S}(?P<day>\d{{1,2}}){_S}(?P<year>\d{{4}}|\d{{2}})\.?",
}
_SHORT_YEAR_FIRST = rf"(?P<year>\d{{2}}){_S}(?P<month>\d{{1,2}}){_S}(?P<day>\d{{1,2}})[.日]?"
_COMPACT = r"(?P<year>\d{4})(?P<month>\d{2})(?P<day>\d{2})"
_WORDS = (
    r"(?:\w+\.?,?\s+)?(?P<day>\d{1,2})\.?(?:\s*de\s+|[\s.-]+)(?P<word>[^\W\d_]+)\.?,?(?:\s*de\s+|[\s.-]+)(?P<year>\d{4})\.?",
    r"(?:\w+\.?,?\s+)?(?P<word>[^\W\d_]+)\.?\s*(?P<day>\d{1,2}),?\s+(?P<year>\d{4})",
    r"(?P<year>\d{4})[\s.-]+(?P<word>[^\W\d_]+)\.?[\s.-]+(?P<day>\d{1,2})\.?",
)
_TAGS = (
    "en de fr es it pt nl sv da nb fi is pl cs sk sl hr sr ro hu tr el bg ru uk be et lv lt ca eu gl ga cy mt sq mk bs "
    "id ms vi fil sw af he ar fa hi bn ta th ko ja zh"
)
LANGUAGES = tuple(_TAGS.split(" "))
"""Languages whose names of months are read, as CLDR has them."""
_CENTURY_TURNS = 70
"""Years of two digits from here on are of the 1900s."""
_UNIX = re.compile(r"-?\d{1,15}(?:\.\d+)?", re.ASCII)
_EPOCH = datetime(1970, 1, 1, tzinfo=UTC)
_DIRECTION = str.maketrans("", "", "\u200e\u200f\u061c")


@cache
def _patterns(order: str) -> tuple[re.Pattern[str], ...]:
    # A year of four digits says for itself that it stands first.
    shapes = [_ORDERS[YEAR_FIRST], _COMPACT]
    shapes += [_SHORT_YEAR_FIRST] if order == YEAR_FIRST else [_ORDERS[order]]
    return tuple(re.compile(shape + _AFTER, re.IGNORECASE) for shape in [*shapes, *_WORDS])


@cache
def months_by_word() -> dict[str, int]:
    """Names of months and their short forms, folded; those that are two months in two languages are left out."""
    from babel import Locale  # a tenth of a second that few files need

    found: dict[str, set[int]] = {}
    for months in (Locale.parse(tag).months for tag in LANGUAGES):
        for names in (months[kind][width] for kind in ("format", "stand-alone") for width in ("wide", "abbreviated")):
            for number, name in names.items():
                word = fold(str(name)).strip(". ")
                if word and not word.isdigit():
                    found.setdefault(word, set()).add(int(number))
    return {word: numbers.pop() for word, numbers in found.items() if len(numbers) == 1}


def month_of_words(cell: str) -> date | None:
    """The first day of a month that is named, as *May 2026* or *2026 mai*; None if it is none."""
    words = fold(_digits(cell)).replace(".", " ").replace(",", " ").replace("-", " ").replace("/", " ").split()
    words = [word for word in words if word not in ("de", "of")]
    years = [word for word in words if len(word) == 4 and word.isdigit()]
    names = [months_by_word().get(word) for word in words if not word.isdigit()]
    if len(words) != 2 or len(years) != 1 or len(names) != 1 or names[0] is None:
        return None
    return date(int(years[0]), names[0], 1) if int(years[0]) else None


def iso_of(cell: str, order: str) -> str | None:
    """A day or time as ISO 8601, with the offset that it states.

    Parameters
    ----------
    cell : trimmed, not empty
    order : one of `gathering_phase.DATE_ORDERS`

    Returns
    -------
    str, None if it is none under that order
    """
    if order in (SECONDS, MILLISECONDS):
        return _of_unix(cell, 1_000_000 if order == SECONDS else 1_000)
    plain = _digits(cell).translate(_DIRECTION)
    for pattern in _patterns(order):
        match = pattern.fullmatch(plain)
        if match:
            return _written(match)
    return None


def _of_unix(cell: str, microseconds: int) -> str | None:
    if not _UNIX.fullmatch(cell):
        # A day that a typed cell holds is one under any order.
        return iso_of(cell, YEAR_FIRST) if cell[4:5] == "-" else None
    whole, _, part = cell.partition(".")
    count = int(whole) * microseconds
    fraction = int((part + "000000")[:6]) * microseconds // 1_000_000
    try:
        at = _EPOCH + timedelta(microseconds=count - fraction if cell.startswith("-") else count + fraction)
    except OverflowError:
        return None
    return at.isoformat().replace("+00:00", "Z")


def _digits(cell: str) -> str:
    return cell if cell.isascii() else "".join(str(unicodedata.decimal(c, c)) for c in cell)


def _written(match: re.Match[str]) -> str | None:
    part = match.groupdict()
    month = part.get("month") or str(months_by_word().get(fold(part.get("word") or ""), ""))
    year = part["year"]
    if len(year) == 2:
        year = f"{'19' if int(year) >= _CENTURY_TURNS else '20'}{year}"
    try:
        day = date(int(year), int(month), int(part["day"]))
    except ValueError:
        return None
    if part["hour"] is None:
        return day.isoformat()
    hour = int(part["hour"])
    if part["half"]:
        if not 1 <= hour <= 12:
            return None
        hour = hour % 12 + (12 if part["half"].lower() == "p" else 0)
    fraction = f".{part['fraction'][:6]}" if part["fraction"] else ""
    out = f"{day.isoformat()}T{hour:02d}:{part['minute']}:{part['second'] or '00'}{fraction}"
    offset = part["offset"]
    if part.get("zone"):
        named = OFFSETS.get(part["zone"].lower())
        return None if named is None else out + ("Z" if named == "+00:00" else named)
    if offset:
        sign, digits = offset[0], offset[1:].replace(":", "")
        digits = digits.rjust(2, "0") if len(digits) <= 2 else digits
        return f"{out}{sign}{digits[:2]}:{digits[2:] or '00'}"
    return out + "Z" if part["utc"] else out


def dates_of(text: Any, order: str, days: bool) -> tuple[Any, Any]:
    """A column of days or times as ISO 8601 text.

    Parameters
    ----------
    text : Arrow strings, trimmed
    order : one of `gathering_phase.DATE_ORDERS`
    days : whether they are days; the time beside one is left off

    Returns
    -------
    tuple
        (texts, Arrow booleans: cells that are none; those stay as they came)
    """
    filled = pc.not_equal(text, "")
    if len(text) and not pc.all(filled).as_py():
        some, bad = dates_of(text.filter(filled), order, days)
        back = pc.replace_with_mask(text, filled, some)
        return back, pc.replace_with_mask(pa.repeat(pa.scalar(False), len(text)), filled, bad)
    quick = _of_one_layout(text, order, days)
    if quick is None and len(text) >= 64:
        # One digit as two, so that the same parts stand at the same places.
        quick = _of_one_layout(pc.replace_substring_regex(text, r"\b([0-9])\b", r"0\1"), order, days)
    if quick is not None:
        return quick, pa.repeat(pa.scalar(False), len(text))
    return _each(text, lambda cell: iso_of(cell, order), days)


def _each(text: Any, read: Callable[[str], str | None], days: bool) -> tuple[Any, Any]:
    coded = text.dictionary_encode()
    cells = coded.dictionary.to_pylist()
    found = [read(cell) for cell in cells]
    out = [cell if iso is None else iso[:10] if days else iso for cell, iso in zip(cells, found, strict=True)]
    bad = pa.array([iso is None for iso in found], pa.bool_()).take(coded.indices)
    return pa.array(out, pa.string()).take(coded.indices), bad


_PARTS = ("year", "month", "day", "hour", "minute", "second", "fraction", "half")
_BEFORE = {"month": "-", "day": "-", "hour": "T", "minute": ":", "second": ":", "fraction": "."}


def _of_one_layout(text: Any, order: str, days: bool) -> Any:
    """All cells at once where every one is laid out as the first is; None where not."""
    if len(text) < 64 or order not in _ORDERS or not text[0].as_py().isascii():
        return None
    text = text.combine_chunks() if isinstance(text, pa.ChunkedArray) else text
    first = text[0].as_py()
    match = next((m for p in _patterns(order)[:3] if (m := p.fullmatch(first))), None)
    if (
        match is None
        or match["offset"]
        or match["zone"]
        or match["beside"]
        or pc.any(pc.not_equal(pc.binary_length(text), len(first))).as_py()
    ):
        return None
    spans = {name: match.span(name) for name in _PARTS if match[name] is not None}
    if any(b - a != (4 if n == "year" else 2) for n, (a, b) in spans.items() if n not in ("fraction", "half")):
        return None
    starts = np.frombuffer(text.buffers()[1], np.int32)[text.offset : text.offset + len(text) + 1]
    cells = np.frombuffer(text.buffers()[2], np.uint8)[starts[0] : starts[-1]].reshape(len(text), len(first))
    for i, sign in enumerate(first.encode()):
        part = next((n for n, (a, b) in spans.items() if a <= i < b), "")
        column = cells[:, i] | np.uint8(32) if part == "half" else cells[:, i]
        allowed = b"ap" if part == "half" else b"0123456789" if part else bytes([sign])
        if not bool(((column >= min(allowed)) & (column <= max(allowed))).all()) or (
            part == "half" and not bool(np.isin(column, np.frombuffer(allowed, np.uint8)).all())
        ):
            return None
    numbers = {n: _number(cells, a, b) for n, (a, b) in spans.items() if n not in ("fraction", "half")}
    digits = {name: cells[:, a : min(b, a + 6)] for name, (a, b) in spans.items()}
    if "half" in spans:
        if not bool(((numbers["hour"] >= 1) & (numbers["hour"] <= 12)).all()):
            return None
        after_noon = (digits["half"][:, 0] | np.uint8(32)) == ord("p")
        numbers["hour"] = numbers["hour"] % 12 + 12 * after_noon
        digits["hour"] = np.stack([numbers["hour"] // 10 + 48, numbers["hour"] % 10 + 48], axis=1).astype(np.uint8)
    if not _in_calendar(numbers):
        return None
    pieces: list[Any] = []
    for name in _PARTS[: 3 if days else 7]:
        if name in spans:
            pieces += [np.frombuffer(_BEFORE.get(name, "").encode(), np.uint8), digits[name]]
    if not days and match["utc"]:
        pieces.append(np.frombuffer(b"Z", np.uint8))
    width = sum(p.shape[-1] for p in pieces)
    out, at = np.empty((len(text), width), np.uint8), 0
    for piece in pieces:
        out[:, at : at + piece.shape[-1]] = piece
        at += piece.shape[-1]
    offsets = np.arange(0, (len(text) + 1) * width, width, dtype=np.int32)
    return pa.StringArray.from_buffers(len(text), pa.py_buffer(offsets), pa.py_buffer(out))


def _number(cells: Any, start: int, stop: int) -> Any:
    out = np.zeros(len(cells), np.int32)
    for i in range(start, stop):
        out = out * 10 + (cells[:, i] - np.uint8(48))
    return out


def _in_calendar(numbers: dict[str, Any]) -> bool:
    """Whether all are days of the calendar and times of a day."""
    month, day = numbers["month"], numbers["day"]
    if not bool(((month >= 1) & (month <= 12) & (day >= 1) & (day <= 31)).all()):
        return False
    late = day > 28
    if bool(late.any()):
        year, month, day = numbers["year"][late], month[late], day[late]
        leap = (year % 4 == 0) & ((year % 100 != 0) | (year % 400 == 0))
        last = np.array([0, 31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31], np.int32)[month] + ((month == 2) & leap)
        if not bool((day <= last).all()):
            return False
    return all(
        bool((numbers[n] < most).all()) for n, most in (("hour", 24), ("minute", 60), ("second", 60)) if n in numbers
    )
