"""From the bytes of a file to its lines, whatever wrote it."""

from levelmoor.core.words.bounds import LINE_LETTERS
from levelmoor.core.words.bounds import POINTS as LARGEST_POINTS
from levelmoor.core.words.counting import grouped
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.spreadsheet import OLD_BINARY, is_spreadsheet, lines_of_spreadsheet

LARGEST_BYTES = 20_000_000
MOST_LINES = LARGEST_POINTS + 50_000
LARGEST_VALUE = 1e15
"""No frequency, impedance or ratio that was measured is larger; what is has a slip in its exponent."""
_MAGIC = (
    (b"\x89PNG", "a picture (PNG)"),
    (b"\xff\xd8\xff", "a picture (JPEG)"),
    (b"GIF8", "a picture (GIF)"),
    (b"BM", "a picture (BMP)"),
    (b"%PDF", "a PDF document"),
    (b"PK\x03\x04", "a zip archive or office document other than .xlsx"),
    (OLD_BINARY, "a workbook of the old binary form"),
)
_UTF_16 = (b"\xff\xfe", b"\xfe\xff")
_WANTED = "a text file: Touchstone (.s1p, .s2p) or CSV; or a workbook saved as .xlsx"
_PAGE = ("<html", "<!doctype html", "<table")


def decode(name: str, data: bytes) -> list[str]:
    """The lines of a text file: UTF-8 or UTF-16 with or without mark, else Windows Latin; any line ending.

    Of a workbook (.xlsx) they are the rows of its only table.

    Raises
    ------
    FileProblem
        For an empty file, one above 20 MB, a picture, or anything else that is not text.
    """
    if len(data) > LARGEST_BYTES:
        size = f"{len(data) / 1e6:.1f} MB"
        raise FileProblem(name, 1, 1, f"the file has {size}", f"at most {LARGEST_BYTES // 1_000_000} MB")
    if is_spreadsheet(data):
        return lines_of_spreadsheet(name, data)
    if not data.strip(b"\x00 \t\r\n\xef\xbb\xbf"):
        raise FileProblem(name, 1, 1, "the file is empty", _WANTED)
    if not data.startswith(_UTF_16) and data.count(0) * 4 < len(data):
        data = data.rstrip(b"\x1a\x00")  # an end of file mark or padding, as some instruments leave
    for magic, what in _MAGIC:
        if data.startswith(magic) and (magic != b"BM" or b"\x00" in data[:64]):
            raise FileProblem(name, 1, 1, f"the file is {what}", _WANTED)
    text = _text(data)
    if text is None:
        before = data[: data.index(b"\x00")]
        line = before.count(b"\n") + 1
        column = len(before) - (before.rfind(b"\n") + 1) + 1
        raise FileProblem(name, line, column, "a zero byte, so it is not a text file", _WANTED)
    if text[:200].lstrip().lower().startswith(_PAGE):
        raise FileProblem(name, 1, 1, "the file is a web page", f"{_WANTED}; not the page that shows it")
    if "\r" in text:
        text = text.replace("\r\n", "\n").replace("\r", "\n")
    count = text.count("\n") + 1
    if count > MOST_LINES:
        raise FileProblem(name, MOST_LINES, 1, f"the file has {count} lines", f"at most {MOST_LINES}")
    lines = text.split("\n")
    longest = max(range(count), key=lambda i: len(lines[i]))
    if len(lines[longest]) > LINE_LETTERS:
        found = f"a line of {len(lines[longest])} characters"
        raise FileProblem(name, longest + 1, LINE_LETTERS, found, f"lines of at most {LINE_LETTERS}, one per point")
    return lines


def _text(data: bytes) -> str | None:
    if data.startswith(_UTF_16):
        return data.decode("utf-16", "replace")
    if b"\x00" in data:
        return _without_mark(data)
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("cp1252", "replace")


def _without_mark(data: bytes) -> str | None:
    """UTF-16 that does not say so: of letters as tables have them every other byte is zero."""
    for first, codec in ((1, "utf-16-le"), (0, "utf-16-be")):
        zeros, others = data[first::2], data[1 - first :: 2]
        if zeros.count(0) * 10 >= len(zeros) * 9 and 0 not in others:
            return data.decode(codec, "replace")
    return None


def too_many_points(name: str, line: int, count: int) -> FileProblem:
    return FileProblem(
        name,
        line,
        1,
        f"the file holds {grouped(count)} points",
        f"at most {grouped(LARGEST_POINTS)} sweep with fewer points, or split the file",
    )
