"""Hostile fonts by name."""

import struct
from functools import cache
from io import BytesIO

import brotli
import numpy as np
from fontTools.ttLib import TTFont
from fontTools.ttLib.sfnt import SFNTReader, SFNTWriter

from deftarc.demo.signal_font import signal_font


def woff2(tables, total=None, stated=None):
    """A WOFF2 of (known table number, original length, data) as its head says, which need not be so."""
    packed = brotli.compress(b"".join(data for _, _, data in tables), quality=2)

    def variable(number):
        out = [number & 0x7F]
        while number := number >> 7:
            out.append(number & 0x7F | 0x80)
        return bytes(reversed(out))

    rows = b"".join(bytes([number]) + variable(length) for number, length, _ in tables)
    size = 48 + len(rows) + len(packed)
    head = struct.pack(
        ">4sIIHHIIHHIIIII",
        b"wOF2",
        0x00010000,
        size,
        len(tables),
        0,
        total or 1_000,
        stated or len(packed),
        1,
        0,
        0,
        0,
        0,
        0,
        0,
    )
    return head + rows + packed


def with_table(name, data):
    """The signal font with one table's bytes put in."""
    reader, out = SFNTReader(BytesIO(plain())), BytesIO()
    tables = {tag: reader[tag] for tag in reader.tables} | {name: data}
    writer = SFNTWriter(out, len(tables), reader.sfntVersion)
    for tag, told in tables.items():
        writer[tag] = told
    writer.close()
    return out.getvalue()


@cache
def plain():
    out, made = BytesIO(), TTFont(BytesIO(signal_font()))
    made.flavor = None
    made.save(out)
    return out.getvalue()


@cache
def files():
    sound = signal_font()
    dice = np.random.default_rng(3)
    flat = plain()
    out = {
        # A kilobyte that stands for gigabytes.
        "grows": woff2([(0, 300_000_000, b"\0" * 300_000_000)]),
        "says gigabytes": woff2([(0, 2_000_000_000, b"\0" * 900)], total=2_000_000_000),
        "says little": woff2([(0, 100, b"\0" * 90_000_000)], total=100),
        "no tables": woff2([]),
        "ten thousand tables": struct.pack(">4sHHHH", b"\0\1\0\0", 10_000, 0, 0, 0) + b"cmap" * 900,
        "empty": b"", "four letters": b"OTTO", "zeros": b"\0\1\0\0" + b"\0" * 900, "text": b"a font of signals",
        "collection": b"ttcf" + b"\0" * 90,
        # All letters there could be, in one group of sixteen bytes.
        "every letter": with_table("cmap", struct.pack(">HHHHI", 0, 1, 3, 10, 12) + struct.pack(">HHIII", 12, 0, 28, 0, 1) + struct.pack(">III", 0, 0x7FFFFFFF, 1)),
        "groups": with_table("cmap", struct.pack(">HHHHI", 0, 1, 3, 10, 12) + struct.pack(">HHIII", 12, 0, 16 + 12 * 60_000, 0, 60_000) + b"".join(struct.pack(">III", 0, 0x10FFFF, 1) for _ in range(60_000))),
    }  # fmt: skip
    for name in (
        "cmap",
        "glyf",
        "loca",
        "head",
        "hhea",
        "hmtx",
        "maxp",
        "name",
        "GSUB",
        "GPOS",
        "kern",
        "fvar",
        "CFF ",
    ):
        for kind, data in (("empty", b""), ("ones", b"\xff" * 600), ("zeros", b"\0" * 600)):
            out[f"{name} of {kind}"] = with_table(name, data)
    for n in range(14):
        noisy = bytearray(flat)
        for at in dice.integers(12, len(noisy), 40):
            noisy[at] = int(dice.integers(0, 256))
        out[f"noise {n}"] = bytes(noisy)
        out[f"cut {n}"] = flat[: (n + 1) * len(flat) // 16]
    for n in range(6):
        noisy = bytearray(sound)
        for at in dice.integers(4, len(noisy), 6):
            noisy[at] = int(dice.integers(0, 256))
        out[f"packed noise {n}"] = bytes(noisy)
    return out
