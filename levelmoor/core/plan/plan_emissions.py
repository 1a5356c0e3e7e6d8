"""Emissions in the plan: which spectrum analyzer, which pad, which harmonics."""

from dataclasses import replace

from levelmoor.core.bench.book import BenchBook
from levelmoor.core.bench.chains import Chain
from levelmoor.core.bench.pad_check import PadCheck
from levelmoor.core.bench.pads import PadTask, plan_pad
from levelmoor.core.emissions.emission_path import noise_in
from levelmoor.core.evidence.court import Court
from levelmoor.core.evidence.dossier import Dossier
from levelmoor.core.evidence.findings import Part
from levelmoor.core.evidence.keyed import Keyed
from levelmoor.core.evidence.kinds import Question
from levelmoor.core.evidence.rounds import Rounds
from levelmoor.core.evidence.ruling import over_windows
from levelmoor.core.metrology.decision import Verdict
from levelmoor.core.model.bench_records import CheckKind
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.equipment import Instrument, Pad
from levelmoor.core.model.evaluation import Evaluation, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.plan import cautions
from levelmoor.core.plan.plan_instruments import Instruments
from levelmoor.core.plan.plan_model import Choice, Emission, Run, RunKind, Segment
from levelmoor.core.plan.plan_sweeps import USUAL_POINTS
from levelmoor.core.rf.levels import HIGHEST_HARMONIC, dbm_of_watts, harmonics_hz
from levelmoor.core.words.figures import brief_mhz


def plan_emissions(evaluation: Evaluation, book: BenchBook, instruments: Instruments, dossier: Dossier) -> list[Run]:
    """One run per emission claim and sample, in the first planned setup without a tuner; done where captures show the
    claim already."""
    planned = [s for s in evaluation.setups if s.planned]
    setups = [s for s in planned if not s.tuner_in_line] or planned
    claims = [c for c in evaluation.claims if c.quantity is Quantity.EMISSIONS]
    return [
        replace(
            _emission(evaluation, book, instruments, c, s, setups[0]), done_by=_done_by(evaluation, dossier, c, s.id)
        )
        for c in claims
        for s in evaluation.samples
        if setups
    ]


def _done_by(evaluation: Evaluation, dossier: Dossier, claim: Claim, sample_id: str) -> str:
    """The capture that shows the claim already, or nothing."""
    question = Question.of(evaluation, claim, sample_id)
    windows = Court(question, (Keyed(question, dossier),), Rounds(evaluation)).windows()
    if over_windows(windows)[0] is Verdict.NOT_SHOWN:
        return ""
    deciding = (p.sweep_ids[0] for w in windows for p in w.pieces if p.part is Part.DECIDES)
    names = {c.id: c.name for c in evaluation.captures}
    return names.get(next(deciding, ""), "")


def _emission(
    evaluation: Evaluation, book: BenchBook, instruments: Instruments, claim: Claim, sample: Sample, setup: Setup
) -> Run:
    powers = (c.limit for c in evaluation.claims if c.quantity is Quantity.OUTPUT_POWER and c.limit)
    power = claim.power_w or next(powers, None)
    run = Run(
        key=f"s{sample.id}-u{setup.id}-emission-{claim.id}",
        kind=RunKind.EMISSION,
        sample_id=sample.id,
        setup_id=setup.id,
        windows=claim.windows[:1],
        claim_ids=(claim.id,),
        segments=(),
        step_needed_hz=0.0,
        choice=Choice(None, Chain()),
        watch=(cautions.PAD_FIRST, cautions.KEY_BRIEFLY),
    )
    if power is None or claim.limit is None or not claim.windows:
        missing = "carrier power in W" if power is None else "limit in dB" if claim.limit is None else "band"
        return replace(run, problem=f"the claim has no {missing}; add it to the claim")
    window = claim.windows[0]
    fundamental = round((window.low_hz + window.high_hz) / 2, -3)
    question = PadTask(fundamental, power, float(dbm_of_watts(power)) - claim.limit, claim.duty or 1.0)
    return _with_pad(evaluation, book, instruments, run, question, sample)


def _with_pad(
    evaluation: Evaluation, book: BenchBook, instruments: Instruments, run: Run, question: PadTask, sample: Sample
) -> Run:
    """The spectrum analyzer that sees the harmonics, and the pad before it."""
    f0, top = question.fundamental_hz, HIGHEST_HARMONIC * question.fundamental_hz
    why_not = []
    for instrument in (i for i in evaluation.instruments_in_use if i.measures_spectra):
        reason = _why_not(instrument, top)
        if reason or instrument.max_input_dbm is None:
            why_not.append((instrument.name, reason))
            continue
        noise = noise_in(book, instrument, evaluation.wishes.rbw_hz)
        pad = plan_pad(question, instrument.max_input_dbm, noise, measured_pads(book))
        first = pad.pads[0].end_a if pad.pads else instrument.connector
        to_pad = instruments.chain(sample.connector, first, f0, top)
        from_pad = instruments.chain(pad.pads[-1].end_b, instrument.connector, f0, top) if pad.pads else Chain()
        return replace(
            run,
            emission=Emission(question, harmonics_hz(f0), pad, to_pad, from_pad),
            choice=Choice(instrument, to_pad, None, tuple(why_not)),
            problem=pad.problem,
            watch=(*run.watch, pad.warning) if pad.warning else run.watch,
            segments=(Segment(0.5 * f0, 1.02 * top, instrument.points or USUAL_POINTS),),
        )
    said = "; ".join(f"{name} {reason}" for name, reason in why_not) or "the team owns no spectrum analyzer"
    return replace(run, problem=f"no instrument can see the harmonics: {said}")


def measured_pads(book: BenchBook) -> tuple[Pad, ...]:
    """The pads, each with what was measured on the bench in place of what is written down of it."""

    def measured(pad: Pad) -> Pad:
        check = book.latest(CheckKind.PAD, item_id=pad.id)
        result = book.result(check) if check else None
        shown = isinstance(result, PadCheck) and not result.no_pad
        return replace(pad, measured=result.attenuation) if shown and isinstance(result, PadCheck) else pad

    return tuple(measured(p) for p in book.equipment.in_use.pads)


def _why_not(instrument: Instrument, top_hz: float) -> str:
    if instrument.high_hz and instrument.high_hz < top_hz:
        return f"ends at {brief_mhz(instrument.high_hz)} MHz, below the fifth harmonic"
    if instrument.max_input_dbm is None:
        return "has no maximum safe input on record"
    return ""
