"""Every operation of the API, with requests made from its own description, right ones and wrong ones: no answer is a
fault of the server, and none is undocumented. Schemathesis, a general tester of described interfaces, makes and judges
them."""

from __future__ import annotations

import inspect
import os

import pytest
import requests
import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from schemathesis import GenerationMode
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from web.http_files import load
from week import week_files
from yardstick.web.app import create, workspace_api

BASE = "http://127.0.0.1:8420"
CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
ENDLESS = ("/gather/jobs/{job_id}/events",)
"""Answers that go on until a job has ended: what they hold is tested where jobs are."""


@pytest.fixture(scope="module")
def served(databases, tmp_path_factory):
    """An app of its own, with some rows: what is tried here makes and changes whatever it likes."""
    app = create(databases.fresh(), tmp_path_factory.mktemp("home"), "test", tmp_path_factory.mktemp("none"))
    with TestClient(app, base_url=BASE) as client:
        load(client, week_files())
        yield client


def operations():
    """(path before it, operation) of all that the two descriptions hold."""
    from pathlib import Path

    app = create("postgresql+psycopg://nobody@127.0.0.1:1/none", Path("/tmp/none"), "none")
    for before, document in (("", app.openapi()), ("/api/w/test", workspace_api(app.state.workspaces).openapi())):
        schema = schemathesis.openapi.from_dict(document)
        for found in schema.get_all_operations():
            operation = found.ok()
            if operation.path not in ENDLESS:
                yield pytest.param(before, operation, id=operation.label)
    app.state.recorder.close()


def send(client, before, case):
    """The answer to a case, sent as it is."""
    made = case.as_transport_kwargs(base_url=BASE + before)
    asked = {name: made[name] for name in made if name in inspect.signature(requests.Request).parameters}
    whole = requests.Request(**asked).prepare()
    return client.request(whole.method, whole.url, headers=dict(whole.headers), content=whole.body)


@pytest.mark.parametrize(("before", "operation"), list(operations()))
def test_no_answer_is_a_fault_or_undocumented(served, before, operation):
    @settings(
        max_examples=int(os.environ.get("YARDSTICK_EXAMPLES", "9")),
        deadline=None,
        suppress_health_check=list(HealthCheck),
    )
    @given(st.data())
    def tried(data):
        mode = data.draw(st.sampled_from([GenerationMode.POSITIVE, GenerationMode.NEGATIVE]))
        case = data.draw(operation.as_strategy(generation_mode=mode))
        answer = send(served, before, case)
        case.validate_response(answer, checks=CHECKS)

    tried()
