"""Rules as machine code, for many touches; importing it loads the compiler's package, so only `summing` does. Ordering
touches and laying trails as machine code comes with it."""

from ...trails import compiled as _trails  # noqa: F401
from .decaying import decay_weights
from .kernels import among_players, by_position_and_channel, by_weight
from .moves import count_moves
from .passes import (
    COLUMNS,
    EVEN,
    FIRST,
    LAST,
    MARKED,
    PLACED,
    SOLE,
    WANTS_MARKED,
    WANTS_PLACED,
    add_up,
    by_place_in_trail,
)

__all__ = [
    "COLUMNS",
    "EVEN",
    "FIRST",
    "LAST",
    "MARKED",
    "PLACED",
    "SOLE",
    "WANTS_MARKED",
    "WANTS_PLACED",
    "add_up",
    "among_players",
    "by_place_in_trail",
    "by_position_and_channel",
    "by_weight",
    "count_moves",
    "decay_weights",
]
