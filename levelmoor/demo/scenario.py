"""The evaluations of the demo as data."""

from dataclasses import dataclass, field

from levelmoor.demo.comparisons import SLIPS

SPOTS = (("7.090", "40 m calling"), ("50.150", "6 m calling"), ("70.450", "4 m calling"), ("145.500", "2 m calling"))
TEAM = "Harrowmere Fell Radio Club"
PEOPLE = (
    ("maud.ferrow@harrowmere.example", "Maud Ferrow", "editor"),
    ("ivo.tarnley@harrowmere.example", "Ivo Tarnley", "reviewer"),
)
PASSWORD = "water-over-stone"  # noqa: S105  the demo's own, printed at its start
SIGN_IN = f"Sign in as {PEOPLE[0][0]} with the password {PASSWORD}"


@dataclass(frozen=True)
class Sample:
    label: str
    serial: str
    obtained: str
    note: str = ""
    connector: str = ""
    obtained_from: str = ""
    price: str = ""
    suspicion: str = ""


@dataclass(frozen=True)
class Setup:
    name: str
    description: str
    plane: str = "connector"
    tuner_in_line: bool = False
    line: str = ""
    """The feed line's name among what the club owns."""
    planned: bool = True
    conditions: dict[str, str] = field(default_factory=dict)
    role: str = "as_supplied"


@dataclass(frozen=True)
class Claim:
    quantity: str
    limit: str
    windows: str
    source: str
    seen_on: str = "2026-08-14"
    condition: str = ""
    tuner: str = "without"
    swr_at: float | None = None
    power_w: float | None = None
    mode: str = ""
    duty: float | None = None
    stated: str = ""
    excerpt: str = ""
    setup: int | None = None


@dataclass(frozen=True)
class Sweep:
    """A file with what was on the bench, by position in the lists; `record` is the position of a calibration, `setting`
    of one of the case's, and `round` 0 the latest that was swept of it."""

    file: str
    sample: int = 0
    setup: int = 0
    instrument: int = 0
    calibration: str = "at_plane"
    port: int = 1
    taken_on: str = "2026-09-05"
    record: int | None = None
    setting: int | None = None
    round: int = 0


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
    bench_rule: str = "stated"
    in_the_box: str = ""
    captures: tuple[tuple[str, tuple[str, ...], str], ...] = ()
    """Spectra by their file, the pads by name, and when."""
    filter_file: str = ""
    rules: tuple[str, ...] = ()
    settings: tuple[tuple[str, str] | tuple[str, str, float, str], ...] = ()
    """Positions of an article that can be adjusted: name and bands, and its mark as a number and in words."""
    returns: tuple[tuple[int, int, str], ...] = ()
    """Where a mark was left and gone back to: the setting's position, the round, when."""
    elements: tuple[tuple[str, str, float, float, float, str], ...] = ()
    """What is moved: name, kind, where it stood, the least and the most, and the band it is thought to act on."""
    adjustments: tuple[tuple[int, str, tuple[float, ...], float | None], ...] = ()
    """Trips: the round, when, by how much each element was moved, minutes that the mast was down."""
    wanted: tuple[str, ...] = ()
    widths: tuple[tuple[str, str, int], ...] = ()
    """Edges from a notebook: the day, the line, the setting's position."""
    readings: tuple[tuple[str, str], ...] = ()
    """Frequency and SWR of a sheet read in the first setup with the radio's own meter."""
    network: str = ""
    """The network inside a tuner, by its name among the demo's."""
    trials: str = ""
    """Trials as a CSV file."""
    throughs: tuple[tuple[str, str], ...] = ()
    """Sweeps through: the file, and how it stood."""
    heat: str = ""
    """A logger's file of a run with 100 W of carrier."""
    levels: bool = False
    """Whether noise and current were read without and with, in the first two setups."""
    on_air: tuple[str, ...] = ()
    """Files of contacts and spots."""
    read_with: int = 0
    """The instrument that their SWR was read with."""


_MOOR = {
    "height": "6 m, ends 1.5 m",
    "surroundings": "open moor, fence 30 m away",
    "near": "nobody within 1.5 m",
}


def _choke(accessory: str, name: str) -> Setup:
    """The wire as it stands, with one choke at its centre; added, and swept to compare."""
    conditions = {**_MOOR, "accessory": accessory, "accessory_at": "at the centre"}
    return Setup(name, "as the inverted V, in a gusty wind", planned=False, conditions=conditions, role="added")


def _in_wind(choke: str, setup: int, number: int, at: str) -> Sweep:
    file, taken_on = f"linkline-{choke}-{number}.s1p", f"2026-09-06T{at}"
    return Sweep(file, setup=setup, instrument=1, taken_on=taken_on, record=4, setting=2)


def _turned(degrees: int) -> Setup:
    return Setup(
        f"Beam at {degrees}°",
        "yard mast, steel flag pole 5 m from the boom to the north",
        planned=False,
        conditions={"height": "4 m", "azimuth": f"{degrees}°", "surroundings": "flag pole 5 m to the north"},
        role="comparison",
    )


CASES = (
    Case(
        "Linkline 60/40/30",
        "Skelbeck Wire Company",
        "Linked portable dipole, 2 x 14 m of thin wire with links, on a 6 m pole; BNC at the centre.",
        (Sample("Unit 1", "L-0417", "bought", "by mail order", "BNC female", "a dealer", "89"),),
        (
            Setup(
                "Inverted V at 6 m",
                "ends at 1.5 m, open moor, nearest fence 30 m, links set for the band swept",
                conditions=_MOOR,
            ),
            Setup(
                "Hut end of the line",
                "the same, read at the hut through 12 m of thin line",
                "shack",
                planned=False,
                conditions=_MOOR,
                role="comparison",
            ),
            _choke("choke of nine turns", "Choke, nine turns"),
            _choke("choke of four turns", "Choke, four turns"),
            _choke("clip-on beads", "Clip-on beads"),
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
            Sweep("linkline-survey.s1p", instrument=1, setting=0),
            Sweep("linkline-60m.s1p", instrument=1, setting=0),
            Sweep("linkline-40m.s1p", instrument=1, setting=1),
            Sweep("linkline-30m.s1p", instrument=1, setting=2),
            Sweep("linkline-shack-meter.csv", setup=1, instrument=2, setting=1),
            *(_in_wind("plain", 0, n, f"14:0{n}") for n in range(1, 5)),
            *(_in_wind("nine-turns", 2, n, f"14:2{n}") for n in range(1, 5)),
            _in_wind("four-turns", 3, 1, "14:40"),
            *(_in_wind("beads", 4, n, f"14:5{n}") for n in range(1, 4)),
        ),
        settings=(("links closed", "60m"), ("40 m links open", "40m"), ("30 m links open", "30m")),
        on_air=("linkline-contacts.adi", "linkline-spots.csv"),
        readings=SLIPS,
    ),
    Case(
        "Rectangle Six",
        "Osmondrigg Aerials",
        "Two-element rectangle beam for 6 m, 2.1 m wide, folds for carrying; N socket at the driven element.",
        (Sample("Unit 1", "R6-088", "maker", "on loan for four weeks, returned", "N female"),),
        (
            Setup("Yard mast, 4 m", "boom at 4 m, clear of the fence by 9 m, beam over the valley"),
            Setup(
                "Shack end",
                "the same, through 24 m of line into the shack",
                "shack",
                line="Yard line",
                planned=False,
                role="comparison",
            ),
            Setup(
                "Race-day line",
                "the same mast, through the line of the race box",
                "shack",
                line="Race-day line",
                planned=False,
                role="comparison",
            ),
            *(_turned(a) for a in (0, 90, 180, 270)),
        ),
        (
            Claim("swr", "1.5", "50.0 to 50.5", "manual"),
            Claim("swr", "2", "6m", "web page", seen_on="2026-08-02"),
            Claim("return_loss", "14", "50.15 to 50.35", "manual", condition="at the centre of the band"),
            Claim("gain", "6.1", "", "box"),
            Claim("pattern", "", "", "box", stated="front to back better than 18 dB"),
            Claim("bandwidth", "600", "6m", "manual", swr_at=1.5),
            Claim("resonance", "", "50.0 to 50.5", "manual"),
            Claim("connector", "", "", "box", stated="N female"),
        ),
        (
            Sweep("rectangle-yard.csv", taken_on="2026-09-12T10:40", record=0),
            Sweep("rectangle-shack-end.s1p", setup=1, taken_on="2026-09-12T11:20", record=1),
            Sweep("rectangle-race-line.s1p", setup=2, taken_on="2026-09-12T11:50", record=1),
            Sweep("rectangle-hill.s1p", instrument=1, taken_on="2026-09-12T12:10", record=2),
            *(
                Sweep(f"rectangle-azimuth-{a}.s1p", setup=3 + n, taken_on=f"2026-09-12T13:{10 * n:02d}", record=0)
                for n, a in enumerate((0, 90, 180, 270))
            ),
        ),
        bench_rule="proven",
        in_the_box="boom in three parts, four spreaders, wire on a winder, leaflet; the bag was missing",
    ),
    Case(
        "Fourstay 70",
        "Osmondrigg Aerials",
        "Sleeve dipole for 4 m in a glass-fibre tube, 2.4 m long, for the relay post on the pass.",
        (Sample("Unit 1", "F70-1203", "donated", "unused", "UHF female", "a member"),),
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
            Sweep("fourstay-hut-meter.csv", instrument=2, taken_on="2026-09-19"),
        ),
    ),
    Case(
        "Rollaway 2/70",
        "Thornmere Aerial Works",
        "Roll-up wire antenna for 2 m and 70 cm with 3 m of thin line, BNC; for the marshals' rucksacks.",
        (
            Sample("Unit A", "RA-2204", "bought", "", "BNC male", "a dealer", "34"),
            Sample(
                "Unit B",
                "RA-2198",
                "lent",
                "two seasons old",
                "BNC male",
                "a marshal",
                suspicion="the print on the winder differs from unit A's and the serial is stuck on, not stamped",
            ),
        ),
        (
            Setup("From a branch, 4 m", "hung from a dry branch, line straight down, nobody within 1.5 m"),
            Setup(
                "On the rucksack",
                "stub pole on a packed rucksack, carried by a marshal, radio at the hip",
                role="comparison",
            ),
        ),
        (
            Claim("swr", "2", "2m", "leaflet"),
            Claim("swr", "1.3", "144.6 to 145.6", "box", condition="packet and FM channels"),
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
    Case(
        "Slidewhip 40/20/15",
        "Thornmere Aerial Works",
        "Whip of 1.9 m with a sliding coil, marks 1 to 9 on its tube, and a hat of four spokes to put on; UHF socket.",
        (Sample("Unit 1", "SW-0912", "bought", "", "UHF female", "a dealer", "118"),),
        (
            Setup(
                "On the tripod, as supplied", "tripod on grass, the four radials of the box laid out, nobody within 3 m"
            ),
            Setup(
                "The same, with the hat",
                "the hat of the box put on, which the leaflet calls optional",
                role="option",
                conditions={"accessory": "hat of four spokes"},
            ),
            Setup(
                "The same, beside the van",
                "van 1.5 m away",
                role="comparison",
                planned=False,
                conditions={"surroundings": "van 1.5 m away"},
            ),
        ),
        (
            Claim("swr", "2", "40m", "leaflet", condition="at the mark for the band"),
            Claim("swr", "1.5", "20m", "leaflet", condition="at the mark for the band"),
            Claim("swr", "1.5", "15m", "box"),
            Claim("swr", "2", "17m", "box"),
            Claim("swr", "2.5", "40m", "leaflet", setup=1, condition="with the hat"),
        ),
        (
            Sweep("slidewhip-mark-2-first.s1p", taken_on="2026-09-26T10:05", setting=0),
            *(
                Sweep(f"slidewhip-mark-2-{n}.s1p", taken_on=f"2026-09-26T10:2{n}", setting=0, round=2)
                for n in (1, 2, 3)
            ),
            Sweep("slidewhip-mark-6.s1p", taken_on="2026-09-26T10:40", setting=1),
            Sweep("slidewhip-mark-6-back-1.s1p", taken_on="2026-09-26T10:46", setting=1, round=2),
            Sweep("slidewhip-mark-6-back-2.s1p", taken_on="2026-09-26T10:50", setting=1, round=3),
            Sweep("slidewhip-mark-8.s1p", taken_on="2026-09-26T10:55", setting=2),
            Sweep("slidewhip-hat-mark-2.s1p", setup=1, taken_on="2026-09-26T11:20", setting=0),
            Sweep("slidewhip-van-mark-6.s1p", setup=2, taken_on="2026-09-26T11:45", setting=1),
        ),
        in_the_box="whip in two parts, coil, hat, four radials of 3 m, leaflet with a table of marks",
        settings=(
            ("mark 2", "40m", 2.0, "second ring from the foot"),
            ("mark 6", "20m", 6.0, "sixth ring, level with the scratch"),
            ("mark 8", "15m", 8.0, "last ring but one"),
        ),
        widths=(
            ("2025-10-05", "40m 7.021 to 7.158 at 2:1, best 7.09 1.2", 0),
            ("2026-04-12", "40m 7.025 to 7.169 at 2:1, best 7.1 1.1", 0),
            ("2026-09-26", "40m 7.027 to 7.172 at 2:1, best 7.1 1.1", 0),
            ("2026-09-26", "20m 13.8 to 14.55 at 2:1, best 14.15 1.1", 1),
        ),
        returns=((1, 2, "2026-09-26T10:44"), (1, 3, "2026-09-26T10:48")),
    ),
    Case(
        "Threespire 6/4/2",
        "Thornmere Aerial Works",
        "Vertical of three telescopic rods over four radials, for 6 m, 4 m and 2 m; N socket at its foot.",
        (Sample("Unit 1", "TS-0144", "bought", "", "N female", "a dealer", "139"),),
        (
            Setup(
                "On the yard mast, as supplied",
                "clamp at 3 m on the yard mast, radials as the leaflet says, tilted down for each trip",
            ),
        ),
        (
            Claim("swr", "2", "6m", "leaflet", condition="rods set for the wanted part of the band"),
            Claim("swr", "2", "4m", "leaflet", condition="rods set for the wanted part of the band"),
            Claim("swr", "1.5", "2m", "leaflet", condition="rods set for the wanted part of the band"),
        ),
        tuple(
            Sweep(f"threespire-{band}-round-{n}.s1p", taken_on=f"2026-10-03T{at}:{2 * k:02d}", round=n)
            for n, at in ((1, "10"), (2, "11"), (3, "12"), (4, "13"))
            for k, band in enumerate(("6m", "4m", "2m"))
        ),
        in_the_box="three rods, foot with four radials, key for the clamps, leaflet with a table of lengths",
        elements=(
            ("Long rod", "parallel", 152.0, 110.0, 165.0, "6m"),
            ("Middle rod", "parallel", 106.0, 80.0, 120.0, "4m"),
            ("Short rod", "parallel", 52.0, 40.0, 60.0, "2m"),
        ),
        adjustments=(
            (2, "2026-10-03T10:40", (-14.8, -6.8, -2.4), 12.0),
            (3, "2026-10-03T11:35", (0.0, 0.0, 3.0), 6.0),
            (4, "2026-10-03T12:30", (-2.4, 0.2, -3.2), 9.0),
        ),
        wanted=("51", "70.25", "145"),
    ),
    Case(
        "Carrick Five",
        "Pellfoot Radio Works",
        "FM handheld for 2 m and 70 cm, 5 W; one of two on trial for the marshals. No maker's plate inside.",
        (Sample("Unit 1", "CF-30771", "bought", "", "SMA female", "a market stall", "41"),),
        (Setup("In the hut, into the pad", "radio on the bench, battery full, nobody touching it"),),
        (
            Claim("output_power", "5", "2m", "box", mode="FM"),
            Claim("emissions", "60", "2m", "leaflet", power_w=5.0, mode="FM", duty=0.25),
            Claim("connector", "", "", "box", stated="SMA female"),
        ),
        (),
        bench_rule="proven",
        in_the_box="radio, battery, charger, whip, belt clip; the leaflet is a copy",
        captures=(
            ("carrick-tap.csv", ("Forty dB tap",), "2026-09-20T10:05"),
            ("carrick-near.csv", ("Forty dB tap",), "2026-09-20T10:09"),
            ("carrick-tap-and-ten.csv", ("Forty dB tap", "Ten dB pad"), "2026-09-20T10:12"),
        ),
        filter_file="low-pass-2m.s2p",
        rules=("us-97.307", "itu-amateur-a"),
    ),
    Case(
        "Fellside Two",
        "Pellfoot Radio Works",
        "FM handheld for 2 m, 5 W; the other one on trial for the marshals.",
        (Sample("Unit 1", "FS-11203", "bought", "", "SMA female", "a dealer", "96"),),
        (Setup("In the hut, into the pad", "radio on the bench, battery full, nobody touching it"),),
        (
            Claim("output_power", "4.5", "2m", "leaflet", mode="FM"),
            Claim("emissions", "60", "2m", "leaflet", power_w=5.0, mode="FM", duty=0.25),
        ),
        (),
        bench_rule="proven",
        in_the_box="radio, battery, charger, whip, leaflet",
        captures=(
            ("fellside-tap.csv", ("Forty dB tap",), "2026-09-20T11:05"),
            ("fellside-near.csv", ("Forty dB tap",), "2026-09-20T11:09"),
            ("fellside-tap-and-ten.csv", ("Forty dB tap", "Ten dB pad"), "2026-09-20T11:12"),
        ),
        rules=("us-97.307", "itu-amateur-a"),
    ),
)
