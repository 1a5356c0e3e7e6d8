"""How an installation answered over its last hours: a bar for each hour, and the time that nearly all answers kept."""

from collections.abc import Sequence

from levelmoor.figures.svg import document, tag, text

WIDTH, HEIGHT = 360.0, 150.0
LEFT, RIGHT, TOP, BOTTOM = 40.0, 44.0, 14.0, 26.0
NAMED_EVERY = 6


def hours_figure(answers: Sequence[int], errors: Sequence[int], most_s: Sequence[float], names: Sequence[str]) -> str:
    """For each hour, in order and without gaps: answers as a bar, those with an error within it, seconds as a line.

    Raises
    ------
    ValueError
        Where the hours are none, or not equally many everywhere.
    """
    if not answers or not len(answers) == len(errors) == len(most_s) == len(names):
        raise ValueError("as many figures as hours are needed, and at least one")
    wide, high = (WIDTH - LEFT - RIGHT) / len(answers), HEIGHT - TOP - BOTTOM
    most, longest = max(1, *answers), max(1.0, *most_s)
    parts = [tag("rect", class_="sky", x=LEFT, y=TOP, width=WIDTH - LEFT - RIGHT, height=high)]
    for share in (0.0, 0.5, 1.0):
        y = TOP + high * (1 - share)
        parts.append(tag("line", class_="grid", x1=LEFT, x2=WIDTH - RIGHT, y1=y, y2=y))
        parts.append(text(LEFT - 6, y + 4, f"{share * most:.0f}", text_anchor="end", class_="quiet"))
        parts.append(text(WIDTH - RIGHT + 6, y + 4, f"{share * longest:.1f} s", class_="quiet"))
    points = []
    for n, (count, wrong, seconds, name) in enumerate(zip(answers, errors, most_s, names, strict=True)):
        x = LEFT + n * wide
        for part, css in ((count, "water"), (wrong, "ridge")):
            tall = high * part / most
            if part:
                parts.append(tag("rect", class_=css, x=x + 1, y=TOP + high - tall, width=max(wide - 2, 1), height=tall))
        if count:
            points.append((x + wide / 2, TOP + high * (1 - seconds / longest)))
        if n % NAMED_EVERY == 0:
            parts.append(text(x + wide / 2, HEIGHT - 8, name, text_anchor="middle", class_="quiet"))
    parts += [tag("circle", class_="mark", cx=x, cy=y, r=2.5) for x, y in points]
    if len(points) > 1:
        line = " ".join(f"{'L' if n else 'M'}{x:.1f} {y:.1f}" for n, (x, y) in enumerate(points))
        parts.append(tag("path", class_="skyline", d=line))
    label = (
        f"{sum(answers)} answers in {len(answers)} hours, {sum(errors)} of them errors; 95 % within {max(most_s):.2f} s"
    )
    return document((WIDTH, HEIGHT), label, parts, class_="lm-fig several")
