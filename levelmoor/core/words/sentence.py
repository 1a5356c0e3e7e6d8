"""A reason or a problem as a sentence, or in the middle of one."""


def sentence(said: object) -> str:
    """The words with a capital in front and a stop behind, where neither is there yet; nothing stays nothing."""
    text = str(said)
    return text[:1].upper() + text[1:] + ("" if not text or text.endswith((".", "?")) else ".")


def uncapitalized(words: str) -> str:
    """The words as they are written in the middle of a sentence; an abbreviation such as SWR stays as it is."""
    return words[:1].lower() + words[1:] if words[1:2].islower() or words[:2] == "A " else words
