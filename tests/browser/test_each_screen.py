"""Every screen as the eye and the hand meet it, on a laptop and on a telephone: each is opened once for all its tests."""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe

from tests.conftest import sign_in

LEVELS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]


BROKEN = """async (options) => (await axe.run(document, options)).violations.map(
  (rule) => [rule.id, rule.nodes.slice(0, 3).map((node) => node.target)])"""


# Text over a ::before or ::after is judged too, and the styles of all of them, most of what axe takes, are not asked for.
PLAIN_CONTRAST = "axe.configure({checks: [{id: 'color-contrast', options: {ignorePseudo: true}}]})"


def violations(page, *rules):
    """What breaks the rules of WCAG 2.2 at level AA, or those that are named alone."""
    only = {"type": "rule", "values": list(rules)} if rules else LEVELS
    if page.evaluate("!window.axe"):
        page.evaluate(Axe().axe_script)
        page.evaluate(PLAIN_CONTRAST)
    return page.evaluate(BROKEN, {"runOnly": only, "resultTypes": ["violations"]})


PLACES = (
    "/",
    "/help",
    "/reports",
    "published",
    "/products/thornmere-aerial-works-rollaway-2-70",
    "/teams/1",
    "/api/v1/",
    "published/answer",
    "/equipment",
    "/equipment/live",
    "/team",
    "/team/rules",
    "/team/record",
    "/team/outbox",
    "/account",
)
STEPS = (
    *(
        "",
        "/plan",
        "/plan/sheet",
        "/bench",
        "/emissions",
        "/readings",
        "/live",
        "/compare",
        "/adjust",
        "/card",
        "/tuner",
        "/trials",
        "/through",
        "/air",
        "/tuner/card",
        "/report",
    ),
    *("/history", "/sweeps/several"),
)
SHOWN_BY = {"case/emissions": "Carrick Five", "case/adjust": "Threespire 6/4/2", "case/card": "Slidewhip 40/20/15"}
SHOWN_BY |= {"case/through": "Ringstone Choke", "case/air": "Linkline 60/40/30"}
SHOWN_BY |= {"case/tuner": "Beckstone Pi", "case/trials": "Tarnhouse Auto", "case/tuner/card": "Beckstone Pi"}
SCREENS = (*PLACES, *(f"case{step}" for step in STEPS))


def address_of(screen, demo):
    """Where a screen of the demo is; `case` is the fullest evaluation for its step."""
    case = demo.cases[SHOWN_BY.get(screen, "Rollaway 2/70")]
    return screen.replace("published", demo.report).replace("case", case)


ON_A_TELEPHONE = ("color-contrast", "target-size", "button-name", "link-name", "label", "scrollable-region-focusable")
"""What another width can change."""


def look(page, name):
    page.evaluate("(name) => (document.documentElement.dataset.look = name)", name)


@pytest.fixture(scope="module")
def laptop(browsers, live):
    context = browsers().new_context(viewport={"width": 1280, "height": 800}, base_url=live)
    yield context.new_page()
    context.close()


@pytest.fixture(scope="module")
def telephone(browsers, live):
    size = {"width": 390, "height": 844}
    context = browsers().new_context(viewport=size, base_url=live, is_mobile=True, has_touch=True)
    yield context.new_page()  # any font but our own is wider
    context.close()


@pytest.fixture(scope="module", params=SCREENS)
def screen(request):
    return request.param


@pytest.fixture(scope="module")
def wide(laptop, demo, screen):
    """A screen with its first lines open."""
    sign_in(laptop, demo, address_of(screen, demo))
    laptop.evaluate("document.querySelector('.opens')?.click()")
    laptop.evaluate(
        "[...document.querySelectorAll('details.fold, details.add')].slice(0, 9).forEach((one) => (one.open = true))"
    )
    return laptop


@pytest.fixture(scope="module")
def narrow(telephone, demo, screen):
    sign_in(telephone, demo, address_of(screen, demo))
    return telephone


def test_accessible(wide):
    look(wide, "day")
    assert violations(wide) == []


def test_shows_people_no_object_of_the_program(wide):
    assert not re.search(r"&lt;\w+ [^<]* at 0x[0-9a-f]+", wide.content())


def test_contrast_holds_at_night(wide):
    look(wide, "night")  # what a look changes is its colours
    assert violations(wide, "color-contrast") == []


def test_accessible_on_a_telephone_in_the_sun(narrow):
    look(narrow, "sun")
    assert violations(narrow, *ON_A_TELEPHONE) == []


def test_telephone_needs_no_sideways_scrolling(narrow):
    assert narrow.evaluate("document.documentElement.scrollWidth") <= 390


SMALL = """() => [...document.querySelectorAll("a[href], button, input, select, summary, textarea")]
  .filter((one) => one.checkVisibility() && !["file", "checkbox", "radio", "hidden"].includes(one.type))
  .filter((one) => !one.closest("p, .quiet, .talked, .mark-of") && !one.matches(".skip"))
  .map((one) => [one, one.getBoundingClientRect()])
  .filter(([, box]) => box.width && box.height < 43.5 && box.top >= 0)
  .map(([one]) => (one.getAttribute("aria-label") ?? one.innerText).slice(0, 40))"""
HIT_OUTDOORS = ("/", "case", "case/report", "case/plan", "case/bench", "case/readings", "/equipment")


@pytest.mark.parametrize("screen", HIT_OUTDOORS, indirect=True, scope="module")
def test_on_a_telephone_a_cold_hand_hits_what_it_means(narrow):
    narrow.wait_for_timeout(200)
    assert narrow.evaluate(SMALL) == []


DRAWN = ("published", "/team/rules", "case", "case/emissions", "case/bench", "case/report",
         "case/compare", "case/adjust", "case/tuner", "case/through")  # fmt: skip
FIGURE_TEXT = """() => [...document.querySelectorAll("svg.lm-fig:not(.tiny) text")].filter((one) => one.checkVisibility())
  .map((one) => [one.getBoundingClientRect(), one]).filter(([box]) => box.width)
  .map(([, one]) => parseFloat(getComputedStyle(one).fontSize) * one.getScreenCTM().a)"""


@pytest.mark.parametrize("screen", DRAWN, indirect=True, scope="module")
def test_text_in_figures_is_never_smaller_than_12_px_on_a_telephone(narrow):
    assert min(narrow.evaluate(FIGURE_TEXT)) >= 11.9
