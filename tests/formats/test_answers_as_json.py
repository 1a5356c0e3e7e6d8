"""Answers of the command line are JSON that every reader accepts."""

import json
import math

from levelmoor.formats.choke_answer import ChokePoint
from levelmoor.formats.claim_answer import as_json


def test_what_is_infinite_is_null():
    point = ChokePoint(
        frequency_hz=7e6, magnitude_ohm=math.inf, expanded_ohm=math.nan, resistance_ohm=None, reactance_ohm=None,
        believed_ohm=1e5,
    )  # fmt: skip
    (found,) = json.loads(as_json([point]), parse_constant=lambda word: word)
    assert (found["magnitude_ohm"], found["expanded_ohm"], found["believed_ohm"]) == (None, None, 1e5)
