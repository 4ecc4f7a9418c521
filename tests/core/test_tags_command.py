"""The command `yardstick tags`."""

from __future__ import annotations

import json

from command import run as run_any

URL = "https://www.lunnick.example/boats?page=2#top"
GOOD = "https://www.lunnick.example/boats?utm_source=quorrin&utm_medium=cpc&utm_campaign=swb-26"


def run(*words, stdin=None):
    return run_any("tags", *words, stdin=stdin)


def test_build_keeps_what_is_there_and_puts_the_fragment_last():
    done = run("build", "--url", URL, "--source", "quorrin", "--medium", "cpc", "--campaign", "Spring Whale Boats", "--content", "a&b", "--extra", "size=wide")  # fmt: skip
    assert done.returncode == 0
    assert done.stdout == (
        "https://www.lunnick.example/boats?page=2&utm_source=quorrin&utm_medium=cpc"
        "&utm_campaign=Spring%20Whale%20Boats&utm_content=a%26b&size=wide#top\n"
    )


def test_build_reports_a_name_that_is_there_already():
    done = run("build", "--url", GOOD, "--source", "ostrel", "--medium", "cpc", "--campaign", "swb-26")
    assert done.returncode == 1
    assert done.stdout.startswith(GOOD + "&utm_source=ostrel")
    said = [json.loads(line) for line in done.stderr.splitlines()]
    assert (said[0]["code"], said[0]["level"], said[0]["field"]) == ("same_name", "error", "utm_source")


def test_build_refuses_what_is_no_address_and_a_broken_extra():
    words = ["--source", "a", "--medium", "b", "--campaign", "c"]
    assert run("build", "--url", "lunnick", *words).returncode == 2
    done = run("build", "--url", URL, *words, "--extra", "size")
    assert done.returncode == 2
    assert "name=value" in done.stderr


def test_split_gives_base_parameters_and_findings():
    done = run("split", "https://www.lunnick.example/boats?a=%20b+c&utm_source=x&utm_source=y#top")
    assert done.returncode == 0
    said = json.loads(done.stdout)
    assert said["base"] == "https://www.lunnick.example/boats"
    assert said["parameters"] == [["a", " b c"], ["utm_source", "x"], ["utm_source", "y"]]
    assert "repeated_name" in {f["code"] for f in said["findings"]}


def test_check_reads_lines_and_ends_with_1_where_one_is_an_error(tmp_path):
    assert run("check", GOOD).returncode == 0
    done = run("check", "-", stdin=f"{GOOD}\n\n{GOOD.replace('utm_medium=cpc&', '')}\n")
    assert done.returncode == 1
    first, second = (json.loads(line) for line in done.stdout.splitlines())
    assert (first["findings"], first["mended"]) == ([], GOOD)
    assert second["findings"][0]["code"] == "missing_required"
    settings = tmp_path / "settings.toml"
    settings.write_text('[[campaign]]\nname = "swb-25"\nends = "2025-11-30"\n')
    done = run("check", GOOD, "--settings", str(settings))
    assert {f["code"] for f in json.loads(done.stdout)["findings"]} == {"unknown_campaign"}
    assert run("check", GOOD, "--settings", str(tmp_path / "none.toml")).returncode == 2


def test_strip_takes_the_tags_off():
    assert run("strip", GOOD + "&page=2#top").stdout == "https://www.lunnick.example/boats?page=2#top\n"
