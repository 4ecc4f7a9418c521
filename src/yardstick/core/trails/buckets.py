"""Buckets of people (R24): everyone falls into one of 2,048 by an identifier, whatever the order of rows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from hashlib import sha256

import numpy as np

from ..base.columns import Ints, Text
from .people import KINDS, Identified, People

BUCKETS = 2048


@dataclass(frozen=True)
class KnownBy:
    """The identifiers of everyone who converted.

    Attributes
    ----------
    pieces : number of the kind, persons and their identifiers, one a row
    shared : (kind, identifier), those that join nobody
    """

    pieces: Sequence[tuple[int, Ints, Text]]
    shared: frozenset[tuple[int, str]]

    @cached_property
    def smallest(self) -> dict[int, str]:
        """Person -> number of the kind and identifier, the smallest of the person: kinds in the order of R6."""
        found: dict[int, tuple[int, str]] = {}
        for kind, person, column in self.pieces:
            pairs = np.unique(person * len(column.values) + column.codes)
            for pair in pairs.tolist():
                who, code = divmod(pair, len(column.values))
                this = (kind, column.values[code])
                if this not in self.shared and (who not in found or this < found[who]):
                    found[who] = this
        return {who: f"{kind}:{value}" for who, (kind, value) in found.items()}

    def bucket(self, person: int, table: str, row_id: str) -> int:
        """The bucket of a person; of one without identifier by the row that alone is theirs."""
        text = self.smallest.get(person) or f"{table}:{row_id}"
        return int.from_bytes(sha256(text.encode("utf-8", "surrogatepass")).digest()[:8], "big") % BUCKETS


def known_by(groups: Sequence[Identified], people: People) -> KnownBy:
    """The identifiers of everyone who converted.

    Parameters
    ----------
    groups, people : visits, leads and conversions as `find_people` was given them, and what it found
    """
    converted = np.zeros(1 + max((int(p.max(initial=-1)) for p in people.person), default=-1), np.bool_)
    for persons in people.person[1:]:
        converted[persons] = True
    pieces = []
    for group, of_group in zip(groups, people.person, strict=True):
        for kind, column in group.columns.items():
            mine = np.flatnonzero(group.joins & column.filled() & converted[of_group])
            pieces.append((kind, of_group[mine], column.take(mine)))
    return KnownBy(pieces, frozenset((KINDS.index(kind), value) for kind, value, _ in people.shared))
