"""Zips that come from outside: what they would unpack to is looked at before anything is unpacked."""

import io
import zipfile
import zlib

from levelmoor.core.words.bounds import ZIP_ENTRIES

_PACKED = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED)


class ZipProblem(ValueError):
    """Why a zip is not taken."""


def members_of(data: bytes, most_bytes: int) -> dict[str, bytes]:
    """The entries of a zip by name, folders left out.

    Raises
    ------
    ZipProblem
        Where it is damaged, too large, packed in an unusual way, or has two entries of one name.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            listed = archive.infolist()
            if len(listed) > ZIP_ENTRIES:
                raise ZipProblem(f"the zip has {len(listed)} entries; at most {ZIP_ENTRIES} are allowed")
            if sum(info.file_size for info in listed) > most_bytes:
                raise ZipProblem(f"the zip unpacks to more than {most_bytes / 1e6:g} MB")
            if len({info.filename for info in listed}) < len(listed):
                raise ZipProblem("the zip has two entries of one name")
            odd = next((i.filename for i in listed if i.compress_type not in _PACKED), "")
            if odd:
                raise ZipProblem(f"{odd[:60]} uses an unknown compression; use deflate")
            return {info.filename: archive.read(info) for info in listed if not info.is_dir()}
    except ZipProblem:
        raise
    except (zipfile.BadZipFile, zlib.error, EOFError, OSError, ValueError, RuntimeError) as problem:
        raise ZipProblem(f"the zip is damaged ({problem})") from None
