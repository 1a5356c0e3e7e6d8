"""The tables of a tuner's dials, learnt through the page's forms and learnt again after a correction by hand."""

import io
from dataclasses import replace

import numpy as np
import pytest

from levelmoor.core.matching.knobs import foreseen_gamma
from levelmoor.core.matching.solutions import generic_network
from levelmoor.core.model.networks import NetworkKind
from levelmoor.formats.knob_table import table_text
from levelmoor.records import store
from levelmoor.records import tables as t
from levelmoor.records.trials import knobs_row, network_of

TRUE = generic_network(NetworkKind.L_SERIES_FIRST)
HZ = np.linspace(3e6, 15e6, 41)
WRONG = 1.15


def wrong(values):
    return tuple(v * WRONG + 1 for v in values)


@pytest.fixture
def tuner(signed_in, member, maker):
    """An evaluation with sweeps at the tuner's input, its tables wrong; the address, and the lines to learn from."""
    chance, lines = np.random.default_rng(3), []
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), "dials")
        kept = t.TunerNetwork(name="L", kind=TRUE.kind.value, q_source=TRUE.q_source, coil_q=TRUE.coil_q,
                              capacitor_q=TRUE.capacitor_q, knobs=knobs_row(TRUE.knobs))  # fmt: skip
        kept.knobs = {**kept.knobs, **{f"{k.part.value} table": [list(p) for p in zip(k.dial, wrong(k.value), strict=True)]
                                       for k in TRUE.knobs}}  # fmt: skip
        row.networks.append(kept)
        session.flush()
        home, network = f"/e/{row.id}", kept.id
    for n in range(12):
        dials = {k.part: float(chance.uniform(k.low, k.high)) for k in TRUE.knobs}
        load = (25.0, 100.0)[n % 2]
        seen = [complex(foreseen_gamma(TRUE, dials, float(f), load + 0j)) for f in HZ]
        rows = "\n".join(f"{f / 1e6:.6f} {g.real:.7f} {g.imag:.7f}" for f, g in zip(HZ, seen, strict=True))
        data = {"files": (io.BytesIO(f"# MHz S RI R 50\n{rows}\n".encode()), f"tuner-{n}.s1p")}
        assert signed_in.post(f"{home}/sweeps", data=data).status_code == 200
        marks = "; ".join(f"{k.name} {dials[k.part]:.9g}" for k in TRUE.knobs)
        lines.append(f"tuner-{n}; {load:g}; {marks}")
    return f"{home}/tuner/networks/{network}", "\n".join(lines), network


def kept(maker, network):
    with maker() as session:
        return network_of(session.get(t.TunerNetwork, network))


def test_a_correction_by_hand_is_held_and_the_rest_is_learnt_again(signed_in, maker, tuner):
    address, lines, network = tuner
    answer = signed_in.post(f"{address}/learn", data={"lines": lines})
    assert answer.status_code == 200, answer.text[answer.text.find('role="alert') :][:300]
    learnt = kept(maker, network)
    coil = learnt.knobs[0]
    off = coil.value[-1] * 1.05
    typed = table_text(replace(coil, value=(*coil.value[:-1], off)))

    answer = signed_in.post(f"{address}/knobs/{coil.part.value}/table", data={"value": typed})

    again = kept(maker, network)
    assert again.knobs[0].held == (coil.dial[-1],)
    assert again.knobs[0].value[-1] == pytest.approx(off, rel=1e-5)
    assert "corrected by hand" in answer.text
    others = np.array([v for k in again.knobs for v in k.value]) / [v for k in learnt.knobs for v in k.value]
    assert np.abs(others - 1).max() > 1e-3, "the other marks make up for it"


def test_marks_corrected_by_hand_are_learnt_too_where_it_is_asked_for(signed_in, maker, tuner):
    address, lines, network = tuner
    signed_in.post(f"{address}/learn", data={"lines": lines})
    coil = kept(maker, network).knobs[0]
    first = table_text(coil).replace(f"{coil.value[1]:g}", f"{coil.value[1] * 1.1:g}", 1)
    signed_in.post(f"{address}/knobs/{coil.part.value}/table", data={"value": first})
    assert kept(maker, network).knobs[0].held

    signed_in.post(f"{address}/learn", data={"lines": lines, "let_go": "yes"})

    assert not kept(maker, network).knobs[0].held
    assert kept(maker, network).knobs[0].value[1] == pytest.approx(TRUE.knobs[0].value[1], rel=0.05)


def test_a_correction_stays_where_the_rest_cannot_be_learnt_again(signed_in, maker, tuner):
    address, lines, network = tuner
    signed_in.post(f"{address}/learn", data={"lines": lines})
    coil = kept(maker, network).knobs[0]
    signed_in.post(f"{address}/knobs/{coil.part.value}/name", data={"value": "roller"})
    raised = "; ".join(f"{d:g} {v * 1.5:.9g}" for d, v in zip(coil.dial, coil.value, strict=True))

    answer = signed_in.post(f"{address}/knobs/{coil.part.value}/table", data={"value": raised})

    assert (
        "The correction is kept; the other marks stay as they were: line 1: the mark of roller is missing"
        in answer.text
    )
    assert kept(maker, network).knobs[0].value == pytest.approx([v * 1.5 for v in coil.value])
