"""The plan that a settings file states, for whoever works without a workspace. What reads it is loaded with a file."""

from __future__ import annotations

from pathlib import Path

from yardstick.core.plan.plan import Plan


def plan_of_file(file: Path | None) -> Plan:
    """The plan that a TOML file states; the usual one without a file.

    Raises
    ------
    SettingsError
        If they are wrong.
    OSError
        If the file cannot be read.
    """
    if file is None:
        return Plan()
    from yardstick.formats.plan.settings_toml import read_settings

    return read_settings(file.read_bytes(), file.name)
