"""Every byte that a result is written as."""

from __future__ import annotations

from yardstick.core.base.tables import Tables
from yardstick.core.report.judged import judge_result
from yardstick.formats.results.folder import write_results
from yardstick.formats.rows.input_tables import InputTables


def written(result, folder):
    """By name, the files that the command line would write of a result, with how sure it is."""
    write_results(result, InputTables(Tables()), folder, judged=judge_result(result.prepared.tables, result))
    return {path.name: path.read_bytes() for path in sorted(folder.iterdir())}
