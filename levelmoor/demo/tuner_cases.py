"""The demo's tuners and accessories as evaluations."""

from levelmoor.demo.scenario import Case, Claim, Sample, Setup, Sweep

CASES = (
    Case(
        "Beckstone Pi",
        "Skelbeck Wire Company",
        "Manual tuner with a pi network for the hut's end-fed wire: two dials 0 to 100, a switched coil of 14 steps.",
        (Sample("Unit 1", "BP-0031", "lent", "twelve years old, contacts cleaned", "UHF female", "a member"),),
        (
            Setup("On the hut's shelf", "grounded to the hut's earth rod, wire to the pine, eight radials of 10 m"),
            Setup(
                "The wire alone",
                "the wire at the hut's window without the tuner",
                planned=False,
                role="comparison",
                conditions={"length": "15.4 m", "counterpoise": "eight radials of 10 m"},
            ),
        ),
        (
            Claim("tuner_range", "", "80m, 40m, 20m", "manual", stated="any load"),
            Claim("power", "100", "", "plate", mode="voice"),
        ),
        (Sweep("hut-wire.s1p", setup=1, instrument=1, taken_on="2026-10-10T09:40"),),
        in_the_box="tuner, earth strap; the manual is a copy",
        network="Beckstone, inside",
        trials="beckstone-trials.csv",
        read_with=1,
    ),
    Case(
        "Tarnhouse Auto",
        "Pellfoot Radio Works",
        "Automatic tuner with relays, 100 W, between the hut radio and whatever antenna stands.",
        (Sample("Unit 1", "TA-5520", "bought", "", "UHF female", "a dealer", "210"),),
        (Setup("Between hut radio and load box", "grounded, 1 m of line on either side, load box on the bench"),),
        (
            Claim("tuner_range", "1.5", "80m, 40m, 20m, 15m, 10m", "box", stated="16 to 600 Ω"),
            Claim("tuner_range", "2", "80m, 40m, 20m", "leaflet", stated="up to 3:1"),
            Claim("tuner_time", "6", "", "leaflet"),
            Claim("recall", "1", "", "leaflet"),
            Claim("power", "100", "", "box", mode="voice"),
        ),
        (),
        in_the_box="tuner, two leads, power lead, leaflet",
        trials="tarnhouse-trials.csv",
        read_with=2,
    ),
    Case(
        "Ringstone Choke",
        "Skelbeck Wire Company",
        "Ring-core choke of nine turns in a box, BNC on both sides, for the portable dipole.",
        (Sample("Unit 1", "RC-0209", "bought", "", "BNC female", "a dealer", "46"),),
        (
            Setup("In the series fixture", "outer conductors of both sides between the ports, leads of 3 cm"),
            Setup(
                "In place at the centre",
                "at the centre of the portable dipole, 6 m up",
                role="comparison",
                conditions={"accessory": "the choke", "accessory_at": "at the centre"},
                planned=False,
            ),
            Setup("The dipole without it", "the same dipole, line straight down", role="comparison", planned=False),
        ),
        (
            Claim("choking", "5000", "3.5 to 30 MHz", "leaflet"),
            Claim("choking", "2000", "40m, 20m", "box"),
            Claim("power", "100", "", "box", mode="carrier"),
            Claim("power", "250", "", "leaflet", mode="voice"),
        ),
        (),
        throughs=(("ringstone-series.s2p", "series"), ("fixture-empty.s2p", "open")),
        heat="ringstone-heat.csv",
        levels=True,
    ),
)
