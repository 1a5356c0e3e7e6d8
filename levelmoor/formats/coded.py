"""What is said in a JSON document, with its codes and figures beside the words.

Each object that holds words that were said has `codes`: by the same names the code of each and its figures. Two
documents say the same where those are the same; the words are for people, and may be better in a later version, also
those within a sentence.
"""

from typing import Any

from levelmoor.core.words.said import Said, codes_of, said_again

CODES = "codes"


def with_codes(data: Any) -> Any:
    """The data with the codes of what is said beside the words, at every depth."""
    if isinstance(data, dict):
        plain = {k: with_codes(v) for k, v in data.items()}
        codes = {k: codes_of(v) for k, v in data.items() if _is_said(v)}
        return {**plain, CODES: codes} if codes else plain
    if isinstance(data, (list, tuple)):
        return [with_codes(v) for v in data]
    return str(data) if isinstance(data, Said) else data


def without_codes(data: Any) -> Any:
    """The data with words that know their codes again, as they were worded."""
    if isinstance(data, dict):
        codes = data.get(CODES, {})
        return {k: said_again(v, codes[k]) if k in codes else without_codes(v) for k, v in data.items() if k != CODES}
    return [without_codes(v) for v in data] if isinstance(data, list) else data


def without_words(data: Any) -> Any:
    """The data with codes in place of the words that have one: what two documents are compared by."""
    if isinstance(data, dict):
        codes = data.get(CODES, {})
        plain = {k: without_words(v) for k, v in data.items() if k not in codes and k != CODES}
        return {**plain, CODES: _measured(codes)} if codes else plain
    return [without_words(v) for v in data] if isinstance(data, list) else data


def _measured(said: Any) -> Any:
    """Codes with the figures that are no words themselves; which sweep or sample is meant, ids say."""
    if isinstance(said, dict) and "code" in said:
        return {"code": said["code"], "figures": {k: _measured(v) for k, v in said["figures"].items() if not _bare(v)}}
    if isinstance(said, dict):
        return {k: _measured(v) for k, v in said.items()}
    return [_measured(v) for v in said if not _bare(v)] if isinstance(said, list) else said


def _bare(figure: Any) -> bool:
    return isinstance(figure, str) or (isinstance(figure, list) and all(map(_bare, figure)))


def _is_said(value: Any) -> bool:
    return isinstance(value, Said) or (isinstance(value, (list, tuple)) and any(_is_said(v) for v in value))
