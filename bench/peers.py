"""What a user would do instead: a careful DuckDB query, a careful Polars plan. Same figures, value shares unrounded."""

from __future__ import annotations

from pathlib import Path

import duckdb
import numpy as np
import polars as pl

DAY_US = 86_400 * 1_000_000

QUERY = """
WITH trail AS (
  SELECT c.id, c.value, t.campaign, t.direct, t."at" AS moment,
         CASE WHEN t.campaign > 0 THEN t.campaign ELSE 1000000 + t.channel END AS player
  FROM '{folder}/touches.parquet' t JOIN '{folder}/conversions.parquet' c
    ON t.person = c.person AND t."at" <= c."at" AND t."at" >= c."at" - {window}
), ranked AS (
  SELECT *,
    row_number() OVER w AS rank,
    count(*) OVER (PARTITION BY id) AS n,
    count(*) OVER (PARTITION BY id, player) AS of_player,
    max(CASE WHEN NOT direct THEN moment END) OVER (PARTITION BY id) AS last_marked_at
  FROM trail WINDOW w AS (PARTITION BY id ORDER BY moment)
), players AS (SELECT id, count(DISTINCT player) AS players FROM trail GROUP BY id)
SELECT campaign,
  sum(CASE WHEN rank = 1 THEN 1.0 ELSE 0 END), sum(CASE WHEN rank = 1 THEN value ELSE 0 END),
  sum(CASE WHEN rank = n THEN 1.0 ELSE 0 END), sum(CASE WHEN rank = n THEN value ELSE 0 END),
  sum(CASE WHEN m THEN 1.0 ELSE 0 END), sum(CASE WHEN m THEN value ELSE 0 END),
  sum(1.0::DOUBLE / n), sum(value::DOUBLE / n),
  sum(1.0::DOUBLE / (players * of_player)), sum(value::DOUBLE / (players * of_player))
FROM (SELECT *, CASE WHEN last_marked_at IS NULL THEN rank = n ELSE moment = last_marked_at AND NOT direct END AS m FROM ranked) JOIN players USING (id)
GROUP BY campaign ORDER BY campaign
"""
RULES = ("first", "last", "last_marked", "linear", "fair_share")


def with_duckdb(folder: Path) -> dict[str, tuple[np.ndarray, np.ndarray]]:
    """One query with window functions."""
    connection = duckdb.connect()
    columns = connection.execute(QUERY.format(folder=folder, window=30 * DAY_US)).fetchnumpy()
    return _spread([np.asarray(column, dtype=float) for column in columns.values()])


def with_polars(folder: Path) -> dict[str, tuple[np.ndarray, np.ndarray]]:
    """One lazy plan: semi join first, then the join, then expressions over each trail, on the streaming engine."""
    conversions = pl.scan_parquet(folder / "conversions.parquet")
    touches = pl.scan_parquet(folder / "touches.parquet").join(conversions, on="person", how="semi")
    trail = (
        touches.join(conversions.rename({"at": "bought"}), on="person")
        .filter((pl.col("at") <= pl.col("bought")) & (pl.col("at") >= pl.col("bought") - 30 * DAY_US))
        .with_columns(
            player=pl.when(pl.col("campaign") > 0).then(pl.col("campaign")).otherwise(1_000_000 + pl.col("channel"))
        )
        .sort("id", "at")
        .with_columns(
            n=pl.len().over("id"),
            rank=pl.int_range(pl.len()).over("id"),
            of_player=pl.len().over("id", "player"),
            players=pl.col("player").n_unique().over("id"),
            last_marked=pl.when(~pl.col("direct")).then(pl.col("at")).max().over("id"),
        )
        .with_columns(
            first=(pl.col("rank") == 0).cast(pl.Float64),
            last=(pl.col("rank") == pl.col("n") - 1).cast(pl.Float64),
            last_marked=pl.when(pl.col("last_marked").is_null())
            .then(pl.col("rank") == pl.col("n") - 1)
            .otherwise((pl.col("at") == pl.col("last_marked")) & ~pl.col("direct"))
            .cast(pl.Float64),
            linear=1.0 / pl.col("n"),
            fair_share=1.0 / (pl.col("players") * pl.col("of_player")),
        )
    )
    sums = [
        e for r in RULES for e in (pl.col(r).sum().alias(r), (pl.col(r) * pl.col("value")).sum().alias(f"{r} value"))
    ]
    found = trail.group_by("campaign").agg(sums).sort("campaign").collect()
    return _spread([found[name].to_numpy().astype(float) for name in found.columns])


def _spread(columns: list[np.ndarray]) -> dict[str, tuple[np.ndarray, np.ndarray]]:
    campaign = columns[0].astype(int)
    out = {}
    for i, rule in enumerate(RULES):
        credit, value = np.zeros(campaign.max() + 1), np.zeros(campaign.max() + 1)
        credit[campaign], value[campaign] = columns[1 + 2 * i], columns[2 + 2 * i]
        out[rule] = (credit, value)
    return out
