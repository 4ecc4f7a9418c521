"""Touches and conversions with a long tail of touches per person; some of the people convert."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

CAMPAIGNS, CHANNELS = 200, 12
DAYS = 60
SECOND = 1_000_000
PLACE_WEIGHTS = {"first": 2, "middle": 1, "last": 3}
CHANNEL_WEIGHTS = {3: 0.5, 5: 2.0, 7: 0.0}
"""What the custom yardstick of the bench says; other channels weigh 1."""


def write(folder: Path, touches: int, seed: int = 7, converting: float = 0.04) -> None:
    """Write touches.parquet and conversions.parquet.

    Parameters
    ----------
    folder : made if missing
    touches : about how many touches
    seed : the same seed gives the same rows
    converting : share of the people who do
    """
    folder.mkdir(parents=True, exist_ok=True)
    chance = np.random.default_rng(seed)
    people = touches // 4
    # Discrete Pareto: most people come once or twice, a few come hundreds of times.
    counts = 1 + np.minimum((chance.pareto(1.25, people) * 0.9).astype(np.int64), 2_000)
    person = np.repeat(np.arange(people), np.round(counts * (touches / counts.sum())).astype(np.int64))
    person = chance.permutation(person)
    campaign = (CAMPAIGNS * chance.random(len(person)) ** 2).astype(np.int32)
    # One touch in nine carries no campaign; a third of those are Direct.
    campaign = np.where(chance.random(len(person)) < 1 / 9, 0, campaign + 1).astype(np.int32)
    direct = (campaign == 0) & (chance.random(len(person)) < 1 / 3)
    table = pa.table(
        {
            "person": person.astype(np.int64),
            "at": chance.integers(0, DAYS * 86_400 * SECOND, len(person)),
            "campaign": campaign,
            "channel": np.where(campaign > 0, campaign % CHANNELS, CHANNELS).astype(np.int32),
            "direct": direct,
        }
    )
    pq.write_table(table, folder / "touches.parquet")
    # Who comes often buys more often.
    often = np.bincount(person, minlength=people) + 0.1
    buyers = chance.choice(people, int(people * converting), replace=False, p=often / often.sum())
    orders = np.repeat(buyers, chance.integers(1, 3, len(buyers)))
    pq.write_table(
        pa.table(
            {
                "id": np.arange(len(orders), dtype=np.int64),
                "person": orders.astype(np.int64),
                "at": chance.integers(10 * 86_400 * SECOND, DAYS * 86_400 * SECOND, len(orders)),
                "value": chance.integers(0, 40_000, len(orders)),
            }
        ),
        folder / "conversions.parquet",
    )
