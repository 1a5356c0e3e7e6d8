"""The state of the article in rows: its settings with their windows, and the rounds between two adjustments."""

from typing import Any

from levelmoor.core.model.state import Setting
from levelmoor.core.rf.windows import Window
from levelmoor.records import tables as t
from levelmoor.records.by_name import core_from


def windows_of(kept: list[Any]) -> tuple[Window, ...]:
    return tuple(Window(w["low_hz"], w["high_hz"], w["name"]) for w in kept)


def windows_row(windows: tuple[Window, ...]) -> list[dict[str, object]]:
    return [{"low_hz": w.low_hz, "high_hz": w.high_hz, "name": w.name} for w in windows]


def setting_of(row: t.ArticleSetting) -> Setting:
    return core_from(Setting, row)


def latest_round(row: t.Evaluation, sample_id: int | None, setup_id: int | None, setting_id: int | None) -> int:
    """The latest round that was swept of a state, 1 where nothing was."""
    state = (sample_id, setup_id, setting_id)
    return max((s.round for s in row.sweeps if (s.sample_id, s.setup_id, s.setting_id) == state), default=1)


def open_round(row: t.Evaluation) -> None:
    """What is on the bench was adjusted: what is swept from now on is another round."""
    state = row.bench_sample_id, row.bench_setup_id, row.bench_setting_id
    swept = any((s.sample_id, s.setup_id, s.setting_id) == state for s in row.sweeps)
    row.bench_round = latest_round(row, *state) + 1 if swept else 1


def say_adjusted(row: t.Evaluation, sweep: t.Sweep, adjusted: bool) -> None:
    """Whether the article was adjusted before a sweep: then it and what came after it are a later round."""
    sweep.not_adjusted = not adjusted
    if not adjusted:
        return
    state = (sweep.sample_id, sweep.setup_id, sweep.setting_id, sweep.round)
    for later in [s for s in row.sweeps if s.id >= sweep.id]:
        if (later.sample_id, later.setup_id, later.setting_id, later.round) == state:
            later.round += 1
    if row.bench_round:
        row.bench_round += 1
