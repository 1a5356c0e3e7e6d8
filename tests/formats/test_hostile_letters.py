"""No pattern and no reader takes longer than its letters are worth: time is held against length."""

import ast
import contextlib
import importlib
import pkgutil
import re
import time
from pathlib import Path

import pytest

import levelmoor
from levelmoor.core.claims.claim_line import understand_line
from levelmoor.core.model.connectors import parse_connector
from levelmoor.core.rf.curve import parse_curve
from levelmoor.core.rf.window_text import parse_windows
from levelmoor.core.trials.load_text import parse_load
from levelmoor.formats.adif import read_adif
from levelmoor.formats.capture_file import read_capture_file
from levelmoor.formats.equipment_csv import read_equipment
from levelmoor.formats.heat_log import read_heat_log
from levelmoor.formats.json_in import JsonProblem, read_json
from levelmoor.formats.rawtext import decode
from levelmoor.formats.readings_file import read_readings
from levelmoor.formats.settings_table import read_settings
from levelmoor.formats.spots_csv import read_spots
from levelmoor.formats.sweepfile import read_sweep_file
from levelmoor.formats.through_file import read_through
from levelmoor.formats.trials_csv import read_trials
from levelmoor.formats.widths_csv import read_widths

LETTERS = 2000
TYPED = (
    "9",
    "1,",
    "1.",
    "9,9",
    "a",
    "A",
    "-",
    "+",
    "(",
    "[",
    '"',
    "'",
    "/",
    "|",
    "=",
    ";",
    ":",
    "0.",
    "e",
    "_",
    "<",
    "1-",
    '\\"',
)
"""What lines are made of; typed ones come with their blanks put together."""
BLANKS = (" ", "\t", "1 ", "1, ", "1/", "A ", "MHz ", "to ", "2m ")
ROOT = Path(levelmoor.__file__).parent


def seconds(work, text):
    best = float("inf")
    for _ in range(2):
        start = time.perf_counter()
        with contextlib.suppress(ValueError):
            work(text)
        best = min(best, time.perf_counter() - start)
    return best


def grows(work, piece, wrap="{}"):
    """Whether four times the letters take far more than four times as long, and so long that it counts; whoever is slow
    only once was kept waiting by others."""
    texts = [wrap.format((piece * LETTERS)[:n]) for n in (LETTERS, LETTERS // 4)]
    unit = long = short = float("inf")
    for _ in range(8):
        unit = min(unit, seconds(lambda t: re.search("[^9]", t), "9" * LETTERS))  # one way along the letters, here
        long = min(long, seconds(work, texts[0]))
        if long < 10_000 * unit:  # some 60 ms: what a line may take
            return False
        short = min(short, seconds(work, texts[1]))
        if long < 9 * short:
            return False
    return True


def patterns():
    """Every pattern of the program, and how it is asked where that is known."""
    found = {}

    def kept(value, where, depth=0):
        if isinstance(value, re.Pattern) and isinstance(value.pattern, str):
            found.setdefault(value, (where, ("search", "fullmatch")))
        elif depth < 2 and isinstance(value, (tuple, list, dict)):
            for one in value.values() if isinstance(value, dict) else value:
                kept(one, where, depth + 1)

    for module in pkgutil.walk_packages(levelmoor.__path__, "levelmoor."):
        if "migrations" not in module.name and not module.name.endswith("__main__"):
            for name, value in vars(importlib.import_module(module.name)).items():
                kept(value, f"{module.name}:{name}")
    for path in ROOT.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            match node:
                case ast.Call(ast.Attribute(ast.Name("re"), how), [ast.Constant(str(text)), *_]) if how != "compile":
                    asked = (how,) if how in ("match", "fullmatch") else ("search",)
                    found.setdefault(re.compile(text), (f"{path.relative_to(ROOT)}:{node.lineno}", asked))
    return found


def test_no_pattern_takes_longer_than_its_letters():
    slow = []
    for pattern, (where, asked) in patterns().items():
        blanks = BLANKS if "formats" in where or "instruments" in where else ()
        for piece in (*TYPED, *blanks):
            slow += [(where, how, piece) for how in asked if grows(getattr(pattern, how), piece)]
    assert slow == []


FILES = {
    "sweep": lambda d: read_sweep_file("a.csv", d),
    "touchstone": lambda d: read_sweep_file("a.s1p", b"# MHz S RI R 50\n" + d),
    "spectrum": lambda d: read_capture_file("a.csv", d),
    "through": lambda d: read_through("a.csv", d),
    "readings": lambda d: read_readings("a.csv", d),
    "trials": lambda d: read_trials("a.csv", d),
    "spots": lambda d: read_spots("a.csv", d, {}),
    "equipment": lambda d: read_equipment("instrument", "a.csv", d),
    "heat": lambda d: read_heat_log("a.csv", decode("a.csv", d)),
    "json": read_json,
    "adif": lambda d: read_adif("a.adi", d, {}),
}
LINES = {
    "claim": lambda t: understand_line(t, 1),
    "windows": lambda t: parse_windows(t, 1),
    "load": parse_load,
    "curve": parse_curve,
    "connector": parse_connector,
    "widths": lambda t: read_widths(t, 1),
    "settings": lambda t: read_settings(t, 1),
}
WRAPS = ("{}", "MHz;SWR\n14;1.5\n14.1;{}\n", "MHz;SWR\n{};1.5\n14.1;1.5\n", '{{"a": "{}')


@pytest.mark.parametrize("reader", FILES)
def test_no_reader_of_files_takes_longer_than_its_letters(reader):
    read = FILES[reader]
    slow = [(p, w) for p in (*TYPED, *BLANKS) for w in WRAPS if grows(lambda t: read(t.encode()), p, w)]
    assert slow == []


def test_a_whole_number_of_any_length_is_refused_in_words():
    with pytest.raises(JsonProblem, match="too many digits"):
        read_json('{"a": ' + "9" * 5000 + "}")


@pytest.mark.parametrize("reader", LINES)
def test_no_reader_of_lines_takes_longer_than_its_letters(reader):
    assert [p for p in (*TYPED, *BLANKS) if grows(LINES[reader], p)] == []
