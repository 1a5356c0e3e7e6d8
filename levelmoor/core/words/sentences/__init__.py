"""The catalogue of sentences: what every code says, by the part of the work it belongs to."""

from collections.abc import Mapping

from levelmoor.core.words.sentences import bench, court, emissions, heat, notes, through, trials, windows

SENTENCES: Mapping[str, str] = {
    code: words
    for part in (court, windows, bench, emissions, trials, through, heat, notes)
    for code, words in part.SENTENCES.items()
}
