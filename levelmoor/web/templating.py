"""What every template may use: how figures are written, the words of the verdicts, figures of the rules."""

import sys
from contextlib import suppress
from importlib.resources import files
from pathlib import Path
from secrets import token_hex
from typing import Any

from flask import Flask, url_for
from jinja2 import FileSystemBytecodeCache
from jinja2.bccache import Bucket
from markupsafe import Markup

from levelmoor.core.emissions.emissions import USUAL_MORE_PAD_DB
from levelmoor.core.evidence.radio_use import USE_WORDS
from levelmoor.core.metrology.decision import VERDICT_MEANINGS, VERDICT_WORDS, format_probability
from levelmoor.core.metrology.repeats import FEWEST
from levelmoor.core.model.through import FIXTURE_WORDS, LEVEL_WORDS
from levelmoor.core.model.trials import OUTCOME_WORDS
from levelmoor.core.model.usability import USABILITY_WORDS
from levelmoor.core.rf.levels import format_watts
from levelmoor.core.verdict.coarseness import LEAST_POINTS
from levelmoor.core.words.counting import counted, duration
from levelmoor.core.words.figures import format_mhz, format_range, format_step, format_swr, format_uncertainty
from levelmoor.core.words.sentence import sentence
from levelmoor.figures.shapes import verdict_shape
from levelmoor.formats.knob_table import table_text
from levelmoor.formats.trials_csv import dials_text
from levelmoor.web.parts import fetched, opened, part
from levelmoor.web.workbench.screen import words_for


def install(app: Flask) -> None:
    words_for(app)
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    app.jinja_env.bytecode_cache = _compiled()
    app.jinja_env.filters.update(
        mhz=format_mhz,
        swr=format_swr,
        watts=format_watts,
        step=format_step,
        uncertain=format_uncertainty,
        counted=counted,
        duration=duration,
        tuple_of=_option,
        probability=format_probability,
        profile_option=lambda profile: (profile.id, profile.name),
        sentence=sentence,
        gformat=lambda value: "" if value is None else f"{value:g}",
    )
    app.jinja_env.globals.update(
        shape=verdict_shape,
        part=part,
        entry=lambda: token_hex(8),
        opened=opened,
        fetched=fetched,
        about=_about,
        verdict_words=VERDICT_WORDS,
        verdict_meanings=VERDICT_MEANINGS,
        usability_words=USABILITY_WORDS,
        span=format_range,
        least_points=LEAST_POINTS,
        fewest_repeats=FEWEST,
        more_pad_db=USUAL_MORE_PAD_DB,
        table_text=table_text,
        dials_text=dials_text,
        outcome_words=OUTCOME_WORDS,
        fixture_words=FIXTURE_WORDS,
        use_words=USE_WORDS,
        level_words=LEVEL_WORDS,
    )


def _compiled() -> FileSystemBytecodeCache | None:
    """Compiled templates, beside the compiled modules and by the same leave: compiling all takes seconds."""
    folder = Path(str(files("levelmoor.web"))) / "__pycache__" / "templates"
    if sys.dont_write_bytecode:
        return None
    with suppress(OSError):
        folder.mkdir(parents=True, exist_ok=True)
        return _Cache(str(folder))
    return None


class _Cache(FileSystemBytecodeCache):
    """One that does without where nothing can be written."""

    def dump_bytecode(self, bucket: Bucket) -> None:
        with suppress(OSError):
            super().dump_bytecode(bucket)


def _about(anchor: str, words: str) -> Markup:
    """A word explained where it stands: the way to its place in Help."""
    return Markup('<a class="about" href="{}#{}" aria-label="About {}">?</a>').format(
        url_for("guide.page"), anchor, words
    )


def _option(row: Any, name: str) -> tuple[int, str]:
    """A row as an option of a list to pick from."""
    return row.id, getattr(row, name)
