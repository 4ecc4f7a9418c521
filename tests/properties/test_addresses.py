"""Writing addresses: what went in comes out, and what was there stays, for any text."""

from __future__ import annotations

import re

from hypothesis import assume, given
from hypothesis import strategies as st

from planted import checker
from yardstick.core.base.words import fold
from yardstick.core.links.addresses import build, strip_tags
from yardstick.core.reading.tags import parameters, split_address

TEXT = st.text(min_size=1)
NAMES = st.sampled_from(
    ["utm_source", "utm_medium", "utm_campaign", "utm_term", "utm_content", "utm_id", "size", "ä ö", "a&b=c"]
)
QUERIES = st.text(alphabet="abc=&%+?/;:@20{|}'AF", max_size=30)


@given(st.lists(st.tuples(NAMES, TEXT), min_size=1, unique_by=lambda p: p[0]))
def test_build_then_split_gives_back_what_went_in(pairs):
    built = build("https://www.lunnick.example/boats#top", pairs)
    base, query, fragment = split_address(built.url)
    assert (base, fragment) == ("https://www.lunnick.example/boats", "top")
    assert [(name, value) for name, value, _ in parameters(query)] == pairs
    assert built.url.isascii()
    assert built.url.count("?") == 1


@given(QUERIES, st.text(alphabet="ab/?&=", max_size=8), st.lists(st.tuples(NAMES, TEXT), min_size=1))
def test_what_was_there_stays_byte_for_byte(query, fragment, pairs):
    built = build(f"https://www.lunnick.example/p?{query}#{fragment}", pairs)
    base, now, end = split_address(built.url)
    assert (base, end) == ("https://www.lunnick.example/p", fragment)
    assert now.startswith(query)
    assert [p[:2] for p in parameters(now)][-len(pairs) :] == pairs


@given(QUERIES, st.lists(st.tuples(NAMES, TEXT), min_size=1, unique_by=lambda p: p[0]))
def test_a_name_that_is_there_already_is_reported(query, pairs):
    there = {fold(name) for name, _, _ in parameters(query)}
    assume(not there & {fold(name) for name, _ in pairs})
    url = f"https://www.lunnick.example/p?{query}"
    assert [f for f in build(url, pairs).findings if f.code == "same_name"] == []
    again = build(build(url, pairs).url, pairs)
    assert len([f for f in again.findings if f.code == "same_name"]) == len(pairs)


@given(QUERIES)
def test_stripping_takes_tags_only_and_leaves_the_rest_alone(query):
    url = f"https://www.lunnick.example/p?{query}#end" if query else "https://www.lunnick.example/p#end"
    tags = [("utm_source", "a"), ("utm_medium", "b"), ("CKID", "c")]
    shared = split_address(strip_tags(build(url, tags).url, ["ckid"]))
    kept = [p for p in parameters(query) if not fold(p[0]).startswith("utm_") and fold(p[0]) != "ckid"]
    assert (shared[0], shared[2]) == ("https://www.lunnick.example/p", "end")
    assert parameters(shared[1]) == kept


@given(st.text(max_size=60))
def test_the_check_up_never_fails_whatever_it_is_given(text):
    check = checker().check
    for url in (text, "https://www.lunnick.example/" + text, "https://www.lunnick.example/?utm_source=" + text):
        found = check(url)
        assert check(found.mended).mended == found.mended or found.findings


SIGNS = (
    *(
        "?",
        "&",
        "=",
        ";",
        "#",
        "%3F",
        "%26",
        "%3D",
        "&amp;",
        "&amp;amp;",
        "??",
        ":",
        "+",
        "%20",
        " ",
        "/",
        "{",
        "}",
        "%",
    ),
    *(
        "utm_source=",
        "utm_source",
        "utm_medium=",
        "utm_campaign=",
        "utn_source=",
        "utm_sorce=",
        "UTM_TERM=",
        "utm-content=",
    ),
    *(
        "to=https://",
        "to=https%3A%2F%2F",
        "next=/",
        "{adid}",
        "{{ad.name}}",
        "${campaign}",
        "%%TERM%%",
        "@",
        "ckid=",
        "size=",
    ),
)
TOKEN = re.compile(r"tok\d+x")


@given(st.lists(st.one_of(st.sampled_from(SIGNS), st.integers(0, 9).map(lambda n: f"tok{n}x")), max_size=24))
def test_the_check_up_loses_nothing_and_takes_nothing_out_of_a_slot(parts):
    """Whatever was typed between the signs of an address stands in the mended one, in its order, slots as written."""
    url = "https://www.lunnick.example/b" + "".join(parts)
    mended = checker().check(url).mended
    assert sorted(TOKEN.findall(mended)) == sorted(TOKEN.findall(url)) or _twice(url, mended)
    for slot in ("{adid}", "{{ad.name}}", "${campaign}"):
        assert mended.count(slot) >= url.count(slot) or _twice(url, mended)
    again = checker().check(mended).mended
    assert sorted(TOKEN.findall(again)) == sorted(TOKEN.findall(mended)) or _twice(mended, again)


def _twice(url, mended):
    """Whether only what stood twice, name and value, stands once."""
    return set(TOKEN.findall(mended)) == set(TOKEN.findall(url)) and "repeated_name" in {
        f.code for f in checker().check(url).findings
    }


@given(st.integers(0, 9), st.sampled_from(["?utm_source=a&utm_medium=b", "?utm_source=a", "?utm_campaign=c&x=1"]))
def test_tags_never_leave_a_target_nor_enter_a_path(number, tags):
    for before in (f"?to=https://www.lunnick.example/tok{number}x", f"?next=%2Ftok{number}x", "%3Fx=1"):
        url = "https://www.lunnick.example/b" + before + tags
        assert checker().check(url).mended == url
