"""Whatever is done goes through the outbox: kept on the device until it is acknowledged, sent in order, done once."""

import os
import random
import re
from contextlib import contextmanager, suppress
from types import SimpleNamespace

import pytest
from playwright.sync_api import expect
from sqlalchemy import func, select

from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member
from levelmoor.records.audit import Actor
from levelmoor.records.history import ACTOR
from levelmoor.records.roles import MemberRole
from tests.browser.steps import begin_evaluation, carried, cell, drop, unfold
from tests.browser.test_main_path import touchstone
from tests.conftest import PASSWORD, sign_in


@pytest.fixture
def bench(page_to_carry, maker, member):
    page = begin_evaluation(page_to_carry, maker, member, limit=1.5)
    carried(page)
    return page


def says(page, words):
    expect(page.locator("#outbox summary")).to_have_text(words)


def write(page, value, label="Limit"):
    cell(page, label).fill(value)
    cell(page, label).press("Tab")


def kept(maker, what):
    with maker() as session:
        return session.scalar(what)


def count(maker, address, kind):
    evaluation = int(address.split("/e/")[1].split("?")[0])
    return kept(maker, select(func.count()).select_from(kind).where(kind.evaluation_id == evaluation))


LIMIT = select(t.Claim.limit).order_by(t.Claim.id.desc()).limit(1)


def back_on(page):
    page.context.set_offline(False)
    page.evaluate("dispatchEvent(new Event('online'))")


def test_a_cell_changed_without_a_signal_says_so_over_a_reload_and_is_sent(bench, maker):
    bench.context.set_offline(True)
    write(bench, "1.8")
    says(bench, "1 waiting")
    bench.reload()
    says(bench, "1 waiting")
    assert cell(bench, "Limit").input_value() == "1.8"
    assert cell(bench, "Limit").get_attribute("data-waiting") is not None
    back_on(bench)
    says(bench, "All kept")
    assert kept(maker, LIMIT) == 1.8
    expect(bench.locator("[data-waiting]")).to_have_count(0)


def test_claims_comments_files_and_removals_outlive_a_closed_tab(bench, maker):
    address, context = bench.url, bench.context
    context.set_offline(True)
    bench.get_by_label("New claim", exact=True).fill("SWR < 2 40m")
    bench.get_by_role("button", name="Add claim", exact=True).click()
    says(bench, "1 waiting")
    unfold(bench, "Comments")
    bench.get_by_label("Comment").fill("The choke came off.")
    bench.get_by_role("button", name="Add comment").click()
    says(bench, "2 waiting")
    drop(bench, "late.s1p", touchstone())
    says(bench, "3 waiting")
    bench.close()
    context.set_offline(False)
    again = context.new_page()
    again.goto(address)
    says(again, "All kept")
    assert [count(maker, address, kind) for kind in (t.Claim, t.Comment, t.Sweep)] == [2, 1, 1]
    again.get_by_text("late").first.wait_for()


def test_what_the_server_did_without_being_heard_is_not_done_twice(bench, maker):
    """The answer is lost on its way, once."""
    lost = []

    def lose(route):
        if lost:
            route.continue_()
            return
        lost.append(route.fetch().status)
        route.abort()

    bench.route("**/claims", lose)
    bench.get_by_label("New claim", exact=True).fill("SWR < 2 40m")
    bench.get_by_role("button", name="Add claim", exact=True).click()
    says(bench, re.compile("waiting"))
    says(bench, "All kept")
    assert (lost, count(maker, bench.url, t.Claim)) == ([200], 2)


WHILE_THE_SHELF_IS_READ = """(press) => {
    const all = IDBObjectStore.prototype.getAll;
    IDBObjectStore.prototype.getAll = function (...what) {
        IDBObjectStore.prototype.getAll = all;
        queueMicrotask(() => document.querySelector(press).click());
        return all.apply(this, what);
    };
    dispatchEvent(new Event("online"));
}"""


def test_what_is_done_while_the_device_is_asked_what_it_keeps_is_kept_as_well(bench, maker):
    """Its answer is lost: it waits, and is sent."""
    bench.route("**/comments", lambda route: route.abort(), times=1)
    unfold(bench, "Comments")
    bench.get_by_label("Comment").fill("The choke came off.")
    bench.evaluate(WHILE_THE_SHELF_IS_READ, "#comments form > button")
    says(bench, "1 waiting")
    says(bench, "All kept")
    assert count(maker, bench.url, t.Comment) == 1


def test_an_answer_lost_to_a_form_that_was_drawn_anew_is_heard_of_all_the_same(bench, maker):
    held = []

    def hold(route):
        held.append(route)

    bench.route("**/comments", hold, times=1)
    unfold(bench, "Comments")
    bench.get_by_label("Comment").fill("The choke came off.")
    with bench.expect_request("**/comments"):
        bench.get_by_role("button", name="Add comment").click()
    bench.evaluate("""() => {
        const anew = document.getElementById("comments").cloneNode(true);
        document.getElementById("comments").replaceWith(anew);
        anew.querySelector("textarea").value = "The choke came off.";
        htmx.process(anew);
    }""")
    held[0].abort()
    says(bench, "1 waiting")
    expect(bench.get_by_label("Comment")).to_have_value("")
    says(bench, "All kept")
    assert count(maker, bench.url, t.Comment) == 1


def test_what_others_changed_meanwhile_is_asked_about(bench, maker):
    bench.context.set_offline(True)
    write(bench, "1.8")
    says(bench, "1 waiting")
    with maker.begin() as session:
        session.info[ACTOR] = Actor("Rowan", None, "")
        session.scalar(select(t.Claim).order_by(t.Claim.id.desc()).limit(1)).limit = 1.7
    bench.context.set_offline(False)
    bench.evaluate("dispatchEvent(new Event('online'))")
    says(bench, "1 refused")
    bench.locator("#outbox summary").click()
    bench.get_by_text("was refused").wait_for()
    bench.get_by_role("button", name="Send anyway").click()
    says(bench, "All kept")
    assert kept(maker, LIMIT) == 1.8


def test_a_wrong_file_and_a_slip_that_waited_say_what_is_wrong(bench):
    bench.context.set_offline(True)
    write(bench, "one and a half")
    drop(bench, "holiday.txt", "milk\nbread\n")
    says(bench, "2 waiting")
    back_on(bench)
    says(bench, "2 refused")
    bench.locator("#outbox summary").click()
    bench.locator("#outbox li", has_text='"one and a half" is not a number').wait_for()
    bench.locator("#outbox li", has_text="holiday.txt was refused: holiday.txt was rejected. Line 2").wait_for()
    for _ in range(2):
        bench.locator("#outbox").get_by_role("button", name="Drop").first.click()
    says(bench, "All kept")


# -- Two laptops and a telephone, with a signal that comes and goes ---------------------------------------------------

ACTS = int(os.environ.get("LEVELMOOR_ACTS", "30"))
"""Two hundred take a minute: they are done by hand."""


@contextmanager
def screen_of(browser, live, who, address, **size):
    context = browser.new_context(base_url=live, service_workers="block", **size)
    page = context.new_page()
    page.set_default_timeout(30_000)
    sign_in(page, who, address)
    yield page
    context.close()


def lose_answers(page, chance):
    """Now and then what was sent arrives, and its answer does not."""

    def lose(route):
        if route.request.method == "POST" and chance.random() < 0.04:
            route.fetch()
            return route.abort()
        return route.continue_()

    page.route("**/e/**", lose)


def comment(page, words):
    """Write it, and press again where the page moved away under the hand: what is not sent still stands there."""
    field = page.locator("#comments textarea")
    field.fill(words)
    for _ in range(20):
        page.get_by_role("button", name="Add comment").click()
        with suppress(AssertionError):
            expect(field).to_have_value("", timeout=2000)
            return
    raise AssertionError(f"{words} is not sent")


def settled(page):
    """Everything is online again: what waits is sent, what is refused is sent all the same."""
    for _ in range(60):
        back_on(page)
        if page.locator("#outbox .wrong").count():
            page.evaluate(
                "document.querySelectorAll('#outbox li button').forEach((b) => b.textContent === 'Send anyway' && b.click())"
            )
        with suppress(AssertionError):
            expect(page.locator("#outbox summary")).to_have_text("All kept", timeout=1000)
            return
    raise AssertionError(page.locator("#outbox").text_content())


def until_there(page, maker, evaluation, count):
    """What was done last may not have been put into the outbox yet when that said that all is kept."""
    for _ in range(120):
        with maker() as session:
            query = select(func.count()).where(t.Claim.evaluation_id == evaluation, t.Claim.deleted_at.is_(None))
            if session.scalar(query) >= count:
                return
        page.wait_for_timeout(500)


def test_whatever_three_screens_do_arrives_once_and_all_end_equal(browser, live, page, maker, member):
    chance = random.Random(ACTS)
    begin_evaluation(page, maker, member, limit=1.5)
    address = page.url
    with maker.begin() as session:
        add_member(session, member.team, f"rowan-{member.email}", "Rowan", PASSWORD, role=MemberRole.MEMBER)
    rowan = SimpleNamespace(email=f"rowan-{member.email}")
    done = {"claims": set(), "comments": set(), "readings": 0}
    with (
        screen_of(browser, live, rowan, address, viewport={"width": 1280, "height": 800}) as other,
        screen_of(browser, live, member, f"{address}/readings", viewport={"width": 390, "height": 844}) as telephone,
    ):
        laptops = [page, other]
        for laptop in laptops:
            lose_answers(laptop, chance)
            unfold(laptop, "Comments")
        for n in range(ACTS):
            one = chance.choice([*laptops, telephone])
            if chance.random() < 0.12:
                one.context.set_offline(chance.random() < 0.5)
            if one is telephone:
                one.locator("[name=frequency]").fill(f"{7 + n / 1000:.3f}")
                one.locator("[name=swr]").fill(f"{1 + n / 1000:.3f}")
                one.get_by_role("button", name="Save").click()
                done["readings"] += 1
            elif (what := chance.random()) < 0.5:
                write(one, f"{1.2 + n / 1000:.3f}")
            elif what < 0.75:
                one.get_by_label("New claim", exact=True).fill(f"SWR < {2 + n / 1000:.3f} 40m")
                one.get_by_role("button", name="Add claim", exact=True).click()
                done["claims"].add(round(2 + n / 1000, 3))
            else:
                unfold(one, "Comments")
                comment(one, f"Word {n}.")
                done["comments"].add(f"Word {n}.")
        evaluation = int(address.split("/e/")[1].split("?")[0])
        for one in [*laptops, telephone]:
            settled(one)
        until_there(page, maker, evaluation, len(done["claims"]) + 1)
        shown = []
        for one in laptops:
            one.reload()
            shown.append((cell(one, "Limit").input_value(), one.locator(".ledger .opens").count()))
    with maker() as session:
        row = session.get(t.Evaluation, evaluation)
        claims = [round(c.limit, 3) for c in row.claims if c.deleted_at is None]
        comments = [c.words for c in session.scalars(select(t.Comment).where(t.Comment.evaluation_id == evaluation))]
        readings = session.scalar(
            select(func.count())
            .select_from(t.Reading)
            .join(t.ReadingSheet)
            .where(t.ReadingSheet.evaluation_id == evaluation)
        )
    assert sorted(claims[1:]) == sorted(done["claims"])
    assert sorted(comments) == sorted(done["comments"])
    assert readings == done["readings"]
    assert shown[0] == shown[1]


def test_a_page_of_forms_shows_what_was_sent_once_it_is_back(bench):
    bench.goto(f"{bench.url.split('?')[0]}/adjust")
    carried(bench)
    bench.context.set_offline(True)
    bench.get_by_role("button", name="Add part").click()
    says(bench, "1 waiting")
    back_on(bench)
    says(bench, "All kept")
    bench.get_by_role("button", name=re.compile("^Remove ")).first.wait_for()


def test_what_was_refused_on_arrival_is_written_into_its_field_again(bench):
    bench.context.set_offline(True)
    bench.get_by_label("New claim", exact=True).fill("SWR < 1.5 on the nice band")
    bench.get_by_role("button", name="Add claim", exact=True).click()
    says(bench, "1 waiting")
    back_on(bench)
    says(bench, "1 refused")
    bench.locator("#outbox summary").click()
    expect(bench.locator("#outbox button", has_text="Send anyway")).to_have_count(0)
    bench.locator("#outbox button", has_text="Correct it").click()
    expect(bench.get_by_label("New claim", exact=True)).to_have_value("SWR < 1.5 on the nice band")
    says(bench, "All kept")
