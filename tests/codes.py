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


def figures_of(sentence, code):
    """The figures of a code in a sentence or in what is put into it; None where it is not there."""
    if not isinstance(sentence, Said):
        return None
    if sentence.code == code:
        return dict(sentence.figures)
    inner = (figures_of(one, code) for one in sentence.figures.values())
    return next((found for found in inner if found is not None), None)
