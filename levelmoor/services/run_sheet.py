"""The run sheet: the plan put for the field, on screen and on paper."""

from dataclasses import dataclass

from jinja2 import Environment, PackageLoader
from markupsafe import Markup

from levelmoor.core.model.evaluation import Evaluation, Sample, Setup
from levelmoor.core.model.through import FIXTURE_WORDS
from levelmoor.core.plan import cautions
from levelmoor.core.plan.plan_accessories import plan_accessories
from levelmoor.core.plan.plan_model import Plan, Run, RunKind, StageKind
from levelmoor.core.trials.trial_plan import trials_to_make
from levelmoor.core.words.counting import counted, duration
from levelmoor.core.words.figures import format_mhz, format_range, format_step, format_swr
from levelmoor.figures.plan_figures import cover_map, cover_rows, time_axis
from levelmoor.services.findings import findings_of
from levelmoor.services.on_paper import FONTS, code_of, font_faces, on_paper, pdf_of


@dataclass(frozen=True)
class SheetPart:
    """What is put up once: a sample in a setup, with the runs made there one after the other."""

    sample: Sample
    setup: Setup
    runs: tuple[tuple[int, Run], ...]
    cautions: tuple[str, ...]


def sheet_parts(plan: Plan, evaluation: Evaluation) -> list[SheetPart]:
    """The runs that are still to do, numbered in their order, by what stands up for them."""
    samples, setups = {s.id: s for s in evaluation.samples}, {s.id: s for s in evaluation.setups}
    parts: list[SheetPart] = []
    for number, run in enumerate(plan.todo, 1):
        last = parts[-1] if parts else None
        if last is None or (last.sample.id, last.setup.id) != (run.sample_id, run.setup_id):
            setup = setups[run.setup_id]
            parts.append(SheetPart(samples[run.sample_id], setup, (), _cautions(run, setup)))
        last = parts[-1]
        parts[-1] = SheetPart(last.sample, last.setup, (*last.runs, (number, run)), last.cautions)
    return parts


def _cautions(run: Run, setup: Setup) -> tuple[str, ...]:
    if run.kind is RunKind.EMISSION:
        return cautions.NO_KEYING, cautions.EXPOSURE
    return (cautions.RAISING, cautions.INPUT, *((cautions.HIGH_VOLTAGE,) if setup.tuner_in_line else ()))


def css_string(text: str) -> Markup:
    """A text as a string of CSS: whatever is no plain letter, digit or blank by its number."""
    plain = (c if (c.isalnum() and c.isascii()) or c in " ,." else f"\\{ord(c):06x} " for c in text)
    return Markup('"{}"').format(Markup("".join(plain)))  # noqa: S704  nothing but letters, digits and numbers


environment = Environment(
    loader=PackageLoader("levelmoor.services", "templates"), autoescape=True, trim_blocks=True, lstrip_blocks=True
)
environment.filters.update(
    counted=counted, duration=duration, mhz=format_mhz, step=format_step, swr=format_swr, css_string=css_string
)
environment.globals.update(
    span=format_range,
    RunKind=RunKind,
    StageKind=StageKind,
    cautions=cautions,
    font_faces=Markup(font_faces()),  # noqa: S704  our own
    fonts=Markup(FONTS),  # noqa: S704  our own
)


def sheet_pdf(plan: Plan, evaluation: Evaluation, address: str = "", made_on: str = "") -> bytes:
    """The run sheet as A4 PDF. `address` is the sheet's own, to which each run's code leads; without it, no code."""
    return pdf_of(sheet_html(plan, evaluation, address, made_on))


def sheet_html(plan: Plan, evaluation: Evaluation, address: str = "", made_on: str = "") -> str:
    """The page that the PDF is made of, complete in itself but for the fonts."""
    samples = {s.id: s.label for s in evaluation.samples}
    rows = cover_rows(plan)
    return environment.get_template("run_sheet.html").render(
        plan=plan,
        evaluation=evaluation,
        parts=sheet_parts(plan, evaluation),
        claims={c.id: c for c in evaluation.claims},
        tries=trials_to_make(evaluation),
        accessories=plan_accessories(evaluation, findings_of(evaluation)),
        fixture_words=FIXTURE_WORDS,
        samples=samples,
        axis=on_paper(time_axis(plan, 700)),
        cover=on_paper(cover_map(rows, 700)) if rows else "",
        address=address,
        code_of=code_of,
        made_on=made_on,
        running=f"{evaluation.title}, run sheet" + (f", {made_on}" if made_on else ""),
    )
