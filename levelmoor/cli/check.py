"""The command line's check: one file against an SWR limit."""

import argparse
import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any

from levelmoor.cli.exits import VERDICT_EXITS, BadInput

if TYPE_CHECKING:
    from levelmoor.core.rf.sweep import Sweep
    from levelmoor.core.rf.windows import Window


def add_commands(commands: Any) -> None:
    """The parser of this command."""
    check = commands.add_parser("check", help="judge one file against an SWR limit")
    check.add_argument("file", metavar="FILE", nargs="?")
    check.add_argument(
        "--band",
        metavar="NAME",
        nargs="+",
        action="extend",
        default=[],
        help="a band or segment, such as 20m or '2m voice, FM'",
    )
    check.add_argument("--from", dest="low", metavar="F", help="lower end; a bare number is in MHz")
    check.add_argument("--to", dest="high", metavar="F", help="upper end")
    check.add_argument("--region", type=int, choices=(1, 2, 3), default=1, help="ITU region (default 1)")
    check.add_argument("--max-swr", type=float, required=True, metavar="S")
    check.add_argument(
        "--z0", type=float, default=50.0, metavar="OHM", help="impedance that SWR refers to (default 50)"
    )
    check.add_argument("--port", type=int, default=1)
    check.add_argument("--rule", choices=("guarded", "simple"), default="guarded")
    check.add_argument("--directivity-db", type=float, default=40.0, metavar="DB")
    check.add_argument("--tracking", type=float, default=0.01, metavar="LIN")
    check.add_argument("--source-match-db", type=float, default=35.0, metavar="DB")
    check.add_argument(
        "--repeat-u", type=float, default=0.0, metavar="U", help="standard deviation of |Γ| over repeats"
    )
    check.add_argument("--json", action="store_true")
    check.add_argument("--svg", metavar="OUT.svg", type=Path)
    check.set_defaults(run=_check)


def _check(options: argparse.Namespace) -> int:
    from levelmoor.cli.check_text import check_text
    from levelmoor.core.metrology.decision import VERDICT_WORDS, DecisionRule
    from levelmoor.core.metrology.uncertainty import Residuals
    from levelmoor.core.rf.sweep_analysis import analyse_sweep
    from levelmoor.core.verdict.window_verdict import judge_window
    from levelmoor.formats.check import check_report, overall
    from levelmoor.formats.sweepfile import ReadOptions, read_sweep_file

    path = _file_of(options)
    try:
        bench = Residuals(options.directivity_db, options.tracking, options.source_match_db, options.repeat_u)
        if not 0 < options.z0 < float("inf"):
            raise BadInput(f"--z0 {options.z0:g}: a reference impedance must be above 0 ohm")
        if not 1 < options.max_swr < float("inf"):
            raise BadInput(f"--max-swr {options.max_swr:g}: an SWR limit must be above 1")
        file = read_sweep_file(path.name, path.read_bytes(), ReadOptions(port=options.port))
        analysis = analyse_sweep(file.sweep, options.z0)
        windows = _windows(options, analysis.sweep)
        rule = DecisionRule(options.rule)
        findings = [judge_window(analysis, w, options.max_swr, bench, rule) for w in windows]
    except OSError as problem:
        raise BadInput(f"{path}: {problem.strerror or problem}") from None
    except ValueError as problem:
        raise BadInput(str(problem)) from None
    if options.svg:
        _write_svg(options, path, analysis, findings, bench, rule)
    if options.json:
        print(
            json.dumps(
                check_report(str(path), file, analysis, options.z0, findings),
                allow_nan=False,
                ensure_ascii=False,
                indent=1,
            )
        )
    else:
        title = f"{path.name}: {file.format}"
        print(*check_text(title, analysis, findings, sys.stdout.isatty()), sep="\n")
        print(f"Verdict: {VERDICT_WORDS[overall(findings)]}")
    for guess in file.guessed:
        print(f"levelmoor check: assumed, not in the file: {guess}", file=sys.stderr)
    if not windows:
        print(
            f"levelmoor check: the sweep does not cover a band of region {options.region}; give a window with "
            f"--from and --to",
            file=sys.stderr,
        )
    return VERDICT_EXITS[overall(findings).value]


def _file_of(options: argparse.Namespace) -> Path:
    """`--band 2m 70cm FILE` hands the file to --band; take it back."""
    if options.file is None and options.band and Path(options.band[-1]).exists():
        options.file = options.band.pop()
    if options.file is None:
        raise BadInput("give a file")
    return Path(options.file)


def _windows(options: argparse.Namespace, sweep: "Sweep") -> "list[Window]":
    from levelmoor.core.rf.bandplan import bands_covered, find_band
    from levelmoor.core.rf.frequency import parse_frequency
    from levelmoor.core.rf.windows import Window

    windows = [find_band(name, options.region) for name in options.band]
    if (options.low is None) != (options.high is None):
        raise BadInput("give both --from and --to")
    if options.low is not None:
        low, high = parse_frequency(options.low), parse_frequency(options.high)
        if not low < high:
            raise BadInput(f"--from {options.low} is not below --to {options.high}")
        windows.append(Window(low, high))
    return windows or [band.window for band in bands_covered(sweep, options.region)]


def _write_svg(options, path, analysis, findings, bench, rule) -> None:  # type: ignore[no-untyped-def]
    from levelmoor.figures.landscape import landscape, waterline_of

    levels = [waterline_of(f, rule) for f in findings]
    figure = landscape(analysis, levels, bench, label=f"SWR of {path.name} over frequency", alone=True)
    try:
        options.svg.write_text(figure, "utf-8")
    except OSError as problem:
        raise BadInput(f"{options.svg}: {problem.strerror or problem}") from None
