"""What the command line says of an adjustment: the rounds, what a step is worth, the next move."""

from collections.abc import Iterator
from typing import Any

from pydantic import BaseModel, ConfigDict

from levelmoor.core.adjusting.round_log import Round, RoundLog
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.words.figures import format_mhz


class _Answer(BaseModel):
    model_config = ConfigDict(frozen=True)


class BandAnswer(_Answer):
    band: str
    wanted_hz: float
    target_from: str = ""
    """Who said the target: adjust, claim, spot (the team's frequency) or middle."""
    dip_hz: float | None = None
    dip_u_hz: float | None = None
    best_swr: float | None = None
    swr_at_wanted: float | None = None
    resistance_ohm: float | None = None
    share_within: float | None = None
    verdict: str


class RoundAnswer(_Answer):
    number: int
    moved: dict[str, float]
    """By how much, by the element's name."""
    positions: dict[str, float]
    bands: tuple[BandAnswer, ...]


class WorthAnswer(_Answer):
    element: str
    unit: str
    band: str
    hz_per_unit: float
    u_hz_per_unit: float
    learnt: bool


class MoveAnswer(_Answer):
    element: str
    by: float
    unit: str
    words: str


class ForeseenAnswer(_Answer):
    band: str
    dip_hz: float
    low_hz: float
    high_hz: float


class AdjustAnswer(_Answer):
    """One state: a sample in a setup, in a setting or none."""

    sample: str
    setup: str
    setting: str
    rounds: tuple[RoundAnswer, ...]
    worth: tuple[WorthAnswer, ...]
    next_move: tuple[MoveAnswer, ...]
    foreseen: tuple[ForeseenAnswer, ...]
    words: tuple[str, ...]
    done: bool


def adjust_answer(log: RoundLog, of: Evaluation) -> AdjustAnswer:
    """Everything of a state's log as plain data; frequencies in Hz, positions in each element's unit."""
    names = {e.id: e for e in log.elements}
    state = log.state
    return AdjustAnswer(
        sample=next((s.label for s in of.samples if s.id == state.sample_id), ""),
        setup=next((s.name for s in of.setups if s.id == state.setup_id), ""),
        setting=next((s.name for s in of.settings if s.id == state.setting_id), ""),
        rounds=tuple(_round(log, r) for r in log.rounds),
        worth=tuple(_worth(log)),
        next_move=tuple(
            MoveAnswer(
                element=names[m.element_id].name,
                by=m.by,
                unit=names[m.element_id].unit,
                words=names[m.element_id].say(m.by),
            )
            for m in log.advice.moves
        ),
        foreseen=tuple(
            ForeseenAnswer(band=a.window.name, dip_hz=p.hz, low_hz=p.low_hz, high_hz=p.high_hz)
            for a, p in zip(log.aims, log.advice.expected, strict=False)
            if p is not None
        ),
        words=log.advice.words,
        done=log.advice.done,
    )


def _round(log: RoundLog, r: Round) -> RoundAnswer:
    names = {e.id: e.name for e in log.elements}
    moved: dict[str, float] = {}
    for move in (m for a in r.adjustments for m in a.moves):
        name = names.get(move.element_id, "a part that was removed")
        moved[name] = round(moved.get(name, 0.0) + move.by, 6)
    bands = []
    for aim, b in zip(log.aims, r.bands, strict=True):
        said: dict[str, Any] = {"band": aim.window.name, "wanted_hz": aim.wanted_hz, "target_from": aim.said_by.value}
        said["verdict"] = "not_shown"
        if b is not None:
            said |= {
                "dip_hz": b.dip_hz, "dip_u_hz": b.u_hz if b.dip_hz else None, "best_swr": b.best_swr,
                "swr_at_wanted": b.swr, "resistance_ohm": b.resistance_ohm, "share_within": b.share,
                "verdict": b.judged.value,
            }  # fmt: skip
        bands.append(BandAnswer(**said))
    return RoundAnswer(
        number=r.number, moved=moved, positions={names[i]: x for i, x in r.at.items()}, bands=tuple(bands)
    )


def _worth(log: RoundLog) -> Iterator[WorthAnswer]:
    if log.last_swept is None:
        return
    for e, element in enumerate(log.elements):
        for k, aim in enumerate(log.aims):
            found = log.worth(k, e)
            yield WorthAnswer(
                element=element.name,
                unit=element.unit,
                band=aim.window.name,
                hz_per_unit=found.hz,
                u_hz_per_unit=found.u_hz,
                learnt=found.learnt,
            )


def _dip(b: BandAnswer) -> str:
    if b.dip_hz is None or b.best_swr is None:
        return f"{b.band} no dip"
    return f"{b.band} {format_mhz(round(b.dip_hz, -3))} MHz at {b.best_swr:.2f}"


def adjust_text(answer: AdjustAnswer) -> list[str]:
    """The same in lines for people."""
    said = [", ".join(w for w in (answer.sample, answer.setup, answer.setting) if w)]
    for r in answer.rounds:
        moves = "; ".join(f"{name} {by:+g}" for name, by in r.moved.items()) or "unchanged"
        dips = ", ".join(_dip(b) for b in r.bands)
        said.append(f"  round {r.number}: {moves}: {dips}")
    for w in answer.worth:
        learnt = "" if w.learnt else ", not known yet"
        said.append(
            f"  1 {w.unit} of {w.element}: {w.band} {w.hz_per_unit / 1e3:+.3g} kHz "
            f"± {2 * w.u_hz_per_unit / 1e3:.2g}{learnt}"
        )
    said += [f"  next: {m.words}" for m in answer.next_move]
    said += [
        f"  then {f.band}: dip at {format_mhz(round(f.dip_hz, -3))} MHz, between {format_mhz(round(f.low_hz, -3))} and "
        f"{format_mhz(round(f.high_hz, -3))}"
        for f in answer.foreseen
    ]
    return said + [f"  {words}" for words in answer.words]
