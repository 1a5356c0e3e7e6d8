"""Photographs: checked by their content, scaled, and without what a camera wrote about place and person."""

import io
from dataclasses import dataclass

from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

from levelmoor.core.words.bounds import PIXELS
from levelmoor.formats.problem import FileProblem

LONGEST_SIDE = 1600
LARGEST_BYTES = 20_000_000
TYPES = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}


@dataclass(frozen=True)
class Photograph:
    """A picture as it is kept: bytes, size in pixels, media type."""

    data: bytes
    width: int
    height: int
    media_type: str


def read_photograph(name: str, data: bytes) -> Photograph:
    """A JPEG, PNG or WebP turned upright, scaled to 1600 pixels at most, written anew without any metadata.

    Raises
    ------
    FileProblem
        If it is none of these by its content, whatever its name says, or too large.
    """
    if len(data) > LARGEST_BYTES:
        raise FileProblem(name, 1, 1, f"{len(data) / 1e6:.0f} MB", f"at most {LARGEST_BYTES / 1e6:.0f} MB")
    # The PDF's library lets cut-off pictures pass for the whole process; here they are refused.
    ImageFile.LOAD_TRUNCATED_IMAGES = False
    try:
        with Image.open(io.BytesIO(data), formats=tuple(TYPES)) as image:
            kind = image.format or ""
            if image.width * image.height > PIXELS:
                raise FileProblem(
                    name,
                    1,
                    1,
                    f"{image.width} by {image.height} pixels",
                    "a picture of at most 16 million; scale it down first",
                )
            image.thumbnail((LONGEST_SIDE, LONGEST_SIDE))  # before all else, so that only one whole picture is held
            return _written(ImageOps.exif_transpose(image), kind)
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as problem:
        if isinstance(problem, FileProblem):
            raise
        raise FileProblem(name, 1, 1, "not a readable picture", "a JPEG, PNG or WebP file") from None


def _written(image: Image.Image, kind: str) -> Photograph:
    """The pixels alone: a new image carries over no EXIF, no comment and no profile."""
    bare = image.convert("RGBA" if kind != "JPEG" and "A" in image.getbands() else "RGB")
    clean = Image.new(bare.mode, bare.size)
    clean.paste(bare)
    out = io.BytesIO()
    clean.save(out, kind, **({"quality": 85} if kind != "PNG" else {"optimize": True}))
    return Photograph(out.getvalue(), clean.width, clean.height, TYPES[kind])


def media_type(data: bytes) -> str:
    """The media type of a kept picture by its first bytes."""
    if data.startswith(b"\x89PNG"):
        return TYPES["PNG"]
    return TYPES["WEBP"] if data[8:12] == b"WEBP" else TYPES["JPEG"]
