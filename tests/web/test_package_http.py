"""A workspace as a data package over HTTP."""

from __future__ import annotations

import io
import zipfile

from web.http_files import load
from week import week_files


def test_the_package_is_written_out_as_often_as_one_asks(client):
    assert client.get("/api/w/test/gather/package.zip").status_code == 404
    load(client, week_files())
    for _ in range(2):
        answer = client.get("/api/w/test/gather/package.zip")
        assert (answer.status_code, answer.headers["content-type"]) == (200, "application/zip")
        assert "datapackage.json" in zipfile.ZipFile(io.BytesIO(answer.content)).namelist()
