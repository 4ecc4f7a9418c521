"""Adding up the credit of yardsticks by machine code, half of the trails in each of two threads.

Rules that look at a touch's place in its trail alone are added up in one pass over the trails. Of the others the shares
of a stretch of trails are worked out, and added up while they are at hand.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np

from ..base.columns import Codes, Flags, Ints
from ..base.tally import LIMB, carried
from ..rules.kernel import Fill, Stretch, codes, whole_numbers
from ..rules.registry import RULES
from ..rules.trail_context import TrailContext
from ..trails.trails import Trails

Halves = tuple[Ints, Ints]
"""(2, size) int64 each: parts of 2^-60, then minor units, as high x 2^30 + low."""
Kept = dict[str, tuple[Ints, Ints]]
"""(n_elements,) parts and minor units, by yardstick."""
KEPT_MOST = 2**23
"""So many shares are kept at most, of 16 bytes each."""
STRETCH = 2**16
"""Touches of a stretch: so many that calling costs little, so few that the nearest memory holds their shares."""


def stretches_of(trails: Trails, value: Ints) -> list[Stretch]:
    """All trails, some at a time."""
    offsets, value = whole_numbers(trails.offsets), whole_numbers(value)
    steps = np.arange(STRETCH, int(offsets[-1]), STRETCH)
    cuts = np.unique(np.concatenate([[0], np.searchsorted(offsets, steps), [len(value)]]))
    return [Stretch(offsets[a : b + 1], value[a:b]) for a, b in pairwise(cuts.tolist())]


def added_up(
    compiled: Any, asked: Mapping[str, TrailContext], value: Ints, place: Codes | Ints, size: int, kept: Kept | None
) -> Mapping[str, Halves]:
    """See `summing.summed`; without those yardsticks that machine code does not know or whose numbers are too large."""
    trails = next(iter(asked.values())).trails
    passes = _passes(compiled, asked)
    passed = {name for one in passes for name in one.columns.values()}
    shares: dict[str, _Shared] = {}
    for name in asked:
        shared = None if name in passed else _shared(compiled, asked[name], name, kept, {*(kept or ()), *shares})
        if shared is not None:
            shares[name] = shared
    adding = _Adding(compiled, passes, shares, whole_numbers(trails.touch), codes(place), size)
    stretches = stretches_of(trails, value)
    if len(stretches) == 1:
        halves = [adding.sums(stretches)]
    else:
        with ThreadPoolExecutor(2) as pool:
            halves = list(pool.map(adding.sums, [stretches[::2], stretches[1::2]]))
    sums: dict[int | str, Ints] = {
        key: np.add.reduce([of[key] for of in halves]) for key in halves[0] if all(key in of for of in halves)
    }
    if kept is not None:
        kept |= {name: one.columns for name, one in shares.items() if name in sums and one.columns is not None}
    out = {name: _of_shares(sums[name].reshape(size + 1, -1)[1:].T) for name in shares if name in sums}
    for number, one in enumerate(passes):
        if number in sums:
            found = sums[number].reshape(size + 1, -1)[1:].T
            out |= {name: _of_pass(compiled, found, column) for column, name in one.columns.items()}
    return out


@dataclass(frozen=True)
class _Pass:
    """Yardsticks that one pass over the trails answers, by the column of its sums.

    Attributes
    ----------
    direct : (n_touches,) bool
    weights, wanted : see `compiled.passes.by_place_in_trail`
    """

    columns: dict[int, str]
    direct: Flags
    weights: Ints
    wanted: int


def _passes(compiled: Any, asked: Mapping[str, TrailContext]) -> list[_Pass]:
    """As few as will do: of two yardsticks that need the same column the later one is in the next."""
    wants = {compiled.MARKED: compiled.WANTS_MARKED, compiled.PLACED: compiled.WANTS_PLACED}
    columns: list[dict[int, str]] = []
    for name, one in asked.items():
        column = _column(compiled, one)
        if column is not None:
            taken = next((taken for taken in columns if column not in taken), None)
            if taken is None:
                columns.append(taken := {})
            taken[column] = name
    out = []
    for taken in columns:
        any_one = asked[next(iter(taken.values()))]
        weights = _placed(asked[taken[compiled.PLACED]]) if compiled.PLACED in taken else None
        wanted = sum(bit for column, bit in wants.items() if column in taken)
        out.append(_Pass(taken, np.ascontiguousarray(any_one.direct), np.array(weights or [0] * 4, np.int64), wanted))
    return out


def _placed(asked: TrailContext) -> tuple[int, int, int, int] | None:
    kernel = RULES[asked.yardstick.rule].kernel
    return kernel.placed(asked) if kernel else None


def _column(compiled: Any, asked: TrailContext) -> int | None:
    """Which sums of a pass are a yardstick's; None where it takes more than the place of a touch."""
    if _placed(asked):
        return int(compiled.PLACED)
    kernel = RULES[asked.yardstick.rule].kernel
    return int(getattr(compiled, kernel.column)) if kernel and kernel.column else None


@dataclass(frozen=True)
class _Shared:
    """How the shares of a yardstick come about.

    Attributes
    ----------
    fill : works them out, None where they were kept
    columns : (n_elements,) parts and minor units, None where they are for this time alone
    """

    fill: Fill | None
    columns: tuple[Ints, Ints] | None


def _shared(
    compiled: Any, asked: TrailContext, name: str, kept: Kept | None, others: Collection[str]
) -> _Shared | None:
    """None for a rule that machine code does not know."""
    if kept is not None and name in kept:
        return _Shared(None, kept[name])
    kernel = RULES[asked.yardstick.rule].kernel
    fill = kernel.fill(compiled, asked) if kernel else None
    if fill is None:
        return None
    elements = len(asked.trails.touch)
    keep = kept is not None and (len(others) + 1) * elements <= KEPT_MOST
    columns = (np.empty(elements, np.int64), np.empty(elements, np.int64)) if keep else None
    return _Shared(fill, columns)


@dataclass(frozen=True)
class _Adding:
    """What is added up.

    Attributes
    ----------
    touch : (n_elements,) int64
    place : (n_elements,) int32
    size : places
    """

    compiled: Any
    passes: Sequence[_Pass]
    shares: Mapping[str, _Shared]
    touch: Ints
    place: Codes
    size: int

    def sums(self, stretches: Sequence[Stretch]) -> dict[int | str, Ints]:
        """Sums over some trails, by the number of a pass and by yardstick; none where numbers are too large."""
        out: dict[int | str, Ints] = {
            number: np.zeros((self.size + 1) * self.compiled.COLUMNS, np.int64) for number in range(len(self.passes))
        }
        out |= {name: np.zeros((self.size + 1) * 4, np.int64) for name in self.shares}
        longest = max(some.elements.stop - some.elements.start for some in stretches)
        part, worth = np.empty(longest, np.int64), np.empty(longest, np.int64)
        for some in stretches:
            of = some.elements
            for key in list(out):
                if isinstance(key, int):
                    done = self._pass(self.passes[key], some, out[key])
                else:
                    columns = self.shares[key].columns
                    n = of.stop - of.start
                    into = (part[:n], worth[:n]) if columns is None else (columns[0][of], columns[1][of])
                    fill = self.shares[key].fill
                    done = fill is None or fill(some, *into)
                    if done:
                        self.compiled.add_up(self.place[of], *into, out[key])
                if not done:
                    del out[key]
        return out

    def _pass(self, one: _Pass, some: Stretch, sums: Ints) -> bool:
        told = some.offsets, self.place, some.value, self.touch, one.direct, one.weights, one.wanted, sums
        return bool(self.compiled.by_place_in_trail(*told))


def _of_pass(compiled: Any, found: Ints, column: int) -> Halves:
    sole, sole_worth = found[compiled.SOLE] << LIMB, found[compiled.SOLE + 1]
    if column in (compiled.EVEN, compiled.PLACED):
        return _halves(sole + found[column], found[column + 1], sole_worth + found[column + 2])
    return _halves(sole + (found[column] << LIMB), np.zeros_like(sole), sole_worth + found[column + 1])


def _of_shares(found: Ints) -> Halves:
    high, low, worth, _ = found
    return _halves(high, low, worth)


def _halves(high: Ints, low: Ints, worth: Ints) -> Halves:
    nothing = np.zeros_like(worth)
    halves = carried(high, low), carried(nothing, worth)
    return np.stack([one for one, _ in halves]), np.stack([one for _, one in halves])
