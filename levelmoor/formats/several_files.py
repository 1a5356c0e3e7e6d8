"""A zipped folder of files, as its files."""

from levelmoor.core.words.bounds import EXPANDED_BYTES
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.spreadsheet import OPEN_DOCUMENT, is_spreadsheet
from levelmoor.formats.zip_in import ZipProblem, members_of

MOST_FILES = 200
_BESIDE = ("__MACOSX", ".", "Thumbs.db", "desktop.ini")
"""What systems put beside the files of a folder."""


def unpacked(name: str, data: bytes) -> list[tuple[str, bytes]]:
    """The files in a zip by their own names, in order; anything else is the one file that it is.

    Raises
    ------
    FileProblem
        Where the zip is damaged, unpacks to too much, or has too many files.
    """
    if not data.startswith(b"PK\x03\x04") or is_spreadsheet(data) or OPEN_DOCUMENT in data[:200]:
        return [(name, data)]
    try:
        members = members_of(data, EXPANDED_BYTES)
    except ZipProblem as problem:
        raise FileProblem(name, 1, 1, str(problem), "a zipped folder of sweeps") from None
    wanted = {n: d for n, d in members.items() if not any(p.startswith(_BESIDE) for p in n.split("/"))}
    if len(wanted) > MOST_FILES:
        raise FileProblem(name, 1, 1, f"{len(wanted)} files", f"at most {MOST_FILES} in one zip")
    if not wanted:
        raise FileProblem(name, 1, 1, "a zip without files", "a zipped folder of sweeps")
    return [(n.rsplit("/", 1)[-1], d) for n, d in sorted(wanted.items())]
