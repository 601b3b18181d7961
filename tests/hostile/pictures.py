"""Hostile pictures by name, and some only unusual: 16 bits of grey, four inks, turned by a camera."""

import struct
import zlib
from functools import cache
from io import BytesIO

import numpy as np
from PIL import Image


def chunk(kind, data):
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


def png(width, height, rows, depth=8, colour=2, before=b""):
    head = struct.pack(">IIBBBBB", width, height, depth, colour, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", head)
        + before
        + chunk(b"IDAT", zlib.compress(rows, 1))
        + chunk(b"IEND", b"")
    )


def saved(picture, kind, **told):
    out = BytesIO()
    picture.save(out, kind, **told)
    return out.getvalue()


@cache
def files():
    small = Image.new("RGB", (8, 6), "#b23a26")
    sound = saved(small, "PNG")
    jpeg, webp = saved(small, "JPEG"), saved(small, "WEBP")
    out = {
        f"size {width}x{height}": png(width, height, b"\0" * 64)
        for width, height in ((0, 0), (1, 0), (2**31 - 1, 1), (1, 2**31 - 1), (2**31 - 1, 2**31 - 1), (60_000, 60_000), (100_000, 2),
                              (2, 100_000), (16_385, 1), (7_000, 7_100), (2**32 - 1, 5))
    }  # fmt: skip
    out["bomb"] = png(7_000, 7_000, b"\0" * (7_000 * 3 + 1) * 7_000)
    out["bomb of 16 bits"] = png(6_000, 6_000, b"\0" * (6_000 * 8 + 1) * 6_000, 16, 6)
    out["text bomb"] = png(2, 2, b"\0" * 14, before=chunk(b"zTXt", b"a\0\0" + zlib.compress(b"x" * 90_000_000, 1)))
    out["profile bomb"] = png(2, 2, b"\0" * 14, before=chunk(b"iCCP", b"a\0\0" + zlib.compress(b"x" * 90_000_000, 1)))
    out["many chunks"] = png(2, 2, b"\0" * 14, before=chunk(b"tEXt", b"a\0b") * 90_000)
    out["rows missing"] = png(500, 500, b"\0" * 9)
    for depth in (0, 3, 7, 16, 255):
        for colour in (0, 1, 3, 7):
            out[f"depth {depth} colour {colour}"] = png(4, 4, b"\0" * 200, depth, colour)
    for name, data in (("png", sound), ("jpeg", jpeg), ("webp", webp)):
        out[f"{name} cut"] = data[: len(data) // 2]
        out[f"{name} head"] = data[:20]
        out[f"{name} noise"] = data[:30] + bytes(np.random.default_rng(7).integers(0, 256, 3_000, np.uint8))
        out[f"{name} twice"] = data * 2
        out[f"{name} tail"] = data + b"\0" * 2_000_000
        out[f"{name} zeros"] = data[:40] + b"\0" * (len(data) - 40)
    out["jpeg of another size"] = jpeg.replace(struct.pack(">HH", 6, 8), struct.pack(">HH", 65_500, 65_500))
    out["grey of 16 bits"] = saved(Image.fromarray(np.linspace(0, 65_535, 48).reshape(6, 8).astype(np.uint16)), "PNG")
    out["four inks"] = saved(Image.new("CMYK", (8, 6), (10, 200, 200, 30)), "JPEG")
    turned = Image.Exif()
    turned[0x0112] = 6
    out["turned"] = saved(small, "JPEG", exif=turned)
    turned[0x0112] = 99
    out["turned no way"] = saved(small, "JPEG", exif=turned)
    out["exif noise"] = saved(small, "JPEG", exif=b"Exif\0\0MM" + b"\xff" * 900)
    frames = [Image.new("RGB", (64, 64), (k, 9, 9)) for k in range(60)]
    out["moving webp"] = saved(frames[0], "WEBP", save_all=True, append_images=frames[1:])
    out["moving png"] = saved(frames[0], "PNG", save_all=True, append_images=frames[1:])
    out["gif"] = saved(small, "GIF")
    out["tiff"] = saved(small, "TIFF")
    out["bmp"] = saved(small, "BMP")
    out["nothing"] = b""
    out["text"] = b"a picture of a ferry"
    out["riff"] = b"RIFF\xff\xff\xff\xffWEBPVP8 " + b"\xff" * 90
    return out
