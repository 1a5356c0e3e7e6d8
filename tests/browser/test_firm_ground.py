"""What the browser does when something is wrong: a database that does not answer, ways back, and markup in people's text."""

import io
import json
import re

import pytest
from playwright.sync_api import expect
from sqlalchemy.exc import OperationalError

from levelmoor.core.model.networks import Knob, Part
from levelmoor.records import store, sweeps
from levelmoor.records import tables as t
from levelmoor.records.trials import knobs_row
from levelmoor.web.cells import CELLS, SPECIAL
from tests.browser.steps import begin_evaluation, cell
from tests.conftest import sign_in
from tests.web.test_route_matrix import EDITORS, MEMBERS, OF_AN_EVALUATION

RAW = b"# MHz S RI R 50\n" + b"".join(b"%.3f 0.05 0\n" % (143.9 + i / 100) for i in range(221))


# -- A database that does not answer -------------------------------------------------------------------------------


class Gone:
    """A maker of sessions whose database is away."""

    def __call__(self):
        raise OperationalError("SELECT 1", {}, Exception(2003, "Can't connect"))

    begin = __call__


@pytest.fixture
def database(app, monkeypatch):
    """Takes the database away from the application, and gives it back."""
    usual = app.config["SESSIONS"]

    class Switch:
        def gone(self):
            app.config["SESSIONS"] = Gone()

        def back(self):
            app.config["SESSIONS"] = usual

    yield Switch()
    app.config["SESSIONS"] = usual


def test_database_that_does_not_answer_takes_neither_the_page_nor_what_was_typed(bench, database):
    line = bench.get_by_label("New claim", exact=True)
    line.fill("SWR < 1.7 70cm")
    database.gone()
    line.press("Enter")
    said = bench.get_by_text("does not answer. What you did is kept on this device")
    said.wait_for()
    bench.locator("#outbox", has_text="1 waiting").wait_for()
    with bench.expect_response(
        lambda answer: answer.request.method == "GET" and answer.status == 503 and "/e/" in answer.url
    ):
        bench.evaluate("document.activeElement.blur(), document.dispatchEvent(new Event('redraw'))")
    bench.wait_for_timeout(500)
    expect(said).to_be_visible()  # neither a refresh nor the preview of the next claim says something in its place
    assert bench.locator("#work").is_visible()
    database.back()
    bench.locator("#outbox", has_text="All kept").wait_for()
    assert cell(bench, "Limit", 1).input_value() == "1.7"


def test_what_is_removed_meanwhile_is_offered_back_once_it_is_sent(bench, database):
    bench.get_by_role("button", name="Fields and reasons").click()
    remove = bench.get_by_role("button", name="Remove the claim")
    remove.wait_for()
    database.gone()
    remove.click()
    bench.locator("#outbox", has_text="1 waiting").wait_for()
    database.back()
    bench.locator("#removed", has_text="was removed").get_by_role("button", name="Undo").click()
    bench.get_by_role("button", name="Fields and reasons").wait_for()


def test_page_asked_for_meanwhile_says_so_in_the_usual_frame(bench, database):
    address = bench.url
    database.gone()
    answer = bench.goto(address)
    assert answer.status == 503
    assert bench.get_by_role("heading", name="The database does not answer").is_visible()
    assert bench.get_by_role("navigation", name="Main").is_visible()
    database.back()
    bench.goto(address)
    assert bench.locator("#work").is_visible()


# -- Ways back -----------------------------------------------------------------------------------------------------


def test_back_after_choosing_a_sweep_shows_the_whole_page(page, member, maker):
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), "Two sweeps")
        for n in (5, 6):
            sweeps.add_sweep(session, row, f"a{n}.s1p", RAW.replace(b"0.05", b"0.0%d" % n))
        address = f"/e/{row.id}"
    sign_in(page, member)
    page.goto(address)
    for name in ("a5", "a6"):
        page.locator("[data-sweep]", has_text=name).first.click()
        expect(page.locator("[data-sweep][aria-current]")).to_contain_text(name)
    for _ in range(2):
        page.go_back()
        page.locator("#steps").wait_for()
        assert page.get_by_role("navigation", name="Main").count() == 1
        assert page.locator("#work").count() == 1


def test_back_after_two_searches_shows_the_whole_page(page, maker, member):
    begin_evaluation(page, maker, member)
    page.goto("/")
    search = page.get_by_label("Search product or maker")
    for words in ("zz", "zzz"):
        with page.expect_response(lambda answer, words=words: answer.url.endswith(f"words={words}&verdict=")):
            search.fill(words)
        page.get_by_text("No evaluation matches").wait_for()
    page.go_back()
    page.get_by_role("navigation", name="Main").wait_for()
    assert page.get_by_role("heading", name="Evaluations").count() == 1
    assert page.locator("#rows").count() == 1


# -- Markup in people's text ---------------------------------------------------------------------------------------

MARK = '<b class="marked" hx-get="/marked" hx-trigger="load">x</b><img src="/marked">"><i onclick=marked>'
FIELDS = [
    "text",
    "source",
    "seen_on",
    "value",
    "name",
    "maker",
    "product",
    "fact",
    "note",
    "title",
    "email",
    "own_password",
    "role",
    "about",
    "for_id",
    "word",
    "words",
    "verdict",
    "region",
    "rule",
    "profile",
    "profile_limit",
    "spots",
    "bench_rule",
    "age_limit_h",
    "low",
    "high",
    "points",
    "standards",
    "plane",
    "at",
    "done_at",
    "instrument_id",
    "kit_id",
    "kind",
    "calibration_id",
    "item_id",
    "fundamental",
    "rbw_khz",
    "pairs",
    "levels",
    "carrier",
    "power",
    "duty",
    "pad",
    "line",
    "instrument",
    "offset",
    "rbw",
    "mode",
    "filter_name",
    "taken_on",
    "heading",
    "frequency_column",
    "level_column",
    "level_unit",
    "rules",
    "commands",
    "address",
    "driver",
    "id",
    "read_on",
    "scope",
    "not_covered",
    "section",
    "above",
    "up_to",
    "terms",
    "combine",
    "floor",
    "table",
    "paste_id",
    "made_at",
    "other",
    "unit",
    "port",
    "columns",
    "key",
    "sample_id",
    "setup_id",
    "reason",
    "listed",
    "starter",
    "claim_id",
    "look",
    "back",
    "query",
    "view",
    "sweep",
    "claim",
    "of",
    "kind_id",
    "now",
    "new",
    "again",
]
FILES = ("files", "file", "pictures", "open", "short", "load")
LOOK = """(texts) => texts.map((text, n) => {
    const seen = new DOMParser().parseFromString(text, 'text/html');
    const bad = [...seen.querySelectorAll('*')].filter((e) => e.matches('.marked, img[src*=marked], [onclick]') ||
        [...e.attributes].some((a) => a.name.startsWith('hx-') && a.value.includes('marked') && !a.name.startsWith('hx-vals')));
    return bad.length ? n : -1;
}).filter((n) => n >= 0)"""


@pytest.fixture
def filled(page, member, maker):
    """An evaluation with one row of everything that has text of people in it."""
    with maker.begin() as session:
        team = session.get(t.Team, member.team_id)
        row = store.open_evaluation(session, team, "Plain")
        row.claims.append(
            t.Claim(quantity="swr", windows=[{"low_hz": 144e6, "high_hz": 146e6, "name": "2m"}], limit=2.0)
        )
        sweeps.add_sweep(session, row, f"{MARK}.s1p", RAW)
        raw = row.sweeps[0].raw_file
        row.pictures.append(
            t.Picture(raw_file=raw, file_name=f"{MARK}.png", width=1, height=1, media_type="image/png", caption="")
        )
        row.elements.append(t.ArticleElement(name=MARK, kind="whip", unit="cm", at=50.0, bands=[MARK]))
        knobs = knobs_row([Knob(Part.COIL, MARK, 0.0, 9.0, (0.0, 9.0), (1.0, 9.0))])
        row.networks.append(t.TunerNetwork(name=MARK, kind="t", knobs=knobs, q_source=MARK))
        state = {"sample_id": row.samples[0].id, "setup_id": row.setups[0].id, "dials": [{"knob": MARK, "at": MARK}]}
        row.trials.append(
            t.Trial(**state, entry_id="1", frequency_hz=7e6, load=MARK, outcome="matched", note=MARK, swr_after=1.2)
        )
        session.add(t.PendingFile(evaluation_id=row.id, raw_file=raw, file_name=MARK))
        for kind in ("pad", "line", "load", "kit", "adapter", "radio"):
            session.add(t.Owned(team_id=team.id, kind=kind, name=MARK, facts={}))
        session.flush()
        ids = {"product": row.product.id, "evaluation": row.id, "sample": row.samples[0].id, "setup": row.setups[0].id}
        ids |= {"claim": row.claims[0].id, "sweep": row.sweeps[0].id, "picture": row.pictures[0].id}
        ids |= {"network": row.networks[0].id, "trial": row.trials[0].id}
        ids |= {"instrument": row.bench_instrument_id, "hand": row.id, "element": row.elements[0].id}
    sign_in(page, member)
    return ids


def test_markup_in_any_field_or_file_name_is_text_on_every_page(page, filled, app, signed_in):
    """Every cell and every form of the program is sent markup; then every answer and every page is looked at."""
    asked = []
    page.on("request", lambda request: asked.append(request.url) if "/marked" in request.url else None)
    texts, where = [], []

    def keep(path, answer):
        assert answer.status_code < 500, path
        if answer.mimetype == "text/html":
            texts.append(answer.text)
            where.append(path)

    def post(path, data):
        headers = {"HX-Request": "true"}
        keep(path, signed_in.post(path, data=data, headers=headers, content_type="multipart/form-data"))

    home = f"/e/{filled['evaluation']}"
    for kind, cells in CELLS.items():
        for name in (*cells, *(n for k, n in SPECIAL if k == kind)):
            if kind in filled:
                post(f"{home}/cell/{kind}/{filled[kind]}/{name}", {"value": MARK})
    post(f"/equipment/instrument/{filled['instrument']}/name", {"value": MARK})
    post("/account/name", {"name": MARK})
    post("/team", {**dict.fromkeys(FIELDS, MARK), "region": "1", "rule": "guarded", "profile": "strict"})
    everything = dict.fromkeys(FIELDS, MARK)
    values = {
        "evaluation_id": filled["evaluation"], "sweep_id": filled["sweep"], "kind": "claim", "row_id": filled["claim"],
        "name": "limit", "kind_id": "pad", "action": "up", "picture_id": filled["picture"], "setup_id": filled["setup"],
        "place": f"swr-{filled['sample']}-{filled['setup']}-{filled['instrument']}", "pending_id": 1, "step": "open",
        "instrument_id": filled["instrument"], "driver_id": 1, "capture_id": 1, "filter_id": 1, "rule_row_id": 1,
        "rule_id": "x", "entry_id": 1, "comment_id": 1, "user_id": 1, "invitation_id": 1, "form": "csv", "team_id": 1,
        "element_id": filled["element"], "slug": "none", "answer_id": 1, "comparison_id": 1, "move_id": 1, "width_id": 1, "strip_id": 1,
        "through_id": 1, "record_id": 1, "trial_id": filled["trial"], "network_id": filled["network"], "part": "coil",
    }  # fmt: skip
    entered = MEMBERS | EDITORS | OF_AN_EVALUATION
    with app.test_request_context():
        build = app.url_map.bind("localhost").build
        routes = [
            (method, build(rule.endpoint, {a: values[a] for a in rule.arguments}))
            for rule in app.url_map.iter_rules()
            for method in entered.get(rule.endpoint, "").split()
            if method in rule.methods
            and rule.endpoint not in ("evaluations.remove", "live.stream", "changes.stream", "workbench.remove")
        ]
    for method, path in routes:
        if method == "POST":
            post(path, {**everything, **{n: (io.BytesIO(b"a,b\n1,2\n"), f"{MARK}.csv") for n in FILES}})
    pages = [
        path for method, path in routes if method == "GET" and not re.search(r"\.(csv|json|pdf)$|export|raw|as/", path)
    ]
    for path in [*pages, f"{home}/claims/understood?text={MARK}", f"/?words={MARK}", f"/reports?words={MARK}"]:
        answer = signed_in.get(path)
        keep(path, answer)
        if re.search(
            r"static/(sheet|readings|trials|several|emissions|live)\.js", answer.text
        ):  # what scripts write too
            page.goto(path)
            assert page.locator(".marked, img[src*=marked]").count() == 0, path
    looking = page.context.new_page()  # an empty one, whose own rules keep nothing from being parsed
    assert [where[n] for n in looking.evaluate(LOOK, texts)] == []
    assert asked == []
    assert sum(1 for text in texts if "marked" in text) > 20


def test_markup_in_an_imported_evaluation_is_text_on_every_page(page, member):
    """Every text of an exchange document that a stranger may write."""
    spot = {"low_hz": 144e6, "high_hz": 146e6, "name": MARK}
    document = {
        "title": MARK, "notes": MARK,
        "product": {"name": MARK, "maker": MARK, "description": MARK, "in_the_box": MARK},
        "samples": [{"id": MARK, "label": MARK, "serial": MARK, "note": MARK, "obtained_from": MARK, "suspicion": MARK}],
        "setups": [{"id": MARK, "name": MARK, "description": MARK, "conditions": {"height": MARK, "near": MARK}}],
        "instruments": [{"id": MARK, "name": MARK, "description": MARK, "figures_source": MARK}],
        "claims": [
            {"id": "a", "quantity": "swr", "limit": 2, "windows": [spot], "source": MARK, "condition": MARK, "excerpt": MARK},
            {"id": "b", "quantity": "other", "stated": MARK, "mode": MARK[:40]},
        ],
        "equipment": {"pads": [{"id": "p", "name": MARK, "nominal_db": 20, "power_w": 1}]},
        "elements": [{"id": MARK, "name": MARK, "bands": [MARK]}],
        "adjustments": [{"id": MARK, "sample_id": MARK, "setup_id": MARK, "who": MARK, "note": MARK,
                         "moves": [{"element_id": MARK, "by": 1}]}],
        "widths": [{"id": MARK, "sample_id": MARK, "setup_id": MARK, "instrument_id": MARK, "band": MARK, "low_hz": 7e6,
                    "high_hz": 7.1e6, "who": MARK, "note": MARK}],
        "strips": [{"id": MARK, "sample_id": MARK, "setup_id": MARK, "instrument_id": MARK, "kind": "wind", "note": MARK,
                    "wanted_hz": [7e6], "points": [{"at_s": 0, "swr": [1.5]}], "marks": [{"at_s": 0, "words": MARK[:80]}]}],
        "networks": [{"id": MARK, "name": MARK, "q_source": MARK}],
        "trials": [{"id": MARK, "sample_id": MARK, "setup_id": MARK, "frequency_hz": 7e6, "outcome": "matched", "load": MARK,
                    "dials": [{"knob": MARK[:60], "at": MARK[:60]}], "who": MARK, "note": MARK, "network_id": MARK}],
        "levels": [{"id": MARK, "kind": "noise", "sample_id": MARK, "setup_id": MARK, "frequency_hz": 7e6, "values": [7],
                    "unit": "S", "who": MARK, "note": MARK}],
        "heats": [{"id": MARK, "sample_id": MARK, "setup_id": MARK, "power_w": 10, "points": [[0, 20], [60, 30]],
                   "where": MARK, "mode": MARK[:40], "who": MARK, "note": MARK}],
        "contacts": [{"id": MARK, "at": "2026-10-17T14:00", "frequency_hz": 7e6, "call": MARK[:40], "mode": MARK[:40],
                      "sent": MARK[:40], "received": MARK[:40], "setup_id": MARK, "who": MARK, "note": MARK}],
        "own_bands": [{"low_hz": 7e6, "high_hz": 7.1e6, "name": MARK}],
        "readings": [{
            "sample_id": MARK, "setup_id": MARK, "instrument_id": MARK, "kind": "swr",
            "readings": [{"entry_id": "r", "typed": {"frequency": MARK, "swr": MARK}, "answers": {MARK: MARK}}],
        }],
        "stays": [MARK],
    }  # fmt: skip
    asked = []
    page.on("request", lambda request: asked.append(request.url) if "/marked" in request.url else None)
    sign_in(page, member)
    file = {"name": f"{MARK}.json", "mimeType": "application/json", "buffer": json.dumps(document).encode()}
    page.locator(".take-in input[type=file]").set_input_files(file)
    page.wait_for_url("**/e/*")
    home = page.url
    for path in (
        "",
        "/plan",
        "/plan/sheet",
        "/bench",
        "/readings",
        "/live",
        "/compare",
        "/adjust",
        "/through",
        "/air",
        "/tuner",
        "/trials",
        "/tuner/card",
        "/emissions",
        "/report",
    ):
        page.goto(home + path)
        assert page.locator(".marked, img[src*=marked], [onclick]").count() == 0, path
        assert "marked" in page.locator("body").inner_text() or page.locator("input[value*=marked]").count(), path
    assert asked == []
