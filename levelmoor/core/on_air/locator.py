"""Station locators, distance and bearing.

References
----------
.. [1] IARU, the locator system of two letters, two digits, two letters (memory).
.. [2] R. W. Sinnott, Virtues of the Haversine, Sky and Telescope 68(2), 1984, p. 159 (memory).
"""

import math
import re

EARTH_KM = 6371.009
"""The mean radius of the earth (IUGG (memory))."""
_SUBSQUARE = "(?:[A-X][A-X]"
_LOCATOR = re.compile(rf"[A-R][A-R]\d\d{_SUBSQUARE}(?:\d\d{_SUBSQUARE})?)?)?")


def position_of(locator: str) -> tuple[float, float]:
    """Latitude and longitude in degrees of a locator's middle [1]_.

    Raises
    ------
    ValueError
        Where it is not a locator of 4, 6, 8 or 10 signs.
    """
    text = locator.strip().upper()
    if not _LOCATOR.fullmatch(text):
        raise ValueError(f'"{locator}" is not a locator; write it like IM06 or IM06pn')
    east, north = 0.0, 0.0
    size_e, size_n = 360.0, 180.0
    for n in range(0, len(text), 2):
        letters = text[n].isalpha()
        count = 18 if n == 0 else 24 if letters else 10
        size_e, size_n = size_e / count, size_n / count
        base = ord("A") if letters else ord("0")
        east += (ord(text[n]) - base) * size_e
        north += (ord(text[n + 1]) - base) * size_n
    return north - 90 + size_n / 2, east - 180 + size_e / 2


def distance_km(first: tuple[float, float], second: tuple[float, float]) -> float:
    """Great circle distance between two positions in degrees [2]_."""
    (lat1, lon1), (lat2, lon2) = ((math.radians(v) for v in p) for p in (first, second))
    h = math.sin((lat2 - lat1) / 2) ** 2 + math.cos(lat1) * math.cos(lat2) * math.sin((lon2 - lon1) / 2) ** 2
    return 2 * EARTH_KM * math.asin(min(1.0, math.sqrt(h)))


def bearing_deg(first: tuple[float, float], second: tuple[float, float]) -> float:
    """The direction from the first to the second, degrees east of north, as the great circle starts."""
    (lat1, lon1), (lat2, lon2) = ((math.radians(v) for v in p) for p in (first, second))
    east = math.sin(lon2 - lon1) * math.cos(lat2)
    north = math.cos(lat1) * math.sin(lat2) - math.sin(lat1) * math.cos(lat2) * math.cos(lon2 - lon1)
    return math.degrees(math.atan2(east, north)) % 360
