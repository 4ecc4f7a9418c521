"""The account audit: what each ad would send, before the first click; and which roles truly arrive."""

from __future__ import annotations

from web.http_files import load

SETTINGS = b"""
own_hosts = ["www.lunnick.example"]
[[platform]]
name = "Quorrin"
source = "quorrin"
medium = "cpc"
[[platform]]
name = "Ostrel"
source = "ostrel"
[[dialect]]
platform = "Quorrin"
opens = "{="
closes = "=}"
slots = [{ name = "camp", means = "campaign-name", example = "Whale" }, { name = "word", means = "keyword", levels = ["group", "ad"] }]
[[pattern]]
platform = "Ostrel"
level = "account"
source = "ostrel"
medium = "paid-social"
campaign = "(:campaign-name:)"
[[dialect]]
platform = "Ostrel"
opens = "[["
closes = "]]"
slots = [{ name = "CAMPAIGN", means = "campaign-name", example = "Card" }]
"""
HEAD = "platform,account,campaign,ad_group,ad,level,pattern,address,state,spend\n"
TAGS = "utm_source=quorrin&utm_medium=cpc&utm_campaign={=camp=}"
PAGE = "https://www.lunnick.example/boats"
VISITS = "visit_id,occurred_at,visitor_id,url\nv1,2026-05-01T10:00:00Z,p,/?utm_source=quorrin&utm_campaign=W&utm_term=ferry\nv2,2026-05-02T10:00:00Z,q,/?utm_source=quorrin&utm_campaign=W\nv3,2026-05-03T10:00:00Z,r,/?utm_source=quorrin\nv4,2026-06-03T10:00:00Z,s,/?utm_source=quorrin\n"


def audit(client, *rows, more=()):
    files = [
        ("settings.toml", SETTINGS),
        ("visits.csv", VISITS.encode()),
        ("ads.csv", (HEAD + "\n".join(rows)).encode()),
        *more,
    ]
    load(client, files)
    answer = client.get("/api/w/test/gather/audit?from=2026-05-01&to=2026-05-31")
    assert answer.status_code == 200, answer.text
    return answer.json()


def codes(ad):
    return [f["code"] for f in ad["findings"]]


def test_every_ad_has_the_pattern_of_its_nearest_level(client):
    found = audit(
        client,
        f"Quorrin,q,Whale,,whole account,account,{TAGS},{PAGE},on,1.00",
        f"Quorrin,q,Whale,G,plain ad,ad,,{PAGE}?lang=en#top,on,90.00",
        f"Quorrin,q,Night,N,group rule,group,utm_source=quorrin&utm_term={{=word=}},{PAGE},on,50.00",
        f"Quorrin,q,Night,N,below the group,ad,,{PAGE},on,40.00",
        f"Quorrin,q,Bike,B,own,ad,ref=quorrin,{PAGE},on,300.00",
        f"Quorrin,q,Card,C,wrong slots,campaign,utm_source=quorrin&utm_medium=cpc&utm_campaign={{=word=}}&utm_content={{=colour=}},{PAGE},on,30.00",
        f"Quorrin,q,Shop,S,elsewhere,ad,{TAGS},https://tidegate.example/x,on,20.00",
        f"Harnock,h,Film,F,no pattern,ad,,{PAGE},on,200.00",
        f"Harnock,h,Film,F,tagged by hand,ad,,{PAGE}?utm_source=harnock&utm_medium=video&utm_campaign=Film,on,10.00",
        f"Harnock,h,Film,F,resting,ad,,{PAGE},paused,500.00",
        f"Ostrel,o,Card,F,by the plan,ad,,{PAGE},on,5.00",
    )
    ads = {ad["ad"]: ad for ad in found["ads"]}
    assert [ad["ad"] for ad in found["ads"]][:3] == ["resting", "own", "no pattern"]
    assert ads["plain ad"]["address"] == f"{PAGE}?lang=en&{TAGS}#top"
    assert (ads["plain ad"]["level"], codes(ads["plain ad"])) == ("account", [])
    assert codes(ads["group rule"]) == ["missing_required", "missing_required", "level_overrides"]
    assert "utm_campaign, utm_medium of it never arrives" in ads["group rule"]["findings"][2]["message"]
    assert ads["below the group"]["address"] == f"{PAGE}?utm_source=quorrin&utm_term={{=word=}}"
    assert codes(ads["own"]) == ["untagged", "level_overrides"]
    assert codes(ads["wrong slots"]) == ["slot_level", "unknown_slot"]
    assert codes(ads["elsewhere"]) == ["other_host"]
    assert codes(ads["no pattern"]) == ["ad_without_pattern"]
    assert codes(ads["tagged by hand"]) == []
    assert (ads["by the plan"]["level"], codes(ads["by the plan"])) == ("the plan", [])
    assert ads["by the plan"]["address"] == f"{PAGE}?utm_source=ostrel&utm_medium=paid-social&utm_campaign=[[CAMPAIGN]]"
    # What nobody sees is named, and not counted among what would arrive untagged.
    assert (found["untagged"], found["untagged_spend"], found["wrong"]) == (2, "500", 7)


def test_levels_need_no_ad_and_what_an_ad_leaves_out_comes_from_above(client):
    found = audit(
        client,
        f"Quorrin,q,Whale,,,campaign,{TAGS},{PAGE},on,",
        "Quorrin,q,Whale,G,inherits,ad,,,on,90.00",
        "Quorrin,q,Night,N,nowhere,ad,,,on,40.00",
        f"Quorrin,q,Night,N,foreign,ad,{TAGS}&utm_content=[[CAMPAIGN]]&utm_term={{word}},{PAGE},on,30.00",
        f"Quorrin,q,Night,,,ad,{TAGS},{PAGE},on,30.00",
    )
    ads = {ad["ad"]: ad for ad in found["ads"]}
    assert set(ads) == {"inherits", "nowhere", "foreign"}
    assert (ads["inherits"]["address"], codes(ads["inherits"])) == (f"{PAGE}?{TAGS}", [])
    assert "no_address" in codes(ads["nowhere"])
    assert codes(ads["foreign"]) == ["foreign_slot", "foreign_slot"]
    assert ads["foreign"]["findings"][0]["message"].startswith("[[CAMPAIGN]] is a slot of Ostrel and none of Quorrin")
    loads = client.get("/api/w/test/gather/loads").json()
    assert [load["rejected"] for load in loads if load["subject"] == "ads"] == [1]


def test_an_ad_without_address_takes_the_page_of_its_campaigns_links(client):
    cells = {"page": "https://www.lunnick.example/night", "campaign": "Night", "source": "quorrin", "medium": "cpc"}
    load(client, [("settings.toml", SETTINGS)])
    basis = client.get("/api/w/test/mark/links").json()["basis"]
    change = {"basis": basis, "changes": [{"key": "a", "cells": cells}], "what": "one"}
    kept = client.patch("/api/w/test/mark/links", json=change)
    assert kept.status_code == 200, kept.text
    found = audit(client, f"Quorrin,q,Night,N,by its links,ad,{TAGS},,on,40.00")
    assert found["ads"][0]["address"] == f"https://www.lunnick.example/night?{TAGS}"


def test_which_roles_arrive_and_what_suffers(client):
    spend = b"day,platform,campaign,keyword,cost\n2026-05-01,Quorrin,W,ferry,10.00\n2026-06-01,Quorrin,W,ferry,10.00\n"
    found = audit(client, f"Quorrin,q,W,G,a,ad,{TAGS},{PAGE},on,1.00", more=[("spend.csv", spend)])
    said = {(c["platform"], c["role"]): c for c in found["coverage"]}
    assert set(said) == {("Quorrin", "campaign"), ("Quorrin", "keyword")}
    campaign, keyword = said["Quorrin", "campaign"], said["Quorrin", "keyword"]
    assert (campaign["hits"], campaign["of"]) == (2, 3)
    assert (keyword["hits"], keyword["of"], keyword["spend"]) == (1, 3, "10.00")
    assert keyword["suffers"] == "by keyword: 2 touches stand without it, beside spend that is reported by it"


def test_without_ads_there_is_nothing_to_audit(client):
    assert client.get("/api/w/test/gather/audit").status_code == 404
    load(client, [("settings.toml", SETTINGS), ("visits.csv", VISITS.encode())])
    assert client.get("/api/w/test/gather/audit").json()["ads"] == []


def test_ads_are_grouped_by_their_worst_finding_with_its_spend(client):
    found = audit(
        client,
        f"Quorrin,q,Whale,G,good,ad,,{PAGE}?utm_source=quorrin&utm_medium=cpc&utm_campaign=W,on,70.10",
        f"Quorrin,q,Whale,G,bare one,ad,,{PAGE},on,10.05",
        f"Quorrin,q,Whale,G,bare two,ad,,{PAGE},on,0.10",
        "Quorrin,q,Whale,G,elsewhere,ad,,https://tide.example/?utm_source=quorrin&utm_medium=cpc,on,20.00",
    )
    groups = [(g["code"], g["ads"], g["spend"]) for g in found["groups"]]
    assert groups == [("missing_required", 1, "20.00"), ("ad_without_pattern", 2, "10.15"), ("", 1, "70.10")]
    assert sum(g["ads"] for g in found["groups"]) == len(found["ads"])


def test_patterns_that_override_the_account_come_with_what_stands_on_them(client):
    more = b"""
[[pattern]]
platform = "Ostrel"
level = "campaign"
name = "Whale"
campaign = "whale-fixed"
content = "x"
[[pattern]]
platform = "Ostrel"
level = "ad"
name = "nobody's"
source = "other"
"""
    spend = b"day,platform,campaign,cost\n2026-05-01,Ostrel,whale,12.30\n2026-05-02,Ostrel,Whale,0.05\n"
    visits = b"visit_id,occurred_at,visitor_id,url\nv1,2026-05-01T10:00:00Z,p,/?utm_source=ostrel&utm_campaign=whale\n"
    load(client, [("settings.toml", SETTINGS + more), ("spend.csv", spend), ("visits.csv", visits)])
    found = client.get("/api/w/test/mark/patterns/overrides?platform=ostrel").json()
    assert found[0] == {
        "level": "campaign", "name": "Whale", "kind": "", "says": {"campaign": "whale-fixed", "content": "x"},
        "account": {"campaign": "(:campaign-name:)", "content": ""}, "spend": "12.35", "touches": 1,
    }  # fmt: skip
    assert (found[1]["name"], found[1]["spend"], found[1]["touches"]) == ("nobody's", "", None)
    assert client.get("/api/w/test/mark/patterns/overrides?platform=Quorrin").json() == []
