"""Long lists of a page, shown a part at a time."""


def parts_of(count: int, in_a_part: int) -> list[slice]:
    """The parts of so many rows; an empty one where there is none."""
    return [slice(at, min(at + in_a_part, count)) for at in range(0, count, in_a_part)] or [slice(0, 0)]


def part_at(parts: list[slice], number: int) -> slice:
    """A part by its number from 1; one beyond the last is the last."""
    return parts[min(max(number, 1), len(parts)) - 1]
