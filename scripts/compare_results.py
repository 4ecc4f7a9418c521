"""Whether two checkouts give the same results, byte by byte, on random worlds of the tests.

    python scripts/compare_results.py OTHER [--worlds 200] [--seed 1] [--mask REGEX]... [--without FILE]...

OTHER is a checkout of another commit (`git worktree add`). Each world is written once as CSV and TOML; the command
`yardstick credit` of both weighs it by some breakdown, with certainty now and then; every file of results is compared,
JSON but for the order of its keys.
"""

from __future__ import annotations

import argparse
import json
import re
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
BY = ("campaign", "channel", "source,medium", "landing_page", "campaign,week", "product", "group", "extra:size")
WORKER = """
import sys
from pathlib import Path
from typer.testing import CliRunner
from yardstick.cli import app
for world in sorted(Path(sys.argv[1]).iterdir()):
    words = (world / "words").read_text().split("\\n")
    out = Path(sys.argv[2]) / world.name
    said = CliRunner().invoke(app, ["credit", str(world), "--out", str(out), *words])
    if said.exit_code:
        out.mkdir(parents=True, exist_ok=True)
        (out / "refused").write_text(f"{said.exit_code}\\n{said.output}")
"""


def write_worlds(folder: Path, count: int, seed: int) -> None:
    """Worlds of the tests as folders of files, with the words of the command for each."""
    sys.path[:0] = [str(ROOT / "src"), str(ROOT / "tests")]
    import tomli_w
    from hypothesis import HealthCheck, Phase, given
    from hypothesis import seed as seeded
    from hypothesis import settings as effort

    from worlds import choices, csv_bytes, worlds
    from yardstick.formats.plan.settings_toml import settings_used

    made: list[Path] = []

    @effort(
        max_examples=count, phases=[Phase.generate], database=None, deadline=None, suppress_health_check=HealthCheck
    )
    @seeded(seed)
    @given(worlds(), choices())
    def each(world: dict[str, list[dict[str, str]]], chosen: tuple[Any, Any]) -> None:
        number = len(made)
        place = folder / f"{number:04d}"
        place.mkdir()
        made.append(place)
        for table, rows in world.items():
            (place / f"{table}.csv").write_bytes(csv_bytes(table, rows))
        (place / "settings.toml").write_text(tomli_w.dumps(_stated(settings_used(chosen[1]))))
        words = ["--settings", str(place / "settings.toml"), "--by", BY[number % len(BY)]]
        (place / "words").write_text("\n".join(words + ["--certainty"] * (number % 5 == 0)))

    each()


def _stated(value: Any) -> Any:
    """Settings as used, as a file states them: what is not stated TOML has no word for."""
    if isinstance(value, dict):
        return {name: _stated(one) for name, one in value.items() if one is not None}
    return [_stated(one) for one in value] if isinstance(value, list | tuple) else value


def results(checkout: Path, worlds: Path, out: Path) -> None:
    """What the command of a checkout makes of the worlds."""
    path = f"{checkout / 'src'}"
    subprocess.run([sys.executable, "-c", WORKER, str(worlds), str(out)], env={"PYTHONPATH": path}, check=True)


def content(path: Path, masks: list[re.Pattern[bytes]]) -> bytes:
    """A file's bytes, without what is not compared."""
    found = path.read_bytes()
    if path.suffix == ".json":
        # In which order an object says what it says is no part of it.
        found = json.dumps(json.loads(found), sort_keys=True, indent=1).encode()
    for mask in masks:
        found = mask.sub(b"*", found)
    return found


def main() -> int:
    """Compare; the exit code is 1 where anything differs."""
    read = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    read.add_argument("other", type=Path)
    read.add_argument("--worlds", type=int, default=200)
    read.add_argument("--seed", type=int, default=1)
    read.add_argument("--mask", action="append", default=[])
    read.add_argument("--without", action="append", default=[])
    asked = read.parse_args()
    masks = [re.compile(mask.encode()) for mask in asked.mask]
    with tempfile.TemporaryDirectory() as folder:
        worlds, ours, theirs = (Path(folder) / name for name in ("worlds", "ours", "theirs"))
        worlds.mkdir()
        write_worlds(worlds, asked.worlds, asked.seed)
        results(ROOT, worlds, ours)
        results(asked.other.resolve(), worlds, theirs)
        compared = refused = 0
        for world in sorted(worlds.iterdir()):
            names = sorted({p.name for out in (ours, theirs) for p in (out / world.name).iterdir()})
            refused += "refused" in names
            for name in names:
                if name in asked.without:
                    continue
                pair = [(out / world.name / name) for out in (ours, theirs)]
                if not all(path.exists() for path in pair) or content(pair[0], masks) != content(pair[1], masks):
                    print(f"world {world.name}, {name}: differs; {(world / 'words').read_text().split()}")
                    kept = Path(tempfile.mkdtemp(prefix="differs-"))
                    shutil.copytree(world, kept / "world")
                    for out, path in zip(("ours", "theirs"), pair, strict=True):
                        (kept / out).write_bytes(path.read_bytes() if path.exists() else b"")
                    print(f"kept in {kept}")
                    for path in pair:
                        print(path.read_text()[:600] if path.exists() else "not there")
                    return 1
                compared += 1
        total = len(list(worlds.iterdir()))
        print(f"{total} worlds, {compared} files of results equal byte by byte; {refused} worlds refused by both alike")
    return 0


if __name__ == "__main__":
    sys.exit(main())
