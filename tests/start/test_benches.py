"""Every bench finds what it measures, and runs on its smallest size where it takes one."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

BENCH = Path(__file__).parents[2] / "bench"
TRIED = """
import sys
from importlib import import_module
from pathlib import Path
bench, folder = map(Path, sys.argv[1:])
sys.path[:0] = [str(bench)]
made = {file.stem: import_module(file.stem) for file in sorted(bench.glob("*.py"))}
made["prices"].measure(2_000)
tried = {"weigh", "certain", "costs", "reading", "record", "person", "find", "settled", "verdicts"}
assert set(made["trials"].measure(4_000, 1)) == tried
assert set(made["records"].measure(4_000, 1)) == {"list", "duckdb"}
assert made["addresses"].measure()[2] > 0
for name in ("one_off", "world", "reading", "loading"):
    (folder / name).mkdir()
made["one_off"].write(folder / "one_off", 50_000)
mine, theirs = made["one_off"].ours(folder / "one_off"), made["one_off"].with_duckdb(folder / "one_off")
assert set(mine) == set(theirs)
made["world"].write(folder / "world", 5_000)
made["reading"].write(folder / "reading", 500)
made["loading"].write(folder / "loading", 500)
assert len(made["browser_sizes"].large_files(folder)) == 3
print(len(made))
"""


def test_every_bench_finds_what_it_measures(tmp_path):
    words = [sys.executable, "-c", TRIED, str(BENCH), str(tmp_path)]
    done = subprocess.run(words, capture_output=True, text=True, timeout=300)
    assert done.returncode == 0, done.stderr[-1500:]
    assert int(done.stdout) == len(list(BENCH.glob("*.py")))
