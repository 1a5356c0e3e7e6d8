"""The command line: check, verify, serve, demo, migrate, user, and the commands of bench, plan and sweeps."""

import argparse
import json
import sys
import traceback
from collections.abc import Sequence
from hashlib import sha256
from pathlib import Path
from typing import TYPE_CHECKING

from levelmoor import __version__, account_commands, bench_commands, emission_commands, sweep_commands
from levelmoor.bench_commands import BadInput

if TYPE_CHECKING:
    from levelmoor.core.sweep import Sweep
    from levelmoor.core.windows import Window

EXIT_BAD_INPUT = 2
PROVES = (
    "This proves that the findings follow from the files in the bundle. It does not prove who published it, nor that "
    "the files are true: compare the SHA-256 with the one on the page where it was published."
)


def main(arguments: Sequence[str] | None = None) -> int:
    parser = _parser()
    options = parser.parse_args(arguments)
    try:
        return int(options.run(options))
    except BadInput as problem:
        print(f"levelmoor {options.command}: {problem}", file=sys.stderr)
        return EXIT_BAD_INPUT
    except RuntimeError as problem:
        print(f"levelmoor {options.command}: {problem}", file=sys.stderr)
        return EXIT_BAD_INPUT
    except BrokenPipeError:
        return EXIT_BAD_INPUT
    except Exception:
        # A fault of the program is no verdict, and its exit code none of theirs.
        traceback.print_exc()
        print(f"levelmoor {options.command}: something went wrong here; this is no verdict", file=sys.stderr)
        return EXIT_BAD_INPUT


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="levelmoor", description="Swept antennas against their published specifications."
    )
    parser.add_argument("--version", action="version", version=f"levelmoor {__version__}")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")

    check = commands.add_parser("check", help="judge one file against an SWR limit")
    check.add_argument("file", metavar="FILE", nargs="?")
    check.add_argument(
        "--band",
        metavar="NAME",
        nargs="+",
        action="extend",
        default=[],
        help="a band or segment, as 20m or '2m voice, FM'",
    )
    check.add_argument("--from", dest="low", metavar="F", help="lower end; a bare number is MHz")
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

    verify = commands.add_parser("verify", help="check a published bundle and judge it again")
    verify.add_argument("bundle", metavar="BUNDLE", type=Path)
    verify.add_argument("--sha256", metavar="DIGEST", default="", help="what the page that published it states")
    verify.add_argument("--json", action="store_true")
    verify.set_defaults(run=_verify)

    bench_commands.add_commands(commands)
    sweep_commands.add_commands(commands)
    emission_commands.add_commands(commands)

    serve = commands.add_parser("serve", help="serve the web application")
    serve.add_argument("--host", default="127.0.0.1")
    serve.add_argument("--port", type=int, default=8080)
    serve.add_argument("--threads", type=int, default=40, help="half of them may be kept by live screens (default 40)")
    serve.set_defaults(run=_serve)

    demo = commands.add_parser("demo", help="load the made-up demo into the database")
    demo.set_defaults(run=_demo)

    account_commands.add_commands(commands)
    return parser


def _check(options: argparse.Namespace) -> int:
    from levelmoor.core.decision import VERDICT_WORDS, Rule
    from levelmoor.core.sweep_reading import read_sweep
    from levelmoor.core.uncertainty import BenchFigures
    from levelmoor.core.window_verdict import judge_window
    from levelmoor.figures.check_text import check_text
    from levelmoor.formats.check import check_report, overall
    from levelmoor.formats.sweepfile import ReadOptions, read_sweep_file

    path = _file_of(options)
    try:
        bench = BenchFigures(options.directivity_db, options.tracking, options.source_match_db, options.repeat_u)
        if not 0 < options.z0 < float("inf"):
            raise BadInput(f"--z0 {options.z0:g}: a reference impedance is above 0 ohm")
        if not 1 < options.max_swr < float("inf"):
            raise BadInput(f"--max-swr {options.max_swr:g}: an SWR limit is a number above 1")
        file = read_sweep_file(path.name, path.read_bytes(), ReadOptions(port=options.port))
        reading = read_sweep(file.sweep, options.z0)
        windows = _windows(options, reading.sweep)
        rule = Rule(options.rule)
        findings = [judge_window(reading, w, options.max_swr, bench, rule) for w in windows]
    except OSError as problem:
        raise BadInput(f"{path}: {problem.strerror or problem}") from None
    except ValueError as problem:
        raise BadInput(str(problem)) from None
    if options.svg:
        _write_svg(options, path, reading, findings, bench, rule)
    if options.json:
        print(
            json.dumps(
                check_report(str(path), file, reading, options.z0, findings),
                allow_nan=False,
                ensure_ascii=False,
                indent=1,
            )
        )
    else:
        title = f"{path.name}: {file.format}"
        print(*check_text(title, reading, findings, sys.stdout.isatty()), sep="\n")
        print(f"Verdict: {VERDICT_WORDS[overall(findings)]}")
    for guess in file.guessed:
        print(f"levelmoor check: taken for granted, not in the file: {guess}", file=sys.stderr)
    if not windows:
        print(
            f"levelmoor check: the sweep covers no band of region {options.region}; name a window with --from and --to",
            file=sys.stderr,
        )
    return {"pass": 0, "fail": 1, "too_close": 3, "not_shown": 4}[overall(findings).value]


def _file_of(options: argparse.Namespace) -> Path:
    """`--band 2m 70cm FILE` hands the file to --band; take it back."""
    if options.file is None and options.band and Path(options.band[-1]).exists():
        options.file = options.band.pop()
    if options.file is None:
        raise BadInput("no file is named")
    return Path(options.file)


def _windows(options: argparse.Namespace, sweep: "Sweep") -> "list[Window]":
    from levelmoor.core.bandplan import bands_covered, find_band
    from levelmoor.core.frequency import parse_frequency
    from levelmoor.core.windows import Window

    windows = [find_band(name, options.region) for name in options.band]
    if (options.low is None) != (options.high is None):
        raise BadInput("--from and --to belong together")
    if options.low is not None:
        low, high = parse_frequency(options.low), parse_frequency(options.high)
        if not low < high:
            raise BadInput(f"--from {options.low} is not below --to {options.high}")
        windows.append(Window(low, high))
    return windows or [band.window for band in bands_covered(sweep, options.region)]


def _write_svg(options, path, reading, findings, bench, rule) -> None:  # type: ignore[no-untyped-def]
    from levelmoor.figures.landscape import landscape, level_of

    levels = [level_of(f, rule) for f in findings]
    figure = landscape(reading, levels, bench, label=f"SWR of {path.name} over frequency", alone=True)
    try:
        options.svg.write_text(figure, "utf-8")
    except OSError as problem:
        raise BadInput(f"{options.svg}: {problem.strerror or problem}") from None


def _verify(options: argparse.Namespace) -> int:
    from levelmoor.formats.bundle import BundleProblem, verify_bundle

    try:
        data = options.bundle.read_bytes()
        if options.sha256 and sha256(data).hexdigest() != options.sha256.strip().lower():
            raise BadInput(f"{options.bundle}: its SHA-256 is {sha256(data).hexdigest()}, not the one that was given")
        result = verify_bundle(data)
    except OSError as problem:
        raise BadInput(f"{options.bundle}: {problem.strerror or problem}") from None
    except BundleProblem as problem:
        raise BadInput(f"{options.bundle}: {problem}") from None
    if options.json:
        print(
            json.dumps(
                {
                    "same": result.same,
                    "sha256": result.sha256,
                    "agrees": result.agrees,
                    "differs": result.differs,
                    "proves": PROVES,
                },
                ensure_ascii=False,
                indent=1,
            )
        )
    else:
        print(f"{result.title}, revision {result.revision}: checksums of {result.files} files agree")
        for line in result.agrees:
            print(f"  same       {line}")
        for line in result.differs:
            print(f"  different  {line}")
        print(f"SHA-256 {result.sha256}")
        print(PROVES)
        print("same" if result.same else "different")
    return 0 if result.same else 1


def _serve(options: argparse.Namespace) -> int:
    from levelmoor.web.serve import serve

    serve(options.host, options.port, options.threads)
    return 0


def _demo(_options: argparse.Namespace) -> int:
    from levelmoor.demo.load import load_demo
    from levelmoor.records.database import connect
    from levelmoor.web.evaluations.card import refresh_card

    print(load_demo(connect(), refresh_card))
    return 0


if __name__ == "__main__":
    sys.exit(main())
