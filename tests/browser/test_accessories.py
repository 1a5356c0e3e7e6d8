"""Chokes, heat, what a radio makes of a band, and contacts, in the browser."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from levelmoor.core.rf.window_text import parse_windows
from levelmoor.core.through.choking import s21_of
from levelmoor.demo.load import raw_files
from levelmoor.formats.touchstone_out import write_s1p
from levelmoor.instruments.stand_ins.instruments import stand_ins
from levelmoor.instruments.stand_ins.server import running
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.article_state import windows_row
from levelmoor.web.live.runs import VARIABLE
from tests.browser.steps import answered, begin_evaluation, drop
from tests.conftest import sign_in
from tests.sweeps import rlc_sweep


def two_port(ohm):
    f = np.linspace(1e6, 31e6, 301)
    s = s21_of(np.full(f.size, ohm, dtype=complex))
    rows = [f"{x / 1e6} 0 0 {v.real:.8f} {v.imag:.8f} {v.real:.8f} {v.imag:.8f} 0 0" for x, v in zip(f, s, strict=True)]
    return "\n".join(["# MHz S RI R 50", *rows, ""]).encode()


@pytest.fixture
def choke(page, maker, member):
    """A signed-in member with a choke that is said to have 5 kohm, and to stand 100 W."""
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), "Ring choke")
        windows = windows_row(parse_windows("3.5 to 30 MHz", 1))
        row.claims.append(t.Claim(quantity="choking", limit=5000.0, windows=windows, source="box"))
        row.claims.append(t.Claim(quantity="power", limit=100.0, windows=[], mode="carrier", source="box"))
        session.flush()
        case = row.id
    sign_in(page, member, f"/e/{case}/through")
    return case


def take(page, label, name, data, button="Add"):
    page.locator("input[type=file]").and_(page.get_by_label(label)).set_input_files(
        {"name": name, "mimeType": "text/plain", "buffer": data}
    )
    page.get_by_role("button", name=button).click()


def test_a_choke_is_swept_its_fixture_taken_off_and_the_claim_decided(page, choke):
    for name, ohm, how in (("choke.s2p", 6200, "series"), ("empty.s2p", -0.7e6j, "open")):
        page.get_by_label("Fixture").select_option(how)
        take(page, "Port-to-port sweep", name, two_port(ohm))
        page.get_by_label(f"Name of the sweep {name[:-4]}").wait_for()
    page.get_by_text("stray of the empty fixture was subtracted").wait_for()
    page.goto(f"/e/{choke}")
    assert "Pass" in page.locator("#claims").inner_text()


def test_a_choke_is_swept_live_from_port_to_port_and_kept(page, choke, maker, member, monkeypatch):
    with running(stand_ins()[3]) as server:
        monkeypatch.setenv(VARIABLE, server.address)
        facts = {"name": "Stand-in", "points": 401, "address": server.address, "driver": "Generic two-port analyzer"}
        with maker.begin() as session:
            session.add(t.Instrument(team_id=member.team_id, **facts))
        page.reload()
        page.get_by_role("link", name="Sweep it live with Stand-in").click()
        page.locator(".live-status", has_text="Sweeping").wait_for()
        page.get_by_label("Fixture").select_option("series")
        page.get_by_role("button", name="Draw it live").click()
        figure = page.locator(".live-figure .only-wide svg")
        expect(figure).to_have_accessible_name(re.compile("Choking impedance: .* Ω"))
        expect(page.locator("[data-n=stray]")).to_have_text("the empty fixture was not swept; 0.3 pF assumed")
        page.get_by_role("button", name="Mark").click()
        expect(page.locator(".live-figure .only-wide .ghost")).to_have_count(1)
        for choke_in, how in ((1.0, "series"), (0.0, "open")):
            server.stand_in.inside = choke_in
            page.get_by_label("Fixture").select_option(how)
            page.get_by_role("button", name="Sweep and keep").click()
            page.get_by_text(re.compile(rf"Saved as live-.*-{how}")).wait_for()
        server.stand_in.inside = 1.0
        page.get_by_label("Fixture").select_option("series")
        expect(page.locator("[data-n=stray]")).to_have_text("the stray of the empty fixture was subtracted")
        page.get_by_role("button", name="Draw it live").click()  # again: the reflection
        expect(figure).to_have_accessible_name("SWR of the live sweep")
        page.get_by_role("button", name="Sweep and keep").click()
        page.get_by_role("link", name="See what it shows").click()
        page.get_by_role("heading", name="Accessories").wait_for()
        assert page.get_by_text("stray of the empty fixture was subtracted").count() == 2


def test_a_file_that_is_none_is_refused_where_it_was_chosen(page, choke):
    take(page, "Port-to-port sweep", "one.s1p", b"# MHz S RI R 50\n14 0.1 0\n15 0.1 0\n")
    page.get_by_text("a one-port file").wait_for()


def test_a_loggers_file_foresees_the_hour_and_decides_power_handling(page, choke):
    page.locator("#fold-heat summary").first.click()
    form = page.locator("#fold-heat form")
    form.get_by_label("Power, W").fill("100")
    form.get_by_label("Mode").fill("carrier")
    form.get_by_label("Maximum temperature").fill("90")
    take(form, "or a logger's file", "log.csv", raw_files()["ringstone-heat.csv"], "Save")
    page.locator("#fold-heat article", has_text="after an hour").wait_for()
    page.goto(f"/e/{choke}")
    assert "Pass" in page.locator("#claims").inner_text()


def test_of_several_probes_one_is_asked_for_and_stands_in_the_note(page, choke):
    page.locator("#fold-heat summary").first.click()
    form = page.locator("#fold-heat form")
    form.get_by_label("Power, W").fill("100")
    probes = b"Time s,Probe 1 C,Probe 2 C\n0,20,20\n60,24,21\n120,27,22\n180,29,22\n240,30,23\n"
    take(form, "or a logger's file", "probes.csv", probes, "Save")
    form.get_by_text("probes.csv: line 1, column 3: 2 temperatures: Probe 1 C, Probe 2 C").wait_for()
    assert form.get_by_label("Power, W").input_value() == "100"
    form.get_by_label("Measured at").fill("Probe 1")
    take(form, "or a logger's file", "probes.csv", probes, "Save")
    page.locator("#fold-heat article", has_text="probes.csv; by Probe 1 C").wait_for()


def test_noise_with_and_without_is_told_by_its_ranks(page, choke, maker):
    with maker.begin() as session:
        session.add(t.Setup(evaluation_id=choke, name="With it", conditions={"accessory": "choke"}))
    page.reload()
    page.locator("#fold-levels summary").first.click()
    for n, (setup, values) in enumerate(((0, "S7 S7 S6.5 S7 S7"), (1, "S5 S5 S5.5 S5 S5"))):
        if setup:
            with answered(page, "**/cell/hand/**"):
                page.get_by_label("Setup on the bench").select_option(index=setup)
        form = page.locator("#fold-levels form")
        form.get_by_label("What").select_option("noise")
        form.get_by_label("MHz").fill("7.1")
        form.get_by_label("Readings, one after another").fill(values)
        form.get_by_role("button", name="Save").click()
        page.locator("#fold-levels tbody tr").nth(n).wait_for()
    page.get_by_text("12.0 dB less, a real change").wait_for()


def test_contacts_come_from_adif_once_and_go_out_again(page, choke):
    page.goto(f"/e/{choke}/air")
    data = raw_files()["linkline-contacts.adi"]
    take(page, "Contacts as ADIF", "log.adi", data, "Add them")
    page.get_by_role("region", name="Contacts and spots").locator("tbody tr").nth(7).wait_for()
    take(page, "Contacts as ADIF", "log.adi", data, "Add them")
    page.get_by_role("alert").filter(has_text="All of it was added before").wait_for()
    assert page.get_by_role("region", name="Contacts and spots").locator("tbody tr").count() == 8
    assert "km" in page.get_by_role("region", name="Contacts and spots").inner_text()
    with page.expect_download() as caught:
        page.get_by_role("link", name="ADIF").click()
    assert caught.value.path().read_text().count("<EOR>") == 8


def test_a_contact_with_a_wrong_locator_keeps_what_was_typed(page, choke):
    page.goto(f"/e/{choke}/air")
    page.get_by_label("MHz").fill("7.09")
    page.get_by_label("Their locator").fill("ZZ99")
    page.get_by_role("button", name="Save the contact").click()
    page.get_by_text("is not a locator").wait_for()
    assert page.get_by_label("MHz").input_value() == "7.09"


def test_this_radio_stands_beside_the_profiles(page, maker, member):
    with maker.begin() as session:
        facts = {"power_w": {"frequency_hz": [1e6], "value": [100.0]}, "ranges": [[14e6, 14.35e6]], "tuner_swr": 3.0}
        session.add(t.Owned(team_id=member.team_id, kind="radio", name="Hill set", facts=facts))
    begin_evaluation(page, maker, member, calibrated=True)
    drop(page, "wire.s1p", write_s1p(rlc_sweep(13.9e6, 14.5e6, 301), ""))
    page.locator("#fold-profiles summary").click()
    table = page.get_by_role("region", name="Usability by every profile")
    table.wait_for()
    heads = table.locator("thead th").all_inner_texts()
    assert "This radio: Hill set" in heads
    assert {"Strict 1.5:1", "Radio-safe 2:1", "Internal tuner 3:1"} <= set(heads)
    assert "power" in table.locator("tbody tr").first.inner_text()


def test_a_band_of_our_own_is_understood_in_a_claim(page, maker, member):
    sign_in(page, member, "/team")
    page.get_by_label("Your own bands and channels").fill("Fell relay; 35; 35.2\nChannel 3; 35.125")
    page.get_by_role("button", name="Save settings").click()
    page.get_by_text("New evaluations start with these").wait_for()
    with maker.begin() as session:
        case = store.open_evaluation(session, session.get(t.Team, member.team_id), "Whip").id
    page.goto(f"/e/{case}")
    page.get_by_label("New claim", exact=True).fill("SWR < 1.5 fell relay")
    page.get_by_role("button", name="Add claim", exact=True).click()
    page.locator("#claims").get_by_text("Fell relay").first.wait_for()
