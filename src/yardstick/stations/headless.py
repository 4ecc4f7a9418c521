"""Weigh a folder of files, without server or database."""

from __future__ import annotations

from pathlib import Path

from yardstick.core.breakdown import check_fields
from yardstick.core.settings import Settings
from yardstick.core.weigh import Result, weigh
from yardstick.formats.folder import read_folder, write_results
from yardstick.formats.settings_toml import read_settings


def credit_folder(source: Path, out: Path, settings_file: Path | None, by: tuple[str, ...]) -> Result:
    """Read a folder of tables, weigh it, write the results.

    Parameters
    ----------
    source : folder with visits.csv and the other tables
    out : folder for the results
    settings_file : TOML; without it the defaults hold
    by : fields of the breakdown

    Returns
    -------
    Result

    Raises
    ------
    SettingsError
        If the settings are wrong or ask for what is not built.
    FileProblem
        If nothing can be computed from the files.
    """
    settings = Settings() if settings_file is None else read_settings(settings_file.read_bytes(), settings_file.name)
    check_fields(by)
    folder = read_folder(source, settings.time_zone)
    result = weigh(folder.tables, settings, by)
    write_results(result, folder, out)
    return result
