"""What is inside a tuner: its network and dials, and the settings that match a load."""

from typing import Any

from flask import Blueprint, abort, g, render_template, request
from flask.typing import ResponseReturnValue

from levelmoor.core.matching.behind_match import behind_match
from levelmoor.core.matching.learnt_tables import learn_tables, let_go, with_correction
from levelmoor.core.matching.solutions import matches, solutions, with_loss
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.networks import PART_WORDS, Knob, Network, NetworkKind, Part
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.trials.load_text import Load, load_as_swept, parse_load
from levelmoor.core.words.bounds import NUMBERS
from levelmoor.core.words.figures import brief_mhz
from levelmoor.core.words.sentence import sentence
from levelmoor.figures.tuner_loss import loss_figure
from levelmoor.formats.knob_table import KnobProblem, knob_from, read_seen
from levelmoor.records import tables as t
from levelmoor.records.kept import Kept
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.trials import TrialProblem, add_network, knobs_row, network_of
from levelmoor.web.cell_values import CellProblem, number
from levelmoor.web.conflicts import in_words, meanwhile
from levelmoor.web.context import for_members
from levelmoor.web.tuner.routes import WORK, again
from levelmoor.web.workbench.screen import evaluation_or_404
from levelmoor.web.workbench.work import part_of

networks = Blueprint(
    "networks", __name__, template_folder="templates", url_prefix="/e/<int:evaluation_id>/tuner/networks"
)

SHOWN_MATCHES = 6
NOTHING_MATCHES = "No position of the dials matches this load; this comes closest."
LOADS = (5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0)
_losses: Kept[str] = Kept(32)


@networks.post("")
@for_members
def add(evaluation_id: int) -> ResponseReturnValue:
    """Another network."""
    row, kind = evaluation_or_404(evaluation_id), request.form.get("kind", "")
    if kind not in list(NetworkKind):
        abort(422)
    try:
        add_network(row, NetworkKind(kind))
    except TrialProblem as problem:
        return again(row, "network", problem)
    return again(row)


WORK.keeps(networks, "network", "", lambda row: row.networks, lambda network: f"the network {network.name}")


@networks.post("/<int:network_id>/knobs/<part>/<name>")
@for_members
def knob(evaluation_id: int, network_id: int, part: str, name: str) -> ResponseReturnValue:
    """One fact of a knob: its name, its ends, whether it clicks, or its table."""
    row = evaluation_or_404(evaluation_id)
    network, typed = part_of(row.networks, network_id), request.form.get("value", "")
    if part not in list(Part):
        abort(404)
    core = network_of(network)
    own = core.knob(Part(part)) or abort(404)
    try:
        changed = knob_from(own, name, typed)
        if name == "table" and core.learnt_from:
            network.knobs = knobs_row(_corrected(row, core, changed).knobs)
        else:
            network.knobs = knobs_row(changed if k.part is own.part else k for k in core.knobs)
        if other := meanwhile(network, f"{part} {name}"):
            raise CellProblem(in_words(other, typed))
    except (CellProblem, KnobProblem) as problem:
        return again(row, f"knob-{network_id}-{part}-{name}", problem)
    except KeyError:
        abort(404)
    return again(row)


def _corrected(row: t.Evaluation, network: Network, knob: Knob) -> Network:
    """What was learnt is learnt again around a table that was corrected by hand."""
    after = with_correction(network, knob)
    try:
        learnt = learn_tables(after, read_seen(after.learnt_from, after, evaluation_of(row).sweeps))
    except ValueError as problem:
        g.learnt = network.id, None, f"The correction is kept; the other marks stay as they were: {problem}."
        return after
    g.learnt = network.id, learnt, ""
    return learnt.network


@networks.post("/<int:network_id>/learn")
@for_members
def learn(evaluation_id: int, network_id: int) -> ResponseReturnValue:
    """The tables of the dials from sweeps at the tuner's input with known loads."""
    row = evaluation_or_404(evaluation_id)
    kept = part_of(row.networks, network_id)
    network, lines = network_of(kept), request.form.get("lines", "")
    if request.form.get("let_go"):
        network = let_go(network)
    try:
        learnt = learn_tables(network, read_seen(lines, network, evaluation_of(row).sweeps))
    except ValueError as problem:
        return again(row, f"learn-{network_id}", sentence(problem))
    kept.knobs, kept.learnt_from = knobs_row(learnt.network.knobs), lines.strip()
    g.learnt = str(network_id), learnt, ""
    return again(row)


@networks.get("/match")
@for_members
def match(evaluation_id: int) -> ResponseReturnValue:
    """The settings that match a load, by what stays inside."""
    evaluation = evaluation_of(evaluation_or_404(evaluation_id))
    said: dict[str, Any] = {"wrong": "", "matches": (), "network": None}
    try:
        said |= _matched(evaluation)
    except ValueError as problem:
        said["wrong"] = sentence(problem)
    return render_template("tuner/match_said.html", row={"id": evaluation_id}, part_words=PART_WORDS, **said)


def _matched(evaluation: Evaluation) -> dict[str, Any]:
    args = request.args
    network = next((n for n in evaluation.networks if n.id == args.get("network", "")), None)
    if network is None:
        raise ValueError("choose a network")
    if not args.get("frequency", "").strip():
        raise ValueError("enter the frequency, as in 7.1")
    hz = parse_frequency(args["frequency"])
    power = number(args.get("power", "") or "100", "watts, as in 100", *NUMBERS["trial.power_w"])
    load = _load(evaluation, hz)
    z = load.impedance_ohm
    if z is None:
        raise ValueError("enter the load's R and X, as in 10 - j80, or choose the sweep of the antenna")
    found = [with_loss(m, power) for m in solutions(network, hz, z)]
    first = found[:SHOWN_MATCHES]
    left = [behind_match(network, m.dials, hz, z, power, swr_seen=m.swr) for m in first]
    return {
        "network": network,
        "matches": list(zip(first, left, strict=True)),
        "load": load,
        "hz": hz,
        "power": power,
        "count": len(found),
        "nearest": "" if matches(found[0]) else NOTHING_MATCHES,
    }


def _load(evaluation: Evaluation, hz: float) -> Load:
    args = request.args
    evidence = next((e for e in evaluation.sweeps if e.id == args.get("sweep", "")), None)
    if evidence is None:
        return parse_load(args.get("load", ""))
    load = load_as_swept(evidence.name, evidence.sweep, hz)
    if load.gamma is None:
        raise ValueError(f"{evidence.name} has no R and X at {brief_mhz(hz)} MHz")
    return load


@networks.get("/<int:network_id>/loss")
@for_members
def loss(evaluation_id: int, network_id: int) -> ResponseReturnValue:
    """The least loss by load and band, as a figure."""
    row = evaluation_or_404(evaluation_id)
    network = network_of(part_of(row.networks, network_id))
    if network.missing:
        return "<p class='quiet'>Its dials have no tables yet.</p>"
    bands = _bands(evaluation_of(row))
    return _losses.get((network, bands), lambda: _drawn(network, bands))


def _bands(evaluation: Evaluation) -> tuple[tuple[str, float], ...]:
    page_windows = dict.fromkeys(w for c in evaluation.claims for w in c.windows)
    if not page_windows:
        page_windows = dict.fromkeys(w for s in evaluation.settings for w in s.windows)
    named = [(w.name, (w.low_hz * w.high_hz) ** 0.5) for w in page_windows][:10]
    return tuple(named) or (("80m", 3.65e6), ("40m", 7.1e6), ("20m", 14.175e6), ("10m", 28.5e6))


def _drawn(network: Network, bands: tuple[tuple[str, float], ...]) -> str:
    rows = []
    for name, hz in bands:
        best = [solutions(network, hz, r, positions=60)[0] for r in LOADS]
        rows.append((name, [m.loss_db if m.swr < 1.2 else None for m in best]))
    return loss_figure(rows, LOADS)
