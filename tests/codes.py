"""The codes of a sentence: what tests hold on to, so that it can be worded better."""

from levelmoor.core.words.said import Said


def codes(*sentences):
    """The codes of sentences and of those that are put into them."""
    found = set()
    for one in sentences:
        if isinstance(one, Said):
            found |= {one.code} | codes(*one.figures.values())
        elif isinstance(one, (list, tuple)):
            found |= codes(*one)
    return found
