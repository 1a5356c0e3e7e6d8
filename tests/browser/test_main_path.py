"""The job from an empty database to a verdict that somebody else computes again, in a real browser."""

import os
import threading

import numpy as np
import pytest

from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.web.app import create_app
from tests.browser.steps import (
    ANALYZER_TEXT,
    begin_evaluation,
    cell,
    drop,
    open_evaluation,
    sign_in_at,
    verdict_line,
    write_claim,
)
from tests.command import as_process as levelmoor
from tests.conftest import PASSWORD, fresh_schema, served
from tests.sweeps import rlc


@pytest.fixture
def empty(mariadb):
    """A server on a database with nothing in it but the schema: its address and its database."""
    url = fresh_schema(mariadb).serving
    app = create_app(url)
    server = served(app)
    thread = threading.Thread(target=server.serve_forever)
    thread.start()
    yield f"http://127.0.0.1:{server.server_port}", url
    server.shutdown()
    thread.join()
    app.config["SESSIONS"].kw["bind"].dispose()


def touchstone():
    """A series RLC at 14.2 MHz, Q 12: SWR at most 1.4 on 20 m, 1.9 or so is not reached."""
    f = np.linspace(13.2e6, 15.2e6, 401)
    gamma = gamma_from_impedance(rlc(f, q=12), 50)
    rows = (f"{x / 1e6:.4f}\t{g.real:.7f}\t{g.imag:.7f}" for x, g in zip(f, gamma, strict=True))
    return ANALYZER_TEXT + "\r\n".join(rows)


def test_from_an_empty_database_to_a_verdict_computed_again(page, browser, empty, tmp_path):
    address, url = empty
    environment = {**os.environ, "LEVELMOOR_DATABASE_URL": url}
    done = levelmoor(
        "user",
        "add",
        "ann@moor.example",
        "--name",
        "Ann",
        "--team",
        "Moor team",
        "--editor",
        input=f"{PASSWORD}\n",
        env=environment,
    )
    assert done.returncode == 0, done.stderr

    sign_in_at(page, address, "ann@moor.example")
    open_evaluation(page)
    write_claim(page)

    drop(page, "yard.s1p", touchstone())
    page.get_by_text("Was the analyzer calibrated").wait_for()
    assert "Not shown" in verdict_line(page).inner_text()
    page.get_by_role("button", name="Yes, at the plane").click()
    verdict_line(page, "The calibration is stated but not on record")
    page.get_by_role("button", name="Accept every sweep here").click()
    verdict_line(page, "Pass")
    assert "the limit is 1.5" in verdict_line(page).inner_text()

    page.get_by_label("How the sample was obtained").select_option("bought")
    page.get_by_role("link", name="Report Not published yet").click()
    page.get_by_role("button", name="Publish").click()
    page.wait_for_url("**/r/*")
    public = page.url

    stranger = browser.new_context(accept_downloads=True)
    other = stranger.new_page()
    other.goto(public)
    assert other.get_by_role("heading", name="Pass SWR at most 1.5:1 on 20m").is_visible()
    assert "bought by the team" in other.content()
    assert (
        other.request.get(public, headers={"Accept": "application/json"}).json()["findings"]["claims"][0]["verdict"]
        == "pass"
    )
    with other.expect_download() as download:
        other.get_by_role("link", name="Download the bundle").click()
    bundle = tmp_path / "bundle.zip"
    download.value.save_as(bundle)
    stranger.close()

    same = levelmoor("verify", bundle)
    assert (same.returncode, same.stdout.splitlines()[-1]) == (0, "same")
    altered = bytearray(bundle.read_bytes())
    altered[len(altered) // 2] ^= 1
    bundle.write_bytes(altered)
    assert levelmoor("verify", bundle).returncode == 2


def test_correction_is_a_new_revision_and_the_old_one_stays(page, maker, member):
    begin_evaluation(page, maker, member, limit=1.5, calibrated=True)
    page.set_input_files("#files", {"name": "yard.s1p", "mimeType": "text/plain", "buffer": touchstone().encode()})
    verdict_line(page, "Pass")
    evaluation = page.url
    page.goto(f"{evaluation.split('?')[0]}/report")
    page.get_by_role("button", name="Publish").click()
    page.wait_for_url("**/r/*")
    public = page.url

    page.goto(evaluation)
    cell(page, "Limit").fill("1.2")
    cell(page, "Limit").press("Tab")
    verdict_line(page, "Fail")
    page.goto(f"{evaluation.split('?')[0]}/report")
    page.get_by_label("What changed since revision 1").fill("The box says 1.2.")
    page.get_by_role("button", name="Publish").click()
    page.wait_for_url("**/r/*")
    assert page.get_by_role("heading", name="Fail SWR at most 1.2:1 on 20m").is_visible()
    page.goto(f"{public}/1")
    assert page.get_by_role("heading", name="Pass SWR at most 1.5:1 on 20m").is_visible()
    assert page.get_by_text("replaces it: The box says 1.2.").is_visible()
