"""The plan of a choke on its page, on the run sheet, and as the span of the live view."""

import re

import pytest

from levelmoor.records import tables as t
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.store import evaluation
from levelmoor.services.plans import plan_of
from levelmoor.services.run_sheet import sheet_html

TO_SWEEP = "a choke in the series fixture"


@pytest.fixture
def choke(signed_in, maker, member):
    facts = {"name": "Two ports", "ports": 2, "points": 401, "address": "127.0.0.1:9"}
    with maker.begin() as session:
        session.add(t.Instrument(team_id=member.team_id, driver="Generic two-port analyzer", **facts))
    home = signed_in.post("/evaluations", data={"product": "Choke"}).location
    for claim in ("choke 3 kohm 3.5 to 30 MHz", "200 W voice"):
        signed_in.post(f"{home}/claims", data={"text": claim, "source": "box"})
    return home


@pytest.mark.parametrize("place", ["plan", "plan/sheet"])
def test_what_is_left_stands_on_the_page(signed_in, choke, place):
    text = signed_in.get(f"{choke}/{place}").text
    assert "2 sweeps through, 1 heat run" in text and TO_SWEEP in text and "40 W on average" in text


def test_each_of_it_has_a_box_on_paper(choke, maker, member):
    with maker() as session:
        row = evaluation(session, member.team_id, int(choke.rsplit("/", 1)[1]))
        case = evaluation_of(row)
        html = " ".join(sheet_html(plan_of(case), case).split())
    assert html.count('<span class="box"></span></td>') == 3 and "Nobody touches anything that is keyed" in html


def test_the_live_view_begins_with_the_planned_span(signed_in, choke):
    link = re.search(r'href="([^"]*)"[^>]*>Sweep it live', signed_in.get(f"{choke}/plan").text)[1]
    text = signed_in.get(link.replace("&amp;", "&").partition("#")[0]).text
    assert [re.search(rf'name="{n}" value="(\S+)"', text)[1] for n in ("low", "high", "points")] == [
        "3.43",
        "30.6",
        "201",
    ]
    assert 'data-plan="yes"' in text


@pytest.mark.parametrize("asked", ["low=x", "low=-3", "points=many", "low=30&high=3"])
def test_a_span_that_is_none_is_not_taken_from_the_address(signed_in, choke, asked):
    text = signed_in.get(f"{choke}/live?{asked}").text
    low, high = (float(re.search(rf'name="{n}" value="(\S+)"', text)[1]) for n in ("low", "high"))
    assert low < 3.5 and high > 30


def test_each_place_of_a_choke_is_a_setup_of_its_own_made_once(signed_in, choke, maker):
    for place in ("at the antenna", "at the radio", "at the antenna"):
        assert signed_in.post(f"{choke}/through/place", data={"place": place}).status_code == 200
    assert signed_in.post(f"{choke}/through/place", data={"place": "on the roof"}).status_code == 422
    with maker() as session:
        setups = session.get(t.Evaluation, int(choke.rpartition("/")[2])).setups[1:]
        made = [(s.name, s.role, s.conditions.get("accessory_at", "")) for s in setups]
    assert made == [
        ("Antenna, choke at the antenna", "comparison", "at the antenna"),
        ("Antenna, choke at the radio", "comparison", "at the radio"),
    ]


def test_the_fixture_that_comes_next_is_chosen_already(signed_in, choke):
    page = signed_in.get(f"{choke}/through").text
    options = re.findall(
        r'<option value="(\w+)"\s+selected', page.split('id="add-through"', 1)[1].split("</form>", 1)[0]
    )
    assert options == ["open"]
