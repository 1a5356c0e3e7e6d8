"""Temperatures against time as they are typed, and as loggers write them.

A logger's columns are told by their headings where there are any, else by what stands in them. Its clock may be seconds
or minutes, minutes and seconds, a time of day, or a date with a time of day in whatever order of its parts:
only how far the rows are apart counts.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from levelmoor.core.words.bounds import HEAT_POINTS, NUMBERS
from levelmoor.core.words.counting import counted
from levelmoor.formats.numerals import NUMBER
from levelmoor.formats.plausible import FIRST_DAY, LAST_DAY
from levelmoor.formats.preamble import not_as_measured, units_above
from levelmoor.formats.problem import FileProblem, shown
from levelmoor.formats.rows import REMARKS, Row, rows_of, separator_of, written
from levelmoor.formats.touchstone_header import looks_like_touchstone
from levelmoor.formats.units import UNITS, Quantity, spelled, units_in

RIGHT = "a time and a temperature in every row, as in 60; 24.5"
DAY_S = 86_400.0
SINCE_1970_S = 1e8
"""A number above is not a time since the run began: seconds or milliseconds since 1970, as computers count them."""
LATEST_BEGIN_S = 120.0
"""A run that is written in minutes and seconds begins before; 14:20 is rather a time of day."""
WARMEST_BEGIN_C = 50.0
"""A run that begins warmer is rather written in °F or K, where nothing says which."""
_NUMBER = re.compile(NUMBER)
_CLOCK = re.compile(r"(?:(\d{1,3}):)?(\d{1,3}):(\d{2}(?:[.,]\d+)?)\s*([AaPp])?\.?[Mm]?\.?")
_DATE = re.compile(r"\d{1,4}[./-]\d{1,2}[./-]\d{1,4}\.?")
_DEGREES = re.compile(r"(?:°|deg\.?|degrees?)?\s{0,9}(c|f|k|celsius|fahrenheit|kelvin)", re.IGNORECASE)
_DEGREES_ABOVE = re.compile(
    r"\btemp[a-z]{0,12}\W{1,3}(?:in\s)?(?:°|deg\.?|degrees?)?\s?(c|f|k|celsius|fahrenheit|kelvin)\b(?!\W?type)",
    re.IGNORECASE,
)
"""How a line over the headings says it."""
_CELSIUS = {"c": UNITS["°C"], "f": UNITS["°F"], "k": UNITS["°K"]}
_UNITS = r"ms|days?|d|s|secs?|seconds?|mins?|minutes?|h|hours?"
_TIME_AND_HEAT = re.compile(r"\s*+\S++\s++[+-]?+\d++(,\d++)?+\s*+(°?\s*+[CFK])?+\s*+")
"""A row between blanks whose comma is a decimal sign, as in 60 24,5 °C."""
_NO_READING = ("", "-", "--", "---", "nan", "n/a", "na", "ol", "o.l", "err", "error", "fault", "open", "none", "null")
_TIMES = ("time", "elapsed", "seconds", "second", "secs", "sec", "minutes", "minute", "mins", "min", "hours", "clock",
          "zeit", "uhrzeit", "timestamp", "datetime", "date", "datum", "t", "s", "h", "ms", "day")  # fmt: skip
_NUMBERED = ("nr", "no", "#", "index", "sample", "record", "row", "n", "id", "scan", "point")


@dataclass(frozen=True)
class HeatLog:
    """Seconds since the first and °C; `said` is what was passed over, and which column was taken where there are
    several."""

    points: tuple[tuple[float, float], ...]
    said: tuple[str, ...] = ()


def read_heat_log(name: str, lines: Sequence[str], wanted: str = "") -> HeatLog:
    """Times and temperatures, a row each; of several columns with temperatures the one whose heading is `wanted`.

    Raises
    ------
    FileProblem
        Naming the place of what is not a time or temperature, of a time that does not rise, of what has two meanings.
    """
    if looks_like_touchstone(name, lines):
        raise FileProblem(name, 1, 1, "a Touchstone file", RIGHT)
    rows = _rows(lines)
    if len(rows) > HEAT_POINTS + 20:
        raise FileProblem(name, rows[-1][0], 1, counted(len(rows), "row"), f"at most {HEAT_POINTS}")
    begin = next((i for i, (_, row) in enumerate(rows) if len(row) > 1 and _begins(row)), len(rows))
    while len(rows) - begin > 2 and not re.search(r"\d", " ".join(rows[-1][1])):
        rows.pop()  # a closing word
    if len(rows) - begin < 2:
        line = rows[begin][0] if begin < len(rows) else rows[-1][0] if rows else 1
        raise FileProblem(name, line, 1, "no series of temperatures", "at least two rows, as in 60; 24.5")
    at = next((i for i in reversed(range(begin)) if len(rows[i][1]) > 1 and any(map(_kind, rows[i][1]))), -1)
    if at < 0 and begin:
        _of_something_else(name, rows[begin - 1], len(rows[begin][1]))
    for line, row in rows[at + 1 : begin]:  # a slip is no heading
        if len(row) == len(rows[begin][1]) and any(_NUMBER.fullmatch(c) for c in row):
            raise FileProblem(name, line, 1, shown(row[0]), "a time, as in 60 (seconds), 4:30, or 14:20:00")
    above = [line for line in lines[: rows[at][0] - 1] if line.strip()] if at >= 0 else []
    columns = _columns(name, rows[at] if at >= 0 else None, rows[begin:], wanted, above)
    return _read(name, rows[begin:], columns)


def _of_something_else(name: str, head: Row, width: int) -> None:
    """Headings that name units, none of them of a time or a temperature."""
    line, cells = head
    named = [(i, u) for i, cell in enumerate(cells) for u in units_in(cell)]
    ours = (Quantity.TIME, Quantity.TEMPERATURE)
    if len(cells) == width and named and not any(u.quantity in ours for _, u in named):
        i, unit = named[0]
        raise FileProblem(name, line, i + 1, f"{shown(cells[i])}, which is {unit.quantity.value}", RIGHT)


def typed_lines(text: str) -> list[str]:
    """The lines of what was typed; of a single one the parts between semicolons."""
    lines = [line for line in text.splitlines() if line.strip()]
    return [part for part in lines[0].split(";") if part.strip()] if len(lines) == 1 else lines


@dataclass(frozen=True)
class _Columns:
    """Where the time stands, in one or two columns, and the temperature; factors of their units."""

    time: tuple[int, ...]
    heat: int
    seconds: float | None
    unit: str
    title: str = ""
    clock: str = ""
    """How the heading says that two figures with a colon are meant: `h` hours and minutes, `m` minutes and seconds."""


def _rows(lines: Sequence[str]) -> list[Row]:
    """The cells of each line with something in it, and the line's number."""
    text = written(lines, REMARKS + "%")
    separator = separator_of([line for _, line in text], _TIME_AND_HEAT)
    if separator != " ":
        return rows_of(text, separator)
    parts = [(n, re.sub(r"(?<=\d)\s*(°\s*[CFK])", r"\1", line.strip())) for n, line in text]
    return [(n, _with_dates_joined(line.split())) for n, line in parts]


def _with_dates_joined(cells: list[str]) -> tuple[str, ...]:
    """Between blanks a date, its time of day and AM or PM are one cell."""
    if len(cells) > 2 and _DATE.fullmatch(cells[0]) and _CLOCK.fullmatch(cells[1]):
        cells = [" ".join(cells[:2]), *cells[2:]]
    if len(cells) > 2 and cells[1].upper() in ("AM", "PM"):
        cells = [" ".join(cells[:2]), *cells[2:]]
    return tuple(cells)


def _begins(row: Sequence[str]) -> bool:
    """Whether a row has a time in it: it is no heading."""
    return any(_clock_s(c) is not None or _NUMBER.fullmatch(c) for c in row[:3]) and bool(re.search(r"\d", row[0]))


def _columns(name: str, headed: Row | None, rows: Sequence[Row], wanted: str, above: Sequence[str]) -> _Columns:
    first = rows[0][1]
    if headed is None:
        numbered = len(first) > 2 and first[0] in ("0", "1") and _clock_s(first[1]) is not None
        time: tuple[int, ...] = (1,) if numbered else (0,)
        if len(first) > 2 and _DATE.fullmatch(first[time[0]]) and _clock_s(first[time[0] + 1]) is not None:
            time = (time[0], time[0] + 1)
        return _Columns(time, time[-1] + 1, DAY_S if _dated_by_number(rows, time) else None, "")
    line, head = headed
    kinds = [_kind(h) for h in head]
    times = [i for i, k in enumerate(kinds) if k == "time"] or [
        next((i for i, k in enumerate(kinds) if k != "number"), 0)
    ]
    dates = [i for i in times if i < len(first) and _DATE.fullmatch(first[i])]
    clocks = [i for i in times if i < len(first) and _clock_s(first[i]) is not None]
    time = (dates[0], clocks[0]) if dates and clocks and dates[0] not in clocks else ((clocks or times)[0],)
    heats = [i for i, k in enumerate(kinds) if k == "heat" and i not in time]
    heats = heats or [i for i, k in enumerate(kinds) if not k and i not in time and i < len(first)]
    if not heats:
        raise FileProblem(name, line, 1, "no column of temperatures", "a heading such as Temperature °C")
    read = [i for i in heats if any(len(row) > i and row[i].lower() not in _NO_READING for _, row in rows)]
    heats = read or heats
    named = [i for i in heats if wanted.strip() and wanted.strip().lower() in head[i].lower()]
    if len(heats) > 1 and len(named) != 1:
        titles = ", ".join(head[i] for i in heats)
        right = "write the heading of the right one into Measured at"
        raise FileProblem(name, line, heats[1] + 1, f"{len(heats)} temperatures: {titles}", right)
    heat = (named or heats)[0]
    said = head[time[-1]].lower().replace("_", " ")
    written = re.search(r"\b(h+|m+)\s*:\s*(?:mm|m|ss|s)\b(?!\s*:)", said)
    unit = None if written else re.search(rf"\b({_UNITS})\b", said)
    if unit is None and _dated_by_number(rows, time):
        seconds: float | None = DAY_S
    else:
        seconds = _seconds_in(unit[1]) if unit else _seconds_above(above)
    wrong = next((u for u in units_in(head[heat]) if u.quantity is not Quantity.TEMPERATURE and u.name != "deg"), None)
    if wrong is not None:
        found = f"{shown(head[heat])}: {wrong.name} measures {wrong.quantity.value}"
        raise FileProblem(name, line, heat + 1, found, "temperatures in °C, °F or K")
    measured = [(i, "seconds", Quantity.TIME) for i in time]
    for i, role, quantity in (*measured, (heat, "temperature", Quantity.TEMPERATURE)):
        if found := not_as_measured(head[i], role, units_in(head[i]), above, (quantity,)):
            raise FileProblem(name, line, i + 1, found, "temperature and time as measured, each with its unit")
    degrees = re.search(rf"(?:[\[(,_/ ]|^)\s*{_DEGREES.pattern}(?:[\])]|$)|°\s*([cfk])", head[heat], re.IGNORECASE)
    named_above = (m[1] for one in above if (m := _DEGREES_ABOVE.search(one)))
    letter = (degrees[1] or degrees[2]) if degrees else next(named_above, "")
    return _Columns(time, heat, seconds, letter[:1].lower(), head[heat] if len(heats) > 1 else "",
                    written[1][0] if written else "")  # fmt: skip


def _seconds_above(lines: Sequence[str]) -> float | None:
    """Seconds of the one unit of time that lines over the headings name."""
    units = units_above(lines, "seconds", (Quantity.TIME,))
    return float(units[0](1.0)) if len(units) == 1 else None


def _dated_by_number(rows: Sequence[Row], time: tuple[int, ...]) -> bool:
    """Whether all times are days as spreadsheets count them, or shares of one day."""
    cells = [row[time[-1]].replace(",", ".") for _, row in rows if len(row) > time[-1]]
    if len(time) > 1 or not all(_NUMBER.fullmatch(c) for c in cells):
        return False
    days = [float(c) for c in cells]
    return all(FIRST_DAY <= d <= LAST_DAY for d in days) and days[-1] - days[0] < 2


def _kind(heading: str) -> str:
    """What a heading says stands under it: a time, a temperature, a running number, or nothing."""
    words = re.findall(r"[a-z#]+|°", heading.lower())
    if re.fullmatch(r"T\d*\W*[CFK]?\W*", heading):  # t is a time, T a temperature
        return "heat"
    if any(
        w.startswith("temp") or w in ("°", "celsius", "fahrenheit", "kelvin", "probe", "thermocouple") for w in words
    ):
        return "heat"
    if words and words[0] in _NUMBERED and len(words) == 1:
        return "number"
    if any(w in _TIMES or w.startswith("time") for w in words):
        return "time"
    return "heat" if len(words) == 1 and words[0] in ("c", "f", "k") else ""


def _read(name: str, rows: Sequence[Row], columns: _Columns) -> HeatLog:
    found: list[tuple[float, float]] = []
    without, days, date = 0, 0.0, ""
    for line, row in rows:
        if len(row) <= max(*columns.time, columns.heat):
            raise FileProblem(name, line, 1, shown(" ".join(row)), RIGHT)
        at, whole = _seconds(name, line, row, columns, not found)
        if row[columns.heat].lower() in _NO_READING:
            without += 1
            continue
        celsius = _celsius(name, line, columns.heat, row[columns.heat], columns.unit)
        if not found and not columns.unit and celsius > WARMEST_BEGIN_C and _NUMBER.fullmatch(row[columns.heat]):
            right = "°C, °F or K behind it or in the heading"
            found_there = f"{shown(row[columns.heat])} in the first row, without a unit"
            raise FileProblem(name, line, columns.heat + 1, found_there, right)
        dated = _DATE.match(" ".join(row[i] for i in columns.time))
        if found and not whole and found[-1][0] - at - days > DAY_S / 2:
            days += DAY_S  # past midnight
        elif dated and date not in ("", dated[0]) and not whole:
            right = "rows less than half a day apart, or dates as in 2026-05-31"
            raise FileProblem(name, line, columns.time[0] + 1, f"{shown(dated[0])} after {shown(date)}", right)
        date = dated[0] if dated else ""
        if found and at + days <= found[-1][0]:
            typed = " ".join(row[i] for i in columns.time)
            raise FileProblem(name, line, columns.time[0] + 1, shown(typed), "a time after the one before it")
        found.append((at + days, celsius))
    if len(found) < 2:
        raise FileProblem(name, rows[0][0], 1, "no series of temperatures", "at least two rows, as in 60; 24.5")
    said = [f"by {columns.title}"] if columns.title else []
    said += [f"{counted(without, 'row')} without a reading"] if without else []
    begin = found[0][0]
    return HeatLog(tuple((round(s - begin, 3), c) for s, c in found), tuple(said))


def _seconds(name: str, line: int, row: Sequence[str], columns: _Columns, first: bool) -> tuple[float, bool]:
    """Seconds of a row, and whether days are counted in them."""
    cells = [row[i] for i in columns.time]
    typed = " ".join(cells)
    if (stamp := _stamp(typed)) is not None:
        return stamp, True
    if (at := _clock_s(typed, columns.clock)) is not None:
        if not columns.clock and first and at > LATEST_BEGIN_S and typed.count(":") == 1 and not _DATE.match(typed):
            right = "minutes and seconds from 0:00 on, or a time of day with its seconds, as in 14:20:00"
            raise FileProblem(name, line, columns.time[0] + 1, f"{shown(typed)}, which could be either", right)
        return at, False
    unit = re.search(rf"\s*({_UNITS})\.?$", typed.lower())
    bare = typed[: unit.start()] if unit else typed
    if not _NUMBER.fullmatch(bare):
        right = "a time, as in 60 (seconds), 4:30, or 14:20:00"
        raise FileProblem(name, line, columns.time[0] + 1, shown(typed), right)
    value = float(bare.replace(",", ".")) * (_seconds_in(unit[1]) if unit else columns.seconds or 1.0)
    if columns.seconds == DAY_S:
        return round(value, 1), True
    low, high = NUMBERS["heat.seconds"]
    if columns.seconds is None and not unit and value > SINCE_1970_S:
        return value / (1e3 if value > 1e3 * SINCE_1970_S else 1.0), True
    if not low <= value <= high:
        raise FileProblem(name, line, columns.time[0] + 1, shown(typed), f"a time from {low:g} to {high:g} s")
    return value, True


def _seconds_in(word: str) -> float:
    unit = spelled(word)
    assert unit is not None, word
    return float(unit(1.0))


def _stamp(text: str) -> float | None:
    """Seconds of a whole date and time as ISO 8601 writes it, None for anything else."""
    if not re.match(r"\d{4}-\d\d-\d\d[T ]\d", text):
        return None
    try:
        at = datetime.fromisoformat(text.replace(",", ".").strip())
    except ValueError:
        return None
    return (at if at.tzinfo else at.replace(tzinfo=UTC)).timestamp()  # no clock of this machine is meant


def _clock_s(text: str, said: str = "") -> float | None:
    """Seconds of 14:20:00, 2:20:00 PM, 4:30 (minutes and seconds, behind a date hours and minutes, or as the heading
    `said`), None of others."""
    bare = re.sub(rf"^{_DATE.pattern}[ T,]*", "", text.strip())
    clock = _CLOCK.fullmatch(bare)
    if clock is None:
        return None
    first, second, third = float(clock[1] or 0), float(clock[2]), float(clock[3].replace(",", "."))
    if clock[1] is None and (said == "h" or (not said and bare != text.strip())):
        first, second, third = second, third, 0.0
    if clock[4]:
        first = first % 12 + (12 if clock[4].lower() == "p" else 0)
    return 3600 * first + 60 * second + third


def _celsius(name: str, line: int, column: int, text: str, unit: str) -> float:
    bare = text.replace("−", "-").strip()
    own = re.search(rf"\s*{_DEGREES.pattern}$", bare, re.IGNORECASE)
    if own is not None:
        bare, unit = bare[: own.start()].strip(), own[1][0].lower()
    if not _NUMBER.fullmatch(bare):
        raise FileProblem(
            name, line, column + 1, shown(text), "a temperature, as in 24.5, with °F or K if it is not °C"
        )
    value = float(_CELSIUS[unit or "c"](float(bare.replace(",", "."))))
    low, high = NUMBERS["heat.celsius"]
    if not low <= value <= high:
        raise FileProblem(name, line, column + 1, shown(text), f"a temperature from {low:g} to {high:g} °C")
    return round(value, 4)
