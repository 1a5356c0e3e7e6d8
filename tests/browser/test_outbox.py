"""Whatever is done goes through the outbox: kept on the device until it is acknowledged, sent in order, done once."""

import re

import pytest
from playwright.sync_api import expect
from sqlalchemy import func, select

from levelmoor.records import tables as t
from levelmoor.records.audit import Actor
from levelmoor.records.history import ACTOR
from tests.browser.steps import begin_evaluation, carried, cell, drop, unfold
from tests.browser.test_main_path import touchstone


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
