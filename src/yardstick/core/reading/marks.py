"""Addresses without their click marks, and without values of parameters that nobody named: a mark of its own on every
click makes all addresses distinct, and what else they say is said over and over. Addresses are read once per distinct
rest.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..base.columns import Codes, Text
from ..base.values import Values
from ..base.words import SLOTS, Slots, fold
from .tags import parameters, split_address

SAMPLE, MOST_IDLE = 600, 6
LARGE = 5_000
"""From this many distinct addresses on it pays to look for their marks first."""
_NAME = re.compile(r"[A-Za-z0-9_-]+")
_PLAIN = r"(?:[A-Za-z_-]+[0-9]|[0-9][A-Za-z0-9_-])[A-Za-z0-9_-]*"
"""A mark that is an identifier whatever it says, and holds nothing to decode: it has a digit and is not `0`."""
_ODD = r"^[^?#]*[&#]|\?[^#]*\?|[?&][^=&#]*[^=&#A-Za-z0-9_.~-]"
"""An ampersand before the query, a question mark in it, or a name that has to be decoded or folded before it says what
it names."""
_STANDS_FOR = "ytmark{}ytmark"


@dataclass(frozen=True)
class Unmarked:
    """Addresses with their plain marks taken out, and with plain values of parameters that say nothing to anybody.

    Attributes
    ----------
    rests : distinct addresses, a word in place of each mark that was taken out
    rest : (n,) int32, which of them each address has
    stands_for : word -> (n,) text, the mark it stands for in each address
    """

    rests: Sequence[str]
    rest: Codes
    stands_for: dict[str, Text]


def without_marks(
    addresses: Sequence[str], names: Sequence[str], extra_values: Sequence[str] = (), slots: Slots = SLOTS
) -> Unmarked:
    """Take plain click marks out of addresses, and the values of parameters that no reading looks at.

    Parameters
    ----------
    addresses : distinct
    names : of the parameters that carry a mark, folded
    extra_values : of other parameters that are read, folded
    slots : tells unfilled slots; where a plain text could be one, all addresses are left whole

    Notes
    -----
    Only a value that stands once in the query of its address, under a name that is written plainly, is taken out; every
    other address is left whole, and so is read as it is.
    """
    if len(addresses) < LARGE or slots.in_plain_text:
        return Unmarked(addresses, np.arange(len(addresses), dtype=np.int32), {})
    import pyarrow as pa

    held = addresses if isinstance(addresses, Values) else Values(pa.array(list(addresses), pa.string()))
    plain = tuple(name for name in names if _NAME.fullmatch(name) and not name.startswith("utm_"))
    read = frozenset({*names, *extra_values})

    def work(more: Any, before: tuple[tuple[str, ...], Unmarked] | None) -> tuple[tuple[str, ...], Unmarked]:
        idle = tuple(_idle_names(held, read)) if before is None else before[0]
        found = _unmark(more, plain, idle)
        return idle, found if before is None else _joined(before[1], found)

    return held.known("unmarked", (plain, read), work)[1]


def _unmark(whole: Any, plain: Sequence[str], idle: Sequence[str]) -> Unmarked:
    rest, found = whole, {}
    for number, name in enumerate(plain):
        word = _STANDS_FOR.format(number)
        rest, values = _cut(rest, name, word)
        found[word] = _text(values)
    for name in idle:
        rest, _ = _cut(rest, name, "")
    coded = _text(rest)
    return Unmarked(coded.values, coded.codes, found)


def _joined(one: Unmarked, two: Unmarked) -> Unmarked:
    rest = Text.join([Text(one.rest, one.rests), Text(two.rest, two.rests)])
    return Unmarked(
        rest.values,
        rest.codes,
        {word: Text.join([one.stands_for[word], two.stands_for[word]]) for word in one.stands_for},
    )


def _cut(rest: Any, name: str, word: str) -> tuple[Any, Any]:
    """Put a word in place of the plain values of a parameter: (what is left of each address, the value cut out)."""
    import pyarrow as pa
    import pyarrow.compute as pc

    begins = rf"[?&]{re.escape(name)}="
    has = pc.match_substring_regex(rest, begins)
    now = rest.filter(has)
    halves = pc.split_pattern(now, f"{name}=", max_splits=1)
    before, later = pc.list_element(halves, 0), pc.list_element(halves, 1)
    parts = pc.extract_regex(later, f"(?s)^(?P<value>{_PLAIN})(?P<after>(?:[&#].*)?)$")
    value, after = pc.struct_field(parts, "value"), pc.struct_field(parts, "after")
    cut = pc.binary_join_element_wise(before, f"{name}={word}", after, "")
    # What makes an address odd is what is left of it, and that is said over and over.
    coded = cut.dictionary_encode()
    odd = pc.or_(
        pc.match_substring_regex(coded.dictionary, _ODD),
        pc.or_(
            pc.match_substring_regex(coded.dictionary, f"(?i)[^?&]{re.escape(name)}={word}"),
            pc.not_equal(pc.count_substring_regex(coded.dictionary, f"(?i){begins}"), 1),
        ),
    )
    taken = pc.and_(pc.is_valid(value), pc.invert(pc.fill_null(odd.take(coded.indices), True)))
    changed = pc.if_else(taken, cut, now)
    value = pc.fill_null(pc.if_else(taken, value, ""), "")
    values = pc.replace_with_mask(pa.repeat(pa.scalar(""), len(rest)), has, value)
    return pc.replace_with_mask(rest, has, changed), values


def _idle_names(addresses: Sequence[str], read: frozenset[str]) -> list[str]:
    """Parameters that many addresses carry and no reading looks at, told by a sample."""
    step = max(1, len(addresses) // SAMPLE)
    seen: Counter[str] = Counter()
    for at in range(0, len(addresses), step):
        names = {name for name, _, _ in parameters(split_address(addresses[at])[1])}
        seen.update(n for n in names if _NAME.fullmatch(n) and not fold(n).startswith("utm_") and fold(n) not in read)
    often = [name for name, times in seen.most_common(MOST_IDLE) if times * step * 50 >= len(addresses)]
    return sorted(often)


def _text(array: Any) -> Text:
    coded = array.combine_chunks() if hasattr(array, "combine_chunks") else array
    coded = coded.dictionary_encode()
    codes = coded.indices.to_numpy(zero_copy_only=False).astype(np.int32, copy=False)
    return Text(codes, Values(coded.dictionary))
