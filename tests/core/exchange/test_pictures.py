"""Reference pictures: what comes out is small, upright and nothing but pixels; what can't be one ends in words."""

from __future__ import annotations

import io
import struct
import zlib

import pytest
from PIL import Image

from wander.core.exchange.pictures import LARGEST_SIDE, UnreadablePicture, media_type, read_picture


def picture(kind: str, size: tuple[int, int], **more: object) -> bytes:
    out = io.BytesIO()
    drawn = Image.new("RGB", size, (40, 120, 90))
    drawn.putpixel((0, 0), (250, 10, 10))
    drawn.save(out, kind, **more)
    return out.getvalue()


def opened(data: bytes) -> Image.Image:
    return Image.open(io.BytesIO(data))


@pytest.mark.parametrize(("kind", "media"), [("PNG", "image/png"), ("JPEG", "image/jpeg")])
def test_a_picture_keeps_its_kind_and_its_pixels(kind: str, media: str) -> None:
    made = read_picture(picture(kind, (60, 40)))
    assert media_type(made) == media
    assert opened(made).size == (60, 40)
    assert abs(opened(made).convert("RGB").getpixel((30, 20))[1] - 120) <= 3  # type: ignore[index]


def test_a_large_picture_becomes_smaller_and_a_turned_one_upright() -> None:
    assert opened(read_picture(picture("PNG", (5000, 1000)))).size == (LARGEST_SIDE, round(LARGEST_SIDE / 5))
    turned = Image.Exif()
    turned[0x0112] = 6
    assert opened(read_picture(picture("JPEG", (60, 40), exif=turned))).size == (40, 60)


def test_nothing_but_pixels_is_kept() -> None:
    about = Image.Exif()
    about[0x010E] = "where it was taken"
    assert b"where it was taken" not in read_picture(picture("JPEG", (60, 40), exif=about))


def bomb() -> bytes:
    """A few bytes that claim 60000 x 60000 pixels."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    header = struct.pack(">IIBBBBB", 60000, 60000, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", zlib.compress(b"\0" * 1000)) + chunk(b"IEND", b"")


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "no PNG and no JPEG"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "no PNG and no JPEG"),
        (picture("GIF", (4, 4)), "no PNG and no JPEG"),
        (picture("PNG", (600, 400))[:200], "broken off"),
        (picture("JPEG", (600, 400))[:300], "broken off"),
        (bomb(), "pixels"),
        (picture("PNG", (8000, 6000)), "40 million"),
    ],
)
def test_what_is_no_picture_is_refused_in_words(data: bytes, says: str) -> None:
    with pytest.raises(UnreadablePicture, match=says):
        read_picture(data)
