"""Other teams of the demo: what they say of themselves, what they published, and what a maker answered."""

import json
from collections.abc import Mapping
from hashlib import sha256
from importlib.resources.abc import Traversable

from sqlalchemy.orm import Session

from levelmoor.demo import scenario
from levelmoor.formats.exchange_file import read_exchange
from levelmoor.records import publishing
from levelmoor.records import tables as t
from levelmoor.records.accounts import add_member, find_team
from levelmoor.records.database import now
from levelmoor.records.importing import imported
from levelmoor.records.roles import MemberRole

SALTERN, THRALE = "Saltern Coast Measuring Group", "Upper Thrale Portable Society"
PEOPLE = {
    SALTERN: ("wynn.harle@saltern.example", "Wynn Harle"),
    THRALE: ("tess.oldbeck@thrale.example", "Tess Oldbeck"),
}
OF_THEMSELVES = {
    SALTERN: {
        "about": "Six people on a salt marsh who measure portable antennas where they are used: in the wind.",
        "measuring": "Each unit is swept on a rod at the tide line, with the analyzer calibrated at the plug.",
        "sample_policy": "Bought from dealers, never from makers. Units lent by other teams go back to them.",
        "interests": "One of us repairs analyzers for a living; that person does not judge.",
        "contact": "bench@saltern.example",
    },
    THRALE: {
        "about": "A society of walkers who carry their stations up hills.",
        "measuring": "From a branch in the valley, one sweep for each band and unit.",
        "sample_policy": "We accept units from makers and say so; we keep them.",
        "interests": "Our chair once worked for a maker of wire antennas.",
        "contact": "post@thrale.example",
    },
}
PUBLISHED = {"1-saltern-rollaway": SALTERN, "2-thrale-first-look": THRALE, "3-thrale-rollaway": THRALE}
"""Which team published which evaluation."""
WITHDRAWN = "2-thrale-first-look"
WHY_WITHDRAWN = "One unit from the maker says nothing of the model. Our test of three units replaces this."
ANSWERED = "3-thrale-rollaway"
ANSWER = (
    "The three units are of the winder that we made until the spring, whose 2 m wire came out 8 mm short. Units from "
    "RA-2400 on have a longer wire. We ask for a test of one of those and will exchange any unit of the old winder."
)


def publish_others(
    session: Session,
    found: Mapping[str, Traversable],
    raw: Mapping[str, bytes],
    draw: publishing.Draw,
) -> None:
    """The other teams with their reports; `found` are the exported evaluations by their names, `raw` the raw files."""
    by_digest = {sha256(data).hexdigest(): data for data in raw.values()}
    for name, team_name in PUBLISHED.items():
        team, email_and_name = find_team(session, team_name), PEOPLE[team_name]
        if not team.about:
            add_member(session, team_name, email_and_name[0], email_and_name[1], scenario.PASSWORD, MemberRole.EDITOR)
            for field, words in OF_THEMSELVES[team_name].items():
                setattr(team, field, words)
        document = json.loads(found[name].read_text("utf-8"))
        row = imported(session, team, read_exchange(json.dumps(document).encode(), files=by_digest))[0]
        report = publishing.publish(session, row, team, email_and_name[1], "First publication.", True, draw).report
        if name == WITHDRAWN:
            publishing.withdraw(session, report, email_and_name[1], WHY_WITHDRAWN)
        if name == ANSWERED:
            session.add(_answer(report, email_and_name[1]))
        session.flush()


def _answer(report: t.Report, decided_by: str) -> t.Answer:
    return t.Answer(
        report=report,
        name="Thornmere Aerial Works, customer service",
        speaks_for="maker",
        email="service@thornmere.example",
        words=ANSWER,
        asks_new_test=True,
        token_sha256=sha256(b"the demo's answer").hexdigest(),
        made_at=now(),
        confirmed_at=now(),
        decided_at=now(),
        decided_by=decided_by,
        approved=True,
    )
