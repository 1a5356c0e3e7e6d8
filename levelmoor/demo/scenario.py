"""The people of the demo, what they publish, and the stand-ins that answer for their instruments."""

from levelmoor.instruments.stand_ins.server import FIRST_PORT, HOST

SPOTS = (("7.090", "40 m calling"), ("50.150", "6 m calling"), ("70.450", "4 m calling"), ("145.500", "2 m calling"))
TEAM = "Harrowmere Fell Radio Club"
PEOPLE = (
    ("maud.ferrow@harrowmere.example", "Maud Ferrow", "editor"),
    ("ivo.tarnley@harrowmere.example", "Ivo Tarnley", "reviewer"),
)
PASSWORD = "water-over-stone"  # noqa: S105  the demo's own, printed at its start
SIGN_IN = f"Sign in as {PEOPLE[0][0]} with the password {PASSWORD}"
CORRECTED = "Rollaway 2/70"
PUBLISHED = (CORRECTED, "Carrick Five", "Fellside Two", "Tarnhouse Auto", "Ringstone Choke")
REVISIONS = (
    ("First publication.", "RA-2189"),
    ("The serial number of unit B was misread: it is RA-2198, not RA-2189. No verdict changes.", "RA-2198"),
)
"""The reason, and the serial of the last sample as it stood then."""
LIVE = {
    "Hill analyzer": (f"{HOST}:{FIRST_PORT}", "Generic one-port analyzer"),
    "Bench analyzer": (f"{HOST}:{FIRST_PORT + 1}", "Generic two-port analyzer"),
    "Hut spectrum analyzer": (f"{HOST}:{FIRST_PORT + 2}", "Generic spectrum analyzer"),
    "Fixture analyzer": (f"{HOST}:{FIRST_PORT + 3}", "Generic two-port analyzer"),
}
"""Which stand-in answers for an instrument, and in whose words."""
OF_ITSELF = {
    "about": "A club on the Harrowmere fells that runs the safety net of a hill race, and tests what it might buy.",
    "measuring": "Behind the hut and on the hill, with calibrations on record; two members read every report.",
    "sample_policy": "We buy at a shop without saying who we are, or borrow from members. Nobody pays us for a test.",
    "interests": "No member sells or makes radio equipment.",
    "contact": "tests@harrowmere.example",
}
"""What the team says of itself in public."""
