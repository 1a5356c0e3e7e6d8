"""The state of the article in rows: its settings with their windows, and the rounds between two adjustments."""

from collections.abc import Iterable
from itertools import chain
from typing import Any

from levelmoor.core.model.state import OpenedRound, Setting
from levelmoor.core.rf.windows import Window
from levelmoor.records import tables as t
from levelmoor.records.by_name import core_from


def windows_row(windows: tuple[Window, ...]) -> list[dict[str, object]]:
    return [{"low_hz": w.low_hz, "high_hz": w.high_hz, "name": w.name} for w in windows]


def setting_of(row: t.ArticleSetting) -> Setting:
    return core_from(Setting, row)


def latest_round(row: t.Evaluation, sample_id: int | None, setup_id: int | None, setting_id: int | None) -> int:
    """The latest round that was swept or opened of a state, 1 where nothing was."""
    state = (sample_id, setup_id, setting_id)
    noted = int(row.opened_rounds.get(named_state(*state), 1))
    return max(1, noted, *_rounds_of(row.adjustments, state), *_rounds_measured(row, state))


def _rounds_measured(row: t.Evaluation, state: tuple[int | None, ...]) -> list[int]:
    """The rounds of all that was measured in a state, of what was set aside too: what was adjusted stays adjusted."""
    heats = (r for r in row.field_records if r.kind == "heat")
    return _rounds_of(chain(row.sweeps, row.captures, row.throughs, row.trials, row.widths, heats), state)


def _rounds_of(rows: Iterable[Any], state: tuple[int | None, ...]) -> list[int]:
    return [s.round for s in rows if (s.sample_id, s.setup_id, s.setting_id) == state]


def opened_of(row: t.Evaluation) -> tuple[OpenedRound, ...]:
    """The rounds that were opened by hand, as the core knows them."""
    return tuple(OpenedRound(*_ids(name), int(number)) for name, number in row.opened_rounds.items())


def _ids(name: str) -> tuple[str, str, str]:
    sample, setup, setting = ("" if i == "0" else i for i in name.split("-"))
    return sample, setup, setting


def named_state(*ids: int | None) -> str:
    return "-".join(str(i or 0) for i in ids)


def open_round(row: t.Evaluation, sample_id: int | None, setup_id: int | None, setting_id: int | None) -> None:
    """The article was adjusted in this state: what is swept of it from now on, by whomever, is another round."""
    state = (sample_id, setup_id, setting_id)
    measured = _rounds_measured(row, state)
    if measured:
        row.opened_rounds = {**row.opened_rounds, named_state(*state): max(measured) + 1}


def say_adjusted(row: t.Evaluation, sweep: t.Sweep, adjusted: bool) -> None:
    """Whether the article was adjusted before a sweep: then it and what came after it are a later round."""
    sweep.not_adjusted = not adjusted
    if not adjusted:
        return
    state = (sweep.sample_id, sweep.setup_id, sweep.setting_id, sweep.round)
    for later in [s for s in row.sweeps if s.id >= sweep.id]:
        if (later.sample_id, later.setup_id, later.setting_id, later.round) == state:
            later.round += 1
    name = named_state(*state[:3])
    if name in row.opened_rounds:
        row.opened_rounds = {**row.opened_rounds, name: row.opened_rounds[name] + 1}
