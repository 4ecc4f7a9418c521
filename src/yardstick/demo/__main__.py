"""Loads the demo world into its workspace, unless something is there already."""

from __future__ import annotations

import os
from pathlib import Path

from yardstick.demo.loading import load_demo

if __name__ == "__main__":
    load_demo(os.environ["YARDSTICK_DATABASE"], Path(os.environ["YARDSTICK_HOME"]), os.environ["YARDSTICK_WORKSPACE"])
