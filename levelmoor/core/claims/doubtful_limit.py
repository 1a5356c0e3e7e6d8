"""Whether a figure is a limit, where a careful reader would ask."""

import re

from levelmoor.core.claims.claim_windows import Doubt
from levelmoor.core.words.digits import FIGURE

_LOWEST = re.compile(
    rf"\b(?:min(?:imum|imal)?|lowest|best)\b\.?\s+(?=V?SWR\b)|(?<=SWR)\s*\(?min(?:imum|\.)?\)?(?=\s*[:=]?\s*{FIGURE})",
    re.IGNORECASE,
)


def as_words(text: str) -> tuple[str, str]:
    """The answer that keeps a line as it is written."""
    return "Keep it as words", f"other: {' '.join(text.split())}"


def doubtful_limit(text: str, plain: str) -> Doubt | None:
    """A lowest SWR, which says nothing about the rest of a band."""
    line = " ".join(text.split())
    if not re.search(r"\bSWR\b", plain, re.IGNORECASE):
        return None
    if found := _LOWEST.search(line):
        whole = f"{line[: found.start()]}{line[found.end() :]}"
        words = "The lowest SWR says nothing about the rest of a band. Is it claimed for the whole band?"
        return Doubt(words, (("for the whole band", whole), as_words(text)))
    return None
