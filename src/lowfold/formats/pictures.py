"""Photographs in: decoded, turned as they say, and encoded anew without what they carry along.

What is kept is made by the imaging library from the pixels alone, so that no place, no camera and
nothing hidden behind the picture comes with it. A file is told by its content, not by its name.
"""

from __future__ import annotations

import hashlib
import io
import struct
import warnings
import zlib
from typing import Final

from PIL import Image, ImageOps, UnidentifiedImageError

from lowfold.core.errors import LowfoldError
from lowfold.core.record.picture import NoPicture, Picture, WrongKind

__all__ = ["MOST_PIXELS", "check_picture", "read_picture"]

MOST_PIXELS: Final = 40_000_000  #: decoded, some 160 MB
LONGEST_SIDE: Final = 30_000
THUMBNAIL: Final = (960, 720)  #: enough for a third of a page
QUALITY: Final = 90
MEDIA: Final = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}

#: What the imaging library raises where a file is not what it says.
BROKEN: Final = (
    OSError, ValueError, SyntaxError, EOFError, IndexError, KeyError, OverflowError,
    struct.error, zlib.error, Image.DecompressionBombError,
)  # fmt: skip


def read_picture(file: bytes) -> Picture:
    """Return a photograph made anew from a file.

    Parameters
    ----------
    file : bytes
        PNG, JPEG or WebP.

    Raises
    ------
    WrongKind
        Where it is another kind of file.
    NoPicture
        Where it is broken, or larger than is decoded.
    """
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # of what the file says beside its pixels
        try:
            with Image.open(io.BytesIO(file), formats=tuple(MEDIA)) as opened:
                kind = str(opened.format)
                _bounded(*opened.size)
                turned = ImageOps.exif_transpose(opened)
                pixels = _plain(turned)
        except LowfoldError:
            raise
        except UnidentifiedImageError as error:
            msg = "this is no photograph that is taken here: send a PNG, a JPEG or a WebP"
            raise WrongKind(msg, field="file") from error
        except BROKEN as error:
            msg = f"the photograph cannot be read: {str(error)[:120] or 'it is broken'}"
            raise NoPicture(msg, field="file") from error
    return _kept(pixels, MEDIA[kind], _encoded(pixels, kind))


#: How the last bytes of each kind look, so that nothing hides behind the picture.
ENDS: Final = {"image/jpeg": b"\xff\xd9", "image/png": b"IEND\xaeB`\x82"}
#: What the imaging library tells of a file that it has not written from pixels alone.
CARRIED: Final = {"exif", "icc_profile", "comment", "xmp", "photoshop", "XML:com.adobe.xmp"}


def check_picture(image: bytes, media: str) -> Picture:
    """Return a photograph that was kept elsewhere as it is, once it is seen to be no more.

    Parameters
    ----------
    image : bytes
        As it was served there.
    media : str
        What it says it is.

    Raises
    ------
    NoPicture
        Where it is broken, another kind, or carries more than its pixels.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # of what the file says beside its pixels
            with Image.open(io.BytesIO(image), formats=tuple(MEDIA)) as opened:
                kind, carried = str(opened.format), CARRIED & {*opened.info}
                _bounded(*opened.size)
                pixels = opened.convert("RGBA" if _see_through(opened) else "RGB")
    except LowfoldError:
        raise
    except BROKEN as error:
        msg = f"the photograph cannot be read: {str(error)[:120] or 'it is broken'}"
        raise NoPicture(msg, field="file") from error
    whole = image.endswith(ENDS.get(media, b""))
    if MEDIA[kind] != media or carried or not whole:
        msg = "the photograph is not as Lowfold keeps one: it is another kind, or carries more"
        raise NoPicture(msg, field="file")
    return _kept(pixels, media, image)


def _kept(pixels: Image.Image, media: str, image: bytes) -> Picture:
    # Whole pixels together first, which is quick, then to the size
    small = pixels.reduce(max(1, min(pixels.width // THUMBNAIL[0], pixels.height // THUMBNAIL[1])))
    small.thumbnail(THUMBNAIL)
    return Picture(
        media=media,
        width=pixels.width,
        height=pixels.height,
        image=image,
        sha256=hashlib.sha256(image).hexdigest(),
        thumbnail=_encoded(_on_white(small), "JPEG"),
    )


def _bounded(width: int, height: int) -> None:
    if width * height > MOST_PIXELS or max(width, height) > LONGEST_SIDE:
        msg = (
            f"the photograph has {width} × {height} pixels; up to {MOST_PIXELS // 1_000_000} "
            "million are taken: make it smaller"
        )
        raise NoPicture(msg, field="file")


def _plain(image: Image.Image) -> Image.Image:
    """Return the pixels alone, in a mode that every kind of file here can hold."""
    mode = "RGBA" if _see_through(image) else "RGB"
    found = Image.new(mode, image.size)
    found.paste(image.convert(mode))
    return found


def _see_through(image: Image.Image) -> bool:
    return image.mode in {"RGBA", "LA", "PA"} or "transparency" in image.info


def _on_white(image: Image.Image) -> Image.Image:
    if image.mode == "RGB":
        return image
    white = Image.new("RGB", image.size, "white")
    white.paste(image, mask=image.getchannel("A"))
    return white


def _encoded(image: Image.Image, kind: str) -> bytes:
    found = io.BytesIO()
    if kind == "PNG":
        image.save(found, "PNG", optimize=False)
    else:
        image.save(found, kind, quality=QUALITY)
    return found.getvalue()
