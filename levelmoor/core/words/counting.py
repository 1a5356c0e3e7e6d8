"""Things counted in words, the one place that knows one from many; and time in hours and minutes."""


def grouped(number: int) -> str:
    """`200 000`, a thin space between the thousands."""
    return f"{number:,}".replace(",", "\u202f")


def counted(number: int, one: str, many: str = "") -> str:
    """`1 run`, `3 runs`; the plural is the word with an s where no other is given."""
    return f"{number} {one if number == 1 else many or one + 's'}"


def duration(minutes: float) -> str:
    """Minutes as `25 min` or `1 h 20 min`, to the nearest."""
    hours, rest = divmod(round(minutes), 60)
    return f"{hours} h {rest} min" if hours else f"{rest} min"


def article(noun: str) -> str:
    """The indefinite article of a noun, by how it is spoken: an SWR, a frequency."""
    return "an" if noun[:1].lower() in "aeiou" or noun.startswith("SWR") else "a"
