"""Every step by keyboard, by touch and by ear: stops, strokes, focus, names, sizes, what is announced."""

import pytest
from playwright.sync_api import expect

from tests.browser.steps import begin_evaluation, drop, file_dialog
from tests.browser.test_main_path import touchstone
from tests.conftest import sign_in

PAGES = {
    "Linkline 60/40/30": ("", "/compare", "/bench", "/plan", "/readings", "/live"),
    "Carrick Five": ("", "/emissions"),
    "Tarnhouse Auto": ("/tuner", "/tuner/trials"),
    "Threespire 6/4/2": ("/adjust",),
    "Ringstone Choke": ("/through",),
    "Rollaway 2/70": ("", "/report"),
}
OTHERS = ("/", "/equipment", "/team", "/help", "/reports", "/sign-in")
MOST_STOPS = 60
LOOK = """() => {
  const seen = (e) => e.checkVisibility({ visibilityProperty: true }) && e.getBoundingClientRect().width > 0;
  const name = (e) => (e.getAttribute("aria-label") || e.labels?.[0]?.innerText || e.innerText || e.title || e.value || "").trim().replace(/\\s+/g, " ");
  const every = [...document.querySelectorAll("a[href], button, input:not([type=hidden]), select, textarea, summary, [tabindex]")].filter((e) => seen(e) && !e.disabled);
  const buttons = every.filter((e) => e.matches("button, input, select, textarea")).map(name);
  const ids = [...document.querySelectorAll("[id]")].map((e) => e.id);
  const twice = (all) => [...new Set(all.filter((one, n) => all.indexOf(one) !== n))];
  const size = (e) => { const svg = e.closest("svg"); const box = svg?.viewBox.baseVal.width; return parseFloat(getComputedStyle(e).fontSize) * (box ? svg.getBoundingClientRect().width / box : 1); };
  const texts = [...document.querySelectorAll("svg text, main *")].filter((e) => seen(e) && (e.matches("svg text") || [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim())));
  const touched = every.filter((e) => e.tabIndex >= 0 && e.matches("button, select, input, summary, a.button, a.chip") && !e.matches("[type=checkbox], [type=radio], [type=file]"));
  return {
    stops: every.filter((e) => e.tabIndex >= 0).length, ids: twice(ids), names: twice(buttons), odd: buttons.filter((n) => !n || /function|undefined|\\[object/.test(n)),
    small: texts.filter((e) => size(e) < 11.95).map((e) => e.textContent.trim().slice(0, 30)),
    narrow: touched.map((e) => [e.getBoundingClientRect(), name(e)]).filter(([r]) => r.height < 43.5 || r.width < 43.5).map(([, n]) => n),
  };
}"""
"""Text has at least 12 px, what is touched 44."""


SIZES = ({"width": 1280, "height": 800}, {"width": 390, "height": 844})


def test_each_page_is_in_reach_by_keyboard_and_by_touch(page, demo):
    sign_in(page, demo, "/")
    wrong = []
    for address in [*(demo.cases[case] + path for case, paths in PAGES.items() for path in paths), *OTHERS]:
        page.set_viewport_size(SIZES[0])
        page.goto(address)
        page.locator("[data-roved]").first.wait_for(state="attached")  # the scripts are there
        for size in SIZES:
            page.set_viewport_size(size)
            found = page.evaluate(LOOK)
            touch = ("narrow",) if size is SIZES[1] else ()
            problems = {key: found[key] for key in ("ids", "odd", "small", *touch) if found[key]}
            if found["stops"] > MOST_STOPS:
                problems["stops"] = found["stops"]
            repeated = [n for n in found["names"] if n not in ("MHz", "Power, W", "Undo")]
            if repeated:
                problems["names"] = repeated
            if problems:
                wrong.append((address, size["width"], problems))
    assert wrong == []


@pytest.mark.parametrize("key", ["]", "1", "9", "0", "Escape", "f"])
def test_a_key_never_lets_the_focus_fall(page, demo, key):
    sign_in(page, demo, demo.cases["Rollaway 2/70"] + ("?claim=use" if key.isdigit() else ""))
    page.locator("[data-roved]").first.wait_for(state="attached")  # the scripts are there
    if key == "Escape":
        page.get_by_label("New claim", exact=True).focus()
    if key == "f":
        with file_dialog(page):
            page.keyboard.press(key)
    else:
        page.keyboard.press(key)
    page.wait_for_load_state("networkidle")
    expect(page.locator("body")).not_to_be_focused()


def test_a_table_is_one_stop_until_something_is_typed_in_it(page, maker, member):
    begin_evaluation(page, maker, member)
    name = page.get_by_label("Product", exact=True)
    name.focus()
    page.keyboard.press("Tab")
    assert not page.evaluate("document.activeElement.closest('table.case caption')?.textContent === 'Product'")
    name.focus()
    page.keyboard.press("ArrowDown")
    expect(page.get_by_label("Kind of product")).to_be_focused()
    name.focus()
    page.keyboard.type("x")
    page.keyboard.press("Tab")
    expect(page.get_by_label("Maker", exact=True)).to_be_focused()


def test_a_dropped_file_is_announced_once(page, maker, member):
    begin_evaluation(page, maker, member, limit=1.5, calibrated=True)
    page.evaluate(
        """() => {
          window.announced = [];
          for (const one of document.querySelectorAll("[aria-live], [role=status]")) new MutationObserver(() => {
            const words = one.textContent.trim();
            if (words) window.announced.push(words);
          }).observe(one, { childList: true, characterData: true, subtree: true });
        }"""
    )
    drop(page, "yard.s1p", touchstone())
    expect(page.locator(".verdict-line")).to_contain_text("Pass")
    page.wait_for_load_state("networkidle")
    assert page.evaluate("window.announced") == ["yard.s1p added. SWR at most 1.5:1 on 20m: Pass."]
