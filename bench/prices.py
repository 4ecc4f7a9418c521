"""A plan with 2,000 priced links, 500 campaigns and 3,000 ads: from its text to prices that hold, and what pricing the
clicks of 100,000 visits adds to reading them."""

from __future__ import annotations

import io
import time

from yardstick.core.plan.plan import Plan
from yardstick.core.report.weigh import learn
from yardstick.formats.files.csv_in import CsvFile
from yardstick.formats.plan.link_prices import with_link_prices
from yardstick.formats.plan.plan_document import Document
from yardstick.formats.rows.input_tables import read_file, tables_of

CAMPAIGNS, ADS, LINKS, VISITS = 500, 3_000, 2_000, 100_000


def measure(visits: int = VISITS) -> tuple[float, float]:
    """Seconds to read the plan and its prices, and to price the clicks of visits under them."""
    campaigns = [{"name": f"Campaign {i}", "code": f"c{i}"} for i in range(CAMPAIGNS)]
    ads = [
        {"campaign": f"Campaign {i % CAMPAIGNS}", "level": "ad", "id": str(i), "name": f"ad {i}"} for i in range(ADS)
    ]
    text = Document("").with_records("campaign", campaigns).with_records("level", ads).text()
    rows = [{"campaign": f"c{i % CAMPAIGNS}", "content": str(i), "price": "0.35"} for i in range(LINKS)]
    start = time.perf_counter()
    plan = with_link_prices(Document(text).plan(), rows)
    planned = time.perf_counter() - start

    head = b"visit_id,occurred_at,visitor_id,url\n"
    lines = [
        f"v{i},2026-03-{1 + i % 28:02d}T10:00:00Z,p{i},/?utm_campaign=c{i % LINKS % CAMPAIGNS}&utm_content={i % LINKS}\n"
        for i in range(visits)
    ]
    tables = tables_of([read_file(CsvFile("visits.csv", io.BytesIO(head + "".join(lines).encode())), "UTC")]).tables
    free = plan.having(click_prices=())

    def took(of: Plan) -> float:
        begin = time.perf_counter()
        learned = learn(tables, of)
        assert len(learned.prepared.spend) >= (of is plan) * min(visits, LINKS)
        return time.perf_counter() - begin

    took(free)
    without = took(free)
    return planned, took(plan) - without


if __name__ == "__main__":
    print("plan and prices {:.2f} s, clicks of 100,000 visits {:.2f} s (goal: under 1 s together)".format(*measure()))
