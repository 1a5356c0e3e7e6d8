"""Out of sight of the screen: what the ear is told, held against SWR by the sound itself, and hands that do not count."""

import re

import pytest

from tests.browser.steps import begin_evaluation, steady, swept_anew
from tests.browser.test_sweep_and_compare import analyzer  # noqa: F401  the fixture

RENDER = """async ([heard]) => {
    const { notesOf, play } = await import('/static/tone.js');
    const context = new OfflineAudioContext(1, 44100, 44100);
    const { notes, next } = notesOf(heard);
    play(context, notes, 0);
    const data = (await context.startRendering()).getChannelData(0);
    let [crossings, first, last, loudest] = [0, 0, 0, 0];
    for (let i = 1; i < data.length; i += 1) {
        loudest = Math.max(loudest, Math.abs(data[i]));
        if (data[i - 1] < 0 && data[i] >= 0) {
            crossings += 1;
            first ||= i;
            last = i;
        }
    }
    return { hz: ((crossings - 1) * 44100) / (last - first), next, loudest };
}"""


@pytest.fixture
def live(page, maker, member, analyzer):  # noqa: F811
    begin_evaluation(page, maker, member, limit=2.0, windows="2m")
    page.goto(page.url.split("?")[0] + "/live")
    page.locator(".live-figure .only-wide svg").wait_for()
    page.locator("#out-of-sight summary").click()
    return page, analyzer


def sound_of(page, **heard):
    return page.evaluate(RENDER, [{"top": 3, "within": False, "kind": "swr", **heard}])


def test_the_pitch_rises_and_the_pulses_quicken_as_swr_falls(live):
    page, _ = live
    heard = [sound_of(page, swr=swr) for swr in (3.0, 2.0, 1.5, 1.2, 1.0)]
    hz, gaps = [h["hz"] for h in heard], [h["next"] for h in heard]
    assert hz == sorted(hz) and gaps == sorted(gaps, reverse=True)
    # Three octaves over |gamma| from SWR 3 to SWR 1, as the figure's height.
    expected = [220 * 8 ** (1 - (s - 1) / (s + 1) / 0.5) for s in (3.0, 2.0, 1.5, 1.2, 1.0)]
    assert hz == pytest.approx(expected, rel=0.02)
    assert all(h["loudest"] > 0.1 for h in heard)


@pytest.mark.parametrize(("kind", "hz"), [("waiting", 110), ("overload", 90), ("hand", 160)])
def test_what_is_no_reading_has_a_sound_of_its_own(live, kind, hz):
    assert sound_of(live[0], kind=kind)["hz"] == pytest.approx(hz, rel=0.6)
    assert sound_of(live[0], kind=kind)["hz"] < 215  # below every tone of a reading


def test_within_the_limit_sounds_otherwise_than_beyond(live):
    page, _ = live
    assert sound_of(page, swr=1.5, within=True) != sound_of(page, swr=1.5)


def test_a_hand_at_the_element_is_not_counted_until_it_is_steady_again(live):
    page, stand_in = live
    page.get_by_label("Hands off for").fill("5")  # long enough to be seen and pressed against on a slow machine
    page.get_by_label("Hands off for").press("Tab")
    swept_anew(page)
    stand_in.antenna.length_m *= 1.05
    page.locator("[data-out-hand]", has_text=re.compile("not counted|Steady in")).wait_for()
    page.get_by_role("button", name="Keep").click()
    page.get_by_text("A hand seems to be at the antenna").wait_for()
    steady(page)
    page.get_by_role("button", name="Keep").click()
    page.get_by_role("link", name="See what it shows").wait_for()


def test_the_sound_is_off_until_it_is_asked_for_and_keeps_the_screen_awake(live):
    page, _ = live
    assert not page.get_by_label("Tone: higher is better").is_checked()
    page.evaluate("() => { navigator.wakeLock.request = async () => ({ release: async () => {} }); }")
    page.get_by_label("Tone: higher is better").check()
    page.get_by_text("The screen stays on").wait_for()
    assert page.get_by_label("Keep the screen on").is_checked()


def test_the_figure_is_spoken_with_the_way_it_is_off(live):
    page, _ = live
    page.evaluate("() => { window.said = []; speechSynthesis.speak = (words) => window.said.push(words.text); }")
    page.get_by_label("Speak the figure").check()
    page.wait_for_function("() => window.said.length > 0")
    assert page.evaluate("window.said[0]").split(", ")[-1] in ("long", "short") or "." in page.evaluate(
        "window.said[0]"
    )


def test_a_time_strip_is_marked_kept_and_stands_in_the_report(live):
    page, stand_in = live
    page.locator("#time-strip summary").click()
    swept_anew(page)
    for azimuth, factor in ((0, 1.0), (90, 1.05)):
        stand_in.antenna.length_m = 0.98 * factor
        for _ in range(2):  # nobody marks it before the turning has shown
            swept_anew(page)
        page.get_by_label("Mark", exact=True).fill(f"turned to {azimuth}")
        page.get_by_role("button", name="Mark it").click()
        for _ in range(3):
            swept_anew(page)
        steady(page)
        swept_anew(page)
    page.get_by_label("Save for").select_option("rotation")
    page.get_by_role("button", name="Save the strip").click()
    page.locator("[data-strip-said]", has_text="Saved. Over 2 azimuths at 145").wait_for()
    page.get_by_role("link", name="See it").click()
    page.locator("#fold-strips article", has_text="it depends on the position").wait_for()
    assert page.locator("#fold-strips .strip-figures figure").count() == 2
    page.goto(page.url.split("/adjust")[0] + "/report")
    page.get_by_role("heading", name="Rotation, proximity, wind").wait_for()
