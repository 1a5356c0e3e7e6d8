"""Settings of an article as a pasted table: one to a line, its name, then the bands it is for."""

from levelmoor.core.rf.window_text import parse_windows
from levelmoor.core.rf.windows import Window
from levelmoor.core.words.bounds import SETTINGS, TEXTS

HEADINGS = ("band", "bands", "for", "for bands")


def _separator(line: str) -> str:
    """What parts a name from its bands; a comma only where nothing else does, since names may have decimals."""
    return next((s for s in ("\t", ";", ":", ", ") if s in line), ",")


def read_settings(text: str, region: int) -> list[tuple[str, tuple[Window, ...]]]:
    """Names with their windows from lines such as `mark 3; 40m`; a tab, a semicolon, a colon or a comma parts them.

    A name alone is a setting for all bands.

    Raises
    ------
    ValueError
        Naming the line that cannot be read, or saying that there is none.
    """
    found: dict[str, tuple[Window, ...]] = {}
    for n, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        name, *bands = (p.strip() for p in line.split(_separator(line), maxsplit=1))
        if n == 1 and bands and bands[0].lower() in HEADINGS:
            continue
        if not name or len(name) > TEXTS["setting.name"]:
            raise ValueError(f"line {n}: write the setting's name first, as in mark 3; 40m")
        try:
            windows = parse_windows(bands[0], region) if bands and bands[0] else ()
        except ValueError as problem:
            raise ValueError(f"line {n}: {problem}") from None
        if name.lower() in (k.lower() for k in found):
            raise ValueError(f"line {n}: {name} stands twice")
        found[name] = windows
        if len(found) > SETTINGS:
            raise ValueError(f"at most {SETTINGS} settings are taken")
    if not found:
        raise ValueError("write one setting to a line, as in mark 3; 40m")
    return list(found.items())
