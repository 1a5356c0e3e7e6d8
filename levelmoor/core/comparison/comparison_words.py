"""The answer of a comparison in sentences."""

from levelmoor.core.comparison.comparison_model import Comparison, Question, Side, SideWindow, WindowComparison
from levelmoor.core.comparison.features import BEST_HZ, SHARE, WORST, ZERO_HZ, width_key
from levelmoor.core.metrology.agreement import Agreement
from levelmoor.core.metrology.decision import VERDICT_WORDS, Verdict
from levelmoor.core.metrology.repeats import FEWEST
from levelmoor.core.metrology.significance import MEANING_WORDS, Difference, Meaning
from levelmoor.core.model.conditions import difference
from levelmoor.core.model.evaluation import PLANE_WORDS, Evaluation, Setup
from levelmoor.core.rf.reflection import swr_from_gamma
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.figures import brief_mhz, format_step, format_swr, format_to, format_uncertainty

NOTHING = "0 Hz"
MOUNT_AGAIN = (
    "Take each one down, put it up again and sweep it, and enter the mounting beside the sweep. Until then a "
    "difference is real for this mounting only."
)
CHOKE_NARROWS = "A choke that narrows the curve shows that the feed line was radiating."


def setup_difference(evaluation: Evaluation, first: Setup, second: Setup) -> str:
    """What is different in the second setup, its line, plane and tuner included."""
    lines = {x.id: x.name for x in evaluation.equipment.lines}
    yes_no = {True: "in line", False: "not in line"}
    others = (
        ("feed line", lines.get(first.line_id, ""), lines.get(second.line_id, "")),
        ("reference plane", PLANE_WORDS[first.plane], PLANE_WORDS[second.plane]),
        ("tuner", yes_no[first.tuner_in_line], yes_no[second.tuner_in_line]),
    )
    return difference(first.conditions, second.conditions, others)


def answer(evaluation: Evaluation, comparison: Comparison) -> tuple[str, ...]:
    """What holds for the whole comparison, before the windows."""
    said = []
    setups = {s.id: s for s in evaluation.setups}
    first = comparison.sides[0]
    if comparison.question is Question.SETUPS:
        for side in comparison.sides[1:]:
            a, b = setups[first.latest.setup_id], setups[side.latest.setup_id]
            if a.id != b.id:
                said.append(f"{side.letter} against {first.letter}: {setup_difference(evaluation, a, b)}")
    if comparison.units is not None:
        said.append(comparison.units.words)
    few = [s.letter for s in comparison.sides if s.spread.count < FEWEST]
    if few and len(comparison.sides) > 1:
        who = " and ".join((", ".join(few[:-1]), few[-1])) if len(few) > 1 else few[0]
        said.append(
            f"How far {who} spread{'s' if len(few) == 1 else ''} is unknown: sweep each setup at least {FEWEST} times."
        )
    once = any(
        d.meaning is Meaning.MOUNTING for w in comparison.windows for pair in w.differences for d in pair.values()
    )
    if once:
        said.append(MOUNT_AGAIN)
    said += [f"{s.letter}: {s.note}." for s in comparison.sides if s.note]
    return tuple(said)


def window_sentences(
    evaluation: Evaluation, question: Question, sides: tuple[Side, ...], found: WindowComparison
) -> tuple[str, ...]:
    """What one window shows, each side against the first."""
    said = []
    for n, ((i, j), differences) in enumerate(zip(found.pairs, found.differences, strict=True)):
        pair = sides[i], sides[j]
        if question is Question.INSTRUMENTS:
            agreement = found.agreements[n]
            if isinstance(agreement, str):
                said.append(f"{pair[0].letter} and {pair[1].letter}: {agreement}.")
            elif agreement:
                said += _instruments(pair, agreement)
        else:
            windows = found.sides[i], found.sides[j]
            said += _moved(pair, windows, found.window, question) + _changes(pair, windows, differences)
            if question is Question.SETUPS and _choke_narrows(evaluation, pair, differences):
                said.append(CHOKE_NARROWS)
    verdicts = [f"{s.letter} {w.words}" for s, w in zip(sides, found.sides, strict=True)]
    said.append(f"Against the limit of {found.sides[0].finding.limit_swr:.4g}: {', '.join(verdicts)}.")
    if question is Question.INSTRUMENTS and len(sides) > 1:
        said += _decides(sides, found)
    return tuple(said)


def signed_shift(d: Difference) -> str:
    """A shift in Hz with its sign, to the digits that its uncertainty leaves."""
    size = format_to(d.value, d.expanded)
    return size if size == NOTHING else f"{'−' if d.value < 0 else '+'}{size}"


def _moved(
    pair: tuple[Side, Side], windows: tuple[SideWindow, SideWindow], window: Window, question: Question
) -> list[str]:
    """Before and after as people say it: where the dip went, SWR then and now, what of the band became usable."""
    if question is not Question.TIMES:
        return []
    then, now = windows
    told = []
    if then.dip_hz and now.dip_hz and not same_place(then.dip_hz, now.dip_hz):
        told.append(f"the dip moved from {brief_mhz(round(then.dip_hz, -4))} to {brief_mhz(round(now.dip_hz, -4))} MHz")
    if then.at_wanted and now.at_wanted:
        at = brief_mhz(round(now.at_wanted[0], -3))
        told.append(f"SWR at {at} MHz {format_swr(then.at_wanted[1])} before, {format_swr(now.at_wanted[1])} now")
    shares = [w.figures[SHARE].value for w in windows if SHARE in w.figures]
    if len(shares) == 2:
        wide = window.high_hz - window.low_hz
        gained = (shares[1] - shares[0]) * wide
        usable = f"{format_step(shares[1] * wide)} of {window.name} within {now.finding.limit_swr:.4g}:1"
        if abs(gained) < 0.01 * wide:
            told.append(f"{usable}, as before" if shares[1] else "")
        else:
            told.append(f"{usable}, {format_step(abs(gained))} {'more' if gained > 0 else 'less'} than before")
    told = [t for t in told if t]
    return [f"{pair[0].letter} to {pair[1].letter}: {'; '.join(told)}."] if told else []


def same_place(one_hz: float, other_hz: float) -> bool:
    """Whether two dips stand where nobody would call it moved."""
    return abs(one_hz - other_hz) < 0.002 * one_hz


def _changes(
    pair: tuple[Side, Side], windows: tuple[SideWindow, SideWindow], differences: dict[str, Difference]
) -> list[str]:
    """The dip and the width at 2:1 in one sentence; the worst place where neither can be compared."""
    told = []
    for key, words in ((BEST_HZ, "dip"), (ZERO_HZ, "X = 0")):
        d = differences.get(key)
        if d is not None:
            told.append(f"{words} {_shift(d, 'higher', 'lower')}")
            break
    swr, width = _closed_width(differences)
    if width is not None:
        told.append(f"{swr:g}:1 width {_shift(width, 'wider', 'narrower')}")
    worst = differences.get(WORST)
    if worst is not None and not told:
        one, two = (format_swr(float(swr_from_gamma(w.figures[WORST].value))) for w in windows)
        told.append(f"worst SWR {one} and {two}, {_meaning(worst)}")
    name = f"{pair[1].letter} against {pair[0].letter}"
    return [f"{name}: {'; '.join(told)}." if told else f"{name}: they have no comparable figure here."]


def _closed_width(differences: dict[str, Difference]) -> tuple[float, Difference | None]:
    """The width that both sides show whole: at 2:1, else at 1.5:1 or 3:1."""
    known = ((swr, differences.get(width_key(swr))) for swr in (2.0, 1.5, 3.0))
    return next((pair for pair in known if pair[1] is not None), (2.0, None))


def _shift(d: Difference, more: str, less: str) -> str:
    size = format_to(d.value, d.expanded)
    moved = f"{size} {more if d.value > 0 else less}" if size != NOTHING else "the same"
    return f"{moved} (± {format_uncertainty(d.expanded)}), {_meaning(d)}"


def _meaning(d: Difference) -> str:
    return "not known to be more than the spread" if d.meaning is Meaning.UNKNOWN else MEANING_WORDS[d.meaning]


def _choke_narrows(evaluation: Evaluation, pair: tuple[Side, Side], differences: dict[str, Difference]) -> bool:
    """Whether the second differs by a choke that the first has not, and is narrower for it."""
    _, width = _closed_width(differences)
    if width is None or width.value >= 0 or width.meaning not in (Meaning.REAL, Meaning.MOUNTING):
        return False
    conditions = {s.id: s.conditions for s in evaluation.setups}
    first, second = (conditions[side.latest.setup_id] for side in pair)
    return "choke" in second.accessory.lower() and "choke" not in first.accessory.lower()


def _instruments(pair: tuple[Side, Side], found: Agreement) -> list[str]:
    a, b = pair
    both = f"{a.letter} and {b.letter}"
    what = "in Γ" if found.complex_ else "in SWR"
    if found.agree:
        return [f"{both} agree {what} within their stated accuracy, at {100 * found.share:.0f} % of the frequencies."]
    swrs = [format_swr(float(swr_from_gamma(g))) for g in (found.first, found.second)]
    return [
        f"{both} agree {what} at only {100 * found.share:.0f} % of the frequencies; they differ most at "
        f"{brief_mhz(round(found.worst_hz, -3))} MHz ({swrs[0]} and {swrs[1]}), {found.ratio:.1f} times what "
        f"their stated accuracy allows. One of them is worse than stated: read a known load with both."
    ]


def _decides(sides: tuple[Side, ...], found: WindowComparison) -> list[str]:
    """Which instrument the verdict rests on, as the findings have it: one answer, here and in the ledger."""
    ledger = found.ledger
    if ledger is None:
        return []
    side = next((s for s in sides if any(e.id == ledger.sweep_id for e in s.evidence)), None)
    if side is None or ledger.verdict == VERDICT_WORDS[Verdict.NOT_SHOWN]:
        return [f"The verdict is {ledger.verdict}: {ledger.reason}"]
    others = [x.letter for x in sides if x is not side]
    return [
        f"The verdict rests on {side.letter}, {side.name}, and is {ledger.verdict}; {', '.join(others)} "
        f"{'is' if len(others) == 1 else 'are'} shown beside it."
    ]
