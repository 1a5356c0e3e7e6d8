"""The four evaluations of the demo as data."""

from dataclasses import dataclass

TEAM = "Harrowmere Fell Radio Club"
PEOPLE = (
    ("maud.ferrow@harrowmere.example", "Maud Ferrow", True),
    ("ivo.tarnley@harrowmere.example", "Ivo Tarnley", False),
)
PASSWORD = "water-over-stone"  # noqa: S105  the demo's own, printed at its start
INSTRUMENTS = (
    ("Bench analyzer", "analyzer, two ports", 42.0, 0.008, 36.0, "measured on the club's load and short"),
    ("Hill analyzer", "analyzer, one port, handheld", 38.0, 0.012, 33.0, "typical of the class"),
    ("Hut radio's own meter", "SWR meter of a radio", 26.0, 0.05, 26.0, "typical of the class"),
)


@dataclass(frozen=True)
class Sample:
    label: str
    serial: str
    obtained: str
    note: str = ""


@dataclass(frozen=True)
class Setup:
    name: str
    description: str
    plane: str = "connector"
    tuner_in_line: bool = False


@dataclass(frozen=True)
class Claim:
    quantity: str
    limit: str
    windows: str
    source: str
    seen_on: str = "2026-08-14"
    condition: str = ""
    tuner: str = "without"


@dataclass(frozen=True)
class Sweep:
    """A file with what was on the bench, by position in the lists."""

    file: str
    sample: int = 0
    setup: int = 0
    instrument: int = 0
    calibration: str = "at_plane"
    port: int = 1
    taken_on: str = "2026-09-05"


@dataclass(frozen=True)
class Case:
    product: str
    maker: str
    description: str
    samples: tuple[Sample, ...]
    setups: tuple[Setup, ...]
    claims: tuple[Claim, ...]
    sweeps: tuple[Sweep, ...]
    revisions: tuple[tuple[str, str], ...] = ()
    """Published revisions: the reason, and the serial of the last sample as it stood then."""


CASES = (
    Case(
        "Linkline 60/40/30",
        "Skelbeck Wire Company",
        "Linked portable dipole, 2 x 14 m of thin wire with links, on a 6 m pole; BNC at the centre.",
        (Sample("Unit 1", "L-0417", "bought", "by mail order, at the full price"),),
        (
            Setup("Inverted V at 6 m", "ends at 1.5 m, open moor, nearest fence 30 m, links set for the band swept"),
            Setup("Hut end of the line", "the same, read at the hut through 12 m of thin line", "shack"),
        ),
        (
            Claim("swr", "2", "60m", "leaflet", condition="at 6 m, as an inverted V"),
            Claim("swr", "1.5", "40m", "leaflet", condition="at 6 m, as an inverted V"),
            Claim("swr", "1.5", "30m", "box"),
            Claim("swr", "3", "20m", "web page", tuner="with", condition="with the 30 m links closed"),
            Claim("swr", "2", "17m", "web page", seen_on="2026-08-20"),
            Claim("power", "125", "", "box", condition="voice, peak envelope"),
        ),
        (
            Sweep("linkline-survey.s1p", instrument=1),
            Sweep("linkline-60m.s1p", instrument=1),
            Sweep("linkline-40m.s1p", instrument=1),
            Sweep("linkline-30m.s1p", instrument=1),
            Sweep("linkline-shack-meter.csv", setup=1, instrument=2),
        ),
    ),
    Case(
        "Rectangle Six",
        "Osmondrigg Aerials",
        "Two-element rectangle beam for 6 m, 2.1 m wide, folds for carrying; N socket at the driven element.",
        (Sample("Unit 1", "R6-088", "maker", "on loan for four weeks, returned"),),
        (
            Setup("Yard mast, 4 m", "boom at 4 m, clear of the fence by 9 m, beam over the valley"),
            Setup("Shack end", "the same, through 24 m of line into the shack", "shack"),
        ),
        (
            Claim("swr", "1.5", "50.0 to 50.5", "manual"),
            Claim("swr", "2", "6m", "web page", seen_on="2026-08-02"),
            Claim("return_loss", "14", "50.2 to 50.4", "manual", condition="at the centre of the band"),
            Claim("gain", "6.1", "", "box"),
            Claim("pattern", "", "", "box", condition="front to back better than 18 dB"),
        ),
        (
            Sweep("rectangle-yard.csv", taken_on="2026-09-12"),
            Sweep("rectangle-shack-end.s1p", setup=1, taken_on="2026-09-12"),
        ),
    ),
    Case(
        "Fourstay 70",
        "Osmondrigg Aerials",
        "Sleeve dipole for 4 m in a glass-fibre tube, 2.4 m long, for the relay post on the pass.",
        (Sample("Unit 1", "F70-1203", "donated", "by a member, unused"),),
        (Setup("Yard mast, 3 m", "foot at 3 m, step back 1.5 m, vehicle 8 m away"),),
        (
            Claim("swr", "1.5", "4m", "leaflet"),
            Claim("swr", "2", "4m", "box"),
            Claim("swr", "2", "68 to 71.5", "web page", seen_on="2026-08-21", condition="for business channels too"),
            Claim("swr", "2", "65 to 72", "older leaflet", seen_on="2025-11-03"),
            Claim("weather", "", "", "box", condition="proof against driving rain"),
        ),
        (
            Sweep("fourstay-wide.s2p", port=2, taken_on="2026-09-19"),
            Sweep("fourstay-near.s1p", taken_on="2026-09-19"),
        ),
    ),
    Case(
        "Rollaway 2/70",
        "Thornmere Aerial Works",
        "Roll-up wire antenna for 2 m and 70 cm with 3 m of thin line, BNC; for the marshals' rucksacks.",
        (
            Sample("Unit A", "RA-2204", "bought", "from a dealer"),
            Sample("Unit B", "RA-2198", "lent", "by a marshal, two seasons old"),
        ),
        (Setup("From a branch, 4 m", "hung from a dry branch, line straight down, nobody within 1.5 m"),),
        (
            Claim("swr", "2", "2m", "leaflet"),
            Claim("swr", "1.35", "144.8 to 145.8", "box", condition="packet and FM channels"),
            Claim("swr", "2", "70cm", "leaflet"),
            Claim("swr", "1.5", "70cm", "box"),
            Claim("gain", "2.1", "", "box"),
            Claim("power", "10", "", "box", condition="FM, one minute in three"),
        ),
        (
            Sweep("rollaway-a-2m.s1p", instrument=1, taken_on="2026-09-05"),
            Sweep("rollaway-a-70cm.s1p", instrument=1, taken_on="2026-09-05"),
            Sweep("rollaway-b-survey.csv", sample=1, instrument=1, taken_on="2026-09-06"),
        ),
        (
            ("First publication.", "RA-2189"),
            ("The serial number of unit B was misread: it is RA-2198, not RA-2189. No verdict changes.", "RA-2198"),
        ),
    ),
)
