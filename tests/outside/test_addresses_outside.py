"""Addresses against published standards."""

from __future__ import annotations

import json
from pathlib import Path
from urllib.parse import quote, urljoin

import ada_url
import pytest

from yardstick.core.links.addresses import as_browsers_read, build, why_not_opened, with_ascii_host
from yardstick.core.links.checkup import Checker
from yardstick.core.reading.tags import parameters, split_address

DATA = Path(__file__).parent / "data"


@pytest.mark.parametrize(("query", "pairs"), json.loads((DATA / "urlencoded.json").read_text()).items())
def test_queries_are_split_as_the_url_standard_says(query, pairs):
    """WHATWG URL Standard, application/x-www-form-urlencoded parser."""
    assert [[name, value] for name, value, _ in parameters(query)] == [list(p) for p in pairs]


BASE = "http://a/b/c/d;p?q"
REFERENCES = json.loads((DATA / "rfc3986_5_4.json").read_text())


@pytest.mark.parametrize("reference", [r for r, target in REFERENCES.items() if target.startswith("http://")])
def test_tags_change_no_part_of_an_address_but_its_query(reference):
    """RFC 3986 section 5.4: the resolved targets, tagged and read again by another reader of addresses."""
    target = REFERENCES[reference]
    base, query, fragment = split_address(target)
    tagged = build(target, [("utm_source", "ostrel")]).url
    # A bare host gets its path (section 6.2.3); nothing else changes.
    assert split_address(tagged)[::2] == (base + "/" if base == "http://g" else base, fragment)
    assert split_address(tagged)[1] == (query + "&" if query else "") + "utm_source=ostrel"
    # An absolute address resolves to itself (section 5.2.2), so another reader must leave it as it is.
    assert urljoin(BASE, tagged) == tagged or "/.." in target or "/." in target


@pytest.mark.parametrize(
    ("host", "ascii_host"),
    [
        # RFC 3492 section 7.1 (sample strings) and RFC 5891's own example.
        ("bücher.example", "xn--bcher-kva.example"),
        ("他们为什么不说中文.example", "xn--ihqwcrb4cv8a8dqg056pqjye.example"),
        ("pročprostěnemluvíčesky.example", "xn--proprostnemluvesky-uyb24dma41a.example"),
        ("почемужеонинеговорятпорусски.example", "xn--b1abfaaepdrnnbgefbadotcwatmq2g4l.example"),
        ("FAß.example", "xn--fa-hia.example"),
        ("plain.example", "plain.example"),
    ],
)
def test_international_hosts_are_written_in_ascii(host, ascii_host):
    assert with_ascii_host(f"https://{host}/a") == f"https://{ascii_host}/a"
    tagged = build(f"https://{host}/a", [("utm_source", "x")]).url
    assert tagged == f"https://{ascii_host}/a?utm_source=x"
    found = Checker().check(f"https://{host}/?utm_source=a&utm_medium=cpc&utm_campaign=c")
    assert found.mended.startswith(f"https://{ascii_host}/?")


def test_an_address_may_have_2048_bytes_and_not_one_more():
    """Common practice: 2,048 bytes pass everywhere."""
    url = "https://www.lunnick.example/"
    rest = 2_048 - len(url) - len("?utm_source=")
    assert build(url, [("utm_source", "x" * rest)]).findings == ()
    assert [f.code for f in build(url, [("utm_source", "x" * (rest + 1))]).findings] == ["too_long"]


URL_CASES = json.loads((DATA / "url_cases.json").read_text())
"""`urltestdata.json` of the web platform tests (BSD 3-Clause) as Debian's librust-url-dev 2.3.1-1 carries it: every
absolute http(s) case, but for those that name a company's site."""
LATER = "xn--pokxncvks"
"""The standard has since let ASCII labels be that cannot be decoded; the cases of today accept them."""
PAIRS = [("utm_source", "ostrel"), ("utm_campaign", "a&b=c d"), ("utm_content", "caf\u00e9")]


@pytest.mark.parametrize("case", [c for c in URL_CASES if "failure" not in c], ids=lambda c: c["input"][:40])
def test_every_address_that_parses_is_built_and_split_again(case):
    """What went in comes out: the same place by the standard's reading of the result, its own query first, then ours."""
    assert why_not_opened(as_browsers_read(case["input"])) == ""
    built = build(as_browsers_read(case["input"]), PAIRS)
    assert built.url.isascii()
    found = dict(ada_url.parse_url(built.url))
    ours = "&".join(f"{name}={quote(value, safe='')}" for name, value in PAIRS)
    own = case["search"].removeprefix("?")
    wanted = {**case, "search": f"?{own}{'&' if own and not own.endswith('&') else ''}{ours}"}
    assert {name: found[name] for name in wanted if name != "input"} == {
        n: v for n, v in wanted.items() if n != "input"
    }
    _, query, fragment = split_address(built.url)
    assert [pair[:2] for pair in parameters(query)][-3:] == PAIRS
    assert [pair[:2] for pair in parameters(query)][:-3] == [pair[:2] for pair in parameters(own)]
    assert fragment == case["hash"].removeprefix("#")


@pytest.mark.parametrize(
    "case", [c for c in URL_CASES if "failure" in c and LATER not in c["input"].lower()], ids=lambda c: c["input"][:40]
)
def test_every_address_that_does_not_parse_is_refused_with_a_reason(case):
    text = as_browsers_read(case["input"])
    assert why_not_opened(text) != ""
    assert [f.code for f in Checker().check(case["input"]).findings] == ["not_an_address"]
