"""Editing in place: which cells there are, and what each takes."""

from collections.abc import Mapping
from typing import Any

from levelmoor.core.model.bench_records import BenchRule
from levelmoor.core.model.claims import Tuner
from levelmoor.core.model.conditions import CONDITION_WORDS
from levelmoor.core.model.evaluation import Obtained, Plane
from levelmoor.core.model.product_kinds import ProductKind
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.model.state import Role
from levelmoor.core.model.through import Fixture
from levelmoor.core.model.trials import Outcome
from levelmoor.core.words.bounds import LONG_LETTERS, NUMBERS, ROUNDS
from levelmoor.core.words.sentence import sentence
from levelmoor.records import tables as t
from levelmoor.records.mapping import claim_of
from levelmoor.records.sweeps import compose
from levelmoor.web.cell_values import (
    INSTRUMENTS,
    CellProblem,
    Parser,
    calibration_cell,
    calibration_choice,
    choice_cell,
    connector_cell,
    date_cell,
    dips_cell,
    frequency,
    limit_cell,
    load_cell,
    moment_cell,
    number,
    number_cell,
    one_of,
    optional_number_cell,
    pieces,
    profile_cell,
    region_cell,
    round_cell,
    rule_cell,
    text_cell,
    unit_cell,
    windows_cell,
    yes_no_cell,
)

CELLS: Mapping[str, Mapping[str, Parser]] = {
    "product": {
        "name": text_cell("product.name", "A product needs a name."),
        "maker": text_cell("product.maker"),
        "description": text_cell("product.description"),
        "in_the_box": text_cell("product.in_the_box"),
        "kind": choice_cell(ProductKind),
    },
    "sample": {
        "label": text_cell("sample.label", "A sample needs a name."),
        "serial": text_cell("sample.serial"),
        "obtained": choice_cell(Obtained),
        "obtained_from": text_cell("sample.obtained_from"),
        "price": text_cell("sample.price"),
        "connector": connector_cell,
        "suspicion": text_cell("sample.suspicion"),
        "control": yes_no_cell,
        "set_aside": text_cell("sample.set_aside"),
        "note": text_cell("sample.note"),
        **{name: text_cell(f"sample.{name}") for name in ("terms", "ties", "afterwards", "rework")},
    },
    "setup": {
        "name": text_cell("setup.name", "A setup needs a name."),
        "description": text_cell("setup.description"),
        "plane": choice_cell(Plane),
        "tuner_in_line": yes_no_cell,
        "line_id": one_of(pieces("line"), "feed line", optional=True),
        "planned": yes_no_cell,
        "role": choice_cell(Role),
        "set_aside": text_cell("setup.set_aside"),
        **dict.fromkeys(CONDITION_WORDS, text_cell("setup.condition")),
    },
    "claim": {
        "quantity": choice_cell(Quantity),
        "windows": windows_cell,
        "limit": limit_cell,
        "z0_ohm": number_cell("a nominal impedance in Ω, as in 50", *NUMBERS["claim.z0_ohm"]),
        "tuner": choice_cell(Tuner),
        "condition": text_cell("claim.condition"),
        "source": text_cell("claim.source"),
        "seen_on": date_cell,
        "swr_at": optional_number_cell("an SWR above 1, as in 2", *NUMBERS["claim.swr_at"]),
        "power_w": optional_number_cell("watts above 0, as in 5", *NUMBERS["claim.power_w"]),
        "mode": text_cell("claim.mode"),
        "duty": optional_number_cell("a duty cycle in per cent, 1 to 100", 0.1, 100, 0.01),
        "stated": text_cell("claim.stated"),
        "setup_id": one_of(lambda e: e.setups, "setup", optional=True),
        "excerpt": text_cell("claim.excerpt"),
        "one_setting": yes_no_cell,
        "tolerance": optional_number_cell("a tolerance in dB, as in 0.5", *NUMBERS["claim.tolerance"]),
    },
    "evaluation": {
        "region": lambda typed, _e: region_cell(typed),
        "rule": lambda typed, _e: rule_cell(typed),
        "profile_limit": number_cell("an SWR above 1, as in 2.5", *NUMBERS["evaluation.profile_limit"]),
        "notes": text_cell("evaluation.notes"),
        "bench_rule": choice_cell(BenchRule),
        "age_limit_h": number_cell("hours, as in 24", *NUMBERS["evaluation.age_limit_h"]),
    },
    "hand": {
        "sample_id": one_of(lambda e: e.samples, "sample"),
        "setup_id": one_of(lambda e: e.setups, "setup"),
        "instrument_id": one_of(INSTRUMENTS, "instrument"),
        "setting_id": one_of(lambda e: e.settings, "setting", optional=True),
    },
    "capture": {
        "name": text_cell("capture.name", "A capture needs a name."),
        "mode": text_cell("capture.mode"),
        "filter_name": text_cell("capture.filter_name"),
        "taken_on": moment_cell,
        "carrier_hz": lambda typed, _e: frequency(typed),
        "rbw_hz": number_cell("a resolution bandwidth in kHz, as in 30", 0, 1e5),
        "setting_id": one_of(lambda e: e.settings, "setting", optional=True),
        "round": round_cell,
        "set_aside": text_cell("capture.set_aside"),
        "sample_id": one_of(lambda e: e.samples, "sample"),
        "setup_id": one_of(lambda e: e.setups, "setup"),
        "instrument_id": one_of(INSTRUMENTS, "instrument"),
    },
    "setting": {
        "name": text_cell("setting.name", "A setting needs a name."),
        "windows": windows_cell,
        "mark": optional_number_cell("a mark as a number, as in 6.5", *NUMBERS["setting.mark"]),
        "mark_words": text_cell("setting.mark_words"),
    },
    "element": {
        "name": text_cell("element.name", "A part needs a name."),
        "unit": lambda typed, _e: unit_cell(typed),
        "at": number_cell("where it was at first, as in 52", *NUMBERS["element.at"]),
        "low": optional_number_cell("the least it goes, as in 10", *NUMBERS["element.at"]),
        "high": optional_number_cell("the most it goes, as in 120", *NUMBERS["element.at"]),
        "lengthens": yes_no_cell,
        "cut": yes_no_cell,
        "bands": lambda typed, e: [str(w["name"]) for w in windows_cell(typed, e)] if typed.strip() else [],
    },
    "network": {
        "name": text_cell("network.name", "A network needs a name."),
        "coil_q": number_cell("the coil's Q, as in 150", *NUMBERS["network.coil_q"]),
        "capacitor_q": number_cell("the capacitors' Q, as in 1500", *NUMBERS["network.capacitor_q"]),
        "q_source": text_cell("network.q_source"),
        "rated_v": optional_number_cell("the peak voltage it withstands, as in 1000", *NUMBERS["network.rated_v"]),
        "rated_a": optional_number_cell("the current it withstands, as in 5", *NUMBERS["network.rated_a"]),
    },
    "trial": {
        "load": load_cell,
        "load_sweep_id": one_of(lambda e: e.sweeps, "sweep", optional=True),
        "network_id": one_of(lambda e: e.networks, "network", optional=True),
        "through_id": one_of(lambda e: e.throughs, "sweep through", optional=True),
        "outcome": choice_cell(Outcome),
        "swr_before": optional_number_cell("an SWR, as in 4", *NUMBERS["trial.swr_before"]),
        "swr_after": optional_number_cell("an SWR, as in 1.3", *NUMBERS["trial.swr_after"]),
        "seconds": optional_number_cell("seconds, as in 4.2", *NUMBERS["trial.seconds"]),
        "set_aside": text_cell("trial.set_aside"),
        "note": text_cell("trial.note"),
        "instrument_id": one_of(INSTRUMENTS, "instrument", optional=True),
    },
    "through": {
        "name": text_cell("through.name", "A sweep needs a name."),
        "setup_id": one_of(lambda e: e.setups, "setup"),
        "setting_id": one_of(lambda e: e.settings, "setting", optional=True),
        "round": round_cell,
        "calibration_id": calibration_cell,
        "fixture": choice_cell(Fixture),
        "note": text_cell("through.note"),
        "set_aside": text_cell("through.set_aside"),
    },
    "record": {
        "setup_id": one_of(lambda e: e.setups, "setup"),
        "setting_id": one_of(lambda e: e.settings, "setting", optional=True),
        "round": round_cell,
        "instrument_id": one_of(INSTRUMENTS, "instrument", optional=True),
        "set_aside": text_cell("heat.set_aside"),
    },
    "width": {"set_aside": text_cell("width.set_aside")},
    "comparison": {"words": text_cell("comparison.words")},
    "picture": {"caption": text_cell("picture.caption")},
    "sweep": {
        "name": text_cell("sweep.name", "A sweep needs a name."),
        "taken_on": moment_cell,
        "raw": yes_no_cell,
        "setting_id": one_of(lambda e: e.settings, "setting", optional=True),
        "round": round_cell,
        "mounting": lambda typed, _e: int(number(typed, "the mounting, counted from 1", 1, ROUNDS)),
        "set_aside": text_cell("sweep.set_aside"),
        "dips": dips_cell,
        "sample_id": one_of(lambda e: e.samples, "sample"),
        "setup_id": one_of(lambda e: e.setups, "setup"),
        "instrument_id": one_of(INSTRUMENTS, "instrument"),
    },
}


SPECIAL = {("evaluation", "profile"), ("hand", "calibration"), ("sweep", "calibration")}
"""Cells that set more than one column."""


def set_cell(kind: str, row: Any, name: str, typed: str, evaluation: t.Evaluation) -> None:
    """Put what was typed into a row.

    Raises
    ------
    CellProblem
        Where the cell does not take it; the row is to be dropped then.
    KeyError
        Where there is no such cell.
    """
    if len(typed) > LONG_LETTERS:
        raise CellProblem(f"At most {LONG_LETTERS} characters; this has {len(typed)}.")
    if (kind, name) == ("evaluation", "profile"):
        evaluation.profile, evaluation.profile_limit = profile_cell(typed, str(evaluation.profile_limit))
        return
    try:
        if (kind, name) in (("hand", "calibration"), ("sweep", "calibration")):
            row.calibration, row.calibration_id = calibration_choice(typed, evaluation)
        else:
            value = CELLS[kind][name](typed, evaluation)
            if kind == "setup" and name in CONDITION_WORDS:
                row.conditions = {**row.conditions, name: value}
            else:
                setattr(row, name, value)
        if kind == "claim":
            claim_of(row)
        elif kind == "sweep" and (name == "raw" or (row.raw and name == "calibration")):
            compose(row)
    except CellProblem:
        raise
    except ValueError as problem:
        raise CellProblem(sentence(problem)) from None


def understood(kind: str, name: str, row: Any) -> str:
    """How a typed cell was understood, where that is worth saying."""
    if (kind, name) == ("claim", "windows") and row.windows:
        return "; ".join(f"{w.name} {w.low_hz / 1e6:g}–{w.high_hz / 1e6:g} MHz" for w in claim_of(row).windows)
    return ""
