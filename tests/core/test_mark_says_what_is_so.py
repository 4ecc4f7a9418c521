"""What Mark says about an address is so: it reads it as a visit is read, and mends nothing that may be meant."""

from __future__ import annotations

import json
from datetime import date

import pytest
from typer.testing import CliRunner

from yardstick.cli import app
from yardstick.core.base.errors import SettingsError
from yardstick.core.links.addresses import build
from yardstick.core.links.checkup import Checker
from yardstick.core.links.patterns import resolve
from yardstick.core.plan.campaign_records import Campaign
from yardstick.core.plan.linking_phase import Dialect, DialectSlot, Pattern
from yardstick.core.plan.plan import plan_of
from yardstick.core.reading.tags import reader
from yardstick.formats.plan.settings_toml import read_settings

BASE = "https://www.lunnick.example/boats?utm_source=ostrel&utm_medium=cpc&utm_campaign="
TODAY = date(2026, 11, 27)


def codes(found):
    return {f.code for f in found.findings}


@pytest.mark.parametrize("slot", ["%CAMPAIGN%", "%AD_ID%", "%%CACHE%%", "%DEAL%", "%ad_name%", "%BEACH%"])
def test_a_slot_that_begins_like_an_escape_is_a_slot(slot):
    """As a visit reads it (R4), and never mended into letters that nobody wrote, nor taken out: it may yet be filled."""
    url = BASE + f"lantern&utm_content={slot}"
    found = Checker().check(url)
    assert codes(found) == {"unfilled_slot"}
    assert found.mended == url
    assert ("unfilled_slot", "utm_content") in {note[:2] for note in reader(())(url).notes}
    inside = BASE + f"lantern&utm_content=top-{slot}"
    found = Checker().check(inside)
    assert (codes(found), found.mended) == ({"slot_inside"}, inside)
    assert ("slot_inside", "utm_content") in {note[:2] for note in reader(())(inside).notes}


def test_text_in_another_encoding_is_still_mended():
    for raw, whole in (("M%FCnchen%20x", "M%C3%BCnchen%20x"), ("S%E9jour%20%E0%20x", "S%C3%A9jour%20%C3%A0%20x")):
        found = Checker().check(BASE + f"a&utm_content={raw}")
        assert (codes(found), found.mended) == ({"bad_encoding"}, BASE + f"a&utm_content={whole}")


@pytest.mark.parametrize(
    ("known", "value"),
    [
        (("autumn_sale_de",), "autumn_sale_nl"),
        (("autumn_sale_de", "autumn_sale_fr"), "autumn_sale_nl"),
        (("Harbour Jazz", "harbour-jazz-b"), "harbour-jazz-c"),
        (("Harbour Jazz",), "harbour-jazz-c"),
        (("spring-2026",), "spring-2026-b"),
        (("spring-2026-b",), "spring-2026"),
        (("spring-2025",), "spring-2026"),
        (("winter coast north", "winter coast south"), "winter coast sough"),
        (("night_v1",), "night_v2"),
        (("boats-en",), "boats-nl"),
        (("en boats", "de boats"), "es boats"),
    ],
)
def test_a_difference_that_is_one_of_names_is_asked_about_and_not_mended(known, value):
    plan = plan_of(campaigns=tuple(Campaign(name) for name in known))
    url = BASE + value.replace(" ", "%20")
    found = Checker(plan).check(url)
    assert found.mended == url
    assert codes(found) & {"near_miss", "other_spelling"} == set()


def test_a_mended_value_keeps_the_form_it_had():
    plan = plan_of(
        campaigns=(Campaign("Harbour Jazz", code="harbour-jazz"), Campaign("Lantern Night", code="lantern-night"))
    )
    check = Checker(plan).check
    for wrong, right in (
        ("Harbour_Jazz", "Harbour%20Jazz"),
        ("harbuor-jazz", "harbour-jazz"),
        ("Harbuor%20Jazz", "Harbour%20Jazz"),
        ("HARBOUR%20JAZZ", "Harbour%20Jazz"),
        ("lantern_night", "lantern-night"),
        ("Lantern%20Nihgt", "Lantern%20Night"),
    ):
        assert check(BASE + wrong).mended == BASE + right, wrong


@pytest.mark.parametrize(
    ("field", "value", "meant"), [("source", "bask", "brask"), ("source", "wiick", "wick"), ("medium", "cpcx", "cpc")]
)
def test_short_words_are_suggested_and_never_mended(field, value, meant):
    plan = plan_of(allowed=(("source", ("brask", "wick")),)) if field == "source" else plan_of()
    tags = {"source": "wick", "medium": "cpc", "campaign": "a"} | {field: value}
    url = "https://x.example/?" + "&".join(f"utm_{k}={v}" for k, v in tags.items())
    found = Checker(plan).check(url)
    assert found.mended == url
    (one,) = [f for f in found.findings if f.code == "perhaps_meant"]
    assert meant in one.message


def test_values_of_the_sheet_and_of_visits_are_known():
    """A value that came often is a name; the almost same one that never came is mistyped."""
    checker = Checker(plan_of(), known={"content": ["whale-humpback"]}, arrived={"content": ["whale-tailfins"]})
    assert codes(checker.check(BASE + "a&utm_content=whale-humpback")) == set()
    assert codes(checker.check(BASE + "a&utm_content=whale-tailfins")) == set()
    assert checker.check(BASE + "a&utm_content=whale-humpbakc").mended.endswith("whale-humpback")
    assert checker.check(BASE + "a&utm_content=whale-tialfins").mended.endswith("whale-tailfins")


def test_a_name_with_another_word_in_it_is_no_misspelt_tag():
    found = Checker().check(BASE + "a&utm_team=harbour&utm_idea=x")
    assert found.mended == found.url
    for wrong, right in (
        ("utm_terrm", "utm_term"),
        ("utm_tem", "utm_term"),
        ("utm_etrm", "utm_term"),
    ):
        mended = Checker().check(BASE + f"a&{wrong}=harbour").mended
        assert mended == BASE + f"a&{right}=harbour"


@pytest.mark.parametrize("value", ["20%2530", "100%2541", "50%25-70%25", "a%252", "%2541%2542"])
def test_escapes_of_plain_letters_are_no_second_encoding(value):
    """No program encodes letters and digits (RFC 3986, 2.3), so that such a value says what it says."""
    found = Checker().check(BASE + f"a&utm_content={value}")
    assert (codes(found), found.mended) == (set(), found.url)


@pytest.mark.parametrize("value", ["a%2520b", "caf%25C3%25A9", "a%252Fb"])
def test_what_is_encoded_twice_is_mended(value):
    assert Checker().check(BASE + f"a&utm_content={value}").mended == BASE + "a&utm_content=" + value.replace(
        "%25", "%"
    )


@pytest.mark.parametrize(
    "pair",
    [
        "utm_term=%2B61%208%205550%200104",
        "utm_term=+61855500104",
        "utm_term=0049-171-5550104",
        "utm_term=0061855500104",
        "tel=61855500104",
        "mobile_phone=0412%20555%20104",
        "phone=(08)+5550-0104",
    ],
)
def test_a_telephone_number_is_one_by_its_country_or_by_the_name_of_its_parameter(pair):
    url = BASE + f"a&{pair}"
    found = Checker().check(url)
    assert "personal_data" in codes(found)
    assert found.mended == url, "what is somebody's is taken out by a person, who knows what it was there for"


@pytest.mark.parametrize(
    "pair",
    [
        "order=0412%20555%20104",
        "utm_term=08.5550.0104",
        "utm_content=0412-555-104",
        "sku=0012345678905",
        "utm_term=boat+61855500104",
        "utm_content=61855500104",
        "utm_content=hero@2x.png",
        "img=logo%403x.svg",
        "to=edda@groups",
        "v=lib@1.2.3",
        "phone=no",
    ],
)
def test_numbers_of_orders_and_articles_and_names_of_images_are_nobodys(pair):
    assert "personal_data" not in codes(Checker().check(BASE + f"a&{pair}"))


@pytest.mark.parametrize(
    "value",
    [
        "%2B2026-03-01",
        "autumn+2026-03-01",
        "2026-03-01+10:00",
        "01-03-2026",
        "0123456789",
        "1234567890",
        "06.11.2026",
        "%2B10-20-30-40",
    ],
)
def test_dates_and_numbers_are_no_phone_numbers(value):
    assert "personal_data" not in codes(Checker().check(BASE + f"a&utm_term={value}"))


@pytest.mark.parametrize(
    ("url", "mended"),
    [
        (
            "https://x.example/b?utm_source=a;utm_medium=cpc;utm_campaign=c",
            "https://x.example/b?utm_source=a&utm_medium=cpc&utm_campaign=c",
        ),
        (
            "https://x.example/b?page=2;utm_source=a&utm_medium=cpc;utm_campaign=c",
            "https://x.example/b?page=2&utm_source=a&utm_medium=cpc&utm_campaign=c",
        ),
        (
            "https://x.example/b&utm_source=a&utm_medium=cpc&utm_campaign=c#top",
            "https://x.example/b?utm_source=a&utm_medium=cpc&utm_campaign=c#top",
        ),
        (
            "https://x.example/b/utm_source=a&utm_medium=cpc&utm_campaign=c",
            "https://x.example/b/?utm_source=a&utm_medium=cpc&utm_campaign=c",
        ),
        (
            "https://x.example/b;utm_source=a;utm_medium=cpc;utm_campaign=c",
            "https://x.example/b?utm_source=a&utm_medium=cpc&utm_campaign=c",
        ),
    ],
)
def test_wrong_separators_are_mended(url, mended):
    found = Checker().check(url)
    assert (found.mended, codes(found)) == (mended, {"wrong_separator"} if "?" in url else {"no_question_mark"})


def test_a_semicolon_in_a_value_stays():
    url = BASE + "a&utm_content=red;blue&sizes=1;2"
    assert Checker().check(url).findings == ()


@pytest.mark.parametrize(
    "url",
    [
        "https://x.example:99999/",
        "https://h..example/",
        "https://1.2.3.4.5/",
        "https://a%23b.example/",
        "https://[::1]:x/",
    ],
)
def test_what_no_browser_opens_is_no_address(url):
    found = Checker().check(url + "?utm_source=a&utm_medium=cpc&utm_campaign=c")
    assert [f.code for f in found.findings] == ["not_an_address"]
    assert found.mended == found.url


def test_addresses_that_are_written_out_are_percent_encoded():
    """WHATWG URL Standard, the percent-encode sets of path, query and fragment; the finding stays."""
    built = build("https://www.lunnick.example/søndag/日?q=a b&r=%41|{x}#på toppen", [("utm_source", "x")])
    assert built.url == (
        "https://www.lunnick.example/s%C3%B8ndag/%E6%97%A5?q=a%20b&r=%41|{x}&utm_source=x#p%C3%A5%20toppen"
    )
    assert [(f.code, f.level) for f in built.findings] == [("raw_character", "warning")]
    assert build("https://www.lunnick.example/a?b=%zz", []).findings == ()


DIALECT = Dialect("Quorrin", "{=", "=}", (DialectSlot("adgroup", "group-name", (), "Whale search"),))


def resolved(landing, dialect=DIALECT, **fields):
    pattern = Pattern(
        "Quorrin", "account", fields={"source": "quorrin", "medium": "cpc", "campaign": "(:group-name:)"} | fields
    )
    return resolve("Quorrin", "", "", "", [pattern], [], dialect, landing)


def test_one_question_mark_is_proved_on_the_very_page():
    assert resolved("https://www.lunnick.example/p?a=1").one_question_mark
    assert not resolved("https://www.lunnick.example/p??a=1").one_question_mark
    assert not resolved("https://www.lunnick.example/p?a=1?b=2").one_question_mark
    assert resolved("https://www.lunnick.example/p#a?b").one_question_mark
    odd = Dialect("Quorrin", "[?", "?]", DIALECT.slots)
    assert not resolved("https://www.lunnick.example/p", odd).one_question_mark


@pytest.mark.parametrize("sign", ["#", "&", "?", "="])
def test_a_dialect_of_signs_that_part_addresses_is_refused(sign):
    for opens, closes in ((sign, "}"), ("{", sign), (f"{{{sign}", "}") if sign != "=" else ("=", "=")):
        text = f'[[dialect]]\nplatform = "Quorrin"\nopens = "{opens}"\ncloses = "{closes}"\n'
        with pytest.raises(SettingsError, match="dialect"):
            read_settings(text.encode(), "settings.toml")


def test_a_slot_in_the_path_of_a_landing_page_is_a_finding():
    assert "slot_in_path" in {f.code for f in resolved("https://www.lunnick.example/{=adgroup=}/p").findings}
    assert "slot_in_path" not in {f.code for f in resolved("https://www.lunnick.example/p?x={=adgroup=}").findings}


def test_the_check_up_of_a_pattern_leaves_its_slots_alone():
    url = "https://www.lunnick.example/boats?utm_source=ostrel&utm_medium=CPC&utm_campaign={=campaign=}&utm_content=%AD%&utm_sorce="
    checker = Checker(plan_of(slot_pairs=(("{=", "=}"),), allowed=(("medium", ("cpc",)),)))
    found = checker.check(url, pattern=True)
    assert (
        found.mended
        == "https://www.lunnick.example/boats?utm_source=ostrel&utm_medium=cpc&utm_campaign={=campaign=}&utm_content=%AD%"
    )
    assert codes(found) & {"unfilled_slot", "slot_inside", "bad_encoding", "unknown_campaign"} == set()
    assert "unfilled_slot" in codes(checker.check(url))


def run(*words, given=None):
    return CliRunner().invoke(app, ["tags", *map(str, words)], input=given)


def test_tags_check_says_that_a_campaign_has_ended(tmp_path):
    (tmp_path / "plan.toml").write_text('[[campaign]]\nname = "lantern"\nstarts = 2020-01-01\nends = 2020-03-01\n')
    done = run("check", BASE + "lantern", "--settings", tmp_path / "plan.toml")
    assert "campaign_ended" in {f["code"] for f in json.loads(done.stdout)["findings"]}


def test_tags_build_goes_on_after_a_bad_line():
    done = run(
        "build",
        "--url",
        "-",
        "--source",
        "a",
        "--medium",
        "cpc",
        "--campaign",
        "c",
        given="/one\nnothing\n\nhttps://x.example:99999/\n/two\n",
    )
    tail = "?utm_source=a&utm_medium=cpc&utm_campaign=c"
    assert (done.exit_code, done.stdout.splitlines()) == (1, ["/one" + tail, "/two" + tail])
    assert "line 2: nothing" in done.stderr
    assert "line 4: https://x.example:99999/: the port 99999" in done.stderr


@pytest.mark.parametrize("digits", [6, 5_000])
def test_a_port_of_any_length_is_answered(digits):
    """More digits than Python turns into a number once were a fault of the server."""
    (found,) = Checker().check(f"https://x.example:{'9' * digits}/?utm_source=a").findings
    assert (found.code, "the port 9999" in found.message) == ("not_an_address", True)


def test_an_address_of_many_pairs_is_read_once():
    """A hundred thousand pairs and no question mark; what is looked at again and again would not come to an end here."""
    url = "https://x.example/a" + "&a=b" * 100_000 + "&utm_source=s"
    mended = Checker(limit=10**6).check(url).mended
    assert mended == "https://x.example/a?a=b" + "&a=b" * 99_999 + "&utm_source=s"
