"""The invoice of an account and month beside its rows: to the cent, with what met no touch, and what a difference looks
like."""

from __future__ import annotations

import pytest

from web.http_files import load

SETTINGS = b"""
home_currency = "AUD"
[[platform]]
name = "Quorrin"
source = "quorrin"
medium = "cpc"
time_zone = "Australia/Adelaide"
"""
HEAD = "day,platform,account,campaign_id,campaign,ad_group,cost,clicks,click_price,currency\n"


def visits(days, campaign="Whale"):
    rows = (f"v{campaign}{d},2026-05-{d:02d}T10:00:00Z,p{d},/?utm_campaign={campaign}\n" for d in days)
    return "visits.csv", ("visit_id,occurred_at,visitor_id,url\n" + "".join(rows)).encode()


def row(day, cost, campaign="Whale", group="", cid="", currency="AUD", clicks="", price="", account="q-main"):
    return f"{day},Quorrin,{account},{cid},{campaign},{group},{cost},{clicks},{price},{currency}\n"


def spend(*rows):
    return "spend.csv", (HEAD + "".join(rows)).encode()


def bill(client, amount, month="2026-05", currency="AUD", account="q-main"):
    answer = client.put(
        f"/api/w/test/gather/invoices/{month}?platform=Quorrin&account={account}",
        json={"amount": amount, "currency": currency},
    )
    assert answer.status_code == 200, answer.text
    return answer.json()


def read(client, month="2026-05"):
    answer = client.get(f"/api/w/test/gather/invoices/{month}?platform=quorrin&account=Q-Main")
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_every_cent_of_a_month_has_its_place(client):
    rows = spend(
        row("2026-05-01", "60.00", group="A"),
        row("2026-05-01", "40.00", group="B"),
        row("2026-05-01", "120.00"),  # the campaign's own row says 20 more than its groups
        row("2026-05-02", "-5.50"),
        row("2026-05-03", "", clicks="10", price="0.35"),
        row("2026-05-05", "7.00", campaign="Nobody"),
        row("2026-05-06", "8.00", campaign="Unknown", cid="q-9"),
        row("2026-05-07", "9.00", campaign="Late"),
        row("2026-05-28", "3.00", campaign="Ghost"),
        row("2026-06-01", "99.00"),
        row("2026-05-01", "1000.00", account="q-other"),
    )
    late = ("more-visits.csv", b"visit_id,occurred_at,visitor_id,url\nl,2026-07-01T10:00:00Z,pl,/?utm_campaign=Late\n")
    load(client, [("settings.toml", SETTINGS), visits(range(1, 20)), late, rows])
    found = bill(client, "152.00")
    assert {k: found[k] for k in ("rows", "reported", "rest", "estimated", "credits", "met", "difference")} == {
        "rows": "145.00",
        "reported": "127.00",
        "rest": "20.00",
        "estimated": "3.50",
        "credits": "-5.50",
        "met": "118.00",
        "difference": "7.00",
    }
    assert [(u["reason"], u["campaign"], u["amount"]) for u in found["unmet"]] == [
        ("its touches are of other days", "Late", "9.00"),
        ("no touch carries its id or name", "Unknown", "8.00"),
        ("no touch carries this campaign", "Nobody", "7.00"),
        ("days without visits", "Ghost", "3.00"),
    ]
    days = {d["day"]: d for d in found["days"]}
    assert len(days) == 31
    assert (days["2026-05-01"]["amount"], days["2026-05-01"]["rest"], days["2026-05-01"]["rows"]) == (
        "120.00",
        "20.00",
        3,
    )
    # Of no weekday there were rows in three of the four weeks before: nothing says that any day lacks some.
    assert [d for d in days if days[d]["missing"]] == []
    # The same matched and unmatched as under the board.
    ties = client.get("/api/w/test/weigh/board?from=2026-05-01&to=2026-05-31").json()["ties"]
    assert (ties["matched"], ties["unmatched"]) == (11_800 + 100_000, 2_700)


def month(amounts, number=5):
    return [row(f"2026-{number:02d}-{d:02d}", a) for d, a in enumerate(amounts, 1)]


DAYS = [f"{10 + i}.{i:02d}" for i in range(31)]
SUM = sum(1000 + 100 * i + i for i in range(31))


def decimal(units):
    return f"{units // 100}.{units % 100:02d}"


@pytest.mark.parametrize(
    ("amount", "said"),
    [
        (decimal(SUM), None),
        (decimal(SUM - 1000 + 7777), "2026-05-02 to 2026-06-01: the account's month begins a day later"),
        (decimal(SUM * 11 // 10), "the rows and 10 % more"),
        (decimal(SUM // 2), "twice the invoice"),
        (decimal(round(SUM * 0.6667)), "the rate of AUD in EUR"),
        (decimal(SUM + 1), ""),
    ],
)
def test_a_difference_that_looks_like_something_is_named(client, amount, said):
    rates = b"day,base,quote,rate\n2026-05-04,EUR,AUD,1.5\n"
    load(
        client,
        [
            ("settings.toml", SETTINGS),
            visits([1]),
            ("rates.csv", rates),
            spend(*month(DAYS), row("2026-06-01", "77.77")),
        ],
    )
    found = bill(client, amount)
    assert (found["difference"] == "0.00") == (said is None)
    if said:
        assert any(said in line for line in found["patterns"]), found["patterns"]
    else:
        assert found["patterns"] == []


def test_a_difference_that_is_a_part_of_the_rows_or_a_day_that_is_missing_is_named(client):
    rows = [row(f"2026-05-{d:02d}", "10.00") for d in range(1, 29) if d != 25]
    load(client, [("settings.toml", SETTINGS), visits([1, 28]), spend(*rows, row("2026-05-03", "-4.00"))])
    assert "the rows without credit notes" in bill(client, "270.00")["patterns"][0]
    assert bill(client, "276.00")["patterns"][0] == (
        "No rows on 2026-05-25: going by the same weekdays before, about what is lacking"
    )


def test_a_ratio_that_stays_the_same_is_named_and_so_is_a_currency_that_is_not_the_rows(client):
    load(client, [("settings.toml", SETTINGS), visits([1]), spend(*month(["100.00"]), *month(["300.00"], 4))])
    bill(client, "426.30", "2026-04")
    found = bill(client, "142.10")
    assert any("In 2 months the invoice is 1.4210 times the rows" in line for line in found["patterns"])
    found = bill(client, "100.00", currency="NZD")
    assert found["invoice"] == ""
    assert "the amounts are the same: one of the two currencies is set wrongly" in found["patterns"][0]


def test_an_invoice_is_a_load_that_can_be_undone_and_a_file_of_them_does_the_same(client):
    load(client, [("settings.toml", SETTINGS), visits([1]), spend(*month(["100.00"]))])
    assert bill(client, "100.00")["difference"] == "0.00"
    (mine,) = [x for x in client.get("/api/w/test/gather/loads").json() if x["subject"] == "invoices"]
    client.post(f"/api/w/test/gather/loads/{mine['id']}/undo")
    assert read(client)["invoice"] == ""
    load(client, [("invoices.csv", b"platform,account,month,amount,currency\nQuorrin,,2026-05,99.00,AUD\n")])
    assert read(client)["difference"] == "-1.00"
    months = client.get("/api/w/test/gather/accounts").json()
    assert [(m["month"], m["rows"], m["invoice"], m["difference"]) for m in months] == [
        ("2026-05", "100.00", "99.00", "-1.00")
    ]


def test_an_account_that_rows_do_not_name_is_the_platforms_only_one(client):
    """Whether the rows or the invoice leave it out."""
    load(
        client,
        [("settings.toml", SETTINGS), visits([1]), spend(*(row("2026-05-01", "100.00", account="") for _ in "a"))],
    )
    assert bill(client, "100.00", account="q-main")["difference"] == "0.00"
    (only,) = client.get("/api/w/test/gather/accounts").json()
    assert (only["account"], only["rows"], only["difference"]) == ("q-main", "100.00", "0.00")


def test_of_two_accounts_an_invoice_without_one_is_neithers(client):
    rows = [row("2026-05-01", "100.00", account=a) for a in ("q-one", "q-two")]
    load(
        client,
        [
            ("settings.toml", SETTINGS),
            visits([1]),
            spend(*rows),
            ("invoices.csv", b"platform,month,amount,currency\nQuorrin,2026-05,200.00,AUD\n"),
        ],
    )
    months = {m["account"]: m for m in client.get("/api/w/test/gather/accounts").json()}
    assert [(a, months[a]["rows"], months[a]["invoice"]) for a in sorted(months)] == [
        ("", "0.00", "200.00"),
        ("q-one", "100.00", ""),
        ("q-two", "100.00", ""),
    ]


@pytest.mark.parametrize(
    ("path", "body", "said"),
    [
        ("2026-13?platform=Quorrin", {"amount": "1"}, "write it as 2026-05"),
        ("may?platform=Quorrin", {"amount": "1"}, "write it as 2026-05"),
        ("1850-01?platform=Quorrin", {"amount": "1"}, "outside"),
        ("2026-05?platform=Quorrin", {"amount": "twelve"}, "decimal"),
        ("2026-05?platform=Quorrin", {"amount": ""}, "as 1234.56"),
        ("2026-05?platform=Quorrin", {"amount": "1", "currency": "EURO"}, "ISO 4217"),
        ("2026-05?platform=Quorrin", {"amount": "1000000000000"}, "below"),
        ("2026-05?platform=%20", {"amount": "1"}, "whose invoice"),
    ],
)
def test_what_is_no_invoice_says_so(client, path, body, said):
    load(client, [("settings.toml", SETTINGS), visits([1])])
    answer = client.put(f"/api/w/test/gather/invoices/{path}", json=body)
    assert (answer.status_code, said in answer.text) == (422, True), answer.text


def test_without_rows_there_is_nothing_to_tie(client):
    assert client.get("/api/w/test/gather/accounts").json() == []
    assert client.get("/api/w/test/gather/invoices/2026-05?platform=Quorrin").status_code == 404
