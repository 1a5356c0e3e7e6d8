"""What is changed on a plan by hand, as kept with the evaluation."""

from typing import Any

from levelmoor.core.plan.plan_model import Plan
from levelmoor.core.rf.frequency import parse_frequency
from levelmoor.core.words.sentence import sentence
from levelmoor.records import tables as t
from levelmoor.web.cell_values import CellProblem, number, own_bands_of

FIGURES: dict[str, tuple[str, float, float, float]] = {
    "rebuild_min": ("minutes, 0 to 600", 0, 600, 1),
    "calibration_min": ("minutes, 0 to 600", 0, 600, 1),
    "sweep_min": ("minutes, 0.1 to 600", 0.1, 600, 1),
    "shift_hz": ("kHz above 0, as in 20", 0.001, 1e6, 1e3),
    "spread_hz": ("kHz, as in 5", 0, 1e6, 1e3),
    "rbw_hz": ("kHz above 0, as in 10", 0.001, 1e5, 1e3),
}
"""What each figure is, its bounds, and what it is multiplied by to be kept."""


def set_figure(row: t.Evaluation, name: str, typed: str) -> None:
    """Keep one figure. Raises CellProblem saying what would be right, KeyError for no such figure."""
    what, low, high, scale = FIGURES[name]
    _keep(row, **{name: number(typed, what, low, high) * scale})


def drop(row: t.Evaluation, key: str) -> None:
    _keep(row, dropped=[*(k for k in _list(row, "dropped") if k != key), key])


def restore(row: t.Evaluation, key: str) -> None:
    _keep(row, dropped=[k for k in _list(row, "dropped") if k != key])


def move(row: t.Evaluation, plan: Plan, key: str, by: int) -> None:
    """Move a run up or down; from then on the whole order is as it stands."""
    order = [r.key for r in plan.runs]
    if key not in order:
        return
    at = order.index(key)
    to = min(max(at + by, 0), len(order) - 1)
    order.insert(to, order.pop(at))
    _keep(row, order=order)


def forget_order(row: t.Evaluation) -> None:
    _keep(row, order=[])


def add_own(row: t.Evaluation, sample_id: str, setup_id: str, low: str, high: str) -> None:
    """A run added by hand, from and to, or the name of an own band alone. Raises CellProblem where a part is not
    right."""
    if sample_id not in [str(s.id) for s in row.samples] or setup_id not in [str(s.id) for s in row.setups]:
        raise CellProblem("Choose the sample and the setup.")
    named = next((w for w in own_bands_of(row) if w.name.lower() == low.strip().lower() and not w.spot), None)
    try:
        first, last = (named.low_hz, named.high_hz) if named else (parse_frequency(low), parse_frequency(high))
    except ValueError as problem:
        raise CellProblem(sentence(problem)) from None
    if not first < last:
        raise CellProblem("The upper end of the run must be above its lower end.")
    own = {"sample_id": sample_id, "setup_id": setup_id, "low_hz": first, "high_hz": last}
    _keep(row, own=[*(o for o in _list(row, "own") if o != own), own])


def remove_own(row: t.Evaluation, key: str) -> None:
    kept = [o for o in _list(row, "own") if _own_key(o) != key]
    _keep(row, own=kept)


def _own_key(o: dict[str, Any]) -> str:
    return f"s{o['sample_id']}-u{o['setup_id']}-{o['low_hz'] / 1e3:.0f}-{o['high_hz'] / 1e3:.0f}"


def _list(row: t.Evaluation, name: str) -> list[Any]:
    return list((row.wishes or {}).get(name, []))


def _keep(row: t.Evaluation, **values: Any) -> None:
    row.wishes = {**(row.wishes or {}), **values}
