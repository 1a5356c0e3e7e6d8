"""Every route, by every method, for a stranger, a member, an editor and a member of another team.

A new route fails here until it is entered with who may come in by it.
"""

import re
import secrets

import pytest
from sqlalchemy import select

from levelmoor.core.readings.readings import ReadingKind
from levelmoor.records import sign_ins
from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member
from levelmoor.records.database import now
from levelmoor.records.readings import SheetPlace, sheet_on_bench
from levelmoor.records.roles import MemberRole
from tests.conftest import PASSWORD
from tests.web.whole_team import NAMED, one_of_everything

EVERYONE = {
    "static": "GET",
    "accounts.sign_in": "GET POST",
    "accounts.look": "POST",
    "accounts.invited": "GET",
    "accounts.new_account": "POST",
    "accounts.reset": "GET POST",
    "second_step.ask": "GET POST",
    "outside.go": "GET",
    "outside.back": "GET",
    "passkeys.asked_to_enter": "POST",
    "passkeys.go_in": "POST",
    "health.alive": "GET",
    "health.ready": "GET",
    "health.metrics": "GET",
    "guide.page": "GET",
    "guide.shown": "GET",
    "tryout.page": "GET",
    "tryout.judged": "POST",
    "tryout.sample": "GET",
    "shelf.listing": "GET",
    "shelf.kind": "GET",
    "shelf.band": "GET",
    "shelf.maker": "GET",
    "shelf.product": "GET",
    "shelf.team": "GET",
    "beside.choose": "GET",
    "beside.page": "GET",
    "feeds.atom": "GET",
    "feeds.json_feed": "GET",
    "feeds.sitemap": "GET",
    "feeds.robots": "GET",
    "api.about": "GET",
    "api.openapi": "GET",
    "api.reports": "GET",
    "api.report": "GET",
    "api.claims": "GET",
    "api.findings": "GET",
    "api.figures": "GET",
    "api.sweeps": "GET",
    "api.sweep_csv": "GET",
    "api.sweep_touchstone": "GET",
    "api.products": "GET",
    "api.product": "GET",
    "answers.write": "GET",
    "answers.send_in": "POST",
    "answers.confirm": "GET",
    "answers.confirmed": "POST",
    "answers.file": "GET",
    "embedded.page": "GET",
    "embedded.oembed": "GET",
    "papers.pdf": "GET",
    "papers.matrix": "GET",
    "papers.figure": "GET",
    "reports.public": "GET",
    "reports.as_json": "GET",
    "reports.bundle": "GET",
    "reports.picture": "GET",
    "reports.bibtex": "GET",
    "worker.script": "GET",
}
SIGNED_IN = {
    "accounts.sign_out": "POST",
    "accounts.account": "GET",
    "accounts.name": "POST",
    "accounts.password": "POST",
    "accounts.end_sign_in": "POST",
    "accounts.end_others": "POST",
    "accounts.team_in_hand": "POST",
    "accounts.leave": "POST",
    "accounts.delete": "POST",
    "accounts.answer": "POST",
    "outbox.ready": "GET",
    "operator.page": "GET",
    "second_step.begin": "POST",
    "second_step.confirm": "POST",
    "second_step.off": "POST",
    "passkeys.asked_to_add": "POST",
    "passkeys.add": "POST",
    "passkeys.remove": "POST",
}
MEMBERS = {
    "evaluations.listing": "GET",
    "evaluations.create": "POST",
    "evaluations.take_in": "POST",
    "equipment.page": "GET",
    "equipment.add": "POST",
    "equipment.remove": "POST",
    "equipment.cell": "POST",
    "equipment.as_csv": "GET",
    "equipment.from_csv": "POST",
    "teams.settings": "GET",
    "teams.done": "GET",
    "rule_sets.page": "GET",
    "rule_sets.preview": "POST",
    "rule_sets.as_json": "GET",
    "live_settings.page": "GET",
    "removal.undo": "POST",
    "templates.ask": "GET",
    "templates.begin": "POST",
}
EDITORS = {
    "teams.change": "POST",
    "teams.outbox": "GET",
    "teams.invite": "POST",
    "teams.withdraw": "POST",
    "teams.remove": "POST",
    "teams.role": "POST",
    "teams.reset": "POST",
    "rule_sets.keep": "POST",
    "rule_sets.take_in": "POST",
    "rule_sets.remove": "POST",
    "live_settings.connect": "POST",
    "live_settings.add_driver": "POST",
    "live_settings.remove_driver": "POST",
}
REVIEWERS = {"reports.answer_review": "POST"}
EDITORS_OF_REPORTS = {"reports.set_listed": "POST", "reports.withdraw": "POST"}
OF_AN_EVALUATION = {
    "evaluations.remove": "POST",
    "workbench.page": "GET",
    "workbench.open_part": "GET",
    "workbench.cell": "POST",
    "workbench.add": "POST",
    "workbench.copy_setup": "POST",
    "workbench.remove": "POST",
    "workbench.join": "POST",
    "workbench.add_settings": "POST",
    "workbench.adjusted": "POST",
    "workbench.say_adjusted": "POST",
    "workbench.export": "GET",
    "workbench.read_again": "POST",
    "claims.understood": "GET",
    "claims.take": "POST",
    "files.add": "POST",
    "files.again": "POST",
    "files.name_columns": "POST",
    "files.leave_out": "POST",
    "files.raw": "GET",
    "files.calibrate": "POST",
    "files.several": "GET",
    "files.assign": "POST",
    "claims.take_from": "POST",
    "files.export": "GET",
    "pictures.add": "POST",
    "pictures.show": "GET",
    "plan.page": "GET",
    "plan.figure": "POST",
    "plan.run": "POST",
    "plan.own": "POST",
    "plan.seen": "POST",
    "plan.sheet": "GET",
    "plan.tick": "POST",
    "plan.pdf": "GET",
    "bench.page": "GET",
    "bench.add_calibration": "POST",
    "bench.remove_calibration": "POST",
    "bench.add_check": "POST",
    "bench.remove_check": "POST",
    "readings.page": "GET",
    "readings.changes": "POST",
    "readings.check": "POST",
    "readings.table": "POST",
    "readings.join": "POST",
    "live.page": "GET",
    "live.stream": "GET",
    "live.change": "POST",
    "live.calibrate": "POST",
    "live.correction": "POST",
    "live.keep": "POST",
    "ports.sweep": "POST",
    "ports.keep": "POST",
    "compare.page": "GET",
    "compare.choose": "POST",
    "compare.leave_out": "POST",
    "adjust.page": "GET",
    "adjust.next_move": "GET",
    "adjust.length": "GET",
    "adjust.add_element": "POST",
    "adjust.element_cell": "POST",
    "adjust.remove_element": "POST",
    "adjust.name_dip": "POST",
    "adjust.wanted": "POST",
    "adjust.move": "POST",
    "adjust.put_back": "POST",
    "adjust.returned": "POST",
    "widths.add": "POST",
    "widths.remove": "POST",
    "widths.cell": "POST",
    "widths.as_csv": "GET",
    "strips.add": "POST",
    "strips.remove": "POST",
    "card.page": "GET",
    "card.pdf": "GET",
    "card.as_csv": "GET",
    "card.mark": "GET",
    "adjust.not_done": "POST",
    "adjust.state": "POST",
    "tuner.page": "GET",
    "tuner.add": "POST",
    "tuner.as_csv": "GET",
    "tuner.remove": "POST",
    "tuner.trial_cell": "POST",
    "networks.add": "POST",
    "networks.remove": "POST",
    "networks.cell": "POST",
    "networks.knob": "POST",
    "networks.learn": "POST",
    "networks.match": "GET",
    "networks.loss": "GET",
    "preset_card.page": "GET",
    "preset_card.solved": "GET",
    "preset_card.pdf": "GET",
    "preset_card.as_csv": "GET",
    "through.page": "GET",
    "through.add": "POST",
    "through.put_at": "POST",
    "through.remove": "POST",
    "through.cell": "POST",
    "through.add_level": "POST",
    "through.add_heat": "POST",
    "through.remove_record": "POST",
    "through.record_cell": "POST",
    "on_air.page": "GET",
    "on_air.add": "POST",
    "on_air.add_file": "POST",
    "on_air.remove": "POST",
    "on_air.as_adif": "GET",
    "on_air.as_csv": "GET",
    "trial_field.page": "GET",
    "trial_field.changes": "POST",
    "emissions.page": "GET",
    "emissions.path": "POST",
    "emissions.add": "POST",
    "emissions.live": "POST",
    "emissions.cell": "POST",
    "emissions.unit": "POST",
    "emissions.remove": "POST",
    "emissions.rules": "POST",
    "emissions.add_filter": "POST",
    "emissions.remove_filter": "POST",
    "reports.preview": "GET",
    "reports.publish": "POST",
    "reports.choose_sections": "POST",
    "reports.ask_review": "POST",
    "answers.decide": "POST",
    "changes.since": "GET",
    "changes.stream": "GET",
    "comments.add": "POST",
    "comments.done": "POST",
    "comments.remove": "POST",
    "past.page": "GET",
    "past.restore": "POST",
}
OF_AN_EVALUATION |= REVIEWERS | EDITORS_OF_REPORTS
ENTERED = EVERYONE | SIGNED_IN | MEMBERS | EDITORS | OF_AN_EVALUATION
RAW = b"# MHz S RI R 50\n14 0.1 0\n14.1 0.1 0\n"


@pytest.fixture(scope="module")
def theirs(maker):
    """An evaluation of another team, with everything in it, and what else addresses ask for."""
    with maker.begin() as session:
        mark = secrets.token_hex(4)  # another module may ask for its own
        team = t.Team(name=f"Others {mark}")
        session.add(team)
        session.flush()
        user = add_member(session, team.name, f"other-{mark}@team.example", "Other", PASSWORD, role=MemberRole.EDITOR)
        ids = one_of_everything(session, team, "Secret antenna")
        row = session.get(t.Evaluation, ids["evaluation"])
        sheet_on_bench(session, row, ReadingKind.SWR)
        instrument = session.get(t.Instrument, row.bench_instrument_id)
        instrument.address, instrument.driver = "127.0.0.1:9", "Generic one-port analyzer"
        signed = sign_ins.begin(session, user, "127.0.0.1", "Chromium")
        offered = t.Invitation(team_id=team.id, email="x@team.example", token_sha256=f"{mark:0>64}", made_by="Other",
                               made_at=now(), ends_at=now())  # fmt: skip
        session.add(offered)
        session.flush()
        return {
            **{place: ids[kind] for place, kind in NAMED.items() if kind in ids},
            "evaluation_id": ids["evaluation"],
            "kind": "claim",
            "name": "limit",
            "kind_id": "line",
            "action": "drop",
            "part": "coil",
            "place": str(SheetPlace.on_bench(row, ReadingKind.SWR)),
            "driver_id": ids["driver"],
            "rule_row_id": ids["rules"],
            "rule_id": "us-97.307",
            "step": "open",
            "form": "csv",
            "passkey_id": a_passkey(session, user).id,
            "sign_in_id": session.scalars(select(t.SignIn.id).where(t.SignIn.user_id == user.id)).one(),
            "team_id": team.id,
            "user_id": user.id,
            "invitation_id": offered.id,
            "token": signed,
            "slug": "none",
            "key": "none",
            "band": "none",
            "names": "none.1+other.1",
            "answer_id": 1,
            "task": "within",
            "number": 1,
            "digest": "0",
            "filename": "app.css",
        }


def a_passkey(session, user):
    found = t.Passkey(
        user_id=user.id, name="hut telephone", credential=secrets.token_bytes(16), public_key=b"", sign_count=0,
        made_at=now(), answered_s=0.0,
    )  # fmt: skip
    session.add(found)
    session.flush()
    return found


def routes(app, entered):
    """Address-making rule and method of every entered route."""
    for rule in app.url_map.iter_rules():
        for method in entered.get(rule.endpoint, "").split():
            if method in rule.methods:
                yield rule, method


def address(app, rule, values):
    with app.test_request_context():
        return app.url_map.bind("localhost").build(rule.endpoint, {a: values[a] for a in rule.arguments})


@pytest.fixture
def person(app, maker, member, monkeypatch):
    """Signs somebody of a role in the member's team in."""
    monkeypatch.setitem(app.config, "WTF_CSRF_ENABLED", False)

    def signed(role):
        email = f"{role}-{member.email}"
        with maker.begin() as session:
            add_member(session, member.team, email, role.capitalize(), PASSWORD, role=role)
        client = app.test_client()
        client.post("/sign-in", data={"email": email, "password": PASSWORD})
        return client

    return signed


@pytest.fixture
def plain(person):
    """A signed-in member who is no editor."""
    return person(MemberRole.MEMBER)


def test_every_route_is_entered(app):
    there = {}
    for rule in app.url_map.iter_rules():
        for method in rule.methods & {"GET", "POST", "PUT", "PATCH", "DELETE"}:
            there.setdefault(rule.endpoint, set()).add(method)
    assert {e: " ".join(sorted(m)) for e, m in there.items()} == ENTERED


def test_stranger_is_sent_to_sign_in(app, client, theirs):
    let_in = []
    for rule, method in routes(app, SIGNED_IN | MEMBERS | EDITORS | OF_AN_EVALUATION):
        if rule.endpoint == "evaluations.listing":
            continue  # the front page sends on by itself
        answer = client.open(address(app, rule, theirs), method=method)
        if not (answer.status_code == 302 and "/sign-in" in answer.location):
            let_in.append((rule.endpoint, method, answer.status_code))
    assert let_in == []


def test_stranger_meets_no_error_where_everyone_may_come(app, client, theirs):
    wrong = []
    for rule, method in routes(app, EVERYONE):
        code = client.open(address(app, rule, theirs), method=method).status_code
        if code >= 500:
            wrong.append((rule.endpoint, method, code))
    assert wrong == []


def test_member_of_another_team_finds_nothing(app, signed_in, theirs):
    shown = []
    for rule, method in routes(app, OF_AN_EVALUATION):
        kinds = ("claim", "sample", "setup", "instrument", "sweep", "product", "evaluation")
        for kind in kinds if "kind" in rule.arguments else ("claim",):
            path = address(app, rule, {**theirs, "kind": kind})
            answer = signed_in.open(path, method=method, data={"value": "1"})
            if answer.status_code != 404 or b"Secret" in answer.data:
                shown.append((rule.endpoint, method, kind, answer.status_code))
    assert shown == []


def test_editor_of_another_team_changes_nobody_and_nothing_here(app, signed_in, theirs):
    """Rows of another team named in the address of an own page are not there."""
    for endpoint in ("teams.remove", "teams.role", "teams.reset", "live_settings.connect", "accounts.team_in_hand"):
        rule = next(r for r in app.url_map.iter_rules() if r.endpoint == endpoint)
        answer = signed_in.post(address(app, rule, theirs), data={"team": theirs["team_id"]})
        assert (endpoint, answer.status_code) == (endpoint, 404)


def test_member_does_not_do_what_is_for_editors(app, plain, theirs):
    done = [
        (rule.endpoint, code)
        for rule, method in routes(app, EDITORS | REVIEWERS | EDITORS_OF_REPORTS)
        if (code := plain.open(address(app, rule, theirs), method=method).status_code) != 403
    ]
    assert done == []


def test_member_meets_no_error_on_any_page_of_the_team(app, plain, theirs):
    """What a member may ask for is answered or refused, never with an error, whatever is missing from the form."""
    wrong = [
        (rule.endpoint, code)
        for rule, method in routes(app, MEMBERS)
        if (code := plain.open(address(app, rule, theirs), method=method).status_code) >= 500
    ]
    assert wrong == []


def test_what_is_only_looked_at_changes_no_row(app, signed_in, maker, member):
    """Every page of an evaluation that is asked for by GET, with the rows of the database before and after."""
    signed_in.post("/evaluations", data={"product": "Mine"})
    mine = int(signed_in.get("/").data.decode().split('href="/e/')[1].split('"')[0])
    signed_in.post(f"/e/{mine}/claims", data={"text": "SWR < 2 20m"})
    before = counted(maker)
    for rule, method in routes(app, MEMBERS | OF_AN_EVALUATION):
        if method == "GET" and set(rule.arguments) <= {"evaluation_id"} and rule.endpoint != "workbench.export":
            signed_in.get(address(app, rule, {"evaluation_id": mine}))
    assert counted(maker) == before


def counted(maker):
    """How many rows each table has, and a checksum over them."""
    with maker() as session:
        return {
            x.name: session.connection().exec_driver_sql(f"CHECKSUM TABLE `{x.name}`").one()[1]
            for x in t.Base.metadata.sorted_tables
            if x.name not in ("sign_in", "in_hand", "attempt", "server_minute", "trouble")  # noted as pages are seen
        }


def test_a_reader_changes_nothing_and_only_comments(app, person, signed_in, theirs):
    reader = person(MemberRole.READER)
    signed_in.post("/evaluations", data={"product": "Looked at"})
    mine = int(signed_in.get("/").data.decode().split('href="/e/')[1].split('"')[0])
    changed = [
        (rule.endpoint, code)
        for rule, method in routes(app, MEMBERS | EDITORS | OF_AN_EVALUATION)
        if method == "POST" and not rule.endpoint.startswith("comments.")
        and (code := reader.open(address(app, rule, {**theirs, "evaluation_id": mine}), method=method).status_code) != 403
    ]  # fmt: skip
    assert changed == []
    page = reader.post(f"/e/{mine}/comments", data={"words": "Seen."})
    assert page.status_code == 200
    own = re.search(r"/comments/(\d+)/remove", page.text)[1]
    assert reader.post(f"/e/{mine}/comments/{own}/remove").status_code == 200
    assert reader.post(f"/undo/comment/{own}").status_code == 200
    assert "Seen." in reader.get(f"/e/{mine}").text
