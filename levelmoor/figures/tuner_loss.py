"""What a network keeps at its best, by load and band: bars of depth in a table of pools."""

from collections.abc import Sequence

from levelmoor.figures.svg import document, tag, text

WIDTH, ROW, LEFT, TOP = 560.0, 34.0, 64.0, 30.0


def loss_figure(rows: Sequence[tuple[str, Sequence[float | None]]], loads: Sequence[float]) -> str:
    """A row for each band, a column for each resistance: the water that is left of a full pool after the loss; a dashed
    outline where no position of the dials matches."""
    column = (WIDTH - LEFT - 8) / len(loads)
    parts = [text(LEFT - 6, TOP - 10, "Ω", text_anchor="end", class_="quiet")]
    for n, ohm in enumerate(loads):
        parts.append(text(LEFT + column * (n + 0.5), TOP - 10, f"{ohm:g}", text_anchor="middle", class_="quiet"))
    for m, (name, losses) in enumerate(rows):
        y = TOP + m * ROW
        parts.append(text(LEFT - 6, y + 19, name, text_anchor="end", class_="name"))
        for n, db in enumerate(losses):
            x, wide, high = LEFT + column * n + 2, column - 4, ROW - 6
            if db is None:
                parts.append(tag("rect", class_="basin-empty", x=x, y=y, width=wide, height=high))
                continue
            left = 10 ** (-min(db, 40) / 10)
            parts.append(tag("rect", class_="land", x=x, y=y, width=wide, height=high))
            parts.append(tag("rect", class_="water", x=x, y=y + high * (1 - left), width=wide, height=high * left))
            parts.append(text(x + wide / 2, y + 19, f"{db:.1f}", text_anchor="middle", class_="halo"))
    known = [db for _, losses in rows for db in losses if db is not None]
    label = (
        f"Loss in dB at the best setting, {min(known):.1f} to {max(known):.1f} dB"
        if known
        else "No load can be matched"
    )
    return document((WIDTH, TOP + ROW * len(rows) + 4), label, parts, class_="lm-fig")
