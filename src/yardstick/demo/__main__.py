"""Loads the demo world into its workspace, unless something is there already, and puts its ads up."""

from __future__ import annotations

import os
from pathlib import Path

from yardstick.demo.ads import put_up_ads
from yardstick.demo.loading import load_demo
from yardstick.demo.plan import demo_settings
from yardstick.formats.plan.settings_toml import read_settings
from yardstick.store.folder_lock import FolderHeld, FolderLock

if __name__ == "__main__":
    home = Path(os.environ["YARDSTICK_HOME"])
    try:
        lock = FolderLock(home, "loading the demo world")
    except FolderHeld as problem:
        raise SystemExit(str(problem)) from None
    load_demo(os.environ["YARDSTICK_DATABASE"], home, os.environ["YARDSTICK_WORKSPACE"])
    if "YARDSTICK_AD_PLATFORMS" in os.environ:
        put_up_ads(read_settings(demo_settings().encode()), os.environ["YARDSTICK_AD_PLATFORMS"])
