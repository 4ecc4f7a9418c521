"""A list of records grouped by the source of their latest touch, at a million visits, on what is held; beside it DuckDB
on the same tables in memory, which is given each visit's source and joins the latest one of 30 days before a record.

DuckDB's answer knows no touch, person or captured set: a record's visitor is its person, and every visit its touch.
"""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "src"), str(ROOT / "bench")]

import duckdb  # noqa: E402

import one_off  # noqa: E402
from clock import Took, interleaved  # noqa: E402
from yardstick.core.plan.plan import plan_of  # noqa: E402
from yardstick.core.report.record_fields import RecordFields  # noqa: E402
from yardstick.core.report.record_list import RecordList, RecordQuestion, list_records  # noqa: E402
from yardstick.core.report.weigh import weigh  # noqa: E402
from yardstick.formats.files.csv_in import CsvFile  # noqa: E402
from yardstick.formats.rows.input_tables import read_file, tables_of  # noqa: E402

TABLES = """
CREATE TABLE visits AS SELECT visitor_id, occurred_at AS moment,
  lower(regexp_extract(url, '[?&]utm_source=([^&#]*)', 1)) AS source
FROM read_csv('{folder}/visits.csv', header = true);
CREATE TABLE records AS SELECT conversion_id, visitor_id, occurred_at AS moment, total::DECIMAL(18, 2) AS total
FROM read_csv('{folder}/conversions.csv', header = true);
"""
QUERY = """
SELECT source, count(*) AS records, sum(total) AS value FROM (
  SELECT r.conversion_id, r.total,
    CASE WHEN v.moment >= r.moment - INTERVAL 30 DAY THEN v.source END AS source
  FROM records r ASOF LEFT JOIN visits v ON r.visitor_id = v.visitor_id AND v.moment <= r.moment
) GROUP BY source ORDER BY records DESC
"""


def measure(visits: int = 1_000_000, rounds: int = 5) -> dict[str, Took]:
    """Seconds of `list` and of `duckdb`."""
    with tempfile.TemporaryDirectory(prefix="yardstick-bench-") as name:
        folder = Path(name)
        one_off.write(folder, visits, campaigns=320)
        given = []
        for file in ("conversions.csv", "spend.csv", "visits.csv"):
            with (folder / file).open("rb") as stream:
                given.append(read_file(CsvFile(file, stream), "UTC"))
        tables = tables_of(given).tables
        engine = duckdb.connect()
        engine.execute(TABLES.format(folder=folder))
    held = weigh(tables, plan_of(click_marks=("ckid",)))

    def ours() -> RecordList:
        return list_records(RecordFields(held), RecordQuestion(("latest_source",)))

    assert ours().sums.records == engine.execute("SELECT count(*) FROM records").fetchall()[0][0]
    return interleaved({"list": ours, "duckdb": lambda: engine.execute(QUERY).fetchall()}, rounds)


def report(found: dict[str, Took]) -> str:
    """The figures in words."""
    ours, theirs = found["list"], found["duckdb"]
    return (
        f"records by latest source: {ours.cpu:.3f} CPU-s, {ours.cpu / theirs.cpu:.2f} x DuckDB's CPU (goal 1), "
        f"{ours.wall / theirs.wall:.2f} x its wall time"
    )


if __name__ == "__main__":
    print(report(measure(int(sys.argv[1]) if len(sys.argv) > 1 else 1_000_000)))
