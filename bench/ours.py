"""The campaign figures of the rules that the peers know, from Parquet columns, by the core's own functions."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pyarrow.parquet as pq

from yardstick.core.base.columns import Text
from yardstick.core.base.tally import tally
from yardstick.core.credit.credit import WHOLE, share_of
from yardstick.core.credit.rules.given import Asked
from yardstick.core.plan.records import Yardstick
from yardstick.core.trails.touches import order_by_person
from yardstick.core.trails.trails import Trails, lay_trails

RULES = ("first", "last", "last_marked", "linear", "fair_share")
"""The rules that the peers were taught."""
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
    bought_at: np.ndarray

    def asked(self, yardstick: Yardstick) -> Asked:
        """What a rule may look at."""
        return Asked(
            yardstick,
            self.trails,
            self.direct,
            players=lambda by: self.player,
            ages=lambda: np.repeat(self.bought_at, self.trails.lengths) - self.at[self.trails.touch],
            channels=lambda: Text.blank(len(self.direct)),
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
    campaign, channel = campaign[order].astype(np.int64), channel[order].astype(np.int64)
    windows = np.full((len(buyer), 3), LOOK_BACK_US, np.int64)
    trails = lay_trails(person, at, np.zeros(len(at), np.int64), buyer, bought_at, windows)
    player = np.where(campaign > 0, campaign, campaign.max() + 1 + channel)
    return Held(trails, campaign, player, direct, c["value"].to_numpy(), at, bought_at)


def weigh_held(held: Held) -> dict[str, tuple[np.ndarray, np.ndarray]]:
    """Credited conversions and value per campaign under the rules that the peers know."""
    place = held.campaign[held.trails.touch]
    size = int(held.campaign.max()) + 1
    out = {}
    for rule in RULES:
        share = share_of(held.asked(Yardstick(rule, rule)), held.value)
        of = place[share.element]
        sums, _ = tally(of[None], [(None, share.part), (None, share.worth)])
        places = sums.keys[0]
        credit = np.array([c / int(WHOLE) for c in sums.sums(0, places, size)])
        out[rule] = (credit, np.array(sums.sums(1, places, size)))
    return out


def one_off(folder: Path) -> dict[str, tuple[np.ndarray, np.ndarray]]:
    """From Parquet to the finished figures."""
    return weigh_held(hold(folder))
