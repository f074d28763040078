"""Reference pictures: PNG and JPEG made small and harmless."""

from __future__ import annotations

import io
import warnings

MOST_PIXELS = 40_000_000
"""A picture with more is not opened: a few bytes can claim any size."""
LARGEST_SIDE = 2048
QUALITY = 88


class UnreadablePicture(ValueError):
    """It is no PNG or JPEG, is broken, or is too large; the message says which."""


def read_picture(data: bytes) -> bytes:
    """The picture upright and drawn anew, no side longer than LARGEST_SIDE: as PNG where it was one, as JPEG otherwise.

    Nothing but its pixels is kept. Raises UnreadablePicture.
    """
    from PIL import Image, ImageOps, UnidentifiedImageError

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            picture = Image.open(io.BytesIO(data), formats=("PNG", "JPEG"))
        if picture.width * picture.height > MOST_PIXELS:
            raise UnreadablePicture(f"the picture has {picture.width} × {picture.height} pixels, {MOST_PIXELS // 1_000_000} million are the most")
        is_png = picture.format == "PNG"
        picture.load()
        upright = ImageOps.exif_transpose(picture)
        upright.thumbnail((LARGEST_SIDE, LARGEST_SIDE))
        out = io.BytesIO()
        clean = Image.new("RGBA" if is_png else "RGB", upright.size)
        clean.paste(upright.convert(clean.mode))
        clean.save(out, "PNG" if is_png else "JPEG", **({} if is_png else {"quality": QUALITY}))
        return out.getvalue()
    except UnidentifiedImageError as error:
        raise UnreadablePicture("this is no PNG and no JPEG") from error
    except Image.DecompressionBombError as error:
        raise UnreadablePicture("the picture claims more pixels than can be opened") from error
    except (OSError, SyntaxError, ValueError) as error:
        if isinstance(error, UnreadablePicture):
            raise
        raise UnreadablePicture("the picture is broken off or damaged") from error


def media_type(data: bytes) -> str:
    """Of a picture as `read_picture` gives it."""
    return "image/png" if data.startswith(b"\x89PNG") else "image/jpeg"
