"""One question asked once: from raw tables (addresses as text, a third with a click mark of their own, e-mails,
identifiers, spend) to what each campaign brought by first, last and linear and what it cost.

Beside it a careful DuckDB query and a careful Polars plan that read the same files, take the same tags out by
expression, find people by visitor id or e-mail, begin touches by R7's pause and change of tags, join by window, join
spend. They check no row, find no fault, know no spelling as another's, and their money is floating point.
"""

from __future__ import annotations

import shutil
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

import duckdb
import numpy as np
import polars as pl

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "src"), str(ROOT / "bench")]

from clock import Took, interleaved  # noqa: E402
from yardstick.alone import use_system_memory  # noqa: E402
from yardstick.core.plan.plan import plan_of  # noqa: E402
from yardstick.core.report.weigh import weigh  # noqa: E402
from yardstick.formats.files.readers import open_table  # noqa: E402
from yardstick.formats.rows.input_tables import read_file, tables_of  # noqa: E402

# As the command does.
use_system_memory()
Figures = dict[str, list[float]]
TAGS = ("source", "medium", "campaign")
RULES = ("first", "last", "linear")
QUERY = """
WITH tags AS (
  SELECT visit_id, visitor_id, email, occurred_at AS moment,
    lower(trim(replace(regexp_extract(url, '[?&]utm_source=([^&#]*)', 1), '+', ' '))) AS source,
    lower(trim(replace(regexp_extract(url, '[?&]utm_medium=([^&#]*)', 1), '+', ' '))) AS medium,
    lower(trim(replace(regexp_extract(url, '[?&]utm_campaign=([^&#]*)', 1), '+', ' '))) AS campaign,
    regexp_extract(url, '[?&]ckid=([^&#]*)', 1) AS mark
  FROM read_csv('{folder}/visits.csv', header = true)
), signed AS (
  SELECT *, CASE WHEN source || medium || campaign || mark = '' THEN NULL
    ELSE source || chr(31) || medium || chr(31) || campaign || chr(31) || mark END AS said FROM tags
), paced AS (
  SELECT *, moment - lag(moment) OVER w > INTERVAL 30 MINUTE OR lag(moment) OVER w IS NULL AS pause
  FROM signed WINDOW w AS (PARTITION BY visitor_id ORDER BY moment, visit_id)
), sessions AS (
  SELECT *, sum(pause::INT) OVER (PARTITION BY visitor_id ORDER BY moment, visit_id ROWS UNBOUNDED PRECEDING) AS session
  FROM paced
), touches AS (
  SELECT * FROM sessions
  QUALIFY pause OR (said IS NOT NULL AND said IS DISTINCT FROM last_value(said IGNORE NULLS) OVER (
    PARTITION BY visitor_id, session ORDER BY moment, visit_id ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING))
), who AS (
  SELECT email, min(visitor_id) AS visitor_id FROM tags WHERE email <> '' GROUP BY email
), bought AS (
  SELECT c.conversion_id AS id, c.occurred_at AS moment, c.total, coalesce(nullif(c.visitor_id, ''), who.visitor_id) AS person
  FROM read_csv('{folder}/conversions.csv', header = true) c LEFT JOIN who ON c.email = who.email
), trail AS (
  SELECT b.id, b.total, t.campaign,
    row_number() OVER (PARTITION BY b.id ORDER BY t.moment, t.visit_id) AS rank, count(*) OVER (PARTITION BY b.id) AS n
  FROM touches t JOIN bought b
    ON t.visitor_id = b.person AND t.moment <= b.moment AND t.moment >= b.moment - INTERVAL 30 DAY
), credit AS (
  SELECT campaign, sum((rank = 1)::INT) AS first, sum(CASE WHEN rank = 1 THEN total ELSE 0 END) AS first_value,
    sum((rank = n)::INT) AS last, sum(CASE WHEN rank = n THEN total ELSE 0 END) AS last_value,
    sum(1.0::DOUBLE / n) AS linear, sum(total / n) AS linear_value
  FROM trail WHERE campaign <> '' GROUP BY campaign
), cost AS (
  SELECT lower(campaign) AS campaign, sum(cost) AS cost FROM read_csv('{folder}/spend.csv', header = true) GROUP BY 1
)
SELECT credit.*, cost FROM credit JOIN cost USING (campaign)
"""


def write(folder: Path, visits: int, campaigns: int = 200) -> None:
    """The three files; one visit in ten and half of the conversions carry an e-mail."""
    chance = np.random.default_rng(3)
    first = np.datetime64("2026-03-01T00:00:00")
    people = visits // 3
    person, campaign = chance.integers(0, people, visits), chance.integers(0, campaigns, visits)
    when = np.datetime_as_string(first + chance.integers(0, 60 * 86_400, visits).astype("timedelta64[s]"))
    marked, mailed = chance.random(visits) < 1 / 3, chance.random(visits) < 0.1
    with (folder / "visits.csv").open("w") as file:
        file.write("visit_id,occurred_at,visitor_id,url,email\n")
        for i in range(visits):
            c = campaign[i]
            tags = f"utm_source=s{c % 7}&utm_medium=cpc&utm_campaign=Campaign+{c}" if c >= 20 else ""
            mark = f"ckid=k{i}" if marked[i] else ""
            query = "&".join(part for part in (tags, mark) if part)
            url = f"https://www.lunnick.example/page{c % 30}" + (f"?{query}" if query else "")
            mail = f"p{person[i]}@brask.example" if mailed[i] else ""
            file.write(f"v{i},{when[i]}Z,p{person[i]},{url},{mail}\n")
    count = visits // 20
    when = np.datetime_as_string(first + chance.integers(0, 60 * 86_400, count).astype("timedelta64[s]"))
    with (folder / "conversions.csv").open("w") as file:
        file.write("conversion_id,occurred_at,goal,visitor_id,email,total\n")
        for i, who in enumerate(chance.integers(0, people, count)):
            known = f"p{who}," if i % 2 else f",p{who}@brask.example"
            file.write(f"o{i},{when[i]}Z,sale,{known},{i % 90 + 10}.50\n")
    days = np.datetime_as_string(np.datetime64("2026-03-01") + np.arange(60))
    with (folder / "spend.csv").open("w") as file:
        file.write("day,platform,campaign,cost\n")
        for day in days:
            for c in range(20, campaigns):
                file.write(f"{day},Quorrin,campaign {c},{c}.25\n")


def ours(folder: Path) -> Figures:
    """The way of the command `yardstick credit`, up to its figures."""
    given = []
    for name in ("conversions.csv", "spend.csv", "visits.csv"):
        with (folder / name).open("rb") as stream:
            given.append(read_file(open_table(name, stream), "UTC"))
    # What the peers are asked for: three rules, not all there are.
    asked = tuple(y for y in plan_of().crediting.yardsticks if y.name in RULES)
    result = weigh(tables_of(given).tables, plan_of(click_marks=("ckid",), yardsticks=asked, panel=RULES))
    out: Figures = {}
    for at, name in enumerate(RULES):
        for row in result.rows:
            if row.yardstick == name and row.bucket == "named":
                found = out.setdefault(row.by[0].lower(), [0.0] * 7)
                found[2 * at : 2 * at + 2] = float(row.sums.conversions), row.sums.value / 100
                found[6] = (row.sums.spend or 0) / 100
    return out


def with_duckdb(folder: Path) -> Figures:
    """One query."""
    rows = duckdb.connect().execute(QUERY.format(folder=folder)).fetchall()
    return {name: list(map(float, figures)) for name, *figures in rows}


def with_polars(folder: Path, engine: str = "auto") -> Figures:
    """One lazy plan."""
    visits = pl.scan_csv(folder / "visits.csv").with_columns(
        moment=pl.col("occurred_at").str.to_datetime("%Y-%m-%dT%H:%M:%SZ"),
        mark=pl.col("url").str.extract(r"[?&]ckid=([^&#]*)", 1).fill_null(""),
        **{
            name: pl.col("url")
            .str.extract(rf"[?&]utm_{name}=([^&#]*)", 1)
            .fill_null("")
            .str.replace_all("+", " ", literal=True)
            .str.strip_chars()
            .str.to_lowercase()
            for name in TAGS
        },
    )
    said = pl.concat_str(*TAGS, "mark", separator="\x1f")
    visits = visits.with_columns(said=pl.when(said == "\x1f\x1f\x1f").then(None).otherwise(said))
    pause = pl.col("moment").diff() > pl.duration(minutes=30)
    touches = (
        visits.sort("visitor_id", "moment", "visit_id")
        .with_columns(
            pause=pause.fill_null(True) | (pl.col("visitor_id") != pl.col("visitor_id").shift().fill_null(""))
        )
        .with_columns(session=pl.col("pause").cast(pl.Int64).cum_sum())
        .with_columns(before=pl.col("said").shift().over("session").forward_fill().over("session"))
        .filter(pl.col("pause") | (pl.col("said").is_not_null() & pl.col("said").ne_missing(pl.col("before"))))
    )
    who = visits.filter(pl.col("email") != "").group_by("email").agg(known=pl.col("visitor_id").min())
    bought = (
        pl.scan_csv(folder / "conversions.csv")
        .join(who, on="email", how="left")
        .select(
            "conversion_id", "total",
            bought=pl.col("occurred_at").str.to_datetime("%Y-%m-%dT%H:%M:%SZ"),
            visitor_id=pl.coalesce("visitor_id", "known"),
        )
    )  # fmt: skip
    trail = (
        touches.join(bought, on="visitor_id")
        .filter((pl.col("moment") <= pl.col("bought")) & (pl.col("moment") >= pl.col("bought") - pl.duration(days=30)))
        .sort("conversion_id", "moment", "visit_id")
        .with_columns(n=pl.len().over("conversion_id"), rank=pl.int_range(pl.len()).over("conversion_id"))
    )
    first, last = pl.col("rank") == 0, pl.col("rank") == pl.col("n") - 1
    credit = trail.filter(pl.col("campaign") != "").group_by("campaign").agg(
        first.sum(), (first * pl.col("total")).sum().alias("a"), last.sum().alias("b"), (last * pl.col("total")).sum().alias("c"),
        (1 / pl.col("n")).sum().alias("d"), (pl.col("total") / pl.col("n")).sum().alias("e"),
    )  # fmt: skip
    cost = (
        pl.scan_csv(folder / "spend.csv")
        .group_by(campaign=pl.col("campaign").str.to_lowercase())
        .agg(pl.col("cost").sum())
    )
    rows = credit.join(cost, on="campaign").collect(engine=engine).rows()
    return {name: list(map(float, figures)) for name, *figures in rows}


def measure(visits: int = 1_000_000, rounds: int = 3) -> dict[str, Took]:
    """Medians of rounds in which each is done once, one after the other."""
    folder = Path(tempfile.mkdtemp(prefix="yardstick-bench-"))
    ways: dict[str, Callable[[], Figures]] = {
        "ours": lambda: ours(folder),
        "DuckDB": lambda: with_duckdb(folder),
        "Polars": lambda: with_polars(folder),
        "Polars streaming": lambda: with_polars(folder, "streaming"),
    }
    try:
        write(folder, visits)
        wanted = ways["ours"]()
        for name, way in ways.items():
            _agree(wanted, way(), name)
        return interleaved(ways, rounds)
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def _agree(mine: Figures, theirs: Figures, name: str) -> None:
    """Counts to 1e-9; value to the cent each conversion may be rounded by."""
    assert set(mine) == set(theirs), f"{name}: campaigns differ"
    for campaign, figures in theirs.items():
        counts, money = [0, 2, 4], [1, 3, 5, 6]
        np.testing.assert_allclose(np.take(mine[campaign], counts), np.take(figures, counts), rtol=1e-9, err_msg=name)
        np.testing.assert_allclose(np.take(mine[campaign], money), np.take(figures, money), rtol=1e-4, err_msg=name)


def report(found: dict[str, Took]) -> str:
    """The ratios in words."""
    cpu, wall = found["ours"]
    peers = {name: seconds for name, seconds in found.items() if name != "ours"}
    better = min(peers, key=lambda name: peers[name][0])
    said = ", ".join(f"{name} {c:.1f} s ({w:.1f} s wall)" for name, (c, w) in peers.items())
    return (
        f"one question asked once, from files: ours {cpu:.1f} s of CPU ({wall:.1f} s wall); {said}; "
        f"ours {cpu / peers[better][0]:.2f} x the CPU of {better}, the better one (goal at most 1 x)"
    )


if __name__ == "__main__":
    print(report(measure(int(sys.argv[1]) if len(sys.argv) > 1 else 1_000_000)))
