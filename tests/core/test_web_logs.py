"""Web server logs as visits: a log that Debian's nginx wrote, and the W3C extended format by its specification."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yardstick.formats.files.raw import FileProblem
from yardstick.formats.plan.source_parts import SourcePart
from yardstick.formats.rows.input_tables import read_file
from yardstick.formats.sources.sourcing import open_by

NGINX = Path(__file__).parents[1] / "outside" / "data" / "nginx_access.log"
LINE = '10.0.0.7 - - [01/Mar/2026:23:30:00 +1030] "GET /boats?utm_source=quorrin HTTP/1.1" 200 512 "-" "Sampler/1.0"\n'


def read(content, name="access.log", source=None):
    data = content.encode("utf-8", "surrogateescape") if isinstance(content, str) else content
    return read_file(open_by(name, io.BytesIO(data), source), "UTC")


def rows(file, *names):
    return [tuple(b.raw[n][i].as_py() for n in names) for b in file.batches for i in range(len(b))]


def test_a_log_that_nginx_wrote():
    """Written by nginx 1.22 of Debian 12 for requests of our own: a page with tags, a style, a picture, quotes and
    umlauts, a robot, a redirect, a page that is not there, a form sent, a sign-in, HEAD, and no browser's name."""
    file = read(NGINX.read_bytes())
    assert (file.count.lines, file.count.read, file.count.skipped, file.count.rejected) == (12, 5, 7, 0)
    assert rows(file, "url", "referrer", "device") == [
        ("/boats/?utm_source=quorrin&utm_medium=cpc&utm_campaign=Spring+Whale+Boats&qkid=abc123", "https://findery.example/?q=ferry", "mobile"),
        ("/?utm_source=ostrel&utm_campaign=Fr%C3%BChling", "", "desktop"),
        ("/boats/", "", "mobile"),
        ('/boats/?q=a"b', "", "mobile"),
        ("/boats/", "", ""),
    ]  # fmt: skip
    who = [v for (v,) in rows(file, "visitor_id")]
    assert who[2] == "tove"
    assert who[0] == who[3]
    assert len(set(who)) == 4
    assert not any("127.0.0.1" in v for v in who)
    assert {t for (t,) in rows(file, "occurred_at")} == {"2026-11-27T12:17:45+00:00"}


def test_a_rotated_log_with_hosts_and_offsets():
    file = read("www.lunnick.example:443 " + LINE, name="access.log.1")
    assert rows(file, "url", "occurred_at") == [
        ("https://www.lunnick.example/boats?utm_source=quorrin", "2026-03-01T23:30:00+10:30")
    ]


W3C = """#Version: 1.0
#Date: 2026-03-01 10:00:00
#Fields: date time c-ip cs-method cs-uri-stem cs-uri-query sc-status cs(User-Agent) cs(Referer)
2026-03-01 10:00:01 10.0.0.7 GET /boats utm_source=quorrin&utm_campaign=Night+Boat 200 Sampler/1.0+(Mobile) https://findery.example/
2026-03-01 10:00:02 10.0.0.7 GET /style.css - 200 Sampler/1.0+(Mobile) -
2026-03-01 10:00:03 10.0.0.7 POST /form - 200 Sampler/1.0+(Mobile) -
broken line
#Fields: date time cs-uri-stem cs-host
2026-03-01 10:00:04 /cards www.lunnick.example
"""


def test_a_w3c_extended_log_by_its_fields():
    """W3C Working Draft WD-logfile-960323, Extended Log File Format: fields are named in the file, and may change."""
    file = read(W3C, name="ex260301.log")
    assert rows(file, "url", "referrer", "device", "occurred_at") == [
        ("/boats?utm_source=quorrin&utm_campaign=Night+Boat", "https://findery.example/", "mobile", "2026-03-01T10:00:01Z"),
        ("https://www.lunnick.example/cards", "", "", "2026-03-01T10:00:04Z"),
    ]  # fmt: skip
    assert [(r.line, r.reason) for r in file.rejected] == [(7, "not a line of a web server log")]
    assert (file.count.lines, file.count.read, file.count.skipped) == (9, 3, 6)


def test_the_same_log_twice_counts_once_and_a_source_puts_its_host_before_paths():
    columns = {"visit_id": "visit_id", "occurred_at": "occurred_at", "url": "url", "visitor_id": "visitor_id"}
    part = {"name": "log", "table": "visits", "columns": columns, "url_host": "www.lunnick.example"}
    file = read(LINE + LINE, source=SourcePart.model_validate(part).plain())
    assert {u for (u,) in rows(file, "url")} == {"https://www.lunnick.example/boats?utm_source=quorrin"}
    assert len({i for (i,) in rows(file, "visit_id")}) == 1


@pytest.mark.parametrize(
    ("content", "said"),
    [
        ("what is this\n", "not a line of a web server log"),
        ("#Fields: date time\n2026-03-01 10:00:00\n", "lack cs-uri-stem"),
        ("", "not a line"),
    ],
)
def test_what_is_no_log_says_so(content, said):
    with pytest.raises(FileProblem, match=said):
        read(content, name="x.log")


@given(st.lists(st.one_of(st.just(LINE.encode()), st.binary(max_size=60).map(lambda b: b + b"\n")), max_size=30))
def test_whatever_stands_in_a_log_every_line_is_accounted_for(lines):
    content = LINE.encode() + b"".join(lines)
    file = read(content)
    count = file.count
    assert count.lines == count.read + count.skipped == content.count(b"\n")
    assert all(b.raw["url"][i].as_py().startswith("/") for b in file.batches for i in range(len(b)))
