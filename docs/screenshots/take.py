"""Takes the pictures of the main views: python docs/screenshots/take.py [ADDRESS], with ./start --fresh running."""

import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from levelmoor.demo import scenario

ADDRESS = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8080"
FOLDER = Path(__file__).parent


def sign_in(page: Page) -> None:
    page.goto(f"{ADDRESS}/sign-in")
    page.get_by_label("Email address").fill(scenario.PEOPLE[0][0])
    page.get_by_label("Password").fill(scenario.PASSWORD)
    page.locator("form.stack").get_by_role("button", name="Sign in").click()
    page.wait_for_url(f"{ADDRESS}/")


def open_evaluation(page: Page, product: str) -> None:
    page.goto(f"{ADDRESS}/")
    page.get_by_role("link", name=product).click()
    page.locator(".verdict-line").wait_for()


def turn(page: Page, words: str) -> None:
    page.locator(".turns, .ledger").get_by_role("link", name=words, exact=True).click()
    page.locator(".turns, .ledger").locator("[aria-current]", has_text=words).first.wait_for()


def keep(page: Page, name: str) -> None:
    page.wait_for_timeout(400)
    page.screenshot(path=FOLDER / f"{name}.png")


def trying(page: Page) -> None:
    """The front page, with the sample judged that lies there."""
    page.goto(f"{ADDRESS}/sign-in")
    page.get_by_role("button", name="Use our sample").click()
    page.locator("#tried .verdict-line").wait_for()
    page.evaluate("window.scrollTo(0, document.querySelector('.try-here').offsetTop - 90)")
    keep(page, "trying")


def plan_and_bench(page: Page) -> None:
    """Plan, bench and equipment."""
    open_evaluation(page, "Rollaway 2/70")
    page.goto(f"{page.url.split('?')[0]}/plan")
    keep(page, "plan")
    open_evaluation(page, "Rectangle Six")
    page.goto(f"{page.url.split('?')[0]}/bench")
    page.evaluate("document.querySelectorAll('article.check.bad')[0].scrollIntoView({ block: 'start' })")
    page.evaluate("window.scrollBy(0, -90)")
    keep(page, "bench")
    page.goto(f"{ADDRESS}/equipment")
    page.locator(".owned-list summary").first.click()
    keep(page, "equipment")


def sweep_and_compare(page: Page) -> None:
    """A comparison as skylines, and the live view of a stand-in that is swept wide."""
    open_evaluation(page, "Linkline 60/40/30")
    compare = f"{page.url.split('?')[0]}/compare"
    page.goto(f"{compare}?view=whole")
    keep(page, "compare")
    open_evaluation(page, "Rollaway 2/70")
    page.goto(f"{page.url.split('?')[0]}/live")
    page.locator("#status", has_text="Sweeping").wait_for()
    for field, value in (("low", "135"), ("high", "157"), ("points", "401")):
        page.locator(f"[name={field}]").fill(value)
    page.get_by_role("button", name="Sweep this").click()
    page.locator(".live-figure .only-wide svg[data-low='135000000.000']").wait_for()
    page.get_by_text("points from the next sweep on").wait_for()
    keep(page, "live")


def emissions(page: Page) -> None:
    """A handheld that fails: its harmonics with a filter foreseen."""
    page.goto(f"{ADDRESS}/")
    page.get_by_role("link", name="Carrick Five").click()
    page.get_by_role("link", name="Emissions").click()
    page.locator(".verdict-line").first.wait_for()
    keep(page, "emissions")


def accessory(page: Page, product: str, step: str, name: str) -> None:
    """What a tuner matched, or what a choke holds back."""
    page.goto(f"{ADDRESS}/")
    page.get_by_role("link", name=product).click()
    page.locator("#steps").wait_for()
    page.goto(f"{page.url.split('?')[0]}/{step}")
    page.locator(".wide-figure").first.wait_for()
    keep(page, name)


def adjusting(page: Page) -> None:
    """The rounds of a vertical, and what was moved in them."""
    open_evaluation(page, "Threespire 6/4/2")
    page.goto(f"{page.url.split('?')[0]}/adjust")
    page.evaluate("window.scrollTo(0, document.querySelector('.rounds-figures').offsetTop - 90)")
    keep(page, "adjust")


def main() -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=["--no-sandbox"])
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        trying(page)
        sign_in(page)
        keep(page, "evaluations")
        open_evaluation(page, "Rectangle Six")
        turn(page, "SWR at most 2:1 on 6m")
        page.evaluate("window.scrollTo(0, document.getElementById('figure').offsetTop - 330)")
        keep(page, "evaluation")
        open_evaluation(page, "Slidewhip 40/20/15")
        page.locator(".opens").first.click()
        keep(page, "claims")
        accessory(page, "Tarnhouse Auto", "tuner", "tuner")
        accessory(page, "Ringstone Choke", "through", "accessories")
        open_evaluation(page, "Fourstay 70")
        page.goto(f"{page.url.split('?')[0]}/report")
        keep(page, "publishing")
        page.goto(f"{ADDRESS}/reports")
        keep(page, "shelf")
        page.get_by_role("link", name="Rollaway 2/70", exact=True).click()
        page.wait_for_url("**/r/*")
        keep(page, "report")
        page.goto(f"{ADDRESS}/products/thornmere-aerial-works-rollaway-2-70")
        keep(page, "product")
        plan_and_bench(page)
        sweep_and_compare(page)
        emissions(page)
        adjusting(page)
        page.close()
        telephone = browser.new_page(viewport={"width": 390, "height": 844}, is_mobile=True, has_touch=True)
        sign_in(telephone)
        open_evaluation(telephone, "Rectangle Six")
        turn(telephone, "SWR at most 2:1 on 6m")
        keep(telephone, "telephone")
        open_evaluation(telephone, "Linkline 60/40/30")
        telephone.goto(f"{telephone.url.split('?')[0]}/readings")
        telephone.evaluate("document.querySelector('.support').scrollIntoView({ block: 'start' })")
        keep(telephone, "readings")
        browser.close()


if __name__ == "__main__":
    main()
