"""The command line's emissions: harmonics."""

import argparse
import json
import sys
from pathlib import Path
from typing import Any

from levelmoor.cli.exits import VERDICT_EXITS, refusing


def add_commands(commands: Any) -> None:
    harmonics = commands.add_parser("harmonics", help="judge carrier and harmonics of a spectrum against a rule set")
    harmonics.add_argument("file", metavar="FILE.csv", type=Path, help="a trace or a list of peaks")
    harmonics.add_argument("--carrier", required=True, metavar="F", help="as 51MHz")
    harmonics.add_argument(
        "--offset", required=True, type=float, metavar="DB", help="attenuation between radio and analyzer"
    )
    harmonics.add_argument(
        "--offset-at",
        action="append",
        default=[],
        metavar="F=DB",
        help="attenuation at one frequency, such as 300MHz=30.2",
    )
    harmonics.add_argument("--rules", default="us-97.307", metavar="ID", help="a rule set's id, or a JSON file of one")
    harmonics.add_argument("--up-to", type=int, default=5, metavar="N", help="up to the N-th harmonic (default 5)")
    harmonics.add_argument("--u-db", type=float, default=0.75, metavar="DB", help="standard uncertainty of a level")
    harmonics.add_argument("--rule", choices=("guarded", "simple"), default="guarded")
    harmonics.add_argument("--power", type=float, metavar="W", help="carrier power for the rule (default: as measured)")
    harmonics.add_argument(
        "--region", type=int, choices=(1, 2, 3), default=1, help="ITU region for the bands that harmonics fall into"
    )
    harmonics.add_argument("--json", action="store_true")
    harmonics.add_argument("--svg", metavar="OUT.svg", type=Path)
    harmonics.set_defaults(run=_harmonics)


def _harmonics(options: argparse.Namespace) -> int:
    from levelmoor.core.emissions.captured_lines import Spectrum, measure
    from levelmoor.core.emissions.emissions import judge_emissions
    from levelmoor.core.metrology.decision import VERDICT_WORDS, DecisionRule
    from levelmoor.core.model.rule_sets import limit_of
    from levelmoor.core.rf.frequency import parse_frequency
    from levelmoor.core.rf.levels import watts_of_dbm
    from levelmoor.formats.capture_file import read_capture_file
    from levelmoor.formats.harmonics_document import harmonics_document, harmonics_text

    with refusing(options.file):
        carrier_hz = parse_frequency(options.carrier)
        if not 2 <= options.up_to <= 50:
            raise ValueError(f"--up-to {options.up_to}: harmonics run from the 2nd to the 50th")
        if not 0 <= options.u_db < float("inf"):
            raise ValueError(f"--u-db {options.u_db:g}: an uncertainty must be at least 0 dB")
        if options.power is not None and not 0 < options.power < float("inf"):
            raise ValueError(f"--power {options.power:g}: a carrier power must be above 0 W")
        rules = _rules(options.rules)
        read = read_capture_file(options.file.name, options.file.read_bytes())
        if not read.unit_named:
            print(
                f"{options.file.name}: its headings do not name the unit of the levels; dBm is assumed", file=sys.stderr
            )
        spectrum = Spectrum(options.file.name, read.trace, _path(options), 0.0, options.u_db)
        measured = measure(spectrum, carrier_hz, options.up_to)
        level = measured.carrier.level_dbm
        power = options.power or float(watts_of_dbm(level or 0.0))
        limit = limit_of(rules, measured.carrier.frequency_hz, power, options.region)
        report = judge_emissions([measured], limit, DecisionRule(options.rule), options.region, every=False)
        if options.svg:
            from levelmoor.figures.emissions import PostRow, emission_posts

            figure = emission_posts([PostRow("A", options.file.name, report)], DecisionRule(options.rule), alone=True)
            options.svg.write_text(figure, "utf-8")
    if options.json:
        print(json.dumps(harmonics_document(rules.id, report), ensure_ascii=False, indent=1, allow_nan=False))
    else:
        print(*harmonics_text(rules.id, report), sep="\n")
        print(f"Verdict: {VERDICT_WORDS[report.verdict]}. Levelmoor gives no legal advice.")
    return VERDICT_EXITS[report.verdict.value]


def _rules(name: str) -> Any:
    from levelmoor.core.model.rule_sets import rule_set_from, shipped_rule_sets
    from levelmoor.formats.json_in import read_json

    shipped = shipped_rule_sets()
    if name in shipped:
        return shipped[name]
    if name.endswith(".json"):
        return rule_set_from(read_json(Path(name).read_bytes()))
    raise ValueError(f'there is no rule set "{name}"; choose from {", ".join(shipped)}, or give a JSON file')


def _path(options: argparse.Namespace) -> Any:
    """The attenuation at a frequency: that given for it within 2 %, else the one for all."""
    from levelmoor.core.rf.frequency import parse_frequency

    at: list[tuple[float, float]] = []
    for text in options.offset_at:
        frequency, _, figure = text.partition("=")
        try:
            at.append((parse_frequency(frequency), float(figure)))
        except ValueError:
            raise ValueError(f"--offset-at {text}: write it like 300MHz=30.2") from None

    def path(frequency_hz: float) -> tuple[float, float]:
        near = [(abs(f - frequency_hz), db) for f, db in at if abs(f - frequency_hz) <= 0.02 * frequency_hz]
        return (min(near)[1] if near else options.offset), 0.0

    return path
