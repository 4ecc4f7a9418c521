"""The app over HTTP: one for all tests of a worker, a workspace for each test."""

from __future__ import annotations

import itertools

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from yardstick.web.app import create

BASE = "http://127.0.0.1:8420"
TEST = "/api/w/test/"
"""Where tests say their workspace is, whatever it is called."""


def app_of(client: TestClient) -> FastAPI:
    """The app a client talks to."""
    assert isinstance(client.app, FastAPI)
    return client.app


class InWorkspace:
    """A client whose `/api/w/test/...` is a workspace of its own.

    Parameters
    ----------
    client : of the app
    workspace : name of the workspace
    """

    def __init__(self, client: TestClient, workspace: str) -> None:
        self._client, self.workspace, self.app = client, workspace, app_of(client)

    @property
    def desk(self):
        """The workspace at hand, for what no door shows."""
        return self.at_work.desk

    @property
    def at_work(self):
        """The workspace with its stations."""
        return self.app.state.workspaces.at(self.workspace)

    def request(self, method, path, **more):
        return self._client.request(method, path.replace(TEST, f"/api/w/{self.workspace}/"), **more)

    def __getattr__(self, name):
        if name in ("get", "post", "put", "patch", "delete", "head", "options"):
            return lambda path, **more: self.request(name.upper(), path, **more)
        return getattr(self._client, name)


@pytest.fixture(scope="session")
def app_of_worker(databases, tmp_path_factory):
    """One running app."""
    app = create(databases.fresh(), tmp_path_factory.mktemp("home"), "first", tmp_path_factory.mktemp("no-front-end"))
    with TestClient(app, base_url=BASE) as client:
        yield client


_numbers = itertools.count(1)


@pytest.fixture
def client(app_of_worker):
    """A client in a new, empty workspace of the common app."""
    name = f"t{next(_numbers)}"
    app_of_worker.app.state.workspaces.make(name)
    return InWorkspace(app_of_worker, name)


@pytest.fixture
def alone(databases, tmp_path):
    """A client of an app of its own, on a database of its own, with the one workspace `test`."""
    app = create(databases.fresh(), tmp_path / "home", "test", tmp_path / "no-front-end")
    with TestClient(app, base_url=BASE) as client:
        yield InWorkspace(client, "test")
