"""A desk on a database of its own."""

from __future__ import annotations

import pytest

from yardstick.stations.desk import Desk
from yardstick.store.database import connect


@pytest.fixture
def desk(databases, tmp_path):
    engine = connect(databases.fresh())
    yield Desk(engine, tmp_path / "home", "test")
    engine.dispose()
