"""The report of `harmonics` as a plain object for JSON, and as text: a contract that scripts rely on."""

from collections.abc import Mapping
from typing import Any

from levelmoor.core.emissions.captured_lines import EmissionLine
from levelmoor.core.emissions.emissions import EmissionFinding, EmissionsReport
from levelmoor.core.metrology.decision import VERDICT_WORDS, Verdict
from levelmoor.core.model.rule_sets import Limit, NoFigure
from levelmoor.core.rf.levels import watts_of_dbm
from levelmoor.core.words.figures import format_mhz
from levelmoor.formats.check import finite


def _finding(found: EmissionFinding) -> dict[str, Any]:
    return {
        "n": found.n or None,
        "frequency_hz": found.frequency_hz,
        "level_dbm": finite(found.level_dbm),
        "dbc": finite(found.dbc),
        "level_w": finite(found.level_w),
        "limit_dbm": finite(found.limit_dbm),
        "binding": found.binding,
        "margin_db": finite(found.margin_db),
        "u_db": finite(found.u_db),
        "at_most": found.bound,
        "verdict": found.verdict.value,
        "probability": finite(found.probability),
        "reason": found.reason,
        "rests_on": found.trusted,
        "services": list(found.services),
    }


def harmonics_document(rules: str, report: EmissionsReport) -> dict[str, Any]:
    """Everything `levelmoor harmonics --json` prints; margin is limit less level, infinite and unknown figures null."""
    level = report.carrier.level_dbm
    return {
        "carrier_hz": report.carrier.frequency_hz,
        "carrier_dbm": level,
        "carrier_w": None if level is None else float(watts_of_dbm(level)),
        "rules": rules,
        "harmonics": [_finding(f) for f in report.harmonics],
        "spurious": [_finding(f) for f in report.spurious],
        "verdict": report.verdict.value,
        "carrier_u_db": report.carrier.u_db,
        "limit": _limit(report.limit),
    }


def _limit(limit: Limit | NoFigure) -> dict[str, Any]:
    return {**vars(limit), "terms": [list(t) for t in limit.terms]} if isinstance(limit, Limit) else vars(limit)


def report_from(document: Mapping[str, Any]) -> EmissionsReport:
    """The report that such a document was made of, as far as it is drawn."""
    harmonics, spurious = (tuple(_finding_from(f) for f in document[n]) for n in ("harmonics", "spurious"))
    carrier = EmissionLine(1, document["carrier_hz"], None, document["carrier_dbm"], document["carrier_u_db"])
    return EmissionsReport(carrier, harmonics, spurious, _limit_from(document["limit"]), Verdict(document["verdict"]))


def _limit_from(kept: Mapping[str, Any]) -> Limit | NoFigure:
    if "words" in kept:
        return NoFigure(kept["words"])
    return Limit(**{**kept, "terms": tuple((w, v) for w, v in kept["terms"])})


def _finding_from(data: Mapping[str, Any]) -> EmissionFinding:
    named = ("frequency_hz", "level_dbm", "dbc", "level_w", "u_db", "limit_dbm", "binding", "margin_db", "probability")
    return EmissionFinding(
        n=data["n"] or 0,
        verdict=Verdict(data["verdict"]),
        reason=data["reason"],
        trusted=data["rests_on"],
        bound=data["at_most"],
        services=tuple(data["services"]),
        **{n: data[n] for n in named},
    )


def harmonics_text(rules: str, report: EmissionsReport) -> list[str]:
    """The same for a terminal."""
    level = report.carrier.level_dbm or 0.0
    lines = [
        f"Carrier {format_mhz(report.carrier.frequency_hz)} MHz, {level:.1f} dBm, {float(watts_of_dbm(level)):.3g} W"
    ]
    if isinstance(report.limit, Limit):
        lines.append(f"{rules} {report.limit.section}: {report.limit.dbm:.2f} dBm, {report.limit.binding}")
    else:
        lines.append(report.limit.words)
    for f in (*report.harmonics, *report.spurious):
        name = f"{f.n}." if f.n else "spurious"
        shown = "–" if f.level_dbm is None else f"{'≤ ' if f.bound else ''}{f.level_dbm:.1f} dBm, {f.dbc:.1f} dBc"
        met = f", in {', '.join(f.services)}" if f.services else ""
        where = f"  {name:>8} {format_mhz(round(f.frequency_hz, -3)):>12} MHz"
        lines.append(f"{where}  {shown}{met}: {VERDICT_WORDS[f.verdict]}. {f.reason}")
    return lines
