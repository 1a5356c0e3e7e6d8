"""A reviewer with twelve files who publishes tonight, and one who uses the keyboard alone."""

import pytest
from playwright.sync_api import expect

from levelmoor.records import tables as t
from tests.browser.steps import answered, begin_evaluation, judged_by, verdict_line
from tests.browser.test_main_path import touchstone
from tests.conftest import sign_in

SPAN = (13e6, 16e6)


@pytest.fixture
def calibrated(maker, member):
    """A calibration of the team's first analyzer on record, over what the files span."""

    def record():
        with maker.begin() as session:
            instrument = session.query(t.Instrument).filter_by(team_id=member.team_id).first()
            session.add(
                t.Calibration(
                    team_id=member.team_id, instrument_id=instrument.id, low_hz=SPAN[0], high_hz=SPAN[1], points=401,
                    done_at="2026-05-31T10:00",
                )
            )  # fmt: skip

    return record


class Hand:
    """Counts clicks, and keystrokes beside names and claims."""

    def __init__(self, page):
        self.page, self.acts = page, 0

    def click(self, where):
        self.acts += 1
        where.click()

    def choose(self, where, label):
        self.acts += 2
        where.select_option(label=label)

    def write(self, where, text):
        """A name or a claim; the way there and Enter are counted."""
        self.acts += 2
        where.fill(text)
        where.press("Enter")


def test_twelve_files_are_published_in_sixty_acts_at_most(page, maker, member, calibrated):
    begin_evaluation(page, maker, member)
    calibrated()
    page.reload()
    hand = Hand(page)
    for claim in ("SWR < 1.5 20m", "SWR < 2 20m", "SWR < 3 20m", "SWR < 2.5 14.1 to 14.2", "SWR < 2.2 20m"):
        with page.expect_response("**/claims"):
            hand.write(page.get_by_label("New claim", exact=True), claim)
        page.locator(".claim-line").first.wait_for()
    hand.click(page.get_by_role("button", name="Add a sample"))
    page.get_by_label("Name of the sample").nth(1).wait_for()
    files = [
        {
            "name": f"yard-{n}.s1p",
            "mimeType": "text/plain",
            "buffer": touchstone().replace("my own", f"my {n}.").encode(),
        }
        for n in range(12)
    ]
    hand.acts += 2  # choosing them all, or letting them go over the page
    with page.expect_response("**/sweeps"):
        page.set_input_files("#files", files)
    page.get_by_text("12 files added.", exact=True).wait_for()
    with maker.begin() as session:  # as the files' own times would say
        session.query(t.Sweep).filter(t.Sweep.file_name.like("yard-%")).update({"taken_on": "2026-05-31T11:00"})
    page.reload()
    hand.click(page.get_by_role("button", name="Give each of 12 sweeps the calibration that spans it"))
    page.locator("#said", has_text="12 sweeps given the calibration that spans them").wait_for()
    hand.click(page.get_by_role("link", name="Assign several sweeps at once"))
    for n in range(6):
        hand.click(page.get_by_label(f"yard-{n}", exact=True))
    hand.choose(page.get_by_label("Sample", exact=True), "Sample 1")
    hand.click(page.get_by_role("button", name="Apply to the selected"))
    page.get_by_text("6 sweeps changed").wait_for()
    hand.click(page.get_by_role("link", name="Back to the evaluation"))
    hand.click(page.locator("#judged-by > summary"))
    judged_by(page, "Evidence needs").select_option("stated")
    hand.acts += 2
    verdict_line(page, "Pass")
    hand.click(page.locator("#steps").get_by_role("link", name="Report"))
    hand.click(page.get_by_role("button", name="Publish"))
    page.wait_for_url("**/r/*")
    assert page.locator(".matrix .verdict").count() == 10
    assert hand.acts <= 60, hand.acts


MOST_STOPS = 120
"""With some thirty keys beside them a report takes no more than 150 strokes."""


class Keys:
    """Somebody without a mouse: goes by Tab, and counts the stops."""

    def __init__(self, page):
        self.page, self.stops = page, 0

    def to(self, where, most=60, key="Tab"):
        for _ in range(most):
            if where.evaluate("one => one === document.activeElement || one.contains(document.activeElement)"):
                return
            self.page.keyboard.press(key)
            self.stops += 1
        raise AssertionError(f"{most} stops and not there: {where}")

    def press(self, where, key="Enter", most=60):
        self.to(where, most)
        self.page.keyboard.press(key)

    def write(self, where, text, most=60):
        self.to(where, most)
        self.page.keyboard.type(text)


def test_keyboard_alone_goes_from_sign_in_to_a_published_report(page, member, tmp_path):
    file = tmp_path / "yard.s1p"
    file.write_text(touchstone())
    keys = Keys(page)
    page.on("filechooser", lambda chooser: chooser.set_files(str(file)))
    page.goto("/sign-in")
    form = page.locator("form.stack")
    keys.write(form.get_by_label("Email address"), member.email)
    keys.write(form.get_by_label("Password"), "a long enough one")
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Evaluations").wait_for()
    page.keyboard.press("n")
    page.keyboard.type("Yard dipole")
    page.keyboard.press("Enter")
    page.locator("#quick-text").wait_for()
    page.wait_for_load_state()  # the keys are there once the scripts are
    page.keyboard.press("n")
    page.keyboard.type("SWR < 1.5 20m")
    with answered(page, "**/claims"):
        page.keyboard.press("Enter")
    page.locator(".claim-line").wait_for()
    assert page.evaluate("document.activeElement.id") == "quick-text", "the focus stays where the next claim is typed"
    page.keyboard.press("Escape")
    page.keyboard.press("f")
    keys.press(page.get_by_role("button", name="Yes, at the plane"))
    verdict_line(page, "Pass")
    assert page.evaluate("document.activeElement !== document.body"), (
        "the focus moves on, it does not fall off the page"
    )
    keys.to(page.locator("#steps"), key="Shift+Tab")
    for key in ("End", "ArrowUp", "Enter"):  # More comes last, and the report before it
        page.keyboard.press(key)
    page.wait_for_url("**/report")
    keys.press(page.get_by_role("button", name="Publish"))
    page.wait_for_url("**/r/*")
    assert keys.stops <= MOST_STOPS, keys.stops


def test_stops_of_a_full_page_are_few_and_every_part_is_skipped_to(page, demo):
    sign_in(page, demo, demo.cases["Linkline 60/40/30"])
    parts = page.evaluate("""() => ["head", "steps", "claims", "figure", "numbers", "case", "slip"].map((id) => {
      const reached = "a[href], button, input:not([type=hidden]), select, textarea, summary, [tabindex='0']";
      const all = [...document.getElementById(id).querySelectorAll(reached)];
      return all.filter((one) => !one.disabled && one.checkVisibility()).length;
    })""")
    assert max(parts) <= 60
    page.goto(page.url.split("?")[0])
    page.keyboard.press("Tab")
    skips = page.locator(".skips a")
    assert [s.get_attribute("href") for s in skips.all()] == ["#claims", "#figure", "#case", "#slip"]
    expect(page.locator(":focus")).to_have_text("Skip to the content")
    names = page.evaluate("""() => [...document.querySelectorAll(".cell, .opens, [aria-label]:is(button, input)")]
      .map((one) => one.getAttribute("aria-label"))""")
    assert len(names) == len(set(names)), sorted({n for n in names if names.count(n) > 1})
