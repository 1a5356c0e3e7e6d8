"""What the made-up club owns, and how it proved its bench: with one bad line, and a 40 dB pad that is not 40 dB."""

from dataclasses import dataclass, field

from levelmoor.instruments.stand_ins.server import FIRST_PORT, HOST

INSTRUMENTS: tuple[tuple[str, dict[str, str]], ...] = (
    (
        "Bench analyzer",
        {
            "instrument_class": "analyzer",
            "description": "two ports, mains",
            "low_hz": "1",
            "high_hz": "1500",
            "points": "801",
            "ports": "2",
            "memories": "4",
            "connector": "N female",
            "max_input_dbm": "20",
            "directivity_db": "42",
            "tracking": "0.008",
            "source_match_db": "36",
            "figures_source": "measured on the club's load and short",
            "checked_on": "2026-08-30",
        },
    ),
    (
        "Hill analyzer",
        {
            "instrument_class": "analyzer",
            "description": "one port, handheld",
            "low_hz": "0.1",
            "high_hz": "500",
            "points": "201",
            "memories": "1",
            "connector": "BNC female",
            "max_input_dbm": "10",
            "directivity_db": "38",
            "tracking": "0.012",
            "source_match_db": "33",
            "figures_source": "typical of the class",
            "checked_on": "2023-04-02",
        },
    ),
    (
        "Hut radio's own meter",
        {
            "instrument_class": "meter",
            "description": "SWR meter of a radio",
            "connector": "UHF female",
            "directivity_db": "26",
            "tracking": "0.05",
            "source_match_db": "26",
            "figures_source": "typical of the class",
        },
    ),
    (
        "Hut spectrum analyzer",
        {
            "instrument_class": "spectrum",
            "description": "bench",
            "low_hz": "0.01",
            "high_hz": "1000",
            "points": "601",
            "connector": "N female",
            "max_input_dbm": "20",
            "noise_dbm": "-105",
            "level_u_db": "0.4",
            "second_intercept_dbm": "60",
            "third_intercept_dbm": "30",
            "noise_rbw_hz": "10",
            "figures_source": "typical of the class",
            "checked_on": "2026-08-30",
        },
    ),
    (
        "Fixture analyzer",
        {
            "instrument_class": "analyzer",
            "description": "two ports, at the series fixture",
            "low_hz": "0.3",
            "high_hz": "1500",
            "points": "1001",
            "connector": "SMA female",
            "max_input_dbm": "5",
            "directivity_db": "36",
            "tracking": "0.015",
            "source_match_db": "32",
            "figures_source": "typical of the class",
            "checked_on": "2026-08-30",
        },
    ),
)
LIVE = {
    "Hill analyzer": (f"{HOST}:{FIRST_PORT}", "Generic one-port analyzer"),
    "Bench analyzer": (f"{HOST}:{FIRST_PORT + 1}", "Generic two-port analyzer"),
    "Hut spectrum analyzer": (f"{HOST}:{FIRST_PORT + 2}", "Generic spectrum analyzer"),
    "Fixture analyzer": (f"{HOST}:{FIRST_PORT + 3}", "Generic two-port analyzer"),
}
"""Which stand-in answers for an instrument, and in whose words."""
PIECES: tuple[tuple[str, str, dict[str, str]], ...] = (
    ("adapter", "BNC male to N male", {"end_a": "BNC male", "end_b": "N male", "high_hz": "1000", "loss_db": "0.1"}),
    (
        "adapter",
        "BNC female to N male",
        {"end_a": "BNC female", "end_b": "N male", "high_hz": "1000", "loss_db": "0.1"},
    ),
    ("adapter", "UHF male to N female", {"end_a": "UHF male", "end_b": "N female", "high_hz": "300", "loss_db": "0.1"}),
    (
        "adapter",
        "Lead, N male both ends, 1 m",
        {"end_a": "N male", "end_b": "N male", "high_hz": "3000", "loss_db": "0.2"},
    ),
    (
        "adapter",
        "Lead, BNC male both ends, 1 m",
        {"end_a": "BNC male", "end_b": "BNC male", "high_hz": "500", "loss_db": "0.2", "count": "2"},
    ),
    (
        "adapter",
        "SMA male to N female",
        {"end_a": "SMA male", "end_b": "N female", "high_hz": "6000", "loss_db": "0.1"},
    ),
    ("load", "Good load, N", {"connector": "N male", "return_loss_db": "46", "high_hz": "2000", "power_w": "1"}),
    ("load", "Hut dummy load", {"connector": "UHF female", "return_loss_db": "26", "high_hz": "150", "power_w": "100"}),
    (
        "kit",
        "Open, short, load in N",
        {
            "connector": "N male",
            "high_hz": "2000",
            "open_c": "62 -120 15 0",
            "open_delay_ps": "12",
            "short_delay_ps": "12",
        },
    ),
    (
        "pad",
        "Forty dB tap",
        {"nominal_db": "40", "power_w": "25", "end_a": "N male", "end_b": "N female", "high_hz": "1000"},
    ),
    (
        "pad",
        "Ten dB pad",
        {
            "nominal_db": "10",
            "power_w": "2",
            "end_a": "N male",
            "end_b": "N female",
            "high_hz": "2000",
            "measured": "140 MHz 10.1; 760 MHz 10.2",
        },
    ),
    ("line", "Yard line", {"type": "RG-8X", "length_m": "24", "end_a": "N male", "end_b": "N male"}),
    ("line", "Race-day line", {"type": "RG-58", "length_m": "20", "end_a": "UHF male", "end_b": "UHF male"}),
    (
        "radio",
        "Hut radio",
        {
            "power_w": "1.8 MHz 100; 30 MHz 100; 50 MHz 100; 54 MHz 100; 144 MHz 50; 148 MHz 50",
            "tolerates_swr": "2",
            "connector": "SO-239",
            "ranges": "1.8 to 30; 50 to 54; 144 to 148",
            "fold_back": "1.5 100; 2 80; 2.5 55; 3 35; 5 10",
            "fold_back_source": "measured at the hut, 2026-08-30",
            "tuner_swr": "3",
            "meter": "Hut radio's own meter",
        },
    ),
)


@dataclass(frozen=True)
class Record:
    """A calibration, by the instrument's position."""

    instrument: int
    low: str
    high: str
    done_at: str
    points: int
    plane: str = "connector"
    at: str = ""


@dataclass(frozen=True)
class Check:
    """A check, by positions and names; files in their order."""

    kind: str
    done_at: str
    instrument: int | None = None
    record: int | None = None
    item: str = ""
    files: tuple[str, ...] = ()
    figures: dict[str, float] = field(default_factory=dict)
    pairs: tuple[tuple[float, float], ...] = ()
    note: str = ""


RECORDS = (
    Record(0, "48", "54", "2026-09-12T10:15", 801, at="lead, N male both ends"),
    Record(0, "48", "54", "2026-09-12T11:05", 801, "shack", "end of the lead in the shack"),
    Record(1, "45", "55", "2026-09-09T18:30", 201, at="lead and adapter"),
    Record(0, "60", "80", "2026-09-19T09:40", 801, at="UHF male to N female"),
    Record(1, "9", "11", "2026-09-06T13:40", 201, at="BNC lead to the centre"),
)
CHECKS = (
    Check("load", "2026-09-12T10:22", 0, 0, "Good load, N", ("load-yard.s1p",)),
    Check("full", "2026-09-12T10:25", 0, 0, "", ("short-yard.s1p",)),
    Check("load", "2026-09-12T11:10", 0, 1, "Good load, N", ("load-shack.s1p",)),
    Check("cable", "2026-09-12T11:30", 0, None, "Yard line", ("yard-line-open.s1p",), note="far end open on the mast"),
    Check("cable", "2026-09-12T12:00", 0, None, "Race-day line", ("race-day-line-open.s1p",), note="far end open"),
    Check(
        "pad",
        "2026-08-30T15:00",
        3,
        None,
        "Forty dB tap",
        ("tap-without.csv", "tap-with.csv"),
        {"fundamental_hz": 145.5e6},
    ),
    Check("meter", "2026-08-30T16:10", 2, pairs=((1.04, 1.1), (1.48, 1.4), (2.02, 1.8), (3.05, 2.6))),
    Check("noise", "2026-08-30T16:40", 3, files=("noise-floor.csv",), figures={"rbw_hz": 1e4}),
)
