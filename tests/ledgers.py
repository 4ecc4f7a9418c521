"""Ledgers held against each other."""

from __future__ import annotations

import numpy as np

from yardstick.core.report.ledger import REMOVAL_TALLIES


def same_bytes(one, other):
    """Whether two ledgers are equal, number by number."""
    tallies = [(getattr(one, name), getattr(other, name)) for name in ("credit", "touches", "alone", "booked", "met")]
    tallies += [(one.pairs[field], other.pairs[field]) for field in one.pairs]
    tallies += [
        (getattr(one.removals[by], name), getattr(other.removals[by], name))
        for by in one.removals
        for name in REMOVAL_TALLIES
    ]
    arrays = [(getattr(a, name), getattr(b, name)) for a, b in tallies for name in ("keys", "high", "low")]
    return one.captured == other.captured and all(np.array_equal(a, b) for a, b in arrays)
