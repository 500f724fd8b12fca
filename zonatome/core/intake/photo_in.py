"""Photos that were sent: bounded before they are read, put right, made anew as JPEG without what the camera wrote
beside them.
"""

from __future__ import annotations

import io
import warnings
from collections.abc import Mapping
from typing import Any

from PIL import Image, ImageOps, UnidentifiedImageError

from zonatome.core.errors import BadInput
from zonatome.core.intake.apart import Answer, worked_apart

MOST_BYTES = 14 * 1024 * 1024
MOST_PIXELS = 40_000_000
LONG_SIDE = 1600
SMALL = 3_000_000  # pixels: what is no larger is read where it is asked for, all else in a process of its own
KINDS = ("JPEG", "PNG")
HEIC_BRANDS = (b"heic", b"heix", b"hevc", b"heim", b"heis", b"mif1", b"msf1", b"avif")
UNREADABLE = (UnidentifiedImageError, OSError, ValueError, SyntaxError)


def refuse_heic(head: bytes) -> None:
    """Refuse a file that begins as what many phones send when nobody has asked them for JPEG.

    Raises BadInput with the key `photo`.
    """
    if head[4:8] == b"ftyp" and head[8:12] in HEIC_BRANDS:
        how = "set the phone's camera to its most compatible format, or send it from the phone's own browser"
        raise BadInput("photo", "HEIC", f"a JPEG or PNG photo; this one is HEIC: {how}")


def made_anew(content: bytes, *, name: str = "photo", as_it_is: bool = False, long_side: int = LONG_SIDE) -> bytes:
    """Return a photo as a new JPEG, upright, of at most `long_side` pixels.

    With `as_it_is` a JPEG that bears no notes of a camera and is no larger than that comes back byte by byte.
    A large one is read in a process of its own. Raises BadInput with the key `photo` for what is no photo.
    """
    if len(content) > MOST_BYTES:
        raise BadInput("photo", f"{len(content) / 2**20:.0f} MB", f"at most {MOST_BYTES // 2**20} MB")
    refuse_heic(content[:12])
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            picture = Image.open(io.BytesIO(content), formats=KINDS)  # its head only
            pixels = picture.width * picture.height
            if pixels > MOST_PIXELS:
                raise BadInput(
                    "photo", f"{picture.width} x {picture.height}", f"at most {MOST_PIXELS // 10**6} million pixels"
                )
            if as_it_is and picture.format == "JPEG" and max(picture.size) <= long_side and not picture.getexif():
                picture.load()
                return content
            if pixels <= SMALL:
                return as_jpeg(picture, long_side)
    except (Image.DecompressionBombError, Image.DecompressionBombWarning) as err:
        raise BadInput("photo", name, f"at most {MOST_PIXELS // 10**6} million pixels") from err
    except BadInput:
        raise
    except UNREADABLE as err:
        raise _no_photo(name) from err
    return worked_apart("photo", {"name": name[-60:], "long_side": long_side}, content, key="photo")[1]


def photo_work(told: Mapping[str, Any], content: bytes) -> Answer:
    """Make a photo anew, whatever its size. Raises BadInput with the key `photo`."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            picture = Image.open(io.BytesIO(content), formats=KINDS)
            # a large JPEG is unpacked at half, a quarter or an eighth of its size
            picture.draft("RGB", (told["long_side"],) * 2)
            return {}, as_jpeg(picture, told["long_side"])
    except UNREADABLE as err:
        raise _no_photo(str(told["name"])) from err


def as_jpeg(picture: Image.Image, long_side: int = LONG_SIDE) -> bytes:
    """Return a picture as a JPEG of at most `long_side` pixels, upright, without notes."""
    # first: of what is transparent a resize makes copies
    upright = picture if picture.mode in ("RGB", "L") else picture.convert("RGB")
    upright.thumbnail((long_side, long_side))
    upright = ImageOps.exif_transpose(upright)
    kept = io.BytesIO()
    upright.convert("RGB").save(kept, "JPEG", quality=85)
    return kept.getvalue()


def _no_photo(name: str) -> BadInput:
    words = f"{name[-60:]} is no photo: choose a JPEG or PNG."
    return BadInput("photo", name, "a JPEG or PNG photo that can be read", words=words)
