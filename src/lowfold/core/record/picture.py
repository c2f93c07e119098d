"""A photograph as evidence."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["Picture"]


@dataclass(frozen=True, slots=True)
class Picture:
    """A photograph as it is kept and served."""

    media: str  #: media type of `image`
    width: int  #: pixels
    height: int
    image: bytes
    sha256: str  #: of `image`, in hexadecimal figures
    thumbnail: bytes  #: a JPEG
