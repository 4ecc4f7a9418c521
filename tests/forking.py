"""Pieces of work that may die, each in a process of its own that is forked from one which has loaded everything.

Loading what the app needs takes most of two seconds; a fork takes none of them.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

SRC = Path(__file__).parents[1] / "src"


def serve(do: Callable[..., None]) -> None:
    """Fork for each line of standard input, [words, file for what is said, file for what went wrong, environment], and
    answer how the fork ended."""
    for line in sys.stdin:
        words, said, wrong, environment = json.loads(line)
        child = os.fork()
        if not child:
            for number, path in ((1, said), (2, wrong)):
                os.dup2(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC), number)
            os.environ |= environment
            status = 1
            try:
                do(*words)
                status = 0
            except BaseException:
                sys.excepthook(*sys.exc_info())
            finally:
                sys.stdout.flush()
                sys.stderr.flush()
                # Nothing of what this process has from its parent is tidied up twice.
                os._exit(status)
        print(os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]), flush=True)


class Forking:
    """A process that has loaded a module and forks for each piece of work.

    Parameters
    ----------
    module : a file whose `main` calls `serve`
    folder : for what forks say
    """

    def __init__(self, module: Path, folder: Path) -> None:
        self._folder = folder
        environment = os.environ | {"PYTHONPATH": f"{SRC}:{SRC.parent / 'tests'}"}
        self._process = subprocess.Popen(
            [sys.executable, str(module)],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
            env=environment,
        )

    def run(self, *words: str, **environment: str) -> tuple[int, str, str]:
        """How it ended (minus the number of a signal), what it said, what went wrong."""
        said, wrong = self._folder / "said", self._folder / "wrong"
        self._process.stdin.write(json.dumps([words, str(said), str(wrong), environment]) + "\n")
        self._process.stdin.flush()
        ended = int(self._process.stdout.readline())
        return ended, said.read_text(), wrong.read_text()

    def close(self) -> None:
        """End it."""
        self._process.stdin.close()
        self._process.stdout.close()
        self._process.wait()
