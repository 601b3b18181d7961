"""Hostile project files by name."""

import hashlib
import json
import struct
import zipfile
from functools import cache
from io import BytesIO

from tests.hostile.fonts import files as fonts
from tests.hostile.pictures import files as pictures

SOUND = {"name": "Quillhaven", "scenes": [{"id": "one", "name": "Crossing", "layers": []}]}
NUMBERS = [
    1e300,
    -1e300,
    10_000_001,
    -10_000_001,
    2**63,
    2**70,
    "1",
    "",
    None,
    [],
    {},
    True,
    1.5,
    -1,
    0,
    36_001,
    5e-324,
]
HALVES = '{"name": "\\ud800", "scenes": [{"name": "a"}]}'


def packed(*entries, method=zipfile.ZIP_DEFLATED):
    out = BytesIO()
    with zipfile.ZipFile(out, "w", method, compresslevel=1 if method == zipfile.ZIP_DEFLATED else None) as archive:
        for name, data in entries:
            archive.writestr(name, data)
    return out.getvalue()


def project(**changes):
    return json.dumps({**SOUND, **changes})


def scene(**changes):
    return project(scenes=[{**SOUND["scenes"][0], **changes}])


def layer(**changes):
    return scene(
        layers=[{"id": "gull", "name": "Gull", "artwork": {"kind": "rectangle", "width": 9, "height": 9}, **changes}]
    )


def track(**changes):
    return layer(tracks={"rotation": {"kind": "number", "value": 0, **changes}})


def asset(data, ending, artwork=None, **more):
    name = hashlib.sha256(data).hexdigest()
    told = layer(artwork={**(artwork or {"kind": "picture", "width": 9, "height": 9}), "asset": name, **more})
    return packed(("project.json", told), (f"assets/{name}{ending}", data))


def documents():
    """Documents, each with one thing wrong."""
    out = {}
    for n, number in enumerate(NUMBERS):
        out[f"width {n}"] = scene(width=number)
        out[f"frames {n}"] = scene(frames=number)
        out[f"key time {n}"] = track(keys=[{"time": number, "value": 1}])
        out[f"key value {n}"] = track(keys=[{"time": 0, "value": number}])
        out[f"rise {n}"] = track(
            keys=[{"time": 0, "value": 1, "leaving": {"reach": 0.3, "rise": number}}, {"time": 9, "value": 1}]
        )
        out[f"side {n}"] = layer(artwork={"kind": "rectangle", "width": number, "height": 9})
        out[f"rate {n}"] = scene(rate={"numerator": number, "denominator": 1})
    out |= {
        "nan": track(value=float("nan")), "infinity": track(value=float("inf")), "surrogate": HALVES,
        "no scenes": project(scenes=[]), "too many scenes": project(scenes=SOUND["scenes"] * 60),
        "twins": scene(layers=[json.loads(layer())["scenes"][0]["layers"][0]] * 2),
        "parent of itself": layer(parent="gull"), "parent that is not": layer(parent="whale"),
        "many layers": scene(layers=[{"id": f"l{k}", "name": "L", "artwork": {"kind": "carrier"}} for k in range(1_500)]),
        "many keys": track(keys=[{"time": k, "value": k} for k in range(30_000)]),
        "keys backwards": track(keys=[{"time": 9, "value": 1}, {"time": 0, "value": 1}]),
        "unknown field": project(ferry=1), "another format": project(format=99), "unknown kind": layer(artwork={"kind": "wave"}),
        "deep": "[" * 90_000 + "]" * 90_000, "deep objects": '{"a":' * 50_000 + "1" + "}" * 50_000, "a list": "[]", "null": "null", "empty": "",
        "long name": project(name="x" * 500_000), "long number": '{"name": "a", "scenes": ' + "9" * 900_000 + "}",
        "outline broken": layer(artwork={"kind": "free", "contours": [{"points": [[0, 0, 0, 0, 0]]}]}),
        "outline empty": layer(artwork={"kind": "free", "contours": []}), "text empty": layer(artwork={"kind": "text", "text": ""}),
        "path without keys": layer(tracks={"position": {"kind": "path", "value": [0, 0], "points": [[0, 0]]}}),
        "path key beyond": layer(tracks={"position": {"kind": "path", "value": [0, 0], "points": [[0, 0]], "keys": [{"time": 0, "at": 7}]}}),
        "wrong track": layer(tracks={"rotation": {"kind": "path", "value": [0, 0]}}),
    }  # fmt: skip
    return out


def lying():
    """An archive whose entry says it is small."""
    data = bytearray(packed(("project.json", project()), ("assets/" + "0" * 64 + ".png", b"\0" * 300_000_000)))
    at = data.rfind(b"PK\x01\x02")
    data[at + 24 : at + 28] = struct.pack("<I", 900)
    return bytes(data)


@cache
def files():
    sound = project()
    drawing = b'{"nodes": []}'
    hexed = "0" * 64
    out = {f"document {name}": told.encode("utf-8", "surrogatepass") for name, told in documents().items()}
    out |= {
        "bomb": packed(("project.json", b" " * 300_000_000)), "bomb of assets": packed(("project.json", sound), (f"assets/{hexed}.png", b"\0" * 300_000_000)),
        "many bombs": packed(("project.json", sound), *((f"assets/{k:064x}.png", b"\0" * 30_000_000) for k in range(20))),
        "lying": lying(), "no document": packed(("a", b"b")), "many files": packed(("project.json", sound), *((f"a{k}", b"") for k in range(3_000))),
        "outside": packed(("project.json", sound), ("../evil", b"x")), "absolute": packed(("project.json", sound), ("/evil", b"x")),
        "backslash": packed(("project.json", sound), ("assets\\evil.png", b"x")), "unknown asset": packed(("project.json", sound), (f"assets/{hexed}.exe", b"x")),
        "wrong hash": packed(("project.json", sound), (f"assets/{hexed}.png", b"x")), "packed otherwise": packed(("project.json", sound), method=zipfile.ZIP_LZMA),
        "packed by blocks": packed(("project.json", b" " * 90_000_000), method=zipfile.ZIP_BZIP2),
        "cut": packed(("project.json", sound))[:-30], "not a zip": b"PK\x03\x04" + b"\0" * 900, "empty zip": packed(), "no bytes": b"",
        "a font for a picture": asset(b"OTTO" + b"\0" * 99, ".otf"), "a drawing for a picture": asset(drawing, ".json"), "a picture named otherwise": asset(pictures()["jpeg tail"], ".png"),
        "a picture for a logo": asset(pictures()["png tail"], ".png", {"kind": "logo", "width": 9, "height": 9}, source=hexed),
        "a broken drawing": asset(b'{"nodes": [{"kind": "shape", "outline": "M0 0Q1 1"}]}', ".json", {"kind": "logo", "width": 9, "height": 9}, source=hexed),
        "a deep drawing": asset(b'{"nodes":[{"kind":"group","nodes":[' * 3_000 + b"]}]}" * 3_000, ".json", {"kind": "logo", "width": 9, "height": 9}, source=hexed),
    }  # fmt: skip
    for name in ("bomb", "size 60000x60000", "webp noise", "exif noise"):
        out[f"picture {name}"] = asset(pictures()[name], ".png")
    for name in ("grows", "every letter", "cmap of ones"):
        out[f"font {name}"] = asset(fonts()[name], ".otf")
    return out
