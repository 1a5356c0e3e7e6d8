"""All that Levelmoor says is kept in one file, so that a change of words shows as a change of lines.

`tests/demo/sentences.txt` is written anew by

    LEVELMOOR_SENTENCES=write .venv/bin/pytest tests/demo/test_sentences.py
"""

import os
import re
from collections import deque
from pathlib import Path

import pytest

from levelmoor.demo import scenario
from tests.command import levelmoor
from tests.demo.sentences import messages, read, shape, steady

KEPT = Path(__file__).parent / "sentences.txt"
NOT_WALKED = re.compile(
    r"/static/|/sign-out|\.(?:csv|json|zip|s1p|s2p|svg|png|pdf|webmanifest|ico)$|/stream|/raw|/file"
)
COMMANDS = [
    "adjust",
    "card",
    "check",
    "choke",
    "claim",
    "compare",
    "correct",
    "cable",
    "demo",
    "export",
    "harmonics",
    "import",
    "instruments",
    "judge",
    "live",
    "match",
    "migrate",
    "pad",
    "plan",
    "readings",
    "serve",
    "trials",
    "user",
    "verify",
]


@pytest.fixture
def walked(untouched_demo):
    """The sentences of each screen, in the order of a walk over all links: first by a stranger, then by a reviewer."""
    found = {}
    for who in ("stranger", "reviewer"):
        if who == "reviewer":
            email = scenario.PEOPLE[0][0]
            untouched_demo.post("/sign-in", data={"email": email, "password": scenario.PASSWORD})
        waiting, seen = deque(["/"]), set()
        while waiting:
            address = waiting.popleft()
            place = address.partition("#")[0]
            path = place.partition("?")[0]
            if path in seen or NOT_WALKED.search(path):
                continue
            seen.add(path)
            answer = untouched_demo.get(place)
            if answer.status_code in (301, 302, 303):
                waiting.append(answer.location)
            if answer.mimetype == "text/html":
                said, links = read(answer.text)
                waiting.extend(links)
                found[steady(f"{who} {path}")] = said
    return found


def test_what_is_said_is_what_was_read(walked):
    lines, seen = [], set()

    def add(title, said):
        new = [s for s in said if not (shape(s) in seen or seen.add(shape(s)))]
        if new:
            lines.extend(["", f"## {title}", *new])

    for title, said in walked.items():
        add(title, said)
    for command in COMMANDS:
        add(f"levelmoor {command}", levelmoor(command, "--help").stdout.splitlines())
    for title, said in messages():
        add(title, said)
    text = "\n".join(lines) + "\n"
    if os.environ.get("LEVELMOOR_SENTENCES") == "write":
        KEPT.write_text(text, "utf-8")
    assert text.splitlines() == KEPT.read_text("utf-8").splitlines()
