"""Pictures: checked by their header before a pixel is decoded, and kept as the file they came in, where every painter
shows that alike: 8 bits a channel, grey or RGB, upright. Any other is brought to that once, when it comes in.
"""

import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from io import BytesIO

import numpy as np
from PIL import Image, ImageOps, UnidentifiedImageError

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Picture
from deftarc.formats.read.base import INPUTS, Asset, BroughtIn, Input

MEDIA = {"PNG": "image/png", "JPEG": "image/jpeg", "WEBP": "image/webp"}
#: The tag in which a camera says which way up a picture is.
ORIENTATION = 0x0112
#: Modes that browsers and painters show alike.
PLAIN = {"1", "L", "LA", "P", "PA", "RGB", "RGBA"}
BROKEN = "This picture is broken or cut short. Save it again and bring it in anew."


@dataclass(frozen=True)
class CheckedPicture:
    data: bytes
    media: str
    width: int
    height: int


@contextmanager
def _opened(data: bytes) -> Iterator[Image.Image]:
    """A picture whose header keeps the limits; Refusal for what is none, or cannot be decoded."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            picture = Image.open(BytesIO(data), formats=list(MEDIA))
            if picture.width * picture.height > limits.MAX_PICTURE_PIXELS:
                raise Refusal(
                    f"This picture has {picture.width} × {picture.height} pixels; at most "
                    f"{limits.MAX_PICTURE_PIXELS // 1_000_000} million are taken. Make it smaller and try again."
                )
            if max(picture.size) > limits.MAX_PICTURE_SIDE or min(picture.size) < 1:
                raise Refusal(
                    f"This picture is {picture.width} × {picture.height} px; no side may be longer than "
                    f"{limits.MAX_PICTURE_SIDE:,} px. Cut it and try again."
                )
            yield picture
    except Refusal:
        raise
    except (UnidentifiedImageError, Image.DecompressionBombError):
        raise Refusal("This file is no picture Deft Arc can read. It takes PNG, JPEG, WebP and SVG.") from None
    except Exception:
        # Decoders raise whatever they like on broken files.
        raise Refusal(BROKEN) from None


def check_picture(data: bytes) -> CheckedPicture:
    """A PNG, JPEG or WebP that decodes whole and keeps the limits; Refusal otherwise."""
    with _opened(data) as picture:
        media = MEDIA[str(picture.format)]
        picture.load()
        turned = picture.getexif().get(ORIENTATION, 1) != 1
        if not turned and picture.mode in PLAIN:
            return CheckedPicture(data, media, picture.width, picture.height)
        # A picture that a camera turned is turned upright, so that no painter has to know of it.
        plain = plainly(ImageOps.exif_transpose(picture) if turned else picture)
        out = BytesIO()
        if media == "image/jpeg":
            plain.save(out, "JPEG", quality=95, subsampling=0)
        else:
            media = "image/png"
            plain.save(out, "PNG", compress_level=1)
        return CheckedPicture(out.getvalue(), media, plain.width, plain.height)


def checked_header(data: bytes, media: str) -> tuple[int, int]:
    """Width and height of a picture that is of a media type and keeps the limits, by its header alone."""
    with _opened(data) as picture:
        if MEDIA[str(picture.format)] != media:
            raise Refusal("A picture is of another kind than its name says.")
        return picture.size


def plainly(picture: Image.Image) -> Image.Image:
    """A picture as 8 bits a channel of grey or RGB, with its transparency."""
    if picture.mode in PLAIN:
        return picture
    if picture.mode.startswith(("I", "F")):
        # 16 bits of grey: as bright as they say, not cut off at the first 8 of them.
        grey = np.asarray(picture, np.float64)
        scale = 257.0 if picture.mode.startswith("I") else 1.0 / 255.0
        return Image.fromarray(np.clip(np.round(grey / scale), 0, 255).astype(np.uint8), "L")
    return picture.convert("RGBA" if picture.mode in ("La", "RGBa", "RGBX") else "RGB")


def decode_rgba(data: bytes) -> Image.Image:
    """A picture's pixels as RGBA; Refusal where they cannot be decoded."""
    with _opened(data) as picture:
        return plainly(picture).convert("RGBA")


def knows(head: bytes, name: str) -> bool:
    return head[:4] in (b"\x89PNG", b"RIFF") or head[:2] == b"\xff\xd8"


def read_picture(data: bytes) -> BroughtIn:
    picture = check_picture(data)
    asset = Asset(picture.data, picture.media)
    return BroughtIn(Picture(asset=asset.hash, width=picture.width, height=picture.height), (asset,))


INPUTS.add(
    Input(
        "picture",
        "Picture",
        "artwork",
        (".png", ".jpg", ".jpeg", ".webp"),
        limits.MAX_UPLOAD_BYTES,
        knows,
        read_picture,
    )
)
