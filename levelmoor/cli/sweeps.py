"""The command line's sweeping and comparing: compare, readings, live, instruments."""

import argparse
import json
import sys
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from levelmoor.cli.exits import INSTRUMENT_FAILS, VERDICT_EXITS, BadInput, refusing
from levelmoor.core.words.counting import counted

if TYPE_CHECKING:
    from levelmoor.core.comparison.comparison_model import Comparison
    from levelmoor.core.rf.windows import Window


def add_commands(commands: Any) -> None:
    """The parsers of these commands."""
    compare = commands.add_parser(
        "compare", help="compare files per band: do they differ by more than measurement error?"
    )
    compare.add_argument("files", metavar="FILE", nargs="+", help="A B …; repeats of a setup with commas: A1,A2")
    compare.add_argument("--question", choices=("setups", "units", "instruments", "times"), default="setups")
    compare.add_argument(
        "--spot", metavar="F", action="append", default=[], help="a frequency that matters, such as 7.09"
    )
    compare.add_argument("--max-swr", type=float, default=2.0, metavar="S")
    compare.add_argument("--svg", metavar="OUT.svg", type=Path, help="write the overlaid sweeps")
    compare.add_argument("--smith", metavar="OUT.svg", type=Path, help="write the Smith chart")
    compare.set_defaults(run=_compare)

    readings = commands.add_parser("readings", help="judge a sheet of readings, and name each slip")
    readings.add_argument("file", metavar="FILE.csv", type=Path)
    readings.add_argument("--max-swr", type=float, required=True, metavar="S")
    readings.add_argument(
        "--watt-accuracy", type=float, default=0.0, metavar="SHARE", help="of watt figures, such as 0.05"
    )
    readings.add_argument(
        "--swr-division", type=float, default=0.0, metavar="D", help="distance between the scale's marks"
    )
    readings.set_defaults(run=_readings)
    for one in (compare, readings):
        one.add_argument("--band", metavar="NAME", action="append", default=[], help="a band, segment, range or spot")
        one.add_argument("--region", type=int, choices=(1, 2, 3), default=1)
        one.add_argument("--z0", type=float, default=50.0, metavar="OHM")
        one.add_argument("--rule", choices=("guarded", "simple"), default="guarded")
        one.add_argument("--directivity-db", type=float, default=40.0, metavar="DB")
        one.add_argument("--tracking", type=float, default=0.01, metavar="LIN")
        one.add_argument("--source-match-db", type=float, default=35.0, metavar="DB")
        one.add_argument("--json", action="store_true")

    live = commands.add_parser("live", help="sweep an instrument over TCP and show its readings")
    live.add_argument("--instrument", required=True, metavar="HOST:PORT")
    live.add_argument("--driver", default="Generic one-port analyzer", help="a built-in driver, or a file")
    live.add_argument("--band", metavar="NAME", required=True, help="a band, segment or range")
    live.add_argument("--region", type=int, choices=(1, 2, 3), default=1)
    live.add_argument("--points", type=int, default=201)
    live.add_argument(
        "--count", type=int, default=0, metavar="N", help="stop after N sweeps (default: stop with Ctrl-C)"
    )
    live.add_argument("--wanted", metavar="F", help="the target frequency")
    live.add_argument("--json-lines", action="store_true", help="one line of JSON for each sweep")
    live.add_argument("--out", metavar="OUT.s1p", type=Path, help="write the last sweep")
    live.set_defaults(run=_live)

    instruments = commands.add_parser("instruments", help="start simulated instruments on loopback")
    instruments.add_argument("--first-port", type=int, default=50250, metavar="PORT", help="0 chooses free ones")
    instruments.set_defaults(run=_instruments)


def _print(data: Any) -> None:
    print(json.dumps(data, ensure_ascii=False, indent=1, allow_nan=False))


def _windows(options: argparse.Namespace) -> "list[Window]":
    from levelmoor.core.rf.window_text import parse_windows

    return [w for text in options.band for w in parse_windows(text, options.region)]


def _draw(options: argparse.Namespace, found: "Comparison") -> None:
    from levelmoor.figures.curves import curves_of
    from levelmoor.figures.overlay import overlay
    from levelmoor.figures.smith import smith

    curves, drawn = curves_of(found), [w.window for w in found.windows]
    if options.svg:
        options.svg.write_text(overlay(curves, drawn, options.max_swr, alone=True), "utf-8")
    if options.smith:
        options.smith.write_text(smith(curves, drawn, alone=True), "utf-8")


def _compare(options: argparse.Namespace) -> int:
    from levelmoor.core.comparison.comparison import compare
    from levelmoor.core.comparison.comparison_model import Question
    from levelmoor.core.rf.bandplan import bands_covered
    from levelmoor.core.rf.frequency import parse_frequency
    from levelmoor.core.rf.windows import Window
    from levelmoor.formats.compare_document import compare_document, compare_text, evaluation_of_files

    with refusing():
        sides = [[Path(name) for name in part.split(",") if name] for part in options.files]
        files = [[(str(p), p.read_bytes()) for p in side] for side in sides]
        question = Question(options.question)
        evaluation = evaluation_of_files(files, question, _bench(options), options.rule, options.region)
        groups = [tuple(e for e in evaluation.sweeps if e.id.startswith(f"{i}-")) for i in range(len(files))]
        windows = _windows(options) or list(
            dict.fromkeys(b.window for e in evaluation.sweeps for b in bands_covered(e.sweep, options.region))
        )
        if not windows:
            raise ValueError(f"the sweeps do not cover a band of region {options.region}; give a window with --band")
        if not options.max_swr > 1:
            raise ValueError(f"--max-swr {options.max_swr:g}: an SWR limit is a number above 1")
        spots = tuple(Window(hz, hz) for hz in map(parse_frequency, options.spot))
        found = compare(replace(evaluation, spots=spots), groups, question, windows, options.max_swr)
        if options.svg or options.smith:
            _draw(options, found)
    if options.json:
        _print(compare_document(found))
    else:
        print(*compare_text(found), sep="\n")
    return 0


def _bench(options: argparse.Namespace, **more: Any) -> Any:
    from levelmoor.core.metrology.uncertainty import Residuals

    return Residuals(options.directivity_db, options.tracking, options.source_match_db, **more)


def _readings(options: argparse.Namespace) -> int:
    from levelmoor.cli.check_text import check_text
    from levelmoor.core.metrology.decision import VERDICT_WORDS, DecisionRule
    from levelmoor.core.readings.reading_sweep import join_readings
    from levelmoor.core.readings.slips import Expected, slips
    from levelmoor.core.rf.bandplan import bands_covered
    from levelmoor.core.rf.sweep_analysis import analyse_sweep
    from levelmoor.core.verdict.window_verdict import judge_window
    from levelmoor.formats.check import check_report, overall
    from levelmoor.formats.readings_file import read_readings
    from levelmoor.formats.sweepfile import ReadOptions, SweepFile

    with refusing(options.file):
        sheet = read_readings(options.file.name, options.file.read_bytes())
        bench = _bench(options, watt_accuracy=options.watt_accuracy, swr_division=options.swr_division)
        sweep = join_readings(sheet.readings)
        windows = _windows(options) or [b.window for b in bands_covered(sweep, options.region)]
        expected = Expected(tuple(windows), z0_ohm=options.z0)
        analysis = analyse_sweep(sweep, options.z0)
        findings = [judge_window(analysis, w, options.max_swr, bench, DecisionRule(options.rule)) for w in windows]
    asked = 0
    for line, one in zip(sheet.lines, sheet.readings, strict=True):
        others = tuple(o for o in sheet.readings if o.id != one.id)
        for slip in slips(one, expected, others):
            asked += 1
            print(f"levelmoor readings: line {line}, {slip.field}: {slip.question}", file=sys.stderr)
    file = SweepFile("readings", sweep, None, 1, ReadOptions(kind=sheet.kind.value))
    if options.json:
        _print(check_report(str(options.file), file, analysis, options.z0, findings))
    else:
        title = f"{options.file.name}: {counted(sweep.points, 'reading')}"
        print(*check_text(title, analysis, findings, sys.stdout.isatty()), sep="\n")
        print(f"Verdict: {VERDICT_WORDS[overall(findings)]}")
    if asked:
        print(f"levelmoor readings: {asked} questioned; the figures above use them as written", file=sys.stderr)
    return VERDICT_EXITS[overall(findings).value]


def _live(options: argparse.Namespace) -> int:
    from levelmoor.core.model.instrument_address import parse_address
    from levelmoor.core.rf.frequency import parse_frequency
    from levelmoor.core.rf.window_text import parse_windows
    from levelmoor.formats.touchstone_out import write_s1p
    from levelmoor.instruments.analyzer import Analyzer, Span
    from levelmoor.instruments.connection import Connection
    from levelmoor.instruments.driver import read_driver, shipped_drivers
    from levelmoor.instruments.problem import InstrumentProblem

    with refusing():
        address = parse_address(options.instrument)
        known = shipped_drivers().get(options.driver)
        if known is None and not Path(options.driver).exists():
            raise ValueError(f'there is no driver "{options.driver}"; choose from {", ".join(shipped_drivers())}')
        driver = known or read_driver(Path(options.driver).read_text("utf-8"))
        (window, *_) = parse_windows(options.band, options.region)
        wanted = parse_frequency(options.wanted) if options.wanted else None
        span = Span(window.low_hz, window.high_hz, options.points)
    taken = 0
    try:
        with Connection(address) as connection:
            analyzer = Analyzer(driver, connection)
            print(f"levelmoor live: {analyzer.identify()}", file=sys.stderr)
            analyzer.configure(span)
            while not options.count or taken < options.count:
                sweep = analyzer.sweep()
                taken += 1
                _told(options, taken, sweep, wanted)
                if options.out:
                    options.out.write_text(write_s1p(sweep, f"{options.instrument}, sweep {taken}"), "utf-8")
    except InstrumentProblem as problem:
        print(f"levelmoor live: {problem}", file=sys.stderr)
        return INSTRUMENT_FAILS
    except KeyboardInterrupt:
        return 0
    return 0


def _told(options: argparse.Namespace, number: int, sweep: Any, wanted: float | None) -> None:
    from levelmoor.core.rf.live_numbers import live_numbers
    from levelmoor.core.rf.sweep_analysis import analyse_sweep
    from levelmoor.core.words.figures import format_mhz, format_swr
    from levelmoor.formats.compare_document import live_document

    n = live_numbers(analyse_sweep(sweep, 50.0), wanted)
    if options.json_lines:
        print(json.dumps(live_document(number, n), allow_nan=False), flush=True)
        return
    at_wanted = f", {format_swr(n.wanted_swr)} at target" if n.wanted_swr is not None else ""
    zero = f", X = 0 at {format_mhz(round(n.zero_hz, -3))} MHz" if n.zero_hz else ""
    print(
        f"{number}: best {format_swr(n.best_swr)} at {format_mhz(round(n.best_hz, -3))} MHz{at_wanted}{zero}",
        flush=True,
    )


def _instruments(options: argparse.Namespace) -> int:
    import threading

    from levelmoor.instruments.stand_ins.server import serve

    try:
        servers = serve(options.first_port)
    except OSError as problem:
        raise BadInput(f"port {options.first_port} and the next two: {problem.strerror or problem}") from None
    for server in servers:
        print(f"{server.stand_in.name} at {server.address}", flush=True)
    print("Ctrl-C stops them", flush=True)
    try:
        threading.Event().wait()
    except KeyboardInterrupt:
        return 0
    return 0
