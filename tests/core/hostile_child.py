"""Reads one file in a process that may take 512 MiB and half a minute of CPU more than it has."""

from __future__ import annotations

import resource
from pathlib import Path

from yardstick.alone import leave_pandas_out

leave_pandas_out()
import openpyxl  # noqa: E402, F401

from forking import serve  # noqa: E402
from yardstick.core.base.errors import SettingsError  # noqa: E402
from yardstick.formats.files.raw import FileProblem  # noqa: E402
from yardstick.formats.files.readers import open_table  # noqa: E402
from yardstick.formats.plan.settings_toml import read_settings  # noqa: E402
from yardstick.formats.results.sheets import read_table  # noqa: E402
from yardstick.formats.rows.input_tables import read_file, tables_of  # noqa: E402

CPU_S = 30
"""CPU seconds that a file of 1 MiB may take at most."""


def read(folder: str, name: str) -> None:
    """The file of that name in a folder, by the door its name tells."""
    taken = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (taken + 512 * 2**20,) * 2)
    spent = sum(resource.getrusage(resource.RUSAGE_SELF)[:2])
    resource.setrlimit(resource.RLIMIT_CPU, (int(spent) + CPU_S, resource.RLIM_INFINITY))
    path = Path(folder) / name
    try:
        if name.endswith(".toml"):
            read_settings(path.read_bytes(), name)
        elif name.startswith("rows"):
            with path.open("rb") as file:
                (count,) = tables_of([read_file(open_table(name, file, "visits"), "UTC")]).counts.values()
            assert count.lines == count.header + count.read + count.skipped, count
            print("read", count)
        else:
            print("rows", len(read_table(name, path.read_bytes())[1]))
    except (FileProblem, SettingsError) as problem:
        print("said", str(problem)[:300])


if __name__ == "__main__":
    serve(read)
