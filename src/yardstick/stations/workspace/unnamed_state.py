"""What stands after a change, whether it is kept or only tried."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from yardstick.store.states import LoadThere

from .kept_plans import KeptPlan


@dataclass(frozen=True)
class UnnamedState:
    """What stands after a change, before its rows are looked at.

    Attributes
    ----------
    change : the change
    kept, prices : the settings, and the rows of the link sheet that state a price
    loads, rejected : loads whose rows stand, and their rejected rows
    """

    change: int
    kept: KeptPlan
    prices: tuple[Mapping[str, str], ...]
    loads: tuple[LoadThere, ...]
    rejected: Sequence[tuple[str, int, str]]

    @property
    def name(self) -> str:
        """Equal where the same rows stand under the same settings, whatever change brought them."""
        said = [self.kept.text, [sorted(row.items()) for row in self.prices], [load.load for load in self.loads]]
        return hashlib.sha256(json.dumps(said).encode()).hexdigest()[:32]
