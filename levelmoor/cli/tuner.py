"""The command line's trials and match: what a tuner matched, and the settings of a network that match a load."""

import argparse
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from levelmoor.cli.exits import NOTHING_MATCHES, VERDICT_EXITS, BadInput, refusing

if TYPE_CHECKING:
    from levelmoor.core.model.networks import Network

KINDS = {
    "T": "t",
    "L-series": "l_series_first",
    "L-shunt": "l_shunt_first",
    "pi": "pi",
    "differential": "differential_t",
}
"""Networks of a usual size by the names that the command has for them."""


def add_commands(commands: Any) -> None:
    """The parsers of these commands."""
    trials = commands.add_parser("trials", help="judge a tuner's matching range and times by its trials")
    trials.add_argument("file", metavar="FILE.csv", type=Path, help="trials, one per line, with headings")
    trials.add_argument(
        "--claim", action="append", default=[], help="such as 'matches 16 to 600 ohm to 1.5:1 40m, 20m'"
    )
    trials.add_argument("--region", type=int, choices=(1, 2, 3), default=1)
    trials.add_argument("--json", action="store_true")
    trials.set_defaults(run=_trials)

    match = commands.add_parser("match", help="the settings of a network that match a load, with their losses")
    match.add_argument("load", metavar="LOAD.s1p", help="a sweep of the load, or the load itself, such as 25-j100")
    match.add_argument(
        "--network", default="T", metavar="KIND",
        help=f"{', '.join(KINDS)}, of a usual size; or with --of, the name of one of its networks",
    )  # fmt: skip
    match.add_argument(
        "--of", metavar="FILE.zip", type=Path, help="an exported evaluation, for its networks with their tables"
    )
    match.add_argument(
        "--at", action="append", default=[], metavar="MHZ", help="frequencies (default: the middle of the sweep)"
    )
    match.add_argument("--coil-q", type=float, help="default: 150, or that of the evaluation's network")
    match.add_argument("--capacitor-q", type=float, help="default: 1500, or that of the evaluation's network")
    match.add_argument("--power", type=float, default=100.0, metavar="W")
    match.add_argument("--most", type=int, default=6, help="number of settings at each frequency")
    match.add_argument("--json", action="store_true")
    match.set_defaults(run=_match)


def _trials(options: argparse.Namespace) -> int:
    from levelmoor.core.claims.claim_text import understand
    from levelmoor.core.judge import judge
    from levelmoor.core.metrology.decision import VERDICT_WORDS, worst_verdict
    from levelmoor.core.model.equipment import Instrument
    from levelmoor.core.model.evaluation import Evaluation, Product, Sample, Setup
    from levelmoor.core.model.quantities import ShownBy
    from levelmoor.core.trials.trial_grid import cells_of
    from levelmoor.formats.claim_answer import as_json
    from levelmoor.formats.trials_csv import read_trials
    from levelmoor.formats.tuner_answer import trials_answer

    with refusing(options.file):
        placed = {"sample_id": "1", "setup_id": "1", "instrument_id": "1"}
        found = read_trials(options.file.name, options.file.read_bytes(), None, **placed)
    claims = []
    for n, line in enumerate(options.claim):
        said = understand(line, options.region)
        if said.claim is None or said.claim.quantity.spec.shown_by is not ShownBy.TRIAL:
            raise BadInput(
                f"{line!r} is not a claim that trials can show; {said.problem or 'write matches, tunes or recalls'}"
            )
        claims.append(replace(said.claim, id=str(n + 1)))
    evaluation = Evaluation(
        options.file.name, Product(options.file.name), options.region, samples=(Sample("1", "the sample"),),
        setups=(Setup("1", "as supplied"),), instruments=(Instrument("1", "as read"),), claims=tuple(claims),
        trials=tuple(found),
    )  # fmt: skip
    findings = judge(evaluation)
    answer = trials_answer(evaluation, findings, cells_of(found, {}))
    if options.json:
        print(as_json(answer))
    else:
        for cell in answer.cells:
            print(f"{cell.frequency_hz / 1e6:.3f} MHz into {cell.load}: {cell.words}")
        for one in answer.claims:
            print(f"{VERDICT_WORDS[one.verdict]}: {one.claim}. {one.reason}")
        print(answer.said)
    return VERDICT_EXITS[worst_verdict(c.verdict for c in answer.claims)] if claims else 0


def _match(options: argparse.Namespace) -> int:
    from levelmoor.core.matching.solutions import solutions, with_loss
    from levelmoor.core.rf.frequency import parse_frequency
    from levelmoor.formats.claim_answer import as_json
    from levelmoor.formats.tuner_answer import match_answer, match_text

    with refusing(Path(options.load)):
        network = _network(options)
        if not 0 < options.power < 1e6:
            raise ValueError(f"a power must be above 0 W, not {options.power:g}")
        loads = _loads(options.load, [parse_frequency(at) for at in options.at])
        answers = [
            match_answer(
                network, hz, z, options.power,
                [with_loss(m, options.power) for m in solutions(network, hz, z)[: max(options.most, 1)]],
            )
            for hz, z in loads
        ]  # fmt: skip
    if options.json:
        print(as_json(answers))
    else:
        for answer in answers:
            print(*match_text(answer), sep="\n")
    return 0 if all(answer.matches for answer in answers) else NOTHING_MATCHES


def _network(options: argparse.Namespace) -> "Network":
    """A network of a usual size, or one of an evaluation with its tables."""
    from levelmoor.core.matching.solutions import generic_network
    from levelmoor.core.model.networks import NetworkKind
    from levelmoor.formats.exchange_file import read_exchange

    if options.of is None:
        if options.network not in KINDS:
            raise ValueError(f"--network {options.network}: choose from {', '.join(KINDS)}")
        bare = generic_network(NetworkKind(KINDS[options.network]), f"a usual {options.network}")
        return replace(bare, coil_q=options.coil_q or bare.coil_q, capacitor_q=options.capacitor_q or bare.capacitor_q)
    every = read_exchange(options.of.read_bytes()).evaluation.networks
    named = [n for n in every if n.name == options.network] or (list(every) if len(every) == 1 else [])
    if not named:
        known = ", ".join(n.name for n in every) or "none"
        raise ValueError(f"{options.of.name}: name one of its networks with --network: {known}")
    own = named[0]
    return replace(own, coil_q=options.coil_q or own.coil_q, capacitor_q=options.capacitor_q or own.capacitor_q)


def _loads(given: str, wanted: list[float]) -> list[tuple[float, complex]]:
    """The loads in ohm at the wanted frequencies: of a sweep, or one that was written."""
    from levelmoor.core.rf.reflection import impedance_from_gamma
    from levelmoor.core.trials.load_text import parse_load
    from levelmoor.formats.sweepfile import read_sweep_file

    path = Path(given)
    if not path.exists():
        z = parse_load(given).impedance_ohm
        if z is None:
            raise ValueError(f"{given} is neither a file nor a load; write a load like 25-j100")
        if not wanted:
            raise ValueError("give the frequency, such as --at 7.1")
        return [(hz, z) for hz in wanted]
    sweep = read_sweep_file(path.name, path.read_bytes()).sweep
    if sweep.scalar:
        raise ValueError(f"{path.name}: has SWR only; computing a match needs R and X")
    wanted = wanted or [(sweep.low_hz + sweep.high_hz) / 2]
    beyond = [hz for hz in wanted if not sweep.covers(hz, hz)]
    if beyond:
        raise ValueError(f"{path.name}: {beyond[0] / 1e6:g} MHz was not swept")
    return [(hz, complex(impedance_from_gamma(sweep.gamma_at(hz), sweep.z0_ohm))) for hz in wanted]
