"""What a user would do instead: careful DuckDB queries, a careful Polars plan. Same figures, value shares unrounded:
neither has whole minor units that add up, and neither has the parts that make sums the same in any order."""

from __future__ import annotations

from pathlib import Path

import duckdb
import numpy as np
import pandas as pd
import polars as pl
import psycopg

import world

DAY_US = 86_400 * 1_000_000
RULES = ("first", "last", "last_marked", "linear", "fair_share", "position", "decay", "custom")
HALF_LIFE_US = 7 * DAY_US
_FIRST, _MIDDLE, _LAST = world.PLACE_WEIGHTS.values()
_OF_CHANNEL = " ".join(f"WHEN {number} THEN {weight}" for number, weight in world.CHANNEL_WEIGHTS.items())

TRAIL = f"""
trail AS (
  SELECT c.id, c.value, t.campaign, t.direct, t."at" AS moment,
    CASE WHEN t.campaign > 0 THEN t.campaign ELSE 1000000 + t.channel END AS player,
    CASE t.channel {_OF_CHANNEL} ELSE 1.0 END AS by_channel,
    power(2.0, (t."at" - c."at") / {HALF_LIFE_US}.0) AS fresh
  FROM '{{folder}}/touches.parquet' t JOIN '{{folder}}/conversions.parquet' c
    ON t.person = c.person AND t."at" <= c."at" AND t."at" >= c."at" - {30 * DAY_US}
)"""
SHARES = """
SELECT campaign, value,
  CASE WHEN is_first THEN 1.0 ELSE 0 END AS first, CASE WHEN is_last THEN 1.0 ELSE 0 END AS last,
  CASE WHEN last_marked_at IS NULL THEN is_last ELSE moment = last_marked_at END::INT::DOUBLE AS last_marked,
  1.0::DOUBLE / n AS linear, 1.0::DOUBLE / (players * of_player) AS fair_share,
  CASE WHEN n = 1 THEN 1.0 WHEN n = 2 THEN 0.5 WHEN is_first OR is_last THEN 0.4 ELSE 0.2 / (n - 2) END AS position,
  fresh / all_fresh AS decay,
  CASE WHEN all_custom > 0 THEN by_place * by_channel / all_custom ELSE 1.0::DOUBLE / n END AS custom
"""
BY_PLACE = f"CASE WHEN is_first THEN {_FIRST}.0 WHEN is_last THEN {_LAST}.0 ELSE {_MIDDLE}.0 END"
SUMS = (
    "SELECT campaign, "
    + ", ".join(f"sum({r}), sum({r} * value)" for r in RULES)
    + " FROM shares GROUP BY campaign ORDER BY campaign"
)
WINDOWS = f"""
WITH {TRAIL}, ranked AS (
  SELECT *,
    row_number() OVER w = 1 AS is_first,
    row_number() OVER w = count(*) OVER (PARTITION BY id) AS is_last,
    count(*) OVER (PARTITION BY id) AS n,
    count(*) OVER (PARTITION BY id, player) AS of_player,
    max(CASE WHEN NOT direct THEN moment END) OVER (PARTITION BY id) AS last_marked_at,
    sum(fresh) OVER (PARTITION BY id) AS all_fresh
  FROM trail WINDOW w AS (PARTITION BY id ORDER BY moment)
), players AS (SELECT id, count(DISTINCT player) AS players FROM trail GROUP BY id),
placed AS (SELECT *, {BY_PLACE} AS by_place FROM ranked),
weighed AS (SELECT *, sum(by_place * by_channel) OVER (PARTITION BY id) AS all_custom FROM placed),
shares AS ({SHARES} FROM weighed JOIN players USING (id))
{SUMS}
"""
# No two touches of a person have one moment in this world, so the first and the last are those of the least and the most.
JOINED = f"""
WITH {TRAIL}, conversion AS (
  SELECT id, count(*) AS n, count(DISTINCT player) AS players, min(moment) AS first_at, max(moment) AS last_at,
    max(CASE WHEN NOT direct THEN moment END) AS last_marked_at, sum(fresh) AS all_fresh
  FROM trail GROUP BY id
), of_players AS (SELECT id, player, count(*) AS of_player FROM trail GROUP BY id, player),
placed AS (
  SELECT trail.*, n, players, of_player, last_marked_at, all_fresh,
    moment = first_at AS is_first, moment = last_at AS is_last, {BY_PLACE} AS by_place
  FROM trail JOIN conversion USING (id) JOIN of_players USING (id, player)
), custom AS (SELECT id, sum(by_place * by_channel) AS all_custom FROM placed GROUP BY id),
shares AS ({SHARES} FROM placed JOIN custom USING (id))
{SUMS}
"""

Found = dict[str, tuple[np.ndarray, np.ndarray]]


def with_duckdb(folder: Path, query: str = WINDOWS) -> Found:
    """One query, with window functions."""
    columns = duckdb.connect().execute(query.format(folder=folder)).fetchnumpy()
    return _spread([np.asarray(column, dtype=float) for column in columns.values()])


def with_duckdb_joining_back(folder: Path) -> Found:
    """One query that aggregates per conversion and joins that back to the touches."""
    return with_duckdb(folder, JOINED)


def with_polars(folder: Path, engine: str = "auto") -> Found:
    """One lazy plan: semi join first, then the join, then expressions over each trail."""
    conversions = pl.scan_parquet(folder / "conversions.parquet")
    touches = pl.scan_parquet(folder / "touches.parquet").join(conversions, on="person", how="semi")
    weight = pl.col("channel").replace_strict(world.CHANNEL_WEIGHTS, default=1.0, return_dtype=pl.Float64)
    trail = (
        touches.join(conversions.rename({"at": "bought"}), on="person")
        .filter((pl.col("at") <= pl.col("bought")) & (pl.col("at") >= pl.col("bought") - 30 * DAY_US))
        .with_columns(
            player=pl.when(pl.col("campaign") > 0).then(pl.col("campaign")).otherwise(1_000_000 + pl.col("channel")),
            fresh=2.0 ** ((pl.col("at") - pl.col("bought")) / HALF_LIFE_US),
        )
        .sort("id", "at")
        .with_columns(
            n=pl.len().over("id"),
            rank=pl.int_range(pl.len()).over("id"),
            of_player=pl.len().over("id", "player"),
            players=pl.col("player").n_unique().over("id"),
            last_marked=pl.when(~pl.col("direct")).then(pl.col("at")).max().over("id"),
        )
        .with_columns(is_first=pl.col("rank") == 0, is_last=pl.col("rank") == pl.col("n") - 1)
        .with_columns(
            weight=pl.when("is_first").then(_FIRST).when("is_last").then(_LAST).otherwise(_MIDDLE) * weight,
        )
        .with_columns(all_custom=pl.col("weight").sum().over("id"))
        .with_columns(
            first=pl.col("is_first").cast(pl.Float64),
            last=pl.col("is_last").cast(pl.Float64),
            last_marked=pl.when(pl.col("last_marked").is_null())
            .then("is_last")
            .otherwise(pl.col("at") == pl.col("last_marked"))
            .cast(pl.Float64),
            linear=1.0 / pl.col("n"),
            fair_share=1.0 / (pl.col("players") * pl.col("of_player")),
            position=pl.when(pl.col("n") == 1)
            .then(1.0)
            .when(pl.col("n") == 2)
            .then(0.5)
            .when(pl.col("is_first") | pl.col("is_last"))
            .then(0.4)
            .otherwise(0.2 / (pl.col("n") - 2)),
            decay=pl.col("fresh") / pl.col("fresh").sum().over("id"),
            custom=pl.when(pl.col("all_custom") > 0)
            .then(pl.col("weight") / pl.col("all_custom"))
            .otherwise(1.0 / pl.col("n")),
        )
    )
    sums = [
        e for r in RULES for e in (pl.col(r).sum().alias(r), (pl.col(r) * pl.col("value")).sum().alias(f"{r} value"))
    ]
    found = trail.group_by("campaign").agg(sums).sort("campaign").collect(engine=engine)  # type: ignore[call-overload]
    return _spread([found[name].to_numpy().astype(float) for name in found.columns])


def with_polars_streaming(folder: Path) -> Found:
    """The same plan on the streaming engine."""
    return with_polars(folder, "streaming")


def with_pandas(folder: Path) -> Found:
    """Merged, sorted, grouped and transformed."""
    touches, conversions = (pd.read_parquet(folder / f"{name}.parquet") for name in ("touches", "conversions"))
    touches = touches[touches["person"].isin(conversions["person"])]
    trail = touches.merge(conversions.rename(columns={"at": "bought"}), on="person")
    age = trail["bought"] - trail["at"]
    trail = trail[(age >= 0) & (age <= 30 * DAY_US)].sort_values(["id", "at"])
    of = trail.groupby("id")
    player = trail["campaign"].where(trail["campaign"] > 0, 1_000_000 + trail["channel"])
    n, rank = of["at"].transform("size"), of.cumcount()
    is_first, is_last = rank == 0, rank == n - 1
    of_player = trail.groupby(["id", player])["at"].transform("size")
    players = player.groupby(trail["id"]).transform("nunique")
    last_marked = trail["at"].where(~trail["direct"]).groupby(trail["id"]).transform("max")
    fresh = 2.0 ** ((trail["at"] - trail["bought"]) / HALF_LIFE_US)
    by_place = np.select([is_first, is_last], [_FIRST, _LAST], _MIDDLE)
    weight = trail["channel"].map(world.CHANNEL_WEIGHTS).fillna(1.0) * by_place
    all_custom = weight.groupby(trail["id"]).transform("sum")
    shares = {
        "first": is_first.astype(float),
        "last": is_last.astype(float),
        "last_marked": np.where(last_marked.isna(), is_last, trail["at"] == last_marked).astype(float),
        "linear": 1.0 / n,
        "fair_share": 1.0 / (players * of_player),
        "position": np.select([n == 1, n == 2, is_first | is_last], [1.0, 0.5, 0.4], 0.2 / np.maximum(n - 2, 1)),
        "decay": fresh / fresh.groupby(trail["id"]).transform("sum"),
        "custom": np.where(all_custom > 0, weight / all_custom.where(all_custom > 0, 1), 1.0 / n),
    }
    sums = {f"{rule}{kind}": shares[rule] * by for rule in RULES for kind, by in (("", 1), (" value", trail["value"]))}
    found = pd.DataFrame(sums, trail.index).groupby(trail["campaign"]).sum().sort_index()
    return _spread([found.index.to_numpy(), *(found[name].to_numpy() for name in found.columns)])


def load_postgres(connection: psycopg.Connection, folder: Path) -> None:
    """The two tables as a user would have them there, with an index for the join; this is not measured."""
    for name in ("touches", "conversions"):
        table = pl.read_parquet(folder / f"{name}.parquet")
        kinds = {pl.Boolean: "boolean", pl.Int32: "integer", pl.Int64: "bigint"}
        columns = ", ".join(f'"{column}" {kinds[kind]}' for column, kind in table.schema.items())
        connection.execute(f"CREATE TABLE {name} ({columns})")
        with connection.cursor().copy(f"COPY {name} FROM STDIN (FORMAT csv)") as sink:
            sink.write(table.write_csv(include_header=False))
        connection.execute(f'CREATE INDEX ON {name} (person, "at")')
    connection.commit()
    connection.autocommit = True
    connection.execute("VACUUM ANALYZE")


def with_postgres(connection: psycopg.Connection) -> Found:
    """The query with window functions on loaded tables."""
    query = WINDOWS.replace("'{folder}/touches.parquet'", "touches").replace(
        "'{folder}/conversions.parquet'", "conversions"
    )
    rows = connection.execute(query.replace("DOUBLE", "double precision")).fetchall()
    return _spread([np.array(column, dtype=float) for column in zip(*rows, strict=True)])


WAYS = {
    "DuckDB, windows": with_duckdb,
    "DuckDB, joining back": with_duckdb_joining_back,
    "Polars": with_polars,
    "Polars, streaming": with_polars_streaming,
}


def _spread(columns: list[np.ndarray]) -> Found:
    campaign = columns[0].astype(int)
    out = {}
    for i, rule in enumerate(RULES):
        credit, value = np.zeros(campaign.max() + 1), np.zeros(campaign.max() + 1)
        credit[campaign], value[campaign] = columns[1 + 2 * i], columns[2 + 2 * i]
        out[rule] = (credit, value)
    return out
