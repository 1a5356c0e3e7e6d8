"""A report in three sentences: what was found, how bad it is in a reader's terms, and what to do about it.

References
----------
.. [1] The reflected share of the power is |Γ|^2, with |Γ| = (SWR - 1) / (SWR + 1): D. M. Pozar, Microwave
   Engineering, section 2.3.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from levelmoor.core.evidence.findings import ClaimFinding, Findings, UsabilityFinding, WindowEvidence
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.model.quantities import ShownBy
from levelmoor.core.model.usability import Usability
from levelmoor.core.rf.reflection import gamma_from_swr
from levelmoor.core.words.figures import format_swr
from levelmoor.core.words.sentence import uncapitalized

MOST_NAMED = 3
"""Claims and bands of one kind that a sentence names; the others are counted."""
THIRD = 1 / 3


@dataclass(frozen=True)
class InShort:
    """The sentences, each empty where there is nothing to say; and what was not shown, in one line."""

    found: str
    means: str
    advice: str
    not_shown: str

    @property
    def sentences(self) -> tuple[str, ...]:
        """Those that say something."""
        return tuple(s for s in (self.found, self.means, self.advice) if s)


def in_short(evaluation: Evaluation, findings: Findings) -> InShort:
    """The report in short. Only what counts is spoken of: controls, and what may be a counterfeit, are left out."""
    claims = {c.id: c for c in evaluation.claims}
    counted = [(claims[f.claim_id], f) for f in findings.claims if f.counted]
    of = {v: [(c, f) for c, f in counted if f.verdict is v] for v in Verdict}
    bands = _worst_of_each(evaluation, findings)
    missing = _names([c.wording for c, _ in of[Verdict.NOT_SHOWN]])
    return InShort(
        " ".join(_found(of[Verdict.PASS], of[Verdict.FAIL], of[Verdict.TOO_CLOSE], findings)),
        " ".join(_means(evaluation, of[Verdict.FAIL], bands)),
        _advice(evaluation, findings, bands),
        f"Not shown, which says nothing for or against it: {missing}." if missing else "",
    )


def _worst_of_each(evaluation: Evaluation, findings: Findings) -> list[UsabilityFinding]:
    """Each band by the counted unit that has the least of it."""
    speak = {s.id for s in evaluation.samples if s.counted}
    worst: dict[str, UsabilityFinding] = {}
    for use in findings.usability:
        if use.sample_id in speak and use.state is not Usability.NOT_SHOWN:
            known = worst.setdefault(use.band, use)
            worst[use.band] = min(known, use, key=lambda u: u.share or 0.0)
    return list(worst.values())


Judged = Sequence[tuple[Claim, ClaimFinding]]


def _found(passes: Judged, fails: Judged, close: Judged, findings: Findings) -> Iterator[str]:
    """What was found, claim by claim: a claim is met where no unit that counts misses it."""
    missed = {c.id for c, _ in (*fails, *close)}
    if kept := [c.wording for c, _ in passes if c.id not in missed]:
        yield f"It meets {'this claim' if len(kept) == 1 else 'these claims'} with room to spare: {_names(kept)}."
    failing: dict[str, list[tuple[Claim, ClaimFinding]]] = {}
    for claim, finding in fails:
        failing.setdefault(claim.id, []).append((claim, finding))
    for of_claim in list(failing.values())[:MOST_NAMED]:
        claim, units = of_claim[0][0], len({f.sample_id for f in findings.claims if f.counted})
        windows = [w for _, f in of_claim for w in f.windows if w.verdict is Verdict.FAIL]
        worst = max(windows, key=_worst_swr, default=None)
        yield _failure(claim, worst, len(of_claim), units)
    if len(failing) > MOST_NAMED:
        more = len(failing) - MOST_NAMED
        yield f"{more} more of its claims {'fails' if more == 1 else 'fail'}."
    if too_close := [c.wording for c, _ in close if c.id not in failing]:
        yield f"Too close to call: {_names(too_close)}."
    over = {e.rule_id for e in findings.emissions if e.report.verdict is Verdict.FAIL}
    if over:
        yield f"Its emissions are over the limit of {' and of '.join(sorted(over))}."
    if not (findings.claims or over):
        yield "No claim of the maker's was tested: this report says what was measured."
    elif not (passes or fails or close or over):
        yield "None of the claims could be decided."


def _worst_swr(window: WindowEvidence) -> float:
    return window.finding.worst.swr if window.finding and window.finding.worst else 0.0


def _failure(claim: Claim, window: WindowEvidence | None, fail: int, units: int) -> str:
    who = "it misses" if units == 1 else f"{fail} of {units} units {'misses' if fail == 1 else 'miss'}"
    found = window.finding if window else None
    if window is None or found is None or found.worst is None or claim.quantity.spec.shown_by is not ShownBy.LEVEL:
        fails = "It fails" if units == 1 else f"{fail} of {units} units fail"
        return f"{fails}: {uncapitalized(claim.wording)}."
    limit = claim.limit_swr or found.limit_swr
    beyond = ""
    if found.share_within_limit is not None:
        beyond = f", and is over the limit across {_share(1 - found.share_within_limit)} of the band"
    worst = format_swr(found.worst.swr)
    return f"On {window.name} {who} the claimed {limit:g}:1: SWR reaches {worst}{_where(window)}{beyond}."


def _where(window: WindowEvidence) -> str:
    """In which third of the window the worst point lies."""
    found = window.finding
    if found is None or found.worst is None or found.window.high_hz <= found.window.low_hz:
        return ""
    low, high = found.window.low_hz, found.window.high_hz
    at = (found.worst.frequency_hz - low) / (high - low)
    return " at the lower end" if at < THIRD else " at the upper end" if at > 1 - THIRD else " in the middle"


def _means(evaluation: Evaluation, fails: Judged, bands: Sequence[UsabilityFinding]) -> Iterator[str]:
    worst = max(
        (w.finding.worst.swr for _, f in fails for w in f.windows if w.finding and w.finding.worst), default=None
    )
    if worst is not None:
        share = float(gamma_from_swr(worst)) ** 2
        yield f"At worst, {_share(share)} of the power comes back to the radio."
    limit = evaluation.profile.limit_swr
    usable = [u.band for u in bands if u.state is Usability.ALL]
    partly = [u for u in bands if u.state is Usability.PART]
    if usable:
        yield f"Within {limit:g}:1 throughout: {_names(usable)}."
    if partly:
        yield f"Only in part: {_names([f'{u.band} ({_share(u.share or 0.0)} of it)' for u in partly])}."
    beyond = [u.band for u in bands if u.state is Usability.NONE]
    if beyond:
        yield f"Nowhere within {limit:g}:1: {_names(beyond)}."


def _advice(evaluation: Evaluation, findings: Findings, bands: Sequence[UsabilityFinding]) -> str:
    if any(e.report.verdict is Verdict.FAIL for e in findings.emissions):
        return "Do not transmit with it as it is: whoever does is responsible for its emissions."
    if not bands:
        return ""
    limit = evaluation.profile.limit_swr
    partly = [u.band for u in bands if u.state is Usability.PART]
    beyond = [u.band for u in bands if u.state is Usability.NONE]
    said = []
    if partly:
        said.append(f"On {_names(partly)}, stay where SWR is within {limit:g}:1, or reduce power or use a tuner.")
    if beyond:
        said.append(f"On {_names(beyond)}, use a tuner or reduce power.")
    if not said:
        return "Use it there without a tuner, as your radio's manual allows."
    return f"{' '.join(said)} Your radio's manual says what it tolerates."


def _share(share: float) -> str:
    return f"{100 * share:.0f} %" if share >= 0.005 else "less than 1 %"


def _names(names: Sequence[str]) -> str:
    """The first of them, each once, and how many more."""
    every = list(dict.fromkeys(names))
    said = "; ".join(every[:MOST_NAMED]) if any("," in n for n in every) else ", ".join(every[:MOST_NAMED])
    return f"{said} and {len(every) - MOST_NAMED} more" if len(every) > MOST_NAMED else said
