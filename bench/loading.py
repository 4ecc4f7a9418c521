"""From the file on: a million visits rehearsed, kept and weighed, beside a plain COPY of the same file and a careful
DuckDB query on it. Seconds of CPU of this process and of PostgreSQL, since both take part."""

from __future__ import annotations

import os
import resource
import shutil
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import duckdb
import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "scripts"), str(ROOT / "src")]

from private_postgres import Cluster  # noqa: E402
from yardstick.core.plan.plan import plan_of  # noqa: E402
from yardstick.core.report.weigh import weigh  # noqa: E402
from yardstick.formats.files.csv_in import CsvFile  # noqa: E402
from yardstick.formats.rows.input_tables import read_file, tables_of  # noqa: E402
from yardstick.stations.gather.keep_job import Loader  # noqa: E402
from yardstick.stations.gather.rehearse_files import rehearse  # noqa: E402
from yardstick.stations.plan.change_plan import change_general, read_plan  # noqa: E402
from yardstick.stations.weigh.weigh_board import BoardQuestion, Weighing  # noqa: E402
from yardstick.stations.workspace.desk import Desk  # noqa: E402
from yardstick.store.database import connect, migrate  # noqa: E402

COLUMNS = "visit_id, occurred_at, visitor_id, url, referrer, click_id"
QUERY = """
WITH visits AS (
  SELECT visitor_id, occurred_at AS moment, visit_id,
    lower(trim(replace(regexp_extract(url, '[?&]utm_campaign=([^&#]*)', 1), '+', ' '))) AS campaign
  FROM read_csv('{folder}/visits.csv', header = true)
), trail AS (
  SELECT c.conversion_id AS id, c.total, v.campaign,
    row_number() OVER w AS rank, count(*) OVER (PARTITION BY c.conversion_id) AS n
  FROM visits v JOIN read_csv('{folder}/conversions.csv', header = true) c
    ON v.visitor_id = c.visitor_id AND v.moment <= c.occurred_at AND v.moment >= c.occurred_at - INTERVAL 30 DAY
  WINDOW w AS (PARTITION BY c.conversion_id ORDER BY v.moment, v.visit_id)
)
SELECT campaign, sum(CASE WHEN rank = 1 THEN 1.0 ELSE 0 END), sum(CASE WHEN rank = n THEN 1.0 ELSE 0 END),
  sum(1.0::DOUBLE / n) FROM trail WHERE campaign <> '' GROUP BY campaign
"""


def write(folder: Path, visits: int) -> None:
    """Visits of which nine in ten are tagged and one in three has a click mark of its own, and conversions."""
    chance = np.random.default_rng(1)
    first = np.datetime64("2026-03-01T00:00:00")
    people = visits // 3
    person, campaign = chance.integers(0, people, visits), chance.integers(0, 200, visits)
    when = np.datetime_as_string(first + chance.integers(0, 60 * 86_400, visits).astype("timedelta64[s]"))
    marked = chance.random(visits) < 1 / 3
    with (folder / "visits.csv").open("w") as file:
        file.write(COLUMNS.replace(" ", "") + "\n")
        for i in range(visits):
            c = campaign[i]
            tags = f"utm_source=s{c % 7}&utm_medium=cpc&utm_campaign=Campaign+{c}" if c >= 20 else ""
            mark = f"ckid=k{i}" if marked[i] else ""
            query = "&".join(part for part in (tags, mark) if part)
            url = f"https://www.lunnick.example/page{c % 30}" + (f"?{query}" if query else "")
            file.write(f"v{i},{when[i]}Z,p{person[i]},{url},,\n")
    count = visits // 20
    when = np.datetime_as_string(first + chance.integers(0, 60 * 86_400, count).astype("timedelta64[s]"))
    with (folder / "conversions.csv").open("w") as file:
        file.write("conversion_id,occurred_at,goal,visitor_id,total\n")
        for i, who in enumerate(chance.integers(0, people, count)):
            file.write(f"o{i},{when[i]}Z,sale,p{who},{i % 90 + 10}.50\n")


def one_off(folder: Path) -> dict[str, list[float]]:
    """Ours from the files to the campaigns' conversions by first, last, linear."""
    given = []
    for name in ("conversions.csv", "visits.csv"):
        with (folder / name).open("rb") as stream:
            given.append(read_file(CsvFile(name, stream), "UTC"))
    result = weigh(tables_of(given).tables, plan_of(click_marks=("ckid",), session_gap_minutes=0))
    out: dict[str, list[float]] = {}
    for at, name in enumerate(("first", "last", "linear")):
        for row in result.rows:
            if row.yardstick == name and row.bucket == "named":
                out.setdefault(row.by[0].lower(), [0.0] * 3)[at] = float(row.sums.conversions)
    return out


def with_duckdb(folder: Path) -> dict[str, list[float]]:
    """One query on the same files; people are visitor ids, nothing is checked, found or kept."""
    rows = duckdb.connect().execute(QUERY.format(folder=folder)).fetchall()
    return {name: list(map(float, figures)) for name, *figures in rows}


class Clock:
    """CPU seconds of this process and of the database's processes."""

    def __init__(self, data: Path) -> None:
        self.data = str(data)

    def now(self) -> float:
        """Seconds so far; those of backends that ended stand with their parent."""
        ticks = 0
        for folder in Path("/proc").iterdir():
            try:
                if folder.name.isdigit() and (folder / "comm").read_text().startswith("postgres"):
                    fields = (folder / "stat").read_text().rpartition(")")[2].split()
                    ticks += sum(map(int, fields[11:15]))
            except OSError:
                continue
        return time.process_time() + ticks / os.sysconf("SC_CLK_TCK")

    def of(self, work: Callable[[], object]) -> float:
        """Seconds that some work takes."""
        start = self.now()
        work()
        return self.now() - start


def measure(visits: int = 1_000_000, rounds: int = 3) -> dict[str, float]:
    """Medians of the rounds, in each of which everything is done once, one after the other."""
    home = Path(tempfile.mkdtemp(prefix="yardstick-bench-"))
    home.chmod(0o755)
    took: dict[str, list[float]] = {}
    cluster = Cluster(home / "cluster")
    cluster.start()
    try:
        write(home, visits)
        mine, theirs = one_off(home), with_duckdb(home)
        assert set(mine) == set(theirs), "campaigns differ"
        for name, figures in theirs.items():
            np.testing.assert_allclose(mine[name], figures, rtol=1e-9, atol=1e-9, err_msg=name)
        clock = Clock(cluster.data)
        engine = connect(cluster.url("postgres"))
        migrate(engine)
        for number in range(rounds):
            for name, seconds in _round(home, engine, clock, number).items():
                took.setdefault(name, []).append(seconds)
    finally:
        cluster.stop("immediate")
        shutil.rmtree(home, ignore_errors=True)
    out = {name: statistics.median(seconds) for name, seconds in took.items()}
    return out | {"peak": resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024**2}


def _round(home: Path, engine, clock: Clock, number: int) -> dict[str, float]:
    file = home / "visits.csv"
    desk = Desk(engine, home / "home", f"bench{number}")
    assert desk.workspace
    found: dict[str, float] = {}

    def copy() -> None:
        """Into a table with a key of its own and one index, in one transaction: what a user would write at least."""
        with engine.begin() as connection:
            columns = ", ".join(f"{c} text" for c in COLUMNS.split(", "))
            connection.exec_driver_sql("DROP TABLE IF EXISTS plain")
            made = f"CREATE TABLE plain (id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY, {columns})"
            connection.exec_driver_sql(made)
            connection.exec_driver_sql("CREATE INDEX ON plain (visit_id)")
            said = f"COPY plain ({COLUMNS}) FROM STDIN (FORMAT csv, HEADER)"
            cursor = connection.connection.driver_connection.cursor()
            with cursor.copy(said) as sink, file.open("rb") as stream:
                while block := stream.read(1 << 20):
                    sink.write(block)

    def look() -> None:
        with file.open("rb") as visits, (home / "conversions.csv").open("rb") as conversions:
            found["token"] = rehearse(desk, [("visits.csv", visits), ("conversions.csv", conversions)]).token

    change_general(desk, {"home_currency": "EUR", "time_zone": "UTC"}, read_plan(desk).basis)

    def keep() -> None:
        loader = Loader(desk)
        job = loader.keep(found["token"])
        while loader.state(job).state not in ("done", "failed", "stopped"):
            time.sleep(0.05)
        loader.close()
        assert loader.state(job).state == "done", loader.state(job).message

    seconds = {"copy": clock.of(copy), "rehearsal": clock.of(look), "keeping": clock.of(keep)}
    seconds["first board"] = clock.of(lambda: Weighing(desk.snapshots).board(BoardQuestion(), 0))
    seconds["one-off"] = clock.of(lambda: one_off(home))
    seconds["DuckDB"] = clock.of(lambda: with_duckdb(home))
    return seconds


def report(found: dict[str, float]) -> str:
    """The ratios in words."""
    copy, own = found["copy"], found["one-off"]
    return (
        f"a million visits from their file, CPU: rehearsal {found['rehearsal'] / copy:.2f} x a plain COPY (goal 1.5), "
        f"keeping {found['keeping'] / copy:.2f} x (goal 1.4), first board {found['first board'] / own:.2f} x the one-off "
        f"(goal 1.5); the one-off {own:.1f} s, DuckDB {found['DuckDB'] / own:.2f} x ours; peak {found['peak']:.2f} GiB"
    )


if __name__ == "__main__":
    print(report(measure(int(sys.argv[1]) if len(sys.argv) > 1 else 1_000_000)))
