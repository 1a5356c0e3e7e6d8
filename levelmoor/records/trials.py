"""Trials and networks as rows."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from levelmoor.core.model.networks import Knob, Network, NetworkKind, Part
from levelmoor.core.model.trials import Trial
from levelmoor.core.trials.load_text import parse_load
from levelmoor.core.words.bounds import NETWORKS, TRIALS
from levelmoor.records import tables as t
from levelmoor.records.article_state import latest_round
from levelmoor.records.by_name import core_from, row_from


class TrialProblem(ValueError):
    """What is wrong with a trial or a network; nothing is stored then."""


def network_of(row: t.TunerNetwork) -> Network:
    return core_from(Network, row, knobs=tuple(_knob(p, row.knobs) for p in Part if f"{p.value} table" in row.knobs))


def _knob(part: Part, facts: Mapping[str, Any]) -> Knob:
    name, low, high, steps, table = (facts[f"{part.value} {f}"] for f in ("name", "low", "high", "steps", "table"))
    labels, held = (tuple(facts.get(f"{part.value} {f}", ())) for f in ("labels", "held"))
    return Knob(part, name, low, high, tuple(d for d, _ in table), tuple(v for _, v in table), steps, labels, held)


def knobs_row(knobs: Iterable[Knob]) -> dict[str, Any]:
    """Each fact of each knob by itself, as `coil table`: two people may change two of them at a time."""
    facts: dict[str, Any] = {}
    for k in knobs:
        table = [list(pair) for pair in zip(k.dial, k.value, strict=True)]
        own = {"name": k.name, "low": k.low, "high": k.high, "steps": k.steps, "table": table}
        own |= {"labels": list(k.labels), "held": list(k.held)}
        facts |= {f"{k.part.value} {name}": value for name, value in own.items()}
    return facts


def network_row(network: Network) -> t.TunerNetwork:
    return row_from(t.TunerNetwork, network, knobs=knobs_row(network.knobs))


def add_network(row: t.Evaluation, kind: NetworkKind) -> t.TunerNetwork:
    """Another network, its dials 0 to 100 and their tables not written down yet."""
    if len(row.networks) >= NETWORKS:
        raise TrialProblem(f"At most {NETWORKS} networks are allowed.")
    bare = Network("", f"Network {len(row.networks) + 1}" if row.networks else "Its network", kind)
    names = {Part.C_IN: "transmitter", Part.COIL: "coil", Part.C_OUT: "antenna"}
    made = network_row(Network("", bare.name, kind, tuple(Knob(p, names[p], 0.0, 100.0) for p in bare.parts)))
    row.networks.append(made)
    return made


def trial_of(row: t.Trial) -> Trial:
    return core_from(Trial, row)


def add_trials(session: Session, row: t.Evaluation, trials: Sequence[tuple[str, Trial]], who: str) -> list[t.Trial]:
    """Trials with the entry each came as; one that is there already changes nothing.

    Raises
    ------
    TrialProblem
        Where there are too many, or a load is none.
    """
    entries = [entry for entry, _ in trials]
    wanted = (t.Trial.evaluation_id == row.id, t.Trial.entry_id.in_(entries))
    known = {r.entry_id: r for r in session.scalars(select(t.Trial).where(*wanted))}
    fresh = [(entry, trial) for entry, trial in trials if entry not in known]
    if len(row.trials) + len(fresh) > TRIALS:
        raise TrialProblem(f"At most {TRIALS} trials are allowed.")
    made = []
    for entry, trial in fresh:
        if trial.load.strip():
            try:
                parse_load(trial.load)
            except ValueError as problem:
                raise TrialProblem(str(problem)) from None
        if entry in known:  # twice in one sending
            continue
        ids = {n: _id(getattr(trial, n)) for n in _NAMED}
        latest = latest_round(row, ids["sample_id"], ids["setup_id"], ids["setting_id"])
        own = {**ids, "who": who[:200], "round": max(trial.round, latest)}
        known[entry] = row_from(t.Trial, trial, entry_id=entry[:40], **own)
        made.append(known[entry])
        row.trials.append(known[entry])
    return made


_NAMED = ("sample_id", "setup_id", "setting_id", "instrument_id", "network_id", "load_sweep_id", "through_id")


def _id(ident: str) -> int | None:
    return int(ident) if ident else None
