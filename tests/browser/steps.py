"""Steps that several browser tests take."""

from contextlib import contextmanager

from tests.conftest import PASSWORD

ANALYZER_TEXT = "! my own sweep\r\n# MHz S RI R 50\r\n"


def sign_in_at(page, address, email, password=PASSWORD):
    page.goto(address)
    page.get_by_label("E-mail address").fill(email)
    page.get_by_label("Password").fill(password)
    page.locator("form.stack").get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Evaluations").wait_for()


def open_evaluation(page, product="Yard dipole"):
    page.get_by_label("Product", exact=True).fill(product)
    page.get_by_role("button", name="Open an evaluation").click()
    page.get_by_text("First a claim, then a sweep").wait_for()


def write_claim(page, limit="1.5", windows="20m", source="box"):
    page.get_by_label("The next claim, in short").fill(f"SWR < {limit} {windows}")
    page.get_by_label("Source of the next claim").fill(source)
    page.get_by_role("button", name="Take it", exact=True).click()
    page.get_by_text("Now a sweep").wait_for()


def drop(page, name, content):
    """Let a file go over the page, as a hand with a mouse does."""
    transfer = page.evaluate_handle(
        "([name, content]) => { const t = new DataTransfer(); t.items.add(new File([content], name)); return t; }",
        [name, content],
    )
    page.dispatch_event("body", "dragover", {"dataTransfer": transfer})
    page.dispatch_event("body", "drop", {"dataTransfer": transfer})


def verdict_line(page, word=None):
    """The large verdict over the figure, waited for when a word is given."""
    line = page.locator(".verdict-line", has_text=word) if word else page.locator(".verdict-line")
    if word:
        line.wait_for()
    return line


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
        while not held:
            page.wait_for_timeout(20)
        held.pop().continue_()

    page.route(pattern, hold)
    return go_on


@contextmanager
def answered(page, pattern):
    """What is done inside is answered by what the pattern names, and the page shows the answer."""
    with page.expect_response(pattern):
        yield
    page.locator(".htmx-request, .htmx-swapping, .htmx-settling").first.wait_for(state="detached")
