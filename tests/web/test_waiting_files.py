"""A file that waits says what is asked; what a person says is remembered, unit and all."""

import io
import re

import numpy as np
import pytest

from levelmoor.records import mapping, store
from levelmoor.records import tables as t


@pytest.fixture
def case(maker, member):
    with maker.begin() as session:
        return store.open_evaluation(session, session.get(t.Team, member.team_id), "Whip").id


def drop(client, case, name, angle, headings="MHz,|S11|,Phase"):
    rows = "".join(f"{14 + i / 100},0.5,{angle}\n" for i in range(5))
    data = {"files": (io.BytesIO(f"{headings}\n{rows}".encode()), name)}
    return client.post(f"/e/{case}/sweeps", data=data, content_type="multipart/form-data").text


def test_radians_are_asked_about_once_and_remembered(signed_in, case, maker):
    page = drop(signed_in, case, "one.csv", 1.2)
    assert "Phases within ±1.2 without a unit; choose degrees or radians." in page
    form = page.split('class="waiting-file"')[1].split("</form>")[0]
    assert re.findall(r'value="([^"]+)" selected', form) == ["frequency", "abs_gamma"]
    ident = re.search(r"/sweeps/waiting/(\d+)", form)[1]
    said = {"0": "frequency", "1": "abs_gamma", "2": "phase rad"}
    signed_in.post(f"/e/{case}/sweeps/waiting/{ident}", data=said)
    drop(signed_in, case, "two.csv", -0.7)
    drop(signed_in, case, "three.csv", 120)  # these are degrees whatever was said of others
    with maker() as session:
        gammas = [
            mapping.sweep_of(s).gamma[0]
            for s in session.query(t.Sweep).filter_by(evaluation_id=case).order_by(t.Sweep.id)
        ]
    np.testing.assert_allclose(np.angle(gammas), [1.2, -0.7, np.radians(120)])


def test_a_file_dropped_twice_waits_once(signed_in, case, maker):
    for name in ("one.csv", "one (1).csv"):
        drop(signed_in, case, name, 1.2)
    with maker() as session:
        assert session.query(t.PendingFile).filter_by(evaluation_id=case).count() == 1
