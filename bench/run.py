"""`make bench`: our figures beside those of peers, as ratios of medians of five in one run, and our peak memory."""

from __future__ import annotations

import resource
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

import numpy as np

HERE = Path(__file__).resolve().parent
sys.path.insert(0, str(HERE))

import addresses  # noqa: E402
import at_work  # noqa: E402
import loading  # noqa: E402
import one_off  # noqa: E402
import ours  # noqa: E402
import peers  # noqa: E402
import prices  # noqa: E402
import redirects  # noqa: E402
import world  # noqa: E402

SIZES = (1_000_000, 10_000_000)
RUNS = 5


def median(work: Callable[[], object]) -> float:
    """Median seconds of five runs."""
    took = []
    for _ in range(RUNS):
        start = time.perf_counter()
        work()
        took.append(time.perf_counter() - start)
    return statistics.median(took)


def compare(mine: dict, theirs: dict, name: str) -> None:
    """Credits agree to 1e-9; value to the rounding of each share to whole minor units."""
    for rule, (credit, value) in theirs.items():
        np.testing.assert_allclose(mine[rule][0], credit, rtol=1e-9, atol=1e-9, err_msg=f"{name} {rule}")
        np.testing.assert_allclose(mine[rule][1], value, rtol=1e-3, atol=50, err_msg=f"{name} {rule} value")


def main() -> None:
    """Make the worlds, compare results, then measure."""
    if len(sys.argv) > 2 and sys.argv[1] == "memory":
        ours.one_off(Path(sys.argv[2]))
        print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024**2)
        return
    for size in SIZES:
        folder = HERE / "out" / str(size)
        if not (folder / "conversions.parquet").exists():
            world.write(folder, size)
        held = ours.hold(folder)
        place, ones = held.campaign[held.trails.touch], np.ones(len(held.trails.touch))
        count = median(partial(np.bincount, place, ones))
        rules = median(partial(ours.weigh_held, held))
        mine = ours.weigh_held(held)
        conversions, elements = len(held.trails.conversion), len(place)
        del held, place, ones
        compare(mine, peers.with_duckdb(folder), "DuckDB")
        compare(mine, peers.with_polars(folder), "Polars")
        own = median(partial(ours.one_off, folder))
        duck = median(partial(peers.with_duckdb, folder))
        polars = median(partial(peers.with_polars, folder))
        peak = subprocess.run(
            [sys.executable, __file__, "memory", str(folder)], capture_output=True, text=True, check=True
        )
        print(f"{size:,} touches, {conversions:,} conversions, {elements:,} elements in trails")
        print(
            f"  one-off, five rules: ours {own:.2f} s; DuckDB {duck / own:.2f} x ours; Polars {polars / own:.2f} x ours"
        )
        print(
            f"  rules on held trails: {rules:.3f} s = {rules / count * 6 / 5:.1f} x np.bincount per six rules (goal 30)"
        )
        print(f"  peak memory of the one-off: {float(peak.stdout):.2f} GiB (goal 3)", flush=True)
    taken = sorted((addresses.measure() for _ in range(RUNS)), key=lambda m: m[1] / m[0])[RUNS // 2]
    ratio = taken[1] / taken[0]
    print(f"check-up of {addresses.NUMBER:,} addresses: {taken[1]:.2f} s = {ratio:.2f} x bare parse_qsl (goal 3)")
    print(loading.report(loading.measure()))
    print(one_off.report(one_off.measure()))
    print(at_work.report(at_work.measure()), flush=True)
    planned, counted = prices.measure()
    print(f"2,000 priced links on a plan of 500 campaigns: {planned + counted:.2f} s (goal 1)")
    theirs, mine, _, kept = redirects.measure()
    print(f"redirects a second, {kept:,} clicks on record: {mine / theirs:.2f} x a bare endpoint (goal 0.5)")


if __name__ == "__main__":
    main()
