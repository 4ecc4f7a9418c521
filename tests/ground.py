"""What a workspace's first load asks: by which currency and zone rows are read."""

from __future__ import annotations

from yardstick.stations.gather.ground_rules import ground_of
from yardstick.stations.plan.change_plan import change_general, read_plan


def say_ground(desk, home_currency="EUR", time_zone="UTC"):
    """Say it, where nobody has yet."""
    if ground_of(desk):
        change_general(desk, {"home_currency": home_currency, "time_zone": time_zone}, read_plan(desk).basis)
