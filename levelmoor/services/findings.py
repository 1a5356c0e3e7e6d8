"""Findings and what they rest on, kept in memory: judging is pure, so what has not changed is judged once."""

import pickle
import time
import zlib
from collections.abc import Callable, Hashable
from contextvars import ContextVar
from typing import Any, TypeVar

from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.findings import Findings
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.judged_content import SHOWN_BESIDE, TOLD, asked_of_bench, bench_content, judged_content
from levelmoor.records.apart import is_long, judge_apart, judges_work, work_apart
from levelmoor.records.kept import Kept
from levelmoor.records.kept_results import kept_result
from levelmoor.records.worker_line import TooMuch

T = TypeVar("T")
BEHIND_POINTS = 300_000
"""Of all dossiers that are kept; the last one is, however many it has."""
_kept: Kept[Findings] = Kept(128)
_behind: Kept[Dossier] = Kept(8, lambda behind: behind.points, BEHIND_POINTS)
"""Fewer: a dossier holds the sweeps themselves."""


_too_much: Kept[tuple[TooMuch, float]] = Kept(128)
AGAIN_S = 600.0
"""What took too much is not judged again so soon."""


_until: ContextVar[float | None] = ContextVar("until", default=None)


def wait_for(seconds: float | None) -> None:
    """Have who asks wait no longer, from now and for all that is made apart together; None as long as it takes."""
    _until.set(None if seconds is None else time.monotonic() + seconds)


def _patience() -> float | None:
    """The seconds that who asks still waits."""
    until = _until.get()
    return None if until is None else max(until - time.monotonic(), 0.0)


class BeingJudged(Exception):
    """An evaluation is judged just now, and who asks does not wait for it."""


def findings_of(evaluation: Evaluation) -> Findings:
    """The findings of an evaluation, judged again only where something in it has changed.

    Raises
    ------
    TooMuch
        Where that takes too much time or memory, or too many are being judged.
    BeingJudged
        Where it is judged apart, and not there while one waits: it is long, or others are judged before it.
    """
    key, seconds = judged_content(evaluation), _patience()

    def judged() -> Findings:
        return _unless_too_much(key, lambda: lasting("findings", evaluation, key, lambda: judge_apart(evaluation)))

    if seconds is None or not (is_long(evaluation) or judges_work()):
        return _kept.get(key, judged)
    return _soon(_kept, key, judged, seconds)


def lasting(name: str, evaluation: Evaluation, key: Hashable, work: Callable[[], T]) -> T:
    """What is made of an evaluation, of a long one kept in the database too."""
    return kept_result(name, key, work) if is_long(evaluation) else work()


_long: Kept[bytes] = Kept(16)
"""Packed: they hold many figures, which take a tenth of the memory then."""
_short: Kept[Any] = Kept(64)


def long_work(evaluation: Evaluation, asked: Hashable, work: Callable[..., T], *args: Any, heavy: bool = False) -> T:
    """What a function makes of an evaluation, kept for a while; of a long one it is made apart, and of any what is
    `heavy`.

    `asked` tells one answer from another where the evaluation is the same.

    Raises
    ------
    TooMuch
        Where that takes too much time or memory, or too many wait for it.
    BeingJudged
        Where it is not there while one waits.
    """
    beside = tuple(getattr(evaluation, name) for name in (*SHOWN_BESIDE, *TOLD, "samples"))
    key, seconds = (work.__module__, judged_content(evaluation), beside, asked), _patience()
    if not (is_long(evaluation) or (heavy and judges_work())):
        here: T = _short.get(key, lambda: work(*args))
        return here

    def made() -> bytes:
        found = _unless_too_much(key, lambda: work_apart(evaluation, work, *args))
        return zlib.compress(pickle.dumps(found), level=1)

    packed = _long.get(key, made) if seconds is None else _soon(_long, key, made, seconds)
    found: T = pickle.loads(zlib.decompress(packed))  # noqa: S301  packed by this process
    return found


def _soon(kept: Kept[T], key: Hashable, make: Callable[[], T], seconds: float) -> T:
    try:
        return kept.soon(key, make, seconds)
    except TimeoutError:
        raise BeingJudged from None


def _unless_too_much(key: Hashable, work: Callable[[], T]) -> T:
    if key in _too_much:
        much, until = _too_much.get(key, lambda: (TooMuch(""), 0.0))
        if time.monotonic() < until:
            raise much
    try:
        return work()
    except TooMuch as much:
        if str(much) != "work":
            _too_much.put(key, (much, time.monotonic() + AGAIN_S))
        raise


def behind_of(evaluation: Evaluation) -> Dossier:
    """What findings rest on, each piece read once: the same as long as nothing in the evaluation is new."""
    key = bench_content(evaluation), asked_of_bench(evaluation.claims)
    return _behind.get(key, lambda: Dossier(evaluation))
