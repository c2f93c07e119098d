"""A photograph as evidence."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from lowfold.core.errors import LowfoldError

__all__ = ["LARGEST_FILE", "NoPicture", "Picture", "WrongKind"]

LARGEST_FILE: Final = 10_000_000  #: bytes, as it comes


class WrongKind(LowfoldError):
    """A file that is none of the kinds of picture taken."""


class NoPicture(LowfoldError):
    """A file that says it is a picture and cannot be read as one."""


@dataclass(frozen=True, slots=True)
class Picture:
    """A photograph as it is kept and served."""

    media: str  #: media type of `image`
    width: int  #: pixels
    height: int
    image: bytes
    sha256: str  #: of `image`, in hexadecimal figures
    thumbnail: bytes  #: a JPEG
