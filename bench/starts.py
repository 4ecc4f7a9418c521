"""What a start costs: the command, with and without compiled bytecode, and the server, beside importing what they need.
Seconds of CPU of whole processes, started in turn; the first start after a set-up is one of each kind."""

from __future__ import annotations

import os
import resource
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "scripts"), str(ROOT / "src")]

from private_postgres import Cluster, free_port  # noqa: E402
from yardstick.stations.gather.keep_files import keep_now  # noqa: E402
from yardstick.stations.workspace.desk import Desk  # noqa: E402
from yardstick.store.database import connect, migrate  # noqa: E402

WEEK = ROOT / "src/yardstick/demo/worked_week"
TAGGED = "https://www.lunnick.example/night?utm_source=quorrin&utm_medium=cpc&utm_campaign=Midnight+Boat"
COMMAND = [sys.executable, "-c", "from yardstick.cli import main; main()"]
# What is started, its words, what it is held against, how often that it may take.
STARTS = (
    ("--help", ("--help",), "typer.rich_utils", 1.5),
    ("tags check", ("tags", "check", TAGGED), "numpy, pyarrow", 2.0),
    ("credit on the worked week", ("credit", str(WEEK), "--out", "OUT"), "numpy, pyarrow, pydantic, scipy.sparse", 2.0),
)
SERVER_GOAL = 3.0


def cpu_of(command: list[str], environment: dict[str, str]) -> float:
    """Seconds of CPU of a process from its start to its end."""
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    subprocess.run(command, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, env=environment)
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime - before.ru_utime + after.ru_stime - before.ru_stime


def starts(rounds: int = 5, compiled: bool = True) -> list[tuple[str, float, float]]:
    """Each start beside its imports.

    Parameters
    ----------
    rounds : in each, every command and its imports once
    compiled : with bytecode as set-up leaves it; without it Python reads and writes none

    Returns
    -------
    list of (name, ratio, goal)
    """
    with tempfile.TemporaryDirectory() as folder:
        environment = os.environ | {"PYTHONPATH": str(ROOT / "src")}
        if not compiled:
            environment |= {"PYTHONPYCACHEPREFIX": f"{folder}/none", "PYTHONDONTWRITEBYTECODE": "1"}
        took: dict[str, list[float]] = {}
        for _ in range(rounds):
            for name, words, needed, _ in STARTS:
                said = [f"{folder}/out" if word == "OUT" else word for word in words]
                took.setdefault(needed, []).append(cpu_of([sys.executable, "-c", f"import {needed}"], environment))
                took.setdefault(name, []).append(cpu_of([*COMMAND, *said], environment))
    middle = {name: statistics.median(each) for name, each in took.items()}
    return [(name, middle[name] / middle[needed], goal) for name, _, needed, goal in STARTS]


def _cpu_so_far(process: int) -> float:
    """Seconds of CPU of a running process."""
    fields = Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()
    return sum(map(int, fields[11:13])) / os.sysconf("SC_CLK_TCK")


def _answers(environment: dict[str, str], port: int) -> tuple[float, float]:
    """Seconds of CPU and of the clock until a server on a folder answers with the board of its first workspace."""
    command = [sys.executable, "-m", "uvicorn", "yardstick.web.app:from_environment", "--factory", "--port", str(port)]
    began = time.perf_counter()
    server = subprocess.Popen([*command, "--log-level", "warning"], env=environment)
    try:
        while True:
            try:
                with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/w/own/weigh/board", timeout=60):
                    break
            except OSError:
                if server.poll() is not None:
                    raise
                time.sleep(0.01)
        return _cpu_so_far(server.pid), time.perf_counter() - began
    finally:
        server.terminate()
        server.wait(30)


def server(rounds: int = 5) -> tuple[float, float]:
    """The board of the worked week from a server on a folder and a database that hold it, beside importing what it
    serves with.

    Returns
    -------
    (CPU, wall) of its first answer, as shares of those of the imports
    """
    with tempfile.TemporaryDirectory(prefix="yardstick-bench-") as made:
        folder = Path(made)
        folder.chmod(0o755)
        (folder / "database").mkdir()
        cluster = Cluster(folder / "database")
        cluster.start()
        try:
            url = cluster.url("postgres")
            engine = connect(url)
            migrate(engine)
            week = [(file.name, file.read_bytes()) for file in sorted(WEEK.iterdir()) if file.is_file()]
            keep_now(Desk(engine, folder / "home", "own"), week)
            engine.dispose()
            environment = os.environ | {
                "PYTHONPATH": str(ROOT / "src"),
                "YARDSTICK_DATABASE": url,
                "YARDSTICK_HOME": str(folder / "home"),
                "YARDSTICK_WORKSPACE": "own",
            }
            imports = [sys.executable, "-c", "import uvicorn, yardstick.web.app"]
            ratios = []
            for _ in range(rounds):
                began = time.perf_counter()
                cpu = cpu_of(imports, environment)
                wall = time.perf_counter() - began
                ours = _answers(environment, free_port())
                ratios.append((ours[0] / cpu, ours[1] / wall))
            return tuple(statistics.median(one) for one in zip(*ratios, strict=True))  # type: ignore[return-value]
        finally:
            cluster.stop("fast")


def report(rounds: int = 5) -> str:
    """Lines for `make bench`."""
    lines = []
    for compiled in (True, False):
        for name, ratio, goal in starts(rounds, compiled):
            how = "" if compiled else ", no bytecode on either side"
            needed = next(one for each, _, one, _ in STARTS if each == name)
            lines.append(f"start of {name}: {ratio:.2f} x importing {needed}{how} (goal {goal:g})")
    cpu, wall = server(rounds)
    lines.append(
        f"server's first answer: {cpu:.2f} x the CPU, {wall:.2f} x the time of its imports (goal {SERVER_GOAL:g})"
    )
    return "\n".join(lines)


if __name__ == "__main__":
    print(report())
