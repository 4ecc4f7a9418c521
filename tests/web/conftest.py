"""The app over HTTP on a database of its own."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from yardstick.web.app import create


@pytest.fixture
def client(databases, tmp_path):
    app = create(databases.fresh(), tmp_path / "home", "test", tmp_path / "no-front-end")
    with TestClient(app, base_url="http://127.0.0.1:8420") as client:
        yield client
