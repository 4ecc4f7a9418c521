"""Loading files over HTTP, the way the interface does it."""

from __future__ import annotations

import time


def rehearse(client, files):
    """Rehearse (name, content) pairs, and say what a first load asks; returns the answer."""
    answer = client.post("/api/w/test/gather/rehearsals", files=[("files", (name, content)) for name, content in files])
    assert answer.status_code == 200, answer.text
    if answer.json()["first"]:
        say_ground(client)
    return answer.json()


def say_ground(client, home_currency="EUR", time_zone="UTC"):
    """Say by what rows are read, as a workspace's first load asks."""
    plan = client.get("/api/w/test/plan").json()
    values = {"home_currency": home_currency, "time_zone": time_zone}
    said = client.put("/api/w/test/plan/general", json={"basis": plan["basis"], "values": values})
    assert said.status_code == 200, said.text


def load(client, files):
    """Rehearse and keep files, and wait until the job has ended; returns the job."""
    token = rehearse(client, files)["token"]
    job = client.post("/api/w/test/gather/loads", json={"token": token})
    assert job.status_code == 202, job.text
    until = time.monotonic() + 60
    while time.monotonic() < until:
        state = client.get(f"/api/w/test/gather/jobs/{job.json()['id']}").json()
        if state["state"] != "running":
            assert state["state"] == "done", state
            return state
        time.sleep(0.02)  # the job runs in another thread and has no other way to tell a client
    raise AssertionError("the job did not end")
