"""A desk on a database of its own."""

from __future__ import annotations

import pytest

from planned_week import planned_week_files
from stations.copies import Copies
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.workspace.desk import Desk
from yardstick.store.database import connect


@pytest.fixture
def desk(databases, tmp_path):
    engine = connect(databases.fresh())
    yield Desk(engine, tmp_path / "home", "test")
    engine.dispose()


@pytest.fixture(scope="session")
def planned_copies(databases, tmp_path_factory):
    return Copies(databases, tmp_path_factory.mktemp("planned"), lambda desk: keep_now(desk, planned_week_files()))


@pytest.fixture
def planned(planned_copies, tmp_path):
    """A desk with the planned week."""
    desk = planned_copies.copy(tmp_path / "home")
    yield desk
    desk.engine.dispose()
