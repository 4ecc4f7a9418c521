"""The campaign figures of all rules but removal, from Parquet columns, by the core's own functions."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from decimal import Decimal
from pathlib import Path

import numpy as np
import pyarrow.parquet as pq

import world
from reach import Reach, ordered
from yardstick.core.base.columns import Text
from yardstick.core.base.day_numbers import DAY_US
from yardstick.core.base.tally import LIMB
from yardstick.core.credit.adding import Kept
from yardstick.core.credit.credit import WHOLE, share_of
from yardstick.core.credit.summing import summed
from yardstick.core.plan.crediting_phase import Yardstick
from yardstick.core.rules.trail_context import TrailContext
from yardstick.core.trails.touches import order_by_person
from yardstick.core.trails.trails import Trails, begins_of, lay_trails

YARDSTICKS = {
    **{rule: Yardstick(rule, rule) for rule in ("first", "last", "last_marked", "linear", "fair_share", "position")},
    "decay": Yardstick("decay", "decay"),
    "custom": Yardstick(
        "custom",
        "custom",
        params=tuple((place, Decimal(weight)) for place, weight in world.PLACE_WEIGHTS.items()),
        channels=tuple((f"c{number}", Decimal(str(weight))) for number, weight in world.CHANNEL_WEIGHTS.items()),
    ),
}
SIX = ("first", "last", "last_marked", "linear", "fair_share", "position")
CONVERSIONS, TOUCHES = ["person", "at", "value"], ["person", "at", "campaign", "channel", "direct"]
LOOK_BACK_US = 30 * 86_400 * 1_000_000


@dataclass
class Held:
    """Trails held in memory, with the value of each, as `Credit` has it, and what the rules ask of each touch."""

    trails: Trails
    campaign: np.ndarray
    player: np.ndarray
    direct: np.ndarray
    value: np.ndarray
    at: np.ndarray
    channel: Text

    def asked(self, yardstick: Yardstick) -> TrailContext:
        """What a rule may look at."""
        return TrailContext(
            yardstick,
            self.trails,
            self.direct,
            players=lambda by: self.player,
            at=self.at,
            channels=lambda: self.channel,
            days=lambda: self.at // DAY_US,
            conversion_days=lambda: self.trails.conversion,
        )


def hold(folder: Path) -> Held:
    """Read the columns, keep what can stand in a trail, order it by person, lay the trails."""
    conversions = pq.ParquetFile(folder / "conversions.parquet", memory_map=True).read(CONVERSIONS, use_threads=False)
    buyer, bought_at, value = (column.to_numpy() for column in conversions.columns)
    # As the app holds them: in the order of people, so that what is looked up for their touches lies side by side.
    bought = order_by_person(buyer, bought_at)
    buyer, bought_at, value = buyer[bought], bought_at[bought], value[bought]
    reach, buyer = Reach.of(buyer, bought_at, LOOK_BACK_US)
    begins, at, campaign, channel, player, direct = _touches(folder / "touches.parquet", reach)
    windows = np.broadcast_to(np.int64(LOOK_BACK_US), (len(buyer), 3))
    clicks = np.broadcast_to(np.int64(0), len(at))
    trails = lay_trails(begins, at, clicks, buyer, bought_at, windows)
    names = tuple(f"c{number}" for number in range(world.CHANNELS + 1))
    return Held(trails, campaign, player, direct, value[trails.conversion], at, Text(channel, names))


def _touches(path: Path, reach: Reach) -> list[np.ndarray]:
    """Where those of each person begin; in that order time, campaign, channel, player and whether direct."""
    file = _open(path)
    columns, kept = [np.empty(file.metadata.num_rows + 1, np.int64) for _ in range(3)], 0
    for group in _groups(path, file):
        kept += reach.within(group, [column[kept:] for column in columns])
    person, at, told = (column[:kept] for column in columns)
    order = order_by_person(person, at)
    return [begins_of(person), *ordered(order, at, told, world.CAMPAIGNS + 1)]


def _groups(path: Path, file: pq.ParquetFile) -> Iterator[list[np.ndarray]]:
    """The columns of one row group after the other, the next two being read meanwhile."""
    number = file.num_row_groups
    if number == 1:
        yield _columns(file, 0)
        return
    with ThreadPoolExecutor(2) as pool:
        # Each has the file open for itself: readers do not say that they may be shared.
        waiting = deque(pool.submit(lambda at: _columns(_open(path), at), group) for group in range(2))
        for group in range(2, number + 2):
            columns = waiting.popleft().result()
            if group < number:
                waiting.append(pool.submit(lambda at: _columns(_open(path), at), group))
            yield columns


def _columns(file: pq.ParquetFile, group: int) -> list[np.ndarray]:
    """One after the other, which takes less memory and less time than all at once; flags as the bits that they are."""
    columns = [file.read_row_group(group, [name], use_threads=False).column(0).chunk(0) for name in TOUCHES]
    assert columns[-1].offset == 0
    return [*(column.to_numpy() for column in columns[:-1]), np.frombuffer(columns[-1].buffers()[1], np.uint8)]


def _open(path: Path) -> pq.ParquetFile:
    return pq.ParquetFile(path, memory_map=True, pre_buffer=False)


def weigh_held(
    held: Held,
    rules: tuple[str, ...] = tuple(YARDSTICKS),
    by: tuple[np.ndarray, int] | None = None,
    kept: Kept | None = None,
) -> dict[str, tuple[np.ndarray, np.ndarray]]:
    """Credited conversions and value per campaign (or by a number of each touch, of so many) under some rules, of which shares may have been
    kept."""
    number, size = by or (held.campaign, world.CAMPAIGNS + 1)
    place = number.take(held.trails.touch)
    asked = {rule: held.asked(YARDSTICKS[rule]) for rule in rules}
    out = {}
    found = summed(asked, lambda rule: share_of(asked[rule], held.value), held.value, place, size, kept)
    for rule, (high, low) in zip(rules, found, strict=True):
        credit = (high[0].astype(np.float64) * 2.0**LIMB + low[0]) / float(WHOLE)
        out[rule] = credit, (high[1] << LIMB) + low[1]
    return out


def one_off(folder: Path) -> dict[str, tuple[np.ndarray, np.ndarray]]:
    """From Parquet to the finished figures."""
    return weigh_held(hold(folder))
