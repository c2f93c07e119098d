"""Photographs: decoded, turned, encoded anew; what is none is refused in words."""

import io
import struct
import zlib

import pytest
from PIL import Image, PngImagePlugin

from lowfold.core.record.picture import NoPicture, WrongKind
from lowfold.formats.pictures import check_picture, read_picture


def written(kind: str, size: tuple[int, int] = (64, 48), **more: object) -> bytes:
    found = io.BytesIO()
    Image.linear_gradient("L").convert("RGB").resize(size).save(found, kind, **more)
    return found.getvalue()


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_a_photograph_is_kept_in_its_kind(kind: str) -> None:
    found = read_picture(written(kind))
    assert (found.width, found.height, found.media) == (64, 48, f"image/{kind.lower()}")
    with Image.open(io.BytesIO(found.image)) as opened:
        assert (opened.format, opened.size) == (kind, (64, 48))
    with Image.open(io.BytesIO(found.thumbnail)) as small:
        assert small.format == "JPEG"
    assert check_picture(found.image, found.media).sha256 == found.sha256


def test_where_and_with_what_it_was_taken_is_not_kept() -> None:
    exif = Image.Exif()
    exif[0x010F] = "a camera's maker"
    exif.get_ifd(0x8825)[2] = (47.0, 30.0, 0.0)  # latitude, CIPA DC-008 (from memory)
    given = written("JPEG", exif=exif, comment=b"on the lake")
    assert b"camera" in given
    kept = read_picture(given).image
    assert b"camera" not in kept
    assert b"Exif" not in kept
    assert b"on the lake" not in kept


def test_it_is_turned_as_its_orientation_says() -> None:
    exif = Image.Exif()
    exif[0x0112] = 6  # the right-hand side of what is seen is the top: CIPA DC-008 (from memory)
    found = read_picture(written("JPEG", (64, 48), exif=exif))
    assert (found.width, found.height) == (48, 64)


def test_text_hidden_in_a_png_is_not_kept() -> None:
    note = PngImagePlugin.PngInfo()
    note.add_text("Comment", "secret place")
    assert b"secret" not in read_picture(written("PNG", pnginfo=note)).image


def test_see_through_parts_stay_so_and_are_white_in_small() -> None:
    given = io.BytesIO()
    Image.new("RGBA", (20, 20), (0, 0, 0, 0)).save(given, "PNG")
    found = read_picture(given.getvalue())
    with Image.open(io.BytesIO(found.image)) as opened:
        assert opened.mode == "RGBA"
    with Image.open(io.BytesIO(found.thumbnail)) as small:
        assert small.getpixel((5, 5)) == (255, 255, 255)


def bomb(width: int, height: int) -> bytes:
    """Return a PNG of few bytes that says it has so many pixels (ISO/IEC 15948; from memory)."""

    def chunk(name: bytes, data: bytes) -> bytes:
        check = zlib.crc32(name + data)
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", check)

    head = struct.pack(">IIBBBBB", width, height, 8, 0, 0, 0, 0)
    body = zlib.compress(b"\0" * 1000)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", body) + chunk(b"IEND", b"")


REFUSED = [
    (b"", WrongKind, "this is no photograph that is taken here"),
    (b"GIF89a" + b"\0" * 40, WrongKind, "this is no photograph that is taken here"),
    (b"<svg xmlns='http://www.w3.org/2000/svg'/>", WrongKind, "this is no photograph that is"),
    (b"%PDF-1.7", WrongKind, "this is no photograph that is taken here"),
    (written("JPEG")[:200], NoPicture, "the photograph cannot be read: "),
    (written("PNG")[:-30], NoPicture, "the photograph cannot be read: "),
    (bomb(60_000, 60_000), NoPicture, "the photograph "),
    (bomb(8000, 8000), NoPicture, "the photograph has 8000 × 8000 pixels; up to 40 million"),
    (bomb(31_000, 2), NoPicture, "the photograph has 31000 × 2 pixels"),
]


@pytest.mark.parametrize(("given", "kind", "words"), REFUSED)
def test_what_is_no_photograph_is_refused(given: bytes, kind: type, words: str) -> None:
    with pytest.raises(kind) as refused:
        read_picture(given)
    assert str(refused.value).startswith(words)


def test_a_photograph_kept_elsewhere_has_to_be_no_more_than_one() -> None:
    found = read_picture(written("JPEG"))
    for image, media in (
        (found.image, "image/png"),
        (found.image + b"<script>", "image/jpeg"),
        (written("JPEG", comment=b"x"), "image/jpeg"),
        (found.image[:100], "image/jpeg"),
    ):
        with pytest.raises(NoPicture):
            check_picture(image, media)
