"""The preset card of a tuner as CSV."""

from collections.abc import Mapping, Sequence

from levelmoor.core.matching.preset_card import PresetCard
from levelmoor.core.words.figures import format_mhz
from levelmoor.formats.csv_out import write_csv


def write_presets(cards: Sequence[PresetCard], setups: Mapping[str, str]) -> str:
    """The cards as CSV, semicolons between, a column for each knob; `setups` are their names by id."""
    knobs = list(dict.fromkeys(k for c in cards for k in c.knobs))
    rows: list[list[str]] = [["Antenna", "Setup", "MHz", *knobs, "SWR", "Within 1.5:1 MHz", "Within 2:1 MHz", "Taken"]]
    for card in cards:
        for p in card.presets:
            edges = [e.words for e in p.edges] or ["", ""]
            swr = f"{p.trial.swr_after:g}" if p.trial.swr_after else ""
            place = [card.antenna, setups.get(card.setup_id, ""), format_mhz(p.trial.frequency_hz)]
            rows.append([*place, *(p.at(k) for k in knobs), swr, *edges, p.trial.taken_on])
    return write_csv(rows)
