"""Addresses without their click marks: a mark of its own on every click makes all addresses distinct, and what else
they say is said over and over. Addresses are read once per distinct rest."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..base.columns import Codes, Text
from ..base.values import Values
from ..base.words import SLOTS, Slots

LARGE = 5_000
"""From this many distinct addresses on it pays to look for their marks first."""
_PLAIN = r"(?:[A-Za-z_-]+[0-9]|[0-9][A-Za-z0-9_-])[A-Za-z0-9_-]*"
"""A mark that is an identifier whatever it says, and holds nothing to decode: it has a digit and is not `0`."""
_ODD = r"^[^?#]*[&#]|\?[^#]*\?|[?&][^=&#]*[^=&#A-Za-z0-9_.~-]"
"""An ampersand before the query, a question mark in it, or a name that has to be decoded or folded before it says what
it names."""
_STANDS_FOR = "ytmark{}ytmark"


@dataclass(frozen=True)
class Unmarked:
    """Addresses with their plain marks taken out.

    Attributes
    ----------
    rests : distinct addresses, a word in place of each mark that was taken out
    rest : (n,) int32, which of them each address has
    stands_for : word -> (n,) text, the mark it stands for in each address
    """

    rests: Sequence[str]
    rest: Codes
    stands_for: dict[str, Text]


def without_marks(addresses: Sequence[str], names: Sequence[str], slots: Slots = SLOTS) -> Unmarked:
    """Take plain click marks out of addresses.

    Parameters
    ----------
    addresses : distinct
    names : of the parameters that carry a mark, folded
    slots : tells unfilled slots; where a plain text could be one, all addresses are left whole

    Notes
    -----
    Only a mark that stands once in the query of its address, under a name that is written plainly, is taken out; every
    other address is left whole, and so is read as it is.
    """
    plain = [name for name in names if re.fullmatch(r"[a-z0-9_-]+", name) and not name.startswith("utm_")]
    if len(addresses) < LARGE or not plain or slots.in_plain_text:
        return Unmarked(addresses, np.arange(len(addresses), dtype=np.int32), {})
    import pyarrow as pa
    import pyarrow.compute as pc

    whole = getattr(addresses, "arrow", None)
    whole = pa.array(list(addresses), pa.string()) if whole is None else whole
    rest, found = whole, {}
    for number, name in enumerate(plain):
        has = pc.match_substring_regex(whole, rf"[?&]{re.escape(name)}=")
        some, now = whole.filter(has), rest.filter(has)
        halves = pc.split_pattern(now, f"{name}=", max_splits=1)
        before, later = pc.list_element(halves, 0), pc.list_element(halves, 1)
        parts = pc.extract_regex(later, f"(?s)^(?P<mark>{_PLAIN})(?P<after>(?:[&#].*)?)$")
        mark, after = pc.struct_field(parts, "mark"), pc.struct_field(parts, "after")
        again = pc.match_substring_regex(later, rf"(?i)[?&]{re.escape(name)}=")
        odd = pc.or_(
            pc.match_substring_regex(some, _ODD),
            pc.match_substring_regex(before, rf"(?i)[^?&]$|[?&]{re.escape(name)}="),
        )
        taken = pc.and_(pc.is_valid(mark), pc.invert(pc.or_(again, odd)))
        word = _STANDS_FOR.format(number)
        changed = pc.if_else(taken, pc.binary_join_element_wise(before, f"{name}={word}", after, ""), now)
        rest = pc.replace_with_mask(rest, has, changed)
        mark = pc.fill_null(pc.if_else(taken, mark, ""), "")
        found[word] = _text(pc.replace_with_mask(pa.repeat(pa.scalar(""), len(whole)), has, mark))
    coded = _text(rest)
    return Unmarked(coded.values, coded.codes, found)


def _text(array: Any) -> Text:
    coded = array.combine_chunks() if hasattr(array, "combine_chunks") else array
    coded = coded.dictionary_encode()
    codes = coded.indices.to_numpy(zero_copy_only=False).astype(np.int32, copy=False)
    return Text(codes, Values(coded.dictionary))
