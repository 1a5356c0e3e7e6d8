"""Files in random dialects whose truth is known: python -m benchmarks.misread [COUNT, 5000] [SEED, 23].

Each must be read right or asked about (refused with its place, or with something to confirm); what is read wrong
without a word is printed, and the exit code is 1.
"""

import random
import sys
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from levelmoor.formats.capture_file import read_capture_file
from levelmoor.formats.heat_log import read_heat_log
from levelmoor.formats.rawtext import decode
from levelmoor.formats.spots_csv import read_spots
from levelmoor.formats.sweepfile import read_sweep_file
from levelmoor.formats.through_file import read_through
from levelmoor.formats.trials_csv import read_trials

Scale = Callable[[np.ndarray], np.ndarray]
FREQUENCY: dict[str, Scale] = {
    "Hz": lambda f: f, "kHz": lambda f: f / 1e3, "MHz": lambda f: f / 1e6, "GHz": lambda f: f / 1e9,
}  # fmt: skip
ANGLE: dict[str, Scale] = {
    "deg": np.degrees, "°": np.degrees, "rad": lambda a: a, "mrad": lambda a: 1e3 * a, "gon": lambda a: a * 200 / np.pi,
    "turns": lambda a: a / (2 * np.pi),
}  # fmt: skip
OHM: dict[str, Scale] = {"ohm": lambda r: r, "Ω": lambda r: r, "kOhm": lambda r: r / 1e3}
RATIO: dict[str, Scale] = {"": lambda g: g, "%": lambda g: 100 * g, "‰": lambda g: 1e3 * g}
POWER: dict[str, Scale] = {
    "W": lambda p: p, "mW": lambda p: 1e3 * p, "µW": lambda p: 1e6 * p, "nW": lambda p: 1e9 * p,
    "dBm": lambda p: 10 * np.log10(p * 1e3), "dBW": lambda p: 10 * np.log10(p),
    "dBµV": lambda p: 10 * np.log10(50 * p) + 120, "dBmV": lambda p: 10 * np.log10(50 * p) + 60,
    "dBV": lambda p: 10 * np.log10(50 * p), "mV": lambda p: 1e3 * np.sqrt(50 * p),
}  # fmt: skip
DECIBEL: dict[str, Scale] = {"dB": lambda d: d, "Np": lambda d: d / 8.685889638}
NONE: dict[str, Scale] = {"": lambda v: v}


@dataclass
class Column:
    """A column of the truth: ways to head it, and its figures in each unit; `bare` where the unit may be left out."""

    names: Sequence[str]
    units: dict[str, Scale]
    values: np.ndarray
    needs: bool = True
    """Whether the column is of the article: no distractor."""


@dataclass
class Made:
    """A file, and whether what a reader made of it is the truth."""

    name: str
    data: bytes
    read: Callable[[], bool]


class Writer:
    """Writes columns in one dialect, drawn at random."""

    def __init__(self, chance: random.Random) -> None:
        self.chance = chance
        self.separator = chance.choice(";;,,\t ")
        self.decimal = "," if self.separator in ";\t " and chance.random() < 0.4 else "."
        self.digits = chance.choice((5, 6, 7))
        self.encoding = chance.choice(("utf-8", "utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "cp1252"))
        self.end = chance.choice(("\n", "\r\n", "\r"))
        self.where = chance.choice(("heading", "heading", "heading", "row", "cell", "preamble", "nowhere"))
        if self.where == "cell" and self.separator == " ":
            self.where = "heading"
        self.marks = chance.choice(("", "", "#", "! "))

    def units(self, columns: Sequence[Column]) -> list[str]:
        """A unit for each column; the usual one where nothing in the file will name it, but for frequencies."""
        usual = self.where == "nowhere"
        return [
            next(iter(c.units)) if usual and c.names is not FREQUENCIES else self.chance.choice(tuple(c.units))
            for c in columns
        ]

    def heading(self, column: Column, unit: str) -> str:
        name = self.chance.choice(tuple(column.names))
        if not unit or self.where != "heading":
            return name
        style = self.chance.choice(("{} [{}]", "{} ({})", "{}/{}", "{} {}", "{}_{}", "{}, {}"))
        if self.separator in ", " or (self.separator == " " and " " in style):
            style = self.chance.choice(("{}_{}", "{}({})", "{}[{}]"))
        return style.format(name, unit)

    def figure(self, value: float, digits: int | None = None) -> str:
        text = f"{value:.{digits or self.digits}g}"
        if "e" in text and abs(value) >= 1:
            text = f"{value:.3f}"
        return text.replace(".", self.decimal)

    def write(self, columns: Sequence[Column], units: Sequence[str]) -> bytes:
        order = list(range(len(columns)))
        self.chance.shuffle(order)
        heads = [self.heading(columns[i], units[i]).replace(" ", "_" if self.separator == " " else " ") for i in order]
        lines: list[str] = []
        multiplied = self.chance.choice(order) if self.chance.random() < 0.1 else None
        if multiplied is not None and self.separator != " " and self.chance.random() < 0.5:
            heads[order.index(multiplied)] += self.chance.choice((" x10", " * 10", " ×10"))
        elif multiplied is not None:
            said = self.chance.choice(("{} x 10", "{} figures are multiplied by 10", "{}: scaled by 10"))
            lines.append(self.marks + said.format(columns[multiplied].names[0]))
        if self.chance.random() < 0.4:
            lines.append(
                self.chance.choice(
                    ("# swept at dusk, light wind", "Site moor", "! 3 points, RBW 3 kHz", "# SWR as seen")
                )
            )
        if self.where == "preamble":
            for i in order:
                if units[i]:
                    lines.append(f"{self.marks}{columns[i].names[0]} in {units[i]}")
        lines.append(self.marks.strip() + self.separator.join(f'"{h}"' if self.separator in h else h for h in heads))
        if self.where == "row":
            lines.append(self.separator.join(units[i] or "-" for i in order))
        values = [columns[i].units[units[i]](columns[i].values) * (10 if i == multiplied else 1) for i in order]
        for row in zip(*values, strict=True):
            cells = [
                self.figure(v, 9 if columns[i].names is FREQUENCIES else None) for v, i in zip(row, order, strict=True)
            ]
            if self.where == "cell" and self.separator != " ":
                cells = [f"{c} {units[i]}".strip() for c, i in zip(cells, order, strict=True)]
            if self.separator == "," and self.chance.random() < 0.1:
                cells = [f'"{c}"' for c in cells]
            lines.append(self.separator.join(cells))
        if self.chance.random() < 0.1:
            lines.append("END")
        return (self.end.join(lines) + self.end).encode(self.encoding, "replace")


FREQUENCIES = ("Frequency", "Freq", "f", "FREQ", "frequency")


def _sweep(chance: random.Random, w: Writer) -> Made:
    n = chance.randint(4, 40)
    start = chance.choice((1.8e6, 3.5e6, 7e6, 14e6, 28e6, 50e6, 144e6, 430e6, 1.24e9))
    f = np.round(np.linspace(start, start * chance.uniform(1.01, 1.3), n), -2)
    size = chance.uniform(0.05, 0.8) + 0.1 * np.sin(np.linspace(0, 3, n))
    angle = np.angle(np.exp(1j * np.linspace(chance.uniform(-3, 3), chance.uniform(-9, 9), n)))
    gamma = size * np.exp(1j * angle)
    z = 50 * (1 + gamma) / (1 - gamma)
    forward = np.full(n, chance.uniform(1, 80))
    kinds = {
        "swr": [Column(("SWR", "VSWR", "swr"), NONE, (1 + size) / (1 - size))],
        "loss": [Column(("Return loss", "RL"), DECIBEL, -20 * np.log10(size))],
        "r_x": [Column(("R", "Rs"), OHM, z.real), Column(("X", "Xs"), OHM, z.imag)],
        "re_im": [
            Column(("S11 real", "Re(S11)"), RATIO, gamma.real),
            Column(("S11 imag", "Im(S11)"), RATIO, gamma.imag),
        ],
        "z_phase": [Column(("|Z|",), OHM, np.abs(z)), Column(("Z phase", "theta"), ANGLE, np.angle(z))],
        "g_phase": [Column(("|S11|", "|gamma|"), RATIO, size), Column(("Phase", "S11 phase", "arg"), ANGLE, angle)],
        "powers": [
            Column(("Forward", "Fwd power"), POWER, forward),
            Column(("Reflected", "Ref power", "Rev"), POWER, forward * size**2),
        ],
    }
    kind = chance.choice(tuple(kinds))
    columns = [Column(FREQUENCIES, FREQUENCY, f), *kinds[kind]]
    spare = {
        "index": Column(("No", "Point"), NONE, np.arange(1.0, n + 1)),
        "limit": Column(("SWR limit",), NONE, np.full(n, 2.0)),
        "swr": kinds["swr"][0],
        "other": Column(("SWR before",), NONE, (1 + size * 0.5) / (1 - size * 0.5)),
        "temp": Column(("Temp",), {"°C": lambda t: t}, np.full(n, 20.0)),
    }
    columns += [spare[s] for s in chance.sample(tuple(spare), chance.choice((0, 0, 1, 2))) if s != kind]
    units = w.units(columns)
    data = w.write(columns, units)
    scalar = kind in ("swr", "loss", "powers")

    def right() -> bool:
        found = read_sweep_file("made.csv", data)
        if found.guessed:
            raise ValueError("to be confirmed")
        sweep = found.sweep
        if sweep.scalar != scalar and "swr" not in (kind,):
            truth_known = np.abs(sweep.gamma)
            return bool(np.allclose(truth_known, size, atol=0.01) and np.allclose(sweep.frequency_hz, f, rtol=1e-5))
        got = np.abs(sweep.gamma) if sweep.scalar else sweep.gamma
        want = size if sweep.scalar else gamma
        return bool(
            got.shape == want.shape
            and np.allclose(got, want, atol=0.01)
            and np.allclose(sweep.frequency_hz, f, rtol=1e-5)
        )

    return Made(f"sweep {kind} {w.where} {units}", data, right)


def _capture(chance: random.Random, w: Writer) -> Made:
    n = chance.randint(3, 40)
    f = np.round(np.sort(np.array(chance.sample(range(1000, 9000), n))) * 1e5, -3)
    dbm = np.array([chance.uniform(-90, 30) for _ in range(n)])
    level = Column(("Level", "Amplitude", "Power"), POWER, 1e-3 * 10 ** (dbm / 10))
    columns = [Column(FREQUENCIES, FREQUENCY, f), level]
    if chance.random() < 0.3:
        columns.append(Column((chance.choice(("Limit", "Noise", "Trace B")),), {"dBm": lambda d: d}, dbm - 7))
    units = w.units(columns)
    w.digits = 9
    data = w.write(columns, units)

    def right() -> bool:
        found = read_capture_file("made.csv", data)
        if not found.unit_named:
            raise ValueError("to be confirmed")
        same = found.trace.frequency_hz.shape == f.shape and np.allclose(found.trace.frequency_hz, f, rtol=1e-5)
        return bool(same and np.allclose(found.trace.level_db, dbm, atol=0.05))

    return Made(f"capture {w.where} {units}", data, right)


def _through(chance: random.Random, w: Writer) -> Made:
    n = chance.randint(4, 40)
    f = np.round(np.linspace(1e6, chance.uniform(20e6, 60e6), n), -2)
    db = np.linspace(chance.uniform(-40, -4), chance.uniform(-30, -3), n)
    size = 10 ** (db / 20)
    kinds = {
        "db": Column(("S21", "|S21|"), DECIBEL, db),
        "loss": Column(("Insertion loss", "Loss"), DECIBEL, -db),
        "ratio": Column(("|S21|", "S21 mag"), RATIO, size),
        "square": Column(("|S21|^2",), NONE, size**2),
        "level": Column(("Level",), {"dBm": lambda d: d}, db),
        "other": Column(("Zc", "R", "Impedance"), OHM, 100 * size),
    }
    kind = chance.choice(tuple(kinds))
    columns = [Column(FREQUENCIES, FREQUENCY, f), kinds[kind]]
    units = w.units(columns)
    data = w.write(columns, units)

    def right() -> bool:
        found = read_through("made.csv", data)
        if kind in ("level", "other"):
            return False
        return bool(np.allclose(found.loss_db, -db, atol=0.02) and np.allclose(found.frequency_hz, f, rtol=1e-5))

    return Made(f"through {kind} {w.where} {units}", data, right)


def _trials(chance: random.Random, w: Writer) -> Made:
    n = chance.randint(2, 9)
    f = np.array([chance.choice((3.6e6, 7.1e6, 14.2e6, 28.5e6, 50.2e6)) for _ in range(n)])
    power = np.array([chance.choice((5.0, 10.0, 100.0)) for _ in range(n)])
    seconds = np.array([chance.choice((0.5, 2.0, 9.0)) for _ in range(n)])
    watts = {u: POWER[u] for u in ("W", "mW", "dBm", "dBW")}
    times: dict[str, Scale] = {"s": lambda t: t, "ms": lambda t: 1e3 * t, "min": lambda t: t / 60}
    columns = [
        Column(FREQUENCIES, FREQUENCY, f), Column(("Power",), watts, power),
        Column(("Tune time", "Time"), times, seconds), Column(("SWR after", "SWR"), NONE, np.full(n, 1.4)),
    ]  # fmt: skip
    units = w.units(columns)
    w.separator, w.marks = (";" if w.separator == " " else w.separator), ""
    w.where = w.where if w.where not in ("row", "preamble") else "heading"
    w.digits = 9
    data = w.write(columns, units)

    def right() -> bool:
        found = read_trials("made.csv", data)
        return bool(
            np.allclose([t.frequency_hz for t in found], f, rtol=1e-6)
            and np.allclose([t.power_w or 0 for t in found], power, rtol=1e-4)
            and np.allclose([t.seconds or 0 for t in found], seconds, rtol=1e-4)
        )

    return Made(f"trials {w.where} {units}", data, right)


def _spots(chance: random.Random, w: Writer) -> Made:
    hours = chance.choice((-5, 0, 2))
    zone = {-5: "-05:00", 0: chance.choice(("", "Z", " UTC")), 2: "+02:00"}[hours]
    watts, unit = 0.2, chance.choice(("W", "mW", "dBm", ""))
    power = {"W": "0.2", "mW": "200", "dBm": "23.0103", "": "23.0103"}[unit]
    head = f"Time;{chance.choice(('MHz', 'Freq MHz', 'QRG (MHz)'))};SNR dB;{f'Power {unit}'.strip()}"
    data = f"{head}\n2026-10-17 {12 + hours:02d}:20{zone};7.04;-12;{power}\n".encode()

    def right() -> bool:
        (spot,) = read_spots("made.csv", data, {})
        return spot.at == "2026-10-17T12:20" and abs((spot.power_w or 0) - watts) < 1e-3 and spot.frequency_hz == 7.04e6

    return Made(f"spots {zone} {unit}", data, right)


def _heat(chance: random.Random, w: Writer) -> Made:
    n = chance.randint(3, 20)
    step = chance.choice((10, 60, 600))
    seconds = np.arange(n) * float(step)
    celsius = np.round(np.linspace(20, chance.uniform(30, 90), n), 2)
    degrees: dict[str, Scale] = {"°C": lambda c: c, "°F": lambda c: 1.8 * c + 32, "K": lambda c: c + 273.15}
    times: dict[str, Scale] = {
        "s": lambda t: t,
        "min": lambda t: t / 60,
        "h": lambda t: t / 3600,
        "ms": lambda t: 1e3 * t,
    }
    columns = [Column(("Time", "Elapsed"), times, seconds), Column(("Temperature", "Temp"), degrees, celsius)]
    units = w.units(columns)
    w.where = "heading" if w.where not in ("heading", "cell") else w.where
    w.separator, w.digits, w.marks = (";" if w.separator == " " else w.separator), 9, ""
    data = w.write(columns, units)

    def right() -> bool:
        found = read_heat_log("made.csv", decode("made.csv", data))
        points = np.array(found.points)
        return bool(
            points.shape == (n, 2)
            and np.allclose(points[:, 0], seconds, atol=0.01)
            and np.allclose(points[:, 1], celsius, atol=0.02)
        )

    return Made(f"heat {w.where} {units}", data, right)


MAKERS = (_sweep, _sweep, _sweep, _capture, _capture, _through, _through, _trials, _spots, _heat)


def misread(count: int, seed: int) -> tuple[Counter[str], list[tuple[Made, str]]]:
    """How many were read right, asked about and read wrong; and those that were wrong, or failed in another way."""
    chance = random.Random(seed)  # noqa: S311  the same each run
    tally: Counter[str] = Counter()
    wrong = []
    for _ in range(count):
        made = chance.choice(MAKERS)(chance, Writer(chance))
        kind = made.name.split()[0]
        try:
            outcome = "right" if made.read() else "WRONG"
        except ValueError as problem:
            outcome, said = "asked", str(problem)
        except Exception as problem:  # a traceback is worse than a wrong figure
            outcome, said = "WRONG", repr(problem)
        tally[f"{kind} {outcome}"] += 1
        if outcome == "WRONG":
            wrong.append((made, said if "said" in locals() else ""))
    return tally, wrong


def main(argv: Sequence[str]) -> int:
    count, seed = (int(argv[0]) if argv else 5000), (int(argv[1]) if len(argv) > 1 else 23)
    tally, wrong = misread(count, seed)
    for name, number in sorted(tally.items()):
        print(f"{number:6d}  {name}")
    for made, _ in wrong[:20]:
        text = "\n".join(decode(made.name, made.data)[:6]) if b"%PDF" not in made.data else ""
        print(f"-- {made.name}", text, sep="\n")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
