"""The campaign figures of all rules but removal, from Parquet columns, by the core's own functions."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from decimal import Decimal
from pathlib import Path

import numpy as np
import pyarrow.parquet as pq

import world
from yardstick.core.base.columns import Text
from yardstick.core.base.tally import LIMB
from yardstick.core.credit.adding import Kept
from yardstick.core.credit.credit import WHOLE, share_of
from yardstick.core.credit.rules.given import Asked
from yardstick.core.credit.summing import summed
from yardstick.core.plan.records import Yardstick
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
LOOK_BACK_US = 30 * 86_400 * 1_000_000


@dataclass
class Held:
    """Trails held in memory, with what the rules ask of each touch."""

    trails: Trails
    campaign: np.ndarray
    player: np.ndarray
    direct: np.ndarray
    value: np.ndarray
    at: np.ndarray
    channel: Text

    def asked(self, yardstick: Yardstick) -> Asked:
        """What a rule may look at."""
        return Asked(
            yardstick,
            self.trails,
            self.direct,
            players=lambda by: self.player,
            at=self.at,
            channels=lambda: self.channel,
        )


def hold(folder: Path) -> Held:
    """Read the columns, keep people who convert, order their touches, lay the trails."""
    c = pq.read_table(folder / "conversions.parquet", memory_map=True)
    buyer, bought_at = c["person"].to_numpy(), c["at"].to_numpy()
    # One flag more than there are buyers' numbers, for everybody beyond.
    is_buyer = np.zeros(int(buyer.max()) + 2, np.bool_)
    is_buyer[buyer] = True
    # Buyers under numbers without gaps: fewer bits for the person, more for the time, in the sort.
    number = np.cumsum(is_buyer) - 1
    buyer = number[buyer]
    # As the app holds them: in the order of people, so that what is looked up for their touches lies side by side.
    bought = order_by_person(buyer, bought_at)
    buyer, bought_at, value = buyer[bought], bought_at[bought], c["value"].to_numpy()[bought]
    path = folder / "touches.parquet"

    def of_buyers(group: int) -> list[np.ndarray]:
        rows = pq.ParquetFile(path, memory_map=True).read_row_group(group, use_threads=False)
        person = np.minimum(rows["person"].to_numpy(), len(is_buyer) - 1)
        mine = np.flatnonzero(is_buyer[person])
        return [number[person[mine]], *(rows[n].to_numpy()[mine] for n in ("at", "campaign", "channel", "direct"))]

    with ThreadPoolExecutor(2) as pool:
        parts = list(pool.map(of_buyers, range(pq.ParquetFile(path).num_row_groups)))
    person, at, campaign, channel, direct = (np.concatenate(column) for column in zip(*parts, strict=True))
    order = order_by_person(person, at)
    person, at, direct = person[order], at[order], direct[order]
    campaign, channel = campaign[order], channel[order]
    windows = np.full((len(buyer), 3), LOOK_BACK_US, np.int64)
    trails = lay_trails(begins_of(person), at, np.zeros(len(at), np.int64), buyer, bought_at, windows)
    player = np.where(campaign > 0, campaign, campaign.max() + 1 + channel)
    names = tuple(f"c{number}" for number in range(world.CHANNELS + 1))
    return Held(trails, campaign, player, direct, value, at, Text(channel, names))


def weigh_held(
    held: Held,
    rules: tuple[str, ...] = tuple(YARDSTICKS),
    by: tuple[np.ndarray, int] | None = None,
    kept: Kept | None = None,
) -> dict[str, tuple[np.ndarray, np.ndarray]]:
    """Credited conversions and value per campaign (or by a number of each touch, of so many) under some rules, of which shares may have been
    kept."""
    number, size = by or (held.campaign, world.CAMPAIGNS + 1)
    place = number[held.trails.touch]
    value = held.value[held.trails.conversion]
    asked = {rule: held.asked(YARDSTICKS[rule]) for rule in rules}
    out = {}
    found = summed(asked, lambda rule: share_of(asked[rule], value), value, place, size, kept)
    for rule, (high, low) in zip(rules, found, strict=True):
        credit = (high[0].astype(np.float64) * 2.0**LIMB + low[0]) / float(WHOLE)
        out[rule] = credit, (high[1] << LIMB) + low[1]
    return out


def one_off(folder: Path) -> dict[str, tuple[np.ndarray, np.ndarray]]:
    """From Parquet to the finished figures."""
    return weigh_held(hold(folder))
