"""The README by the letter: its commands run as they stand there."""

from __future__ import annotations

import re
import subprocess
from pathlib import Path

import pytest

from yardstick.core.report.breakdown import BY_CAMPAIGN
from yardstick.stations.command.weigh_folder import weigh_folder

ROOT = Path(__file__).parents[2]
COMMANDS = re.findall(r"^    (\.venv/bin/\S+ .*)$", (ROOT / "README.md").read_text(), re.MULTILINE)
WEEK = ROOT / "src/yardstick/demo/worked_week"
FINGERPRINT = weigh_folder(WEEK, WEEK / "settings.toml", BY_CAMPAIGN).result.fingerprint
ODD = {".venv/bin/yardstick tags check": 1}
"""What ends otherwise than with 0: the list to check has faults."""


def test_the_readme_has_the_commands():
    assert sum("yardstick credit" in command for command in COMMANDS) == 2
    assert len(COMMANDS) >= 7


@pytest.fixture(scope="module")
def elsewhere(tmp_path_factory):
    """A folder in place of /tmp, the same for all: what one command writes the next reads."""
    return tmp_path_factory.mktemp("readme")


@pytest.mark.parametrize("command", COMMANDS)
def test_a_command_of_the_readme_runs(elsewhere, command):
    done = subprocess.run(
        command.replace("/tmp/", f"{elsewhere}/"), shell=True, cwd=ROOT, capture_output=True, text=True, timeout=120
    )
    wanted = next((code for begin, code in ODD.items() if command.startswith(begin)), 0)
    assert done.returncode == wanted, done.stderr
    assert "not used" not in done.stderr
    if " credit " in command:
        assert f"AUD spent, fingerprint {FINGERPRINT}" in done.stdout
