"""How one revision of a report differs from the one before: claims, verdicts and evidence, computed and not told."""

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any, TypeVar

from levelmoor.core.evidence.findings import ClaimFinding, Findings
from levelmoor.core.metrology.decision import VERDICT_WORDS
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.words.figures import format_swr

T = TypeVar("T")
RULES_OF_JUDGING = (
    ("rule", "decision rule"), ("bench_rule", "rule of the bench"), ("age_limit_h", "age limit of calibrations"),
    ("region", "ITU region"), ("edition", "edition of the rules"),
)  # fmt: skip


@dataclass(frozen=True)
class RevisionChanges:
    """Sentences by what they are about; each list is empty where nothing of it changed."""

    claims: tuple[str, ...]
    verdicts: tuple[str, ...]
    evidence: tuple[str, ...]
    method: tuple[str, ...]

    @property
    def groups(self) -> tuple[tuple[str, tuple[str, ...]], ...]:
        """Those that say something, with what they are about."""
        every = (
            ("Claims", self.claims), ("Verdicts", self.verdicts), ("Evidence", self.evidence), ("Method", self.method)
        )  # fmt: skip
        return tuple((name, said) for name, said in every if said)


def revision_changes(earlier: tuple[Evaluation, Findings], later: tuple[Evaluation, Findings]) -> RevisionChanges:
    """The differences of two revisions of one report."""
    (was, found_then), (now, found_now) = earlier, later
    return RevisionChanges(
        tuple(_come_and_gone("Claim", was.claims, now.claims, lambda c: c.id, lambda c: c.wording)),
        tuple(_verdicts(was, found_then, now, found_now)),
        tuple(_evidence(was, now)),
        tuple(
            f"The {words} was changed." for name, words in RULES_OF_JUDGING if getattr(was, name) != getattr(now, name)
        ),
    )  # fmt: skip


def _come_and_gone(
    what: str, was: Iterable[T], now: Iterable[T], key: Callable[[T], object], words: Callable[[T], str]
) -> Iterator[str]:
    before, after = {key(one): one for one in was}, {key(one): one for one in now}
    yield from (f"{what} removed: {words(one)}." for k, one in before.items() if k not in after)
    yield from (f"{what} added: {words(one)}." for k, one in after.items() if k not in before)
    for k, one in before.items():
        if k in after and words(one) != words(after[k]):
            yield f"{what} changed: {words(one)} became {words(after[k])}."


def _verdicts(was: Evaluation, found_then: Findings, now: Evaluation, found_now: Findings) -> Iterator[str]:
    before = {(f.claim_id, f.sample_id): f for f in found_then.claims}
    wording = {c.id: c.wording for c in now.claims}
    label = {s.id: s.label for s in (*was.samples, *now.samples)}
    for finding in found_now.claims:
        then = before.get((finding.claim_id, finding.sample_id))
        what = f"{wording[finding.claim_id]}, {label[finding.sample_id]}"
        if then is None:
            continue
        if then.verdict is not finding.verdict:
            yield f"{what}: {VERDICT_WORDS[then.verdict]} became {VERDICT_WORDS[finding.verdict]}."
        elif then.counted is not finding.counted:
            yield f"{what}: {'now counts' if finding.counted else 'no longer counts'}."
        else:
            yield from (f"{what}: {said}." for said in _figures(then, finding))


def _figures(then: ClaimFinding, now: ClaimFinding) -> Iterator[str]:
    """Where the verdict stayed and the worst SWR that decides did not."""
    before: Mapping[str, float] = {w.name: w.finding.worst.swr for w in then.windows if w.finding and w.finding.worst}
    for window in now.windows:
        if window.finding is None or window.finding.worst is None or window.name not in before:
            continue
        old, new = format_swr(before[window.name]), format_swr(window.finding.worst.swr)
        if old != new:
            yield f"worst SWR on {window.name} {old} became {new}"


def _evidence(was: Evaluation, now: Evaluation) -> Iterator[str]:
    kinds = (
        ("Sweep", "sweeps"), ("Capture", "captures"), ("Port-to-port sweep", "throughs"), ("Heat run", "heats"),
    )  # fmt: skip
    for what, name in kinds:
        yield from _come_and_gone(what, getattr(was, name), getattr(now, name), lambda e: e.id, _named)
        kept = {e.id: e for e in getattr(was, name)}
        for e in getattr(now, name):
            if e.id in kept and e.set_aside != kept[e.id].set_aside:
                state = f"is left out of the verdict: {e.set_aside}" if e.set_aside else "counts again"
                yield f"{what} {_named(e)} {state}."
    yield from _come_and_gone("Unit", was.samples, now.samples, lambda s: s.id, lambda s: _unit(s.label, s.serial))
    if len(was.trials) != len(now.trials):
        yield f"Trials: {len(was.trials)} became {len(now.trials)}."


def _named(evidence: Any) -> str:
    """What a piece of evidence is called; a run under power by its power."""
    return str(getattr(evidence, "name", "") or f"{evidence.power_w:g} W {evidence.mode}".strip())


def _unit(label: str, serial: str) -> str:
    return f"{label} ({serial})" if serial else label
