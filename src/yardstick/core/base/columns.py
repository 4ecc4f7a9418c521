"""Columns: text as integer codes, amounts as scaled integers.

Text becomes codes once, at the border; from then on the rules work on small integers and on each distinct value once.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

import numpy as np
import numpy.typing as npt

from .text_bytes import edges_printed
from .values import Values
from .words import fold

Ints = npt.NDArray[np.int64]
Codes = npt.NDArray[np.int32]
Flags = npt.NDArray[np.bool_]
Floats = npt.NDArray[np.float64]

NO_INSTANT = np.iinfo(np.int64).min
"""Stands for an unknown instant (microseconds since 1970 in UTC)."""
NO_DAY = np.iinfo(np.int32).min
"""Stands for an unknown day (days since 1970-01-01)."""


@dataclass(frozen=True)
class Text:
    """A text column: one code a row, and the distinct values the codes stand for.

    Attributes
    ----------
    codes : (n,) int32, indices into `values`
    values : distinct strings; the empty string means unknown
    """

    codes: Codes
    values: Sequence[str]

    def __len__(self) -> int:
        return len(self.codes)

    def __getitem__(self, row: int) -> str:
        code: int = self.codes[row]
        return self.values[code]

    @staticmethod
    def of(strings: Iterable[str]) -> Text:
        """Encode strings, codes in order of first appearance."""
        seen: dict[str, int] = {}
        codes = [seen.setdefault(s, len(seen)) for s in strings]
        return Text(np.array(codes, dtype=np.int32), list(seen))

    @staticmethod
    def blank(length: int) -> Text:
        """A column of `length` unknown values."""
        return Text(np.zeros(length, dtype=np.int32), [""])

    @staticmethod
    def join(parts: Sequence[Text]) -> Text:
        """Put columns end to end, with one common list of values."""
        if len(parts) == 1:
            return parts[0]
        if sum(len(part.values) for part in parts) >= _MANY:
            return _join_many(parts)
        seen: dict[str, int] = {}
        out = []
        for part in parts:
            table = np.array([seen.setdefault(v, len(seen)) for v in part.values], dtype=np.int32)
            out.append(table[part.codes] if len(part.codes) else part.codes)
        return Text(np.concatenate(out) if out else np.empty(0, np.int32), list(seen))

    def map(self, change: Callable[[str], str]) -> Text:
        """Change each distinct value once; values that become equal share a code."""
        seen: dict[str, int] = {}
        table = np.array([seen.setdefault(change(v), len(seen)) for v in self.values], dtype=np.int32)
        return Text(table[self.codes] if len(self.codes) else self.codes, list(seen))

    def test(self, holds: Callable[[str], bool]) -> Flags:
        """(n,) bool: whether each row's value passes, each distinct value tested once."""
        table = np.array([holds(v) for v in self.values], dtype=np.bool_)
        return table[self.codes] if len(self.codes) else np.empty(0, np.bool_)

    def equals(self, value: str) -> Flags:
        """(n,) bool: rows with one value; others are not even made into Python text."""
        code = _code_of(self.values, value)
        found: Flags = self.codes == code if code >= 0 else np.zeros(len(self.codes), np.bool_)
        return found

    def codes_of(self, values: Sequence[str]) -> list[int]:
        """The code of each of some values, -1 where a value is not there; the many are gone through once."""
        if isinstance(self.values, Values):
            import pyarrow as pa
            import pyarrow.compute as pc

            held = self.values.arrow
            found = pc.index_in(pa.array(values, held.type), value_set=held)
            return [-1 if code is None else int(code) for code in found.to_pylist()]
        known = {value: code for code, value in enumerate(self.values)}
        return [known.get(value, -1) for value in values]

    def test_folded(self, needle: str, how: str) -> Flags:
        """(n,) bool: whether each row's value, folded, is, begins with or contains a text.

        Parameters
        ----------
        needle : folded text
        how : "is", "begins" or "contains"
        """
        holds: dict[str, Callable[[str], bool]] = {
            "is": needle.__eq__,
            "begins": lambda text: text.startswith(needle),
            "contains": lambda text: needle in text,
        }
        test = holds[how]
        if not isinstance(self.values, Values) or len(self.values) < _MANY:
            return self.test(lambda text: test(fold(text)))
        table = _plainly_folded(self.values, needle, how)
        for code in np.flatnonzero(_folds_otherwise(self.values)).tolist():
            table[code] = test(fold(self.values[code]))
        return table[self.codes] if len(self.codes) else np.empty(0, np.bool_)

    def filled(self) -> Flags:
        """(n,) bool: rows whose value is not empty."""
        blank = _blank_of(self.values)
        if blank is None:
            return self.test(bool)
        none: Flags = self.codes != blank
        return none

    def says_nothing(self) -> bool:
        """Whether no row has a value."""
        if len(self.values) > 100:
            return not self.filled().any()
        return not any(self.values[code] for code in np.flatnonzero(np.bincount(self.codes)).tolist())

    def trimmed(self) -> Text:
        """Values without white space around them."""
        return self if _is_trimmed(self.values) else self.map(str.strip)

    def take(self, rows: npt.NDArray[Any]) -> Text:
        """The rows named by an index or mask array, with the same list of values."""
        return Text(self.codes[rows], self.values)

    def where(self, use: Flags, other: Text) -> Text:
        """This column where `use` holds, `other` elsewhere."""
        blank = _blank_of(self.values)
        if blank is not None and blank >= 0 and other.take(~use).says_nothing():
            return Text(np.where(use, self.codes, np.int32(blank)), self.values)
        both = Text.join([self, other])
        half = len(self)
        return Text(np.where(use, both.codes[:half], both.codes[half:]).astype(np.int32), both.values)

    def strings(self) -> list[str]:
        """All rows as plain strings."""
        values = self.values
        return [values[c] for c in self.codes.tolist()]


def all_match(values: Sequence[str], pattern: str, least: int) -> bool:
    """Whether all of many values match an expression; of fewer than `least` that is not looked at."""
    if not isinstance(values, Values) or len(values) < least:
        return False
    import pyarrow.compute as pc

    def work(more: Any, before: bool | None) -> bool:
        return before is not False and bool(pc.all(pc.match_substring_regex(more, pattern)).as_py())

    return values.known(f"match {pattern}", None, work)


def _code_of(values: Sequence[str], value: str) -> int:
    """The code of a value, -1 if it is not there."""
    if isinstance(values, Values):
        import pyarrow.compute as pc

        return int(pc.index(values.arrow, value).as_py())
    return next((code for code, known in enumerate(values) if known == value), -1)


def _plainly_folded(values: Values, needle: str, how: str) -> Flags:
    """What holds of values of visible ASCII, which fold to their small letters."""
    import pyarrow.compute as pc

    if how == "is":
        found = pc.equal(pc.ascii_lower(values.arrow), needle)
    else:
        work = pc.starts_with if how == "begins" else pc.match_substring
        found = work(values.arrow, needle, ignore_case=True)
    out: Flags = np.array(found.to_numpy(zero_copy_only=False), np.bool_)
    return out


def _folds_otherwise(values: Values) -> Flags:
    """Values with anything but visible ASCII: how they fold is asked of each."""
    import pyarrow.compute as pc

    def work(more: Any, before: Flags | None) -> Flags:
        found = pc.match_substring_regex(more, r"[^\x21-\x7e]").to_numpy(zero_copy_only=False)
        return found if before is None else np.concatenate([before, found])

    return values.known("folds otherwise", None, work)


def _blank_of(values: Sequence[str]) -> int | None:
    """The code of the empty string among large lists of values, -1 if it is not there; None: look at each value."""
    if not isinstance(values, Values) or len(values) < _MANY:
        return None
    import pyarrow.compute as pc

    def work(more: Any, before: int | None) -> int:
        if before is not None and before >= 0:
            return before
        at = int(pc.index(more, "").as_py())
        return at if at < 0 else at + len(values) - len(more)

    return values.known("blank", None, work)


def _is_trimmed(values: Sequence[str]) -> bool:
    """Whether all of many values are trimmed as they stand; of few that is not looked at."""
    if not isinstance(values, Values) or len(values) < _MANY:
        return False
    return values.known("trimmed", None, lambda more, before: before is not False and edges_printed(more))


_MANY = 20_000
"""From this many distinct values on, columns are joined by Arrow's hash table instead of Python's."""


def _join_many(parts: Sequence[Text]) -> Text:
    """The values of the largest part keep their codes; those of the others are looked up among them."""
    import pyarrow as pa
    import pyarrow.compute as pc

    held = [getattr(p.values, "arrow", None) for p in parts]
    arrays = [pa.array(list(p.values), pa.string()) if a is None else a for p, a in zip(parts, held, strict=True)]
    kind = pa.large_string() if sum(a.nbytes for a in arrays) > 2**30 else pa.string()
    arrays = [a.cast(kind) for a in arrays]
    large = max(range(len(arrays)), key=lambda i: len(arrays[i]))
    others = pa.concat_arrays([a for i, a in enumerate(arrays) if i != large]).dictionary_encode()
    # The few are looked for among the many, not the other way round: a table of the many costs far more.
    there = np.flatnonzero(pc.is_in(arrays[large], value_set=others.dictionary).to_numpy(zero_copy_only=False))
    found = pc.index_in(others.dictionary, value_set=arrays[large].take(pa.array(there)))
    new = found.is_null().to_numpy(zero_copy_only=False)
    code = np.empty(len(new), np.int32)
    code[~new] = there[found.drop_null().to_numpy()]
    code[new] = len(arrays[large]) + np.arange(int(new.sum()), dtype=np.int32)
    tables = code[others.indices.to_numpy(zero_copy_only=False)]
    out, start = [], 0
    for i, part in enumerate(parts):
        if i == large:
            out.append(part.codes)
            continue
        table = tables[start : start + len(part.values)]
        start += len(part.values)
        out.append(table[part.codes] if len(part.codes) else part.codes)
    more = others.dictionary.filter(found.is_null())
    before = parts[large].values
    grown = Values(
        pa.concat_arrays([arrays[large], more]) if len(more) else arrays[large],
        before if isinstance(before, Values) else None,
    )
    return Text(np.concatenate(out), grown)


@dataclass(frozen=True)
class Amounts:
    """A column of exact decimals: `units` x 10 ** -`decimals`.

    Attributes
    ----------
    units : (n,) int64, or object (Python integers) where int64 would overflow; 0 where unknown
    decimals : how many decimals the units carry
    known : (n,) bool, False where the cell was empty
    """

    units: npt.NDArray[Any]
    decimals: int
    known: Flags

    def __len__(self) -> int:
        return len(self.units)

    @staticmethod
    def unknown(length: int) -> Amounts:
        """A column of `length` empty cells."""
        return Amounts(np.zeros(length, np.int64), 0, np.zeros(length, np.bool_))

    @staticmethod
    def of(pairs: Sequence[tuple[int, int] | None]) -> Amounts:
        """From (digits as an integer, decimals) per row, None for an empty cell."""
        decimals = max((p[1] for p in pairs if p is not None), default=0)
        units = [0 if p is None else p[0] * 10 ** (decimals - p[1]) for p in pairs]
        known = np.array([p is not None for p in pairs], dtype=np.bool_)
        return Amounts(narrow(units), decimals, known)

    def take(self, rows: npt.NDArray[Any]) -> Amounts:
        """The rows named by an index or mask array."""
        return Amounts(self.units[rows], self.decimals, self.known[rows])

    def sum_of(self, rows: Flags) -> Decimal:
        """The exact sum of some rows; empty cells count 0."""
        return Decimal(total(self.units[rows])).scaleb(-self.decimals)

    def joined(self, other: Amounts) -> Amounts:
        """This column's rows, then those of another."""
        decimals = max(self.decimals, other.decimals)
        units = np.concatenate([self.at(decimals), other.at(decimals)])
        return Amounts(units, decimals, np.concatenate([self.known, other.known]))

    def at(self, decimals: int) -> npt.NDArray[Any]:
        """(n,) units with more decimals than the column's own; exact.

        Raises
        ------
        ValueError
            If `decimals` is smaller than the column's own (that would round).
        """
        if decimals < self.decimals:
            raise ValueError("rounding is the business of money.round_half_even")
        factor = 10 ** (decimals - self.decimals)
        return self.units if factor == 1 else product(self.units, factor)


def narrow(units: Sequence[int] | npt.NDArray[Any]) -> npt.NDArray[Any]:
    """Integers as int64 where every one fits, else as Python integers."""
    try:
        return np.array(units, dtype=np.int64)
    except OverflowError:
        return np.array(units, dtype=object)


def product(units: npt.NDArray[Any], factor: int) -> npt.NDArray[Any]:
    """Exact product of an integer column and an integer, widened to Python integers when int64 would overflow."""
    if units.dtype == object or not len(units):
        return units * factor
    largest = max(abs(int(units.min())), abs(int(units.max())))
    if largest * abs(factor) < 2**62:
        return units * np.int64(factor)
    return units.astype(object) * factor


def total(values: npt.NDArray[Any]) -> int:
    """The exact sum of integers, wider than 64 bits where it has to be (R29)."""
    if not len(values):
        return 0
    if values.dtype == object:
        return sum(values.tolist())
    largest = max(abs(int(values.min())), abs(int(values.max())))
    if largest * len(values) < 2**63:
        return int(values.sum())
    high, low = values >> 32, values & np.int64(2**32 - 1)
    return (int(high.sum()) << 32) + int(low.sum())


def sums_by(place: Ints, values: npt.NDArray[Any], size: int) -> list[int]:
    """Exact sums of integers per place, wider than 64 bits where they have to be (R29).

    Parameters
    ----------
    place : (k,) int64, 0 <= place < size
    values : (k,) int64

    Returns
    -------
    `size` whole numbers
    """
    if not len(place):
        return [0] * size
    largest = max(abs(int(values.min())), abs(int(values.max())))
    if largest * len(values) < 2**63:
        out = np.zeros(size, np.int64)
        np.add.at(out, place, values)
        return out.tolist()
    high, low = np.zeros(size, np.int64), np.zeros(size, np.int64)
    np.add.at(high, place, values >> 32)
    np.add.at(low, place, values & np.int64(2**32 - 1))
    return [(h << 32) + w for h, w in zip(high.tolist(), low.tolist(), strict=True)]
