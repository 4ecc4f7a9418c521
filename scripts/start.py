"""Starts the app: a private PostgreSQL, the web server, and with the word `demo` the demo world. Ctrl-C ends both."""

from __future__ import annotations

import os
import re
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path
from types import FrameType
from typing import TYPE_CHECKING

from app_database import prepare
from private_postgres import Cluster, SetupProblem, data_home, free_port, make_home, port_is_free

if TYPE_CHECKING:
    from yardstick.store.folder_lock import FolderLock

ROOT = Path(__file__).resolve().parent.parent
LOOK_EVERY_S = 5.0
WAIT_S = 120
STANDINS = {
    "site": ("www.lunnick.example", "lunnick.example"),
    "ad_platform": ("ads.quorrin.example", "ads.tarvolin.example"),
}
"""Stand-ins of the demo world, and the hosts they answer for."""


def main() -> int:
    """Start, wait, end in order. Returns the exit code."""
    # Nobody else reads what people load.
    os.umask(0o077)
    workspace = sys.argv[1] if len(sys.argv) > 1 else "own"
    if not re.fullmatch(r"[a-z0-9][a-z0-9-]{0,39}", workspace):
        print(f"{workspace!r} is not a valid workspace name: use small letters, digits and hyphens.", file=sys.stderr)
        return 2
    said = os.environ.get("PORT", "8420")
    if not said.isdecimal() or not 1 <= int(said) <= 65535:
        print(f"PORT={said}: write a number from 1 to 65535, such as PORT=8421", file=sys.stderr)
        return 2
    port = int(said)
    if os.environ.get("YARDSTICK_UPLOAD_LIMIT"):
        # The web server would say so too, after the database has been made.
        from yardstick.core.base.errors import SettingsError
        from yardstick.web.limits import upload_limit

        try:
            upload_limit()
        except SettingsError as problem:
            print(problem, file=sys.stderr)
            return 2
    # A closed terminal ends it in order, too.
    for number in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
        signal.signal(number, _interrupt)
    from yardstick.store.folder_lock import FolderHeld, FolderLock

    try:
        home = data_home(ROOT)
        make_home(home)
        lock = FolderLock(home, f"http://127.0.0.1:{port}")
        if not port_is_free(port):
            raise SetupProblem(
                f"Port {port} is in use. Choose another: PORT={port + 1} make {'demo' if workspace == 'demo' else 'up'}"
            )
        return run(home, workspace, port, lock)
    except (SetupProblem, FolderHeld) as problem:
        print(problem, file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        return 0


def run(home: Path, workspace: str, port: int, lock: FolderLock) -> int:
    """Run the database and the web server until one of them ends or the person ends both. The lock of the folder is
    handed on to whatever works in it, and so outlives this process where that does."""
    cluster = Cluster(home)
    server = None
    standins: list[subprocess.Popen[bytes]] = []
    try:
        cluster.start()
        url = prepare(cluster)
        held, handed_on = lock.hand_on()
        environment = (
            os.environ
            | handed_on
            | {
                "YARDSTICK_DATABASE": url,
                "YARDSTICK_HOME": str(home),
                "YARDSTICK_WORKSPACE": workspace,
                "YARDSTICK_ADDRESS": f"http://127.0.0.1:{port}",
            }
        )
        if workspace == "demo":
            # The demo world's own site and its ad platforms answer on this machine, as processes that know nothing
            # of the app.
            there = {}
            for name in STANDINS:
                at = free_port()
                command = [sys.executable, "-m", f"yardstick.standins.{name}", "--port", str(at)]
                standins.append(subprocess.Popen(command, start_new_session=True))
                there[name] = f"127.0.0.1:{at}"
            for name, address in there.items():
                wait_for_standin(name, address)
            pairs = (f"{host}={there[name]}" for name, hosts in STANDINS.items() for host in hosts)
            environment["YARDSTICK_STANDINS"] = ",".join(pairs)
            environment["YARDSTICK_AD_PLATFORMS"] = there["ad_platform"]
            loading = [sys.executable, "-m", "yardstick.demo"]
            subprocess.run(loading, env=environment, check=True, start_new_session=True, pass_fds=(held,))
        command = [
            sys.executable, "-m", "uvicorn", "yardstick.web.app:from_environment", "--factory",
            "--host", "127.0.0.1", "--port", str(port), "--log-level", "warning", "--timeout-graceful-shutdown", "5",
            "--http", "yardstick.web.head_deadline:PatientProtocol",
        ]  # fmt: skip
        server = subprocess.Popen(command, env=environment, start_new_session=True, pass_fds=(held,))
        wait_until_up(port, server)
        print(f"\n  Yardstick Trail is up:  http://127.0.0.1:{port}\n  Data in {home}. Ctrl-C ends it.\n", flush=True)
        return attend(server, cluster)
    except KeyboardInterrupt:
        print("\nEnding ...", flush=True)
        return 0
    finally:
        for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, signal.SIG_IGN)
        if server is not None and server.poll() is None:
            server.terminate()
            try:
                server.wait(20)
            except subprocess.TimeoutExpired:
                server.kill()
        for standin in standins:
            standin.terminate()
            standin.wait(10)
        cluster.stop()


def attend(server: subprocess.Popen[bytes], cluster: Cluster) -> int:
    """Wait until the web server ends; start the database again, where it was, whenever it has ended by itself."""
    while True:
        try:
            return server.wait(LOOK_EVERY_S)
        except subprocess.TimeoutExpired:
            if cluster.is_running():
                continue
        try:
            print("The database has ended by itself: starting it again ...", file=sys.stderr, flush=True)
            cluster.start()
        except SetupProblem as problem:
            print(problem, file=sys.stderr, flush=True)


def wait_for_standin(name: str, address: str) -> None:
    """Wait until a stand-in answers."""
    until = time.monotonic() + WAIT_S
    while time.monotonic() < until:
        try:
            with urllib.request.urlopen(f"http://{address}/", timeout=5):
                return
        except OSError:
            time.sleep(0.05)
    raise SetupProblem(f"The stand-in {name} does not answer.")


def wait_until_up(port: int, server: subprocess.Popen[bytes]) -> None:
    """Wait for the first answer of the web server."""
    until = time.monotonic() + WAIT_S
    while time.monotonic() < until:
        if server.poll() is not None:
            raise SetupProblem("The web server did not start; see above.")
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/health", timeout=5):
                return
        except (urllib.error.URLError, OSError):
            time.sleep(0.1)
    raise SetupProblem("The web server does not answer.")


def _interrupt(number: int, frame: FrameType | None) -> None:
    raise KeyboardInterrupt


if __name__ == "__main__":
    sys.exit(main())
