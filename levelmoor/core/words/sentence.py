"""A reason or a problem as a sentence: what is said in the middle of one elsewhere."""


def sentence(said: object) -> str:
    """The words with a capital in front and a stop behind, where neither is there yet; nothing stays nothing."""
    text = str(said)
    return text[:1].upper() + text[1:] + ("" if not text or text.endswith((".", "?")) else ".")
