"""Rules on trails in memory beside one `np.bincount` over the same elements, and the way from Parquet to the figures of
eight rules beside what peers take for it."""

from __future__ import annotations

import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from math import log
from pathlib import Path

import numpy as np

HERE = Path(__file__).resolve().parent
sys.path[:0] = [str(HERE), str(HERE.parent / "src"), str(HERE.parent / "scripts")]

import psycopg  # noqa: E402

import ours  # noqa: E402
import peers  # noqa: E402
import world  # noqa: E402
from clock import Took, interleaved  # noqa: E402
from loading import Clock  # noqa: E402
from private_postgres import Cluster  # noqa: E402
from yardstick.core.base.machine_code import machine_code  # noqa: E402
from yardstick.core.credit import summing  # noqa: E402
from yardstick.core.credit.adding import Kept  # noqa: E402

WORLDS = ((1_000_000, 0.04), (10_000_000, 0.04), (10_000_000, 0.6))
"""Touches, and the share of people who convert."""
SLOW_BELOW = 2_000_000
"""Only as many touches are given to PostgreSQL."""

SHORT = 1_000_000
"""Fewer elements of trails take less time than what disturbs a machine now and then: many rounds tell."""


def folder_of(touches: int, converting: float) -> Path:
    """The world as two Parquet files, made once."""
    folder = HERE / "out" / f"{touches}-{converting}"
    if not (folder / "conversions.parquet").exists():
        world.write(folder, touches, converting=converting)
    return folder


def on_held_trails(folder: Path) -> tuple[int, int, dict[str, Took]]:
    """Conversions, elements, and times: six rules with the gathering of their places, the others, and that alone."""
    held = ours.hold(folder)
    # As `np.bincount` takes them without turning them into others first.
    place, ones = held.campaign[held.trails.touch].astype(np.int64), np.ones(len(held.trails.touch))
    channel = held.channel.codes, world.CHANNELS + 1
    kept: Kept = {}
    ours.weigh_held(held, ours.SIX, kept=kept)
    found = interleaved(
        {
            "bincount": lambda: np.bincount(place, ones),
            "six rules": lambda: ours.weigh_held(held, ours.SIX),
            "decay": lambda: ours.weigh_held(held, ("decay",)),
            "custom": lambda: ours.weigh_held(held, ("custom",)),
            "six rules by channel": lambda: ours.weigh_held(held, ours.SIX, channel, kept),
        },
        rounds=51 if len(place) < SHORT else 7,
    )
    return len(held.trails.conversion), len(place), found


def from_parquet(folder: Path, touches: int) -> dict[str, Took]:
    """Ours and the peers'; first all are held against ours, counts to 1e-9 and value to what whole units may be off."""
    ways = {"ours": lambda: ours.one_off(folder)}
    ways |= {name: lambda way=way: way(folder) for name, way in peers.WAYS.items()}
    ways["pandas"] = lambda: peers.with_pandas(folder)
    mine = ours.one_off(folder)
    for name, way in ways.items():
        compare(mine, way(), name)
    found = interleaved(ways, rounds=15 if touches < SLOW_BELOW else 3)
    if touches < SLOW_BELOW:
        found["PostgreSQL"] = _with_postgres(folder, mine)
    return found


def _with_postgres(folder: Path, mine: peers.Found) -> Took:
    home = Path(tempfile.mkdtemp(prefix="yardstick-bench-"))
    home.chmod(0o755)
    cluster = Cluster(home / "cluster")
    cluster.start()
    try:
        clock = Clock(cluster.data)
        with psycopg.connect(cluster.url("postgres").replace("+psycopg", "")) as connection:
            peers.load_postgres(connection, folder)
            compare(mine, peers.with_postgres(connection), "PostgreSQL")
            took = []
            for _ in range(3):
                cpu, wall = clock.now(), time.perf_counter()
                peers.with_postgres(connection)
                took.append(Took(clock.now() - cpu, time.perf_counter() - wall))
        return Took(*(statistics.median(seconds) for seconds in zip(*took, strict=True)))
    finally:
        cluster.stop("immediate")
        shutil.rmtree(home, ignore_errors=True)


def compare(mine: peers.Found, theirs: peers.Found, name: str) -> None:
    """Credits agree to 1e-9; value as exactly as shares of whole minor units can."""
    for rule, (credit, value) in theirs.items():
        np.testing.assert_allclose(mine[rule][0], credit, rtol=1e-9, atol=1e-9, err_msg=f"{name} {rule}")
        np.testing.assert_allclose(mine[rule][1], value, rtol=1e-3, atol=50, err_msg=f"{name} {rule} value")


def peak(folder: Path) -> float:
    """GiB of a process that does nothing else."""
    told = subprocess.run([sys.executable, __file__, str(folder)], capture_output=True, text=True, check=True)
    return float(told.stdout)


def report() -> str:
    """Everything in words."""
    machine_code(summing.COMPILED, pays=True)  # As in an app that has weighed before; loading takes 0.8 s once.
    lines, took = [], {}
    for touches, converting in WORLDS:
        folder = folder_of(touches, converting)
        conversions, elements, held = on_held_trails(folder)
        once = {name: one.cpu / held["bincount"].cpu for name, one in held.items()}
        found = from_parquet(folder, touches)
        own = found.pop("ours")
        took[touches, converting] = own.cpu
        of_peers = ", ".join(f"{n} {t.cpu / own.cpu:.2f} x ({t.wall / own.wall:.2f} x wall)" for n, t in found.items())
        lines += [
            f"{touches:,} touches, {converting:.0%} convert: {conversions:,} conversions, {elements:,} elements of trails",
            f"  on held trails, in np.bincount: six rules {once['six rules']:.1f} (goal 10), by another field "
            f"{once['six rules by channel']:.1f} (goal 6), decay {once['decay']:.1f}, custom {once['custom']:.1f} (goal 8)",
            f"  from Parquet, eight rules, CPU: ours {own.cpu:.2f} s ({own.wall:.2f} s wall); against ours: {of_peers}"
            " (goal: the best of DuckDB and Polars 1.7, pandas 5, PostgreSQL 15)",
            f"  peak memory of it {peak(folder):.2f} GiB (goal 2)",
        ]
    few, many = took[WORLDS[0]], took[WORLDS[1]]
    lines.append(f"growth from a million to ten: exponent {log(many / few) / log(10):.2f}")
    return "\n".join(lines)


if __name__ == "__main__":
    if len(sys.argv) > 1:
        ours.one_off(Path(sys.argv[1]))
        said = Path("/proc/self/status").read_text()
        print(int(next(row for row in said.splitlines() if row.startswith("VmHWM")).split()[1]) / 1024**2)
    else:
        print(report())
