"""The command line's bench and plan: plan, export, import, cable, pad, correct."""

import argparse
import json
from collections.abc import Callable
from hashlib import sha256
from pathlib import Path
from typing import Any

from levelmoor.cli.exits import BadInput, refusing
from levelmoor.core.words.counting import counted


def add_commands(commands: Any) -> None:
    """The parsers of these commands."""
    plan = commands.add_parser("plan", help="plan the runs of an exported evaluation")
    plan.add_argument("evaluation", metavar="EVALUATION", type=Path, help="its JSON, or an exported file")
    how = plan.add_mutually_exclusive_group()
    how.add_argument("--json", action="store_true")
    how.add_argument("--pdf", metavar="OUT", type=Path, help="write the run sheet as A4 PDF")
    plan.add_argument("--address", default="", help="address of the server, for the codes on the run sheet")
    plan.set_defaults(run=_plan)

    export = commands.add_parser("export", help="write an evaluation with its bench and raw files")
    export.add_argument("evaluation", metavar="NUMBER", type=int, help="the number in its address, /e/NUMBER")
    export.add_argument("out", metavar="OUT", type=Path)
    export.set_defaults(run=_export)

    take = commands.add_parser("import", help="import an exported evaluation into a team")
    take.add_argument("file", metavar="FILE", type=Path)
    take.add_argument("--team", required=True)
    take.set_defaults(run=_import)

    cable = commands.add_parser("cable", help="check whether a feed line is sound")
    cable.add_argument("file", metavar="FILE", type=Path, help="swept with its far end open or shorted")
    cable.add_argument("--type", required=True, help="its generic type, such as RG-58")
    cable.add_argument("--length", required=True, metavar="L", help="such as 20m or 1500mm; a bare number is metres")
    cable.add_argument("--u-gamma", type=float, default=0.01, metavar="U", help="standard uncertainty of |Γ|")
    cable.add_argument("--json", action="store_true")
    cable.set_defaults(run=_cable)

    pad = commands.add_parser("pad", help="attenuation of a pad, from a path without and with it")
    pad.add_argument("--reference", metavar="A.csv", type=Path, help="the path without the pad")
    pad.add_argument("--through", metavar="B.csv", type=Path, help="the path with it")
    pad.add_argument("--s21", metavar="FILE.s2p", type=Path, help="a two-port sweep instead of both")
    pad.add_argument("--at", metavar="F", help="the fundamental, such as 51MHz")
    pad.add_argument("--harmonics", type=int, default=5, metavar="N", help="up to the N-th (default 5)")
    pad.add_argument("--label", type=float, metavar="DB", help="the attenuation on its label")
    pad.add_argument("--u-level", type=float, default=0.1, metavar="DB", help="standard uncertainty of one level")
    pad.add_argument("--json", action="store_true")
    pad.set_defaults(run=_pad)

    correct = commands.add_parser("correct", help="correct a raw sweep with raw sweeps of open, short and load")
    correct.add_argument("raw", metavar="RAW", type=Path)
    for name in ("open", "short", "load"):
        correct.add_argument(f"--{name}", required=True, metavar="FILE", type=Path)
    correct.add_argument("--out", required=True, metavar="OUT.s1p", type=Path)
    correct.add_argument(
        "--open-c", metavar="C0,C1,C2,C3", default="", help="in 1e-15 F, 1e-27 F/Hz, 1e-36 F/Hz², 1e-45 F/Hz³"
    )
    correct.add_argument("--open-delay-ps", type=float, default=0.0, metavar="PS", help="one way")
    correct.add_argument("--short-delay-ps", type=float, default=0.0, metavar="PS", help="one way")
    correct.add_argument("--load-ohm", type=float, default=50.0, metavar="OHM")
    correct.set_defaults(run=_correct)


def _print(data: Any) -> None:
    print(json.dumps(data, ensure_ascii=False, indent=1, allow_nan=False))


def _plan(options: argparse.Namespace) -> int:
    from levelmoor.core.plan.plan import make_plan
    from levelmoor.formats.exchange_file import read_exchange
    from levelmoor.formats.plan_document import plan_document, plan_text

    with refusing(options.evaluation):
        evaluation = read_exchange(options.evaluation.read_bytes(), without_files=True).evaluation
        plan = make_plan(evaluation)
    if options.pdf:
        from levelmoor.services.run_sheet import sheet_pdf

        with refusing(options.pdf):
            options.pdf.write_bytes(sheet_pdf(plan, evaluation, options.address))
    elif options.json:
        _print(plan_document(plan))
    else:
        print(*plan_text(plan, evaluation), sep="\n")
    return 0


def _export(options: argparse.Namespace) -> int:
    from levelmoor.formats.exchange_file import write_exchange
    from levelmoor.records import store
    from levelmoor.records import tables as t
    from levelmoor.records.audit import OPERATOR, record
    from levelmoor.records.database import connect
    from levelmoor.records.exporting import exported

    with connect()() as session:
        found = session.get(t.Evaluation, options.evaluation)
        row = store.evaluation(session, found.team_id, found.id) if found else None
        if row is None:
            raise BadInput(f"there is no evaluation {options.evaluation}")
        came = exported(session, row)
        with refusing(options.out):
            options.out.write_bytes(write_exchange(came))
        with connect().begin() as beside:
            record(beside, row.team_id, OPERATOR, "export", f"the evaluation of {row.product.name} was exported")
    print(f"{came.evaluation.title}: {len(came.files)} raw files")
    print(*came.beside.stays, sep="\n", end="\n" if came.beside.stays else "")
    return 0


def _import(options: argparse.Namespace) -> int:
    from sqlalchemy import select

    from levelmoor.formats.bundle import LARGEST_BYTES
    from levelmoor.formats.exchange_file import read_exchange
    from levelmoor.records import tables as t
    from levelmoor.records.audit import OPERATOR, record
    from levelmoor.records.database import connect
    from levelmoor.records.importing import imported
    from levelmoor.services.list_card import refresh_card

    with refusing(options.file):
        data = options.file.read_bytes()
        came = read_exchange(data, most_bytes=LARGEST_BYTES)
        with connect().begin() as session:
            team = session.scalar(select(t.Team).where(t.Team.name == options.team))
            if team is None:
                raise BadInput(f'there is no team "{options.team}"')
            row, stays = imported(session, team, came, sha256(data).hexdigest())
            refresh_card(row)
            record(session, team.id, OPERATOR, "import", f"{options.file.name} was imported as {row.product.name}")
            said = f"{came.evaluation.title}: evaluation {row.id} of {team.name}"
    print(said, *stays, sep="\n")
    return 0


def _length_m(text: str) -> float:
    """Metres from `20m`, `1500 mm`, `20`."""
    bare = text.strip().lower().replace(",", ".")
    for unit, size in (("mm", 1e-3), ("cm", 1e-2), ("m", 1.0), ("ft", 0.3048)):
        if bare.endswith(unit):
            bare, scale = bare.removesuffix(unit).strip(), size
            break
    else:
        scale = 1.0
    try:
        length = float(bare) * scale
    except ValueError:
        raise ValueError(f'--length "{text}" is not a length; write it like 20m') from None
    if not 0.05 <= length <= 1000:
        raise ValueError(f"--length {text}: a line must be 0.05 to 1000 m long")
    return length


def _cable(options: argparse.Namespace) -> int:
    from levelmoor.core.bench.cable_check import check_cable
    from levelmoor.core.rf.line_types import find_line_type
    from levelmoor.formats.sweepfile import read_sweep_file

    with refusing(options.file):
        read = read_sweep_file(options.file.name, options.file.read_bytes())
        kind, length = find_line_type(options.type), _length_m(options.length)
        found = check_cable(read.sweep, kind, length, options.u_gamma)
    top = found.loss_db.frequency_hz[-1]
    if options.json:
        _print(
            {
                "file": str(options.file),
                "type": kind.name,
                "length_m": length,
                "sound": found.sound,
                "reasons": list(found.reasons),
                "electrical_length_m": found.length_m,
                "delay_s": found.delay_s,
                "echo_m": found.echo_m,
                "resolution_m": found.resolution_m,
                "loss": [
                    {"frequency_hz": f, "loss_db": a, "table_db": b}
                    for f, a, b in zip(
                        found.loss_db.frequency_hz, found.loss_db.value, found.table_db.value, strict=True
                    )
                ],
                "u_loss_db": found.u_loss_db,
            }
        )
    else:
        print(found.words)
        print(f"one way at {top / 1e6:.6g} MHz: {found.loss_db.value[-1]:.2f} ± {2 * found.u_loss_db:.2f} dB (2u)")
    return 0 if found.sound else 1


def _pad(options: argparse.Namespace) -> int:
    from levelmoor.core.bench.pad_check import check_pad
    from levelmoor.core.rf.frequency import parse_frequency
    from levelmoor.core.rf.trace import Trace
    from levelmoor.formats.trace_file import read_trace_file

    if bool(options.s21) == bool(options.reference or options.through) or (
        not options.s21 and not (options.reference and options.through)
    ):
        raise BadInput("give either --reference and --through, or --s21")
    if not 1 <= options.harmonics <= 20:
        raise BadInput("--harmonics must be 1 to 20")
    with refusing(options.s21 or options.reference):
        wanted: tuple[float, ...] = ()
        if options.at:
            wanted = tuple(n * parse_frequency(options.at) for n in range(1, options.harmonics + 1))
        if options.s21:
            through, what = read_trace_file(options.s21.name, options.s21.read_bytes())
            if what != "s21":
                raise ValueError(f"{options.s21} is not a two-port file")
            reference = Trace(through.frequency_hz, 0 * through.level_db)
        else:
            reference, through = (
                read_trace_file(p.name, p.read_bytes())[0] for p in (options.reference, options.through)
            )
        found = check_pad(reference, through, wanted, options.label, options.u_level)
    if options.json:
        _print(
            {
                "figures": [
                    {
                        "order": p.order,
                        "frequency_hz": p.frequency_hz,
                        "attenuation_db": p.attenuation_db,
                        "u_db": p.u_db,
                    }
                    for p in found.figures
                ],
                "missing_hz": list(found.missing),
                "label_db": found.nominal_db,
                "differs_db": found.differs_db,
                "curve": [
                    {"frequency_hz": f, "attenuation_db": a}
                    for f, a in zip(found.attenuation.frequency_hz, found.attenuation.value, strict=True)
                ],
            }
        )
    else:
        for p in found.figures:
            name = "fundamental" if p.order == 1 else f"harmonic {p.order}"
            print(f"{name:12} {p.frequency_hz / 1e6:10.3f} MHz  {p.attenuation_db:7.2f} ± {2 * p.u_db:.2f} dB (2u)")
        print(found.words)
    return 0 if found.sound else 1


def _correct(options: argparse.Namespace) -> int:
    from levelmoor.core.model.equipment import Kit
    from levelmoor.formats.evidence_files import corrected, terms_from
    from levelmoor.formats.sweepfile import read_sweep_file
    from levelmoor.formats.touchstone_out import write_s1p

    read: Callable[[Path], Any] = lambda p: read_sweep_file(p.name, p.read_bytes()).sweep  # noqa: E731
    with refusing(options.raw):
        c = [float(x) for x in options.open_c.split(",") if x.strip()]
        if len(c) > 4:
            raise ValueError("--open-c takes four figures at most")
        scaled = [x * unit for x, unit in zip([*c, 0, 0, 0, 0], (1e-15, 1e-27, 1e-36, 1e-45), strict=False)]
        kit = Kit(
            "", "", open_c=(scaled[0], scaled[1], scaled[2], scaled[3]), open_delay_s=options.open_delay_ps * 1e-12,
            short_delay_s=options.short_delay_ps * 1e-12, load_ohm=options.load_ohm,
        )  # fmt: skip
        terms = terms_from({n: read(getattr(options, n)) for n in ("open", "short", "load")}, kit)
        sweep = corrected(read(options.raw), terms)
        names = ", ".join(getattr(options, n).name for n in ("open", "short", "load"))
        options.out.write_text(write_s1p(sweep, f"{options.raw.name} corrected with {names}"), "utf-8")
    print(f"{options.out}: {counted(sweep.points, 'point')}")
    return 0
