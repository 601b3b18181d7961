"""Pictures: checked by their header before a pixel is decoded, and kept as the file they came in."""

import warnings
from dataclasses import dataclass
from io import BytesIO

from PIL import Image, ImageOps, UnidentifiedImageError

from deftarc.core import limits
from deftarc.core.errors import Refusal

MEDIA = {"PNG": "image/png", "JPEG": "image/jpeg", "WEBP": "image/webp"}
#: The tag in which a camera says which way up a picture is.
ORIENTATION = 0x0112


@dataclass(frozen=True)
class CheckedPicture:
    data: bytes
    media: str
    width: int
    height: int


def check_picture(data: bytes) -> CheckedPicture:
    """A PNG, JPEG or WebP that decodes whole and keeps the limits; Refusal otherwise.

    A picture that a camera turned is turned upright, so that no painter has to know of it.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            picture = Image.open(BytesIO(data), formats=list(MEDIA))
            if picture.width * picture.height > limits.MAX_PICTURE_PIXELS:
                raise Refusal(
                    f"This picture has {picture.width} × {picture.height} pixels; at most "
                    f"{limits.MAX_PICTURE_PIXELS // 1_000_000} million are taken. Make it smaller and try again."
                )
            media = MEDIA[str(picture.format)]
            picture.load()
            if picture.getexif().get(ORIENTATION, 1) != 1:
                upright = ImageOps.exif_transpose(picture)
                out = BytesIO()
                upright.save(out, "PNG")
                return CheckedPicture(out.getvalue(), "image/png", upright.width, upright.height)
    except Refusal:
        raise
    except (UnidentifiedImageError, Image.DecompressionBombError):
        raise Refusal("This file is no picture Deft Arc can read. It takes PNG, JPEG, WebP and SVG.") from None
    except Exception:
        # Decoders raise whatever they like on broken files.
        raise Refusal("This picture is broken or cut short. Save it again and bring it in anew.") from None
    return CheckedPicture(data, media, picture.width, picture.height)


def decode_rgba(data: bytes) -> Image.Image:
    """A picture's pixels as RGBA."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        return Image.open(BytesIO(data), formats=list(MEDIA)).convert("RGBA")
