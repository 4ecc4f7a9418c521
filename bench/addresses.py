"""The check-up of 100,000 tagged addresses beside bare `urllib.parse.parse_qsl` on the same addresses."""

from __future__ import annotations

import random
import time
from urllib.parse import parse_qsl, quote_plus

from yardstick.core.links.checkup import Checker
from yardstick.core.plan.campaign_records import Campaign
from yardstick.core.plan.plan import plan_of

NUMBER = 100_000
SOURCES = ("quorrin", "ostrel", "tarvolin", "harnock", "ellivane")
MEDIUMS = ("cpc", "paid-social", "display", "video", "email")


def addresses(seed: int = 5) -> list[str]:
    """Addresses as they arrive: few sources, 200 campaigns, 2,000 ads, a click mark of its own on most, one in fifty faulty."""
    chance = random.Random(seed)
    campaigns = [f"campaign {i:03d}" for i in range(200)]
    out = []
    for i in range(NUMBER):
        pick = chance.randrange(5)
        source = SOURCES[pick]
        if i % 50 == 0:
            source = chance.choice((source.upper(), source[1] + source[0] + source[2:], "{source}", ""))
        pairs = [("utm_source", source), ("utm_medium", MEDIUMS[pick])]
        pairs += [("utm_campaign", chance.choice(campaigns)), ("utm_content", f"ad {chance.randrange(2000)}")]
        if chance.random() < 0.7:
            pairs.append(("ckid", f"{chance.getrandbits(64):016x}"))
        page = chance.choice(("boats", "card", "night", "freight"))
        query = "&".join(f"{n}={quote_plus(v)}" for n, v in pairs)
        out.append(f"https://www.lunnick.example/{page}?{query}")
    return out


def measure() -> tuple[float, float, int]:
    """Seconds for `parse_qsl`, seconds for the check-up, and how many addresses it found something in."""
    urls = addresses()
    queries = [u.partition("?")[2] for u in urls]
    start = time.perf_counter()
    for query in queries:
        parse_qsl(query, keep_blank_values=True, errors="replace")
    bare = time.perf_counter() - start
    settings = plan_of(
        allowed=(("source", SOURCES), ("medium", MEDIUMS)),
        own_hosts=("lunnick.example",),
        click_marks=("ckid",),
        campaigns=tuple(Campaign(f"campaign {i:03d}") for i in range(200)),
    )
    checker = Checker(settings)
    start = time.perf_counter()
    found = sum(bool(checker.check(url).findings) for url in urls)
    return bare, time.perf_counter() - start, found


if __name__ == "__main__":
    runs = sorted((measure() for _ in range(5)), key=lambda m: m[1] / m[0])
    bare, ours, found = runs[2]
    print(
        f"{NUMBER} addresses: parse_qsl {bare:.2f} s, check-up {ours:.2f} s = {ours / bare:.2f} x (goal: 3), {found} with findings"
    )
