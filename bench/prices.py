"""A plan with 2,000 priced links, 500 campaigns and 3,000 ads: from its text to prices that hold, and clicks counted."""

from __future__ import annotations

import time

import numpy as np

from yardstick.core.base.columns import Text
from yardstick.core.costs.further_costs import count_clicks
from yardstick.core.reading.arrivals import Arrivals
from yardstick.core.reading.tags import reader
from yardstick.formats.link_prices import with_link_prices
from yardstick.formats.plan_document import Document

CAMPAIGNS, ADS, LINKS, VISITS = 500, 3_000, 2_000, 100_000


def measure() -> tuple[float, float]:
    """Seconds to read the plan and its prices, and to count the clicks of 100,000 visits under them."""
    campaigns = [{"name": f"Campaign {i}", "code": f"c{i}"} for i in range(CAMPAIGNS)]
    ads = [
        {"campaign": f"Campaign {i % CAMPAIGNS}", "level": "ad", "id": str(i), "name": f"ad {i}"} for i in range(ADS)
    ]
    text = Document("").with_records("campaign", campaigns).with_records("level", ads).text()
    rows = [{"campaign": f"c{i % CAMPAIGNS}", "content": str(i), "price": "0.35"} for i in range(LINKS)]
    start = time.perf_counter()
    plan = with_link_prices(Document(text).plan(), rows)
    planned = time.perf_counter() - start

    read = reader([])
    addresses = [f"/?utm_campaign=c{i % CAMPAIGNS}&utm_content={i}" for i in range(LINKS)]
    url = np.random.default_rng(3).integers(0, LINKS, VISITS)
    blank = Text.blank(VISITS)
    arrivals = Arrivals([read(a) for a in addresses], url, blank, blank, np.zeros(VISITS, np.int64))
    raw = Text.of([f"c{i % CAMPAIGNS}" for i in range(LINKS)]).take(url)
    day = np.full(VISITS, 20_000)
    start = time.perf_counter()
    campaign = plan.reading.names.rename_rows("campaign", raw, day)
    counted = count_clicks(plan.costing.click_prices, arrivals, np.arange(VISITS), day, campaign, plan.reading)
    assert sum(n for _, _, n in counted) == VISITS
    return planned, time.perf_counter() - start


if __name__ == "__main__":
    print("plan and prices {:.2f} s, clicks of 100,000 visits {:.2f} s (goal: under 1 s together)".format(*measure()))
