"""Rows inside a file that are the sum of other rows, recognised by their words and by their amounts.

A row says *Total*, *Zwischensumme*, *合計* in any of its texts, or one of its texts is empty where the others have one,
or neither; and its amount is the sum of all rows above, of those since the last such row, of several such stretches, or
of the rows above that have one of its texts. What has both is a sum for sure; what has one of them is asked about.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal, InvalidOperation
from typing import Any

import numpy as np
import numpy.typing as npt
import pyarrow.compute as pc

from yardstick.core.base.schema import SCHEMA, Kind
from yardstick.core.plan.gathering_phase import KEPT, LEFT_OUT

from ..cells.money_words import SUMS
from ..cells.plain_words import plain_words
from ..files.raw import RawBatch, TableFile
from ..rows.worth import MONEY

SCALE = 6
"""Decimals that amounts are held in."""
MOST = 2_000
"""Rows that are looked into of one file."""
LEAST = 2
"""Rows that a sum must have above it; one more where no word says so, and five where one amount alone adds up."""
_ADDING = (Kind.AMOUNT, Kind.COST, Kind.COUNT)
_NUMERIC = (*_ADDING, Kind.PRICE, Kind.RATE)
MOSTLY, RARELY = 1 / 3, 0.1
"""Shares of rows: more that say *Total* are no sums; fewer without a text that the others have may be some."""
LONGEST = 60
_WORDS = tuple(plain_words(word) for word in SUMS.split("|"))
SURE, WEAK, NONE = 2, 1, 0


@dataclass(frozen=True)
class SumRow:
    """A row that is, or may be, the sum of others.

    Attributes
    ----------
    line : of the file
    said : the text that says so; empty where none does
    amount : what it adds up to, as a decimal
    of : how many rows above it adds up; 0 where they do not add up to it
    sure : whether it is one for sure
    out : whether it is left out
    """

    line: int
    said: str
    amount: Decimal
    of: int
    sure: bool
    out: bool


class Watched:
    """A file whose columns have our names, being read and looked through for sums; nothing of it is left out."""

    def __init__(self, file: TableFile) -> None:
        self.header, self.header_lines, self._file = file.header, file.header_lines, file
        names = [*file.header.columns, *(f"extra {i}" for i in range(len(file.header.extra)))]
        table = file.header.table
        self._rows = sum_rows_of(table, {c.name: c.name for c in SCHEMA[table] if c.name in names}, names)
        self.sums = self._rows.found

    def batches(self) -> Iterator[RawBatch]:
        """The rows of the file, some at a time, in order."""
        for raw in self._file.batches():
            plain = {name: pc.utf8_trim_whitespace(array) for name, array in raw.columns.items()}
            self._rows.sift(plain, raw.lines, plain)
            yield raw


def word_of(cell: str) -> int:
    """Whether a text says that its row is a sum: for sure, perhaps, or not."""
    words = plain_words(cell)
    if not words:
        return NONE
    for word in _WORDS:
        if words == word:
            return SURE
        if words.startswith(f"{word} ") or words.endswith(f" {word}"):
            return WEAK
    return NONE


def sum_rows_of(table: str, key: Mapping[str, str], texts: Sequence[str], mode: str = "") -> SumRows:
    """What finds sums among the rows of a table; of a table whose rows are worth nothing it finds none.

    Parameters
    ----------
    table : name
    key : column of the table -> its column in the file
    texts : all columns of the file
    mode : see `SumRows`
    """
    first, kinds = MONEY.get(table, ""), {c.name: c.kind for c in SCHEMA[table]}
    adding = [c for c in key if kinds.get(c) in _ADDING and c != "quantity"]
    worth = next((c for c in (first, "clicks", "impressions") if c in adding), "")
    if not worth or table == "invoices" or (worth != first and table != "spend"):
        return SumRows((), ())
    adding = [worth, *(c for c in adding if c != worth)]
    numeric = {key[c] for c in key if kinds.get(c) in _NUMERIC}
    levels = [key[c] for c in ("ad_group", "ad", "keyword", "placement") if c in key]
    return SumRows(adding, [name for name in texts if name not in numeric], levels, mode)


class SumRows:
    """Finds sums in the rows of a file, batch by batch.

    Parameters
    ----------
    amounts : columns of the file that add up, the one that rows are worth by first
    texts : columns of the file that hold words
    levels : those of them that a coarser row may leave empty (R18)
    mode : `LEFT_OUT`, `KEPT`, or empty where those for sure are left out
    """

    def __init__(
        self, amounts: Sequence[str], texts: Sequence[str], levels: Sequence[str] = (), mode: str = ""
    ) -> None:
        self._amounts, self._texts, self._levels, self._mode = list(amounts), list(texts), set(levels), mode
        self._sums = [0] * len(self._amounts)
        self._rows = 0
        self._marks: dict[int, tuple[int, list[int]]] = {0: (0, list(self._sums))}
        self._groups: dict[str, dict[str, tuple[int, int]]] = {name: {} for name in self._texts}
        self._filled = dict.fromkeys(self._texts, 0)
        self.found: list[SumRow] = []

    def sift(self, columns: Mapping[str, Any], lines: npt.NDArray[np.int64], numbers: Mapping[str, Any]) -> Any:
        """Look at some rows.

        Parameters
        ----------
        columns : Arrow strings a column of the file
        lines : (n,) of these rows
        numbers : Arrow strings a column of amounts, with a point before decimals

        Returns
        -------
        (n,) bool, rows that are left out
        """
        n = len(lines)
        gone = np.zeros(n, np.bool_)
        if not n or not self._amounts or self._mode == KEPT or len(self.found) >= MOST:
            return gone
        values = [_scaled(numbers[name]) for name in self._amounts]
        words, said, where = self._words(columns, n)
        blank, coarse = self._blanks(columns, n)
        groups = _Groups({name: columns[name] for name in self._texts if any(words)}, values[0], gone, self._groups)
        main = values[0]
        for i in range(n):
            amount = main[i]
            if amount is not None:
                of = self._of(values, i) if amount else 0
                told = words[i] or blank[i]
                if words[i] and amount and not of:
                    of = self._nearly(amount) if words[i] == SURE else 0
                    of = of or groups.fits(amount, i, said[i], where[i])
                if self._is_one(words[i], bool(blank[i]), bool(coarse[i]), of):
                    out = self._mode == LEFT_OUT or bool(of and told)
                    value = Decimal(amount).scaleb(-SCALE)
                    self.found.append(SumRow(int(lines[i]), said[i], value, of, bool(of and told), out))
                    if out:
                        gone[i] = True
                        self._marks.setdefault(self._sums[0], (self._rows, list(self._sums)))
                        if len(self.found) >= MOST:
                            break
                        continue
                self._sums[0] += amount
            for k in range(1, len(values)):
                self._sums[k] += values[k][i] or 0
            self._rows += 1
            if self.found and self.found[-1].line == int(lines[i]):
                # What may be a sum begins a stretch, too.
                self._marks.setdefault(self._sums[0], (self._rows, list(self._sums)))
        for name in self._texts:
            self._filled[name] += int((pc.not_equal(columns[name], "").to_numpy(zero_copy_only=False) & ~gone).sum())
            _add_groups(self._groups[name], columns[name], main, gone)
        return gone

    def _is_one(self, word: int, blank: bool, coarse: bool, of: int) -> bool:
        """Whether a row is shown as a sum, or perhaps one."""
        if word == SURE:
            return True
        if word == WEAK or blank:
            return of > 0
        # Without a word, and every text there: two or three amounts may add up to another by chance, and a coarser
        # level repeats finer ones, which is no sum (R18).
        return not coarse and of >= (LEAST + 1 if len(self._amounts) > 1 else 2 * LEAST + 1)

    def _of(self, values: Sequence[Sequence[int | None]], i: int) -> int:
        """How many rows above add up to a row, from the beginning of some stretch on, in every amount that it states; 0
        for none."""
        mark = self._marks.get(self._sums[0] - (values[0][i] or 0))
        if mark is None or self._rows - mark[0] < LEAST:
            return 0
        for k in range(1, len(values)):
            stated = values[k][i]
            if stated and stated != self._sums[k] - mark[1][k]:
                return 0
        return self._rows - mark[0]

    def _nearly(self, amount: int) -> int:
        """The same of the first amount alone, where rows were rounded each by itself."""
        for total, (start, _) in self._marks.items():
            rows = self._rows - start
            if rows >= LEAST and abs(self._sums[0] - total - amount) <= rows * 10 ** (SCALE - 2):
                return rows
        return 0

    def _words(self, columns: Mapping[str, Any], n: int) -> tuple[list[int], list[str], list[str]]:
        """Of each row: whether it says that it is a sum, the text that does, and its column."""
        words, said, where = [NONE] * n, [""] * n, [""] * n
        for name in self._texts:
            coded = columns[name].dictionary_encode()
            cells = coded.dictionary.to_pylist()
            found = [word_of(cell or "") for cell in cells]
            if not any(found):
                continue
            codes = coded.indices.to_pylist()
            if sum(found[code] > NONE for code in codes) > max(2, n * MOSTLY):
                # A campaign that is called so.
                continue
            for i, code in enumerate(codes):
                if found[code] > words[i]:
                    words[i], said[i], where[i] = found[code], cells[code], name
        return words, said, where

    def _blanks(self, columns: Mapping[str, Any], n: int) -> tuple[Any, Any]:
        """(n,) bool each: rows without a text that nearly all others have, and rows of a coarser level."""
        blank, coarse = np.zeros(n, np.bool_), np.zeros(n, np.bool_)
        for name in self._texts:
            empty = pc.equal(columns[name], "").to_numpy(zero_copy_only=False)
            if name in self._levels:
                coarse |= empty
            elif int((~empty).sum()) + self._filled[name] >= (1 - RARELY) * (n + self._rows):
                blank |= empty
        return blank, coarse


class _Groups:
    """Sums of the rows above that have one text, in a batch and before it."""

    def __init__(
        self,
        columns: Mapping[str, Any],
        main: Sequence[int | None],
        gone: Any,
        before: Mapping[str, Mapping[str, tuple[int, int]]],
    ) -> None:
        self._coded = {name: column.dictionary_encode() for name, column in columns.items()}
        self._main, self._gone, self._before = main, gone, before

    def fits(self, amount: int, i: int, said: str, where: str) -> int:
        """How many rows above have a text of a row, or the one beside its word, and add up to its amount."""
        rest = plain_words(said)
        for word in _WORDS:
            rest = rest.removeprefix(f"{word} ").removesuffix(f" {word}")
        rest = "" if word_of(rest) else rest
        for name, coded in self._coded.items():
            for value in coded.dictionary.to_pylist():
                mine = value and (
                    plain_words(value) == rest if rest else name != where and value == self._cell(name, i)
                )
                if mine and value != said:
                    total, rows = self._sum(name, value, i)
                    if rows >= (1 if rest else LEAST) and total == amount:
                        return rows
        return 0

    def _cell(self, name: str, i: int) -> str:
        return str(self._coded[name][i].as_py())

    def _sum(self, name: str, value: str, stop: int) -> tuple[int, int]:
        total, rows = self._before[name].get(value, (0, 0))
        codes = self._coded[name].indices.to_pylist()
        code = self._coded[name].dictionary.to_pylist().index(value)
        for k in range(stop):
            if codes[k] == code and not self._gone[k]:
                total, rows = total + (self._main[k] or 0), rows + 1
        return total, rows


def _add_groups(to: dict[str, tuple[int, int]], column: Any, main: Sequence[int | None], gone: Any) -> None:
    if len(to) > MOST:
        return
    coded = column.dictionary_encode()
    cells = coded.dictionary.to_pylist()
    if len(cells) > MOST:
        return
    sums, rows = [0] * len(cells), [0] * len(cells)
    for code, amount, out in zip(coded.indices.to_pylist(), main, gone.tolist(), strict=True):
        if not out:
            sums[code] += amount or 0
            rows[code] += 1
    for cell, total, count in zip(cells, sums, rows, strict=True):
        before = to.get(cell, (0, 0))
        to[cell] = (before[0] + total, before[1] + count)


def _scaled(text: Any) -> list[int | None]:
    """Amounts as whole numbers; None where there is none."""
    coded = text.dictionary_encode()
    made: list[int | None] = []
    for cell in coded.dictionary.to_pylist():
        try:
            number = Decimal(cell) if cell and len(cell) < LONGEST else None
            made.append(None if number is None or not number.is_finite() else int(number.scaleb(SCALE)))
        except (InvalidOperation, TypeError):
            made.append(None)
    return [None if code is None else made[code] for code in coded.indices.to_pylist()]
