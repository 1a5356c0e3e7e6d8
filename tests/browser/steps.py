"""Steps that several browser tests take."""

from contextlib import contextmanager

from playwright.sync_api import expect

from levelmoor.core.rf.window_text import parse_windows
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.article_state import windows_row
from levelmoor.services.list_card import refresh_card
from tests.conftest import PASSWORD, sign_in

ANALYZER_TEXT = "! my own sweep\r\n# MHz S RI R 50\r\n"


def sign_in_at(page, address, email, password=PASSWORD):
    page.goto(address)
    page.get_by_label("Email address").fill(email)
    page.get_by_label("Password").fill(password)
    page.locator("form.stack").get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Evaluations").wait_for()


def begin_evaluation(page, maker, member, product="Yard dipole", limit=None, windows="20m", calibrated=False):
    """An evaluation of one's own, with a claim where a limit is given, as the page and its forms would make it."""
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), product)
        if limit:
            stands = windows_row(parse_windows(windows, row.region))
            row.claims.append(t.Claim(quantity="swr", limit=limit, windows=stands, source="box"))
        row.bench_calibration = "at_plane" if calibrated else "unstated"
        refresh_card(row)
        address = f"/e/{row.id}"
    sign_in(page, member, address)
    return page


def open_evaluation(page, product="Yard dipole"):
    if page.locator("details.opening").get_attribute("open") is None:
        page.locator("details.opening summary").click()
    page.get_by_label("Product", exact=True).fill(product)
    page.get_by_role("button", name="Open an evaluation").click()
    page.get_by_text("Your first verdict").wait_for()


def go_to(page, step):
    """Follow a step of the work, from the rail or from what is one tap away."""
    rail = page.get_by_role("navigation", name="Order of work")
    link = rail.get_by_role("link", name=step).first
    rail.locator("strong").first.wait_for()
    if not link.is_visible():
        rail.locator(".more summary").click()
    link.click()


def write_claim(page, limit="1.5", windows="20m", source="box"):
    page.get_by_label("New claim", exact=True).fill(f"SWR < {limit} {windows}")
    page.get_by_label("Source of the new claim").fill(source)
    page.get_by_role("button", name="Add claim", exact=True).click()
    page.locator(".ledger .opens").first.wait_for()


def cell(page, label, n=0):
    """A cell of a claim, by what its label begins with; the line of the claim is opened first."""
    opens = page.locator(".ledger .opens").nth(n)
    if opens.get_attribute("aria-expanded") == "false":
        opens.click()
    found = page.locator("tr.opened").nth(n).locator(f'[aria-label^="{label} of"]')
    found.wait_for()
    return found


def drop(page, name, content):
    """Let a file go over the page, as a hand with a mouse does."""
    transfer = page.evaluate_handle(
        "([name, content]) => { const t = new DataTransfer(); t.items.add(new File([content], name)); return t; }",
        [name, content],
    )
    page.dispatch_event("body", "dragover", {"dataTransfer": transfer})
    page.dispatch_event("body", "drop", {"dataTransfer": transfer})


@contextmanager
def file_dialog(page):
    """The dialog that a key or a click inside opens. Keys reach the page by another way than what catches the dialog, so
    that has to be there first."""
    with page.expect_file_chooser() as dialog:
        page.evaluate("0")
        yield dialog


def verdict_line(page, word=None):
    """The large verdict over the figure, waited for when a word is given."""
    line = page.locator(".verdict-line", has_text=word) if word else page.locator(".verdict-line")
    if word:
        line.wait_for()
    return line


def judged_by(page, label):
    """A cell of what claims are judged by, unfolded."""
    field = page.get_by_label(label)
    field.wait_for(state="attached")
    page.evaluate("document.getElementById('judged-by')?.setAttribute('open', '')")
    return field


def piece(page, name):
    """Open the line of a piece that the team owns."""
    line = page.locator(".owned-list summary", has_text=name).first
    if line.evaluate("one => !one.parentElement.open"):
        line.click()


def unfold(page, title):
    """Open what the title folds away. It is waited for first: what is not there yet is not closed."""
    title = page.locator("summary", has_text=title)
    if title.evaluate("one => !one.parentElement.open"):
        title.click()


def hold_back(page, pattern):
    """Hold a request to what the pattern names; what is returned waits for it and lets it go on."""
    held = []

    def hold(route):
        held.append(route)

    def go_on():
        for _ in range(1500):
            if held:
                return held.pop().continue_()
            page.wait_for_timeout(20)
        raise AssertionError(f"nothing was asked of {pattern}")

    page.route(pattern, hold)
    return go_on


@contextmanager
def answered(page, pattern):
    """What is done inside is answered by what the pattern names, and the page shows the answer."""
    with page.expect_response(pattern):
        yield
    page.locator(".htmx-request, .htmx-swapping, .htmx-settling").first.wait_for(state="detached")


def swept_anew(page):
    """Two sweeps come by: the second began after the move."""
    for _ in range(2):
        page.evaluate(
            """() => new Promise((done) => {
                 const place = document.querySelector('.live-figure .only-wide');
                 new MutationObserver((_, seen) => { seen.disconnect(); done(); }).observe(place, { childList: true });
               })"""
        )


def steady(page):
    """The live view says nothing of a hand any more."""
    expect(page.locator("[data-out-hand]")).to_be_empty()


def carried(page):
    """Wait until the page that is open would open without a signal."""
    page.evaluate("navigator.serviceWorker.ready")
    page.evaluate("""(async () => {
        for (let i = 0; i < 200 && !(navigator.serviceWorker.controller && (await caches.match(location.href))); i++)
            await new Promise((on) => setTimeout(on, 50));
    })()""")
