"""`make bench`: our figures beside those of peers. What is compared is done in turn, once a round, and the medians are of
the CPU of all threads; every figure is a ratio of one run."""

from __future__ import annotations

import statistics
import sys
from pathlib import Path

HERE = Path(__file__).resolve().parent
sys.path.insert(0, str(HERE))

import addresses  # noqa: E402
import at_work  # noqa: E402
import browser_sizes  # noqa: E402
import held  # noqa: E402
import loading  # noqa: E402
import one_off  # noqa: E402
import prices  # noqa: E402
import reading  # noqa: E402
import records  # noqa: E402
import redirects  # noqa: E402
import starts  # noqa: E402
import trials  # noqa: E402
import whole  # noqa: E402

RUNS = 5


def main() -> None:
    """Everything, one after the other."""
    print(starts.report(), flush=True)
    print(held.report(), flush=True)
    print(whole.words(), flush=True)
    print(trials.report(trials.measure()), flush=True)
    print(records.report(records.measure()), flush=True)
    bare, ours, _ = (statistics.median(one) for one in zip(*(addresses.measure() for _ in range(RUNS)), strict=True))
    print(f"check-up of {addresses.NUMBER:,} addresses: {ours:.2f} s = {ours / bare:.2f} x bare parse_qsl (goal 3)")
    print(loading.report(loading.measure()), flush=True)
    print(one_off.report(one_off.measure()), flush=True)
    print(at_work.report(at_work.measure()), flush=True)
    print(browser_sizes.report(browser_sizes.measure()), flush=True)
    reading.main(400_000)
    planned, counted = prices.measure()
    print(f"2,000 priced links on a plan of 500 campaigns: {planned + counted:.2f} s (goal 1)")
    theirs, mine, _, kept = redirects.measure()
    print(f"redirects a second, {kept:,} clicks on record: {mine / theirs:.2f} x a bare endpoint (goal 0.5)")


if __name__ == "__main__":
    main()
