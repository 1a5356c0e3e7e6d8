"""Three antennas that only NEC-2 knows are tuned through the page's own forms, by the proposals alone."""

import io
import re

import numpy as np
import pytest

from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.window_text import parse_windows
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.article_state import windows_row
from tests.core.adjusting.test_by_nec import Model, coil_whip, fan

MOST_TRIPS = 6
HATLESS_M = 1.9


def whip(lengths, f):
    """A telescopic whip over ground."""
    model = Model(ground=True)
    rod = model.wire((0, 0, 0), (0, 0, lengths[0] / 100), 15, 2e-3)
    return model.impedance(f, rod, 1)


def hat(spokes, f):
    """A short vertical over ground with a coil at its foot and four spokes on top: their length in cm."""
    model = Model(ground=True)
    rod = model.wire((0, 0, 0), (0, 0, HATLESS_M), 15, 3e-3)
    for x, y in ((1, 0), (-1, 0), (0, 1), (0, -1)):
        model.wire((0, 0, HATLESS_M), (x * spokes[0] / 100, y * spokes[0] / 100, HATLESS_M), 5, 2e-3)
    model.load(rod, 2, 0, 20.0, 0.5e-6, 0.0)
    return model.impedance(f, rod, 1)


ANTENNAS = {
    # a whip that is far too short, of which a wide sweep is made
    "a whip at its shortest": (whip, [("2m", 2.0)], [("whip", 17.0, "")], (50, 700, 1301)),
    "two dipoles of a fan, cut": (
        lambda arms, f: fan([arms[0], arms[1], 101.0], f),
        [("10m", 3.0), ("6m", 3.0)],
        [("dipole_ends", 285.0, "10m"), ("dipole_ends", 160.0, "6m")],
        (20, 60, 161),
    ),
    "a whip with a coil": (coil_whip, [("10m", 3.0)], [("coil_whip", 95.0, "")], (20, 36, 161)),
    "a hat": (hat, [("10m", 3.0)], [("hat", 24.0, "")], (18, 42, 241)),
}


def touchstone(z, f):
    rows = (f"{hz / 1e6:.6f} {g.real:.6f} {g.imag:.6f}" for hz, g in zip(f, gamma_from_impedance(z, 50), strict=True))
    return ("# MHz S RI R 50\n" + "\n".join(rows) + "\n").encode()


def proposed(page):
    """The moves of the proposal, as its form would send them."""
    card = page.split('class="move-card', 1)[1].split("</form>", 1)[0]
    return dict(re.findall(r'name="(by-\d+|entry)"\s+value="([^"]*)"', card))


@pytest.mark.parametrize("name", ANTENNAS)
def test_it_is_brought_within_its_claims(signed_in, member, maker, name):
    antenna, claims, parts, (low, high, points) = ANTENNAS[name]
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), name)
        row.bench_calibration = "at_plane"
        for band, limit in claims:
            row.claims.append(t.Claim(quantity="swr", limit=limit, windows=windows_row(parse_windows(band, 1))))
        home = f"/e/{row.id}"
    for n, (kind, at, band) in enumerate(parts):
        signed_in.post(f"{home}/adjust/elements", data={"kind": kind})
        with maker() as session:
            ident = session.query(t.ArticleElement.id).order_by(t.ArticleElement.id.desc()).first()[0]
        for field, value in {"at": f"{at:g}", "bands": band, "name": f"part {n}"}.items():
            assert signed_in.post(f"{home}/adjust/elements/{ident}/{field}", data={"value": value}).status_code == 200
    lengths, f = [at for _, at, _ in parts], np.linspace(low * 1e6, high * 1e6, points)
    for trip in range(MOST_TRIPS + 1):
        sent = (io.BytesIO(touchstone(antenna(lengths, f), f)), f"round-{trip}.s1p")
        signed_in.post(f"{home}/sweeps", data={"files": sent})
        page = signed_in.get(f"{home}/adjust").text
        if "stop here" in page:
            break
        form = proposed(page)
        moves = [float(v) for k, v in sorted(form.items()) if k.startswith("by-")]
        assert moves, page.split('class="move-card', 1)[1][:900]
        assert signed_in.post(f"{home}/adjust/moves", data=form).status_code == 200
        with maker() as session:
            made = session.query(t.Adjustment).order_by(t.Adjustment.id.desc()).first()
            ids = sorted(i for (i,) in session.query(t.ArticleElement.id).filter_by(evaluation_id=made.evaluation_id))
            for move in made.moves:
                lengths[ids.index(int(move["element_id"]))] += move["by"]
    assert "stop here" in page, (trip, lengths)
