"""A whole Lottie animation, as JSON and in its zipped form."""

import io
import json
import zipfile
from typing import Any

from deftarc.core.document import Scene
from deftarc.core.plain.pieces import Thing
from deftarc.core.spaces.colour import parse_colour
from deftarc.formats.write.lottie.keys import number, still
from deftarc.formats.write.lottie.moved import IDLE, placed
from deftarc.formats.write.lottie.tree import COMPOSITION, SOLID, Layer, Tree, layer_of

#: The specification it is written to: 1.0.0. ``v`` is what players from before there was one ask for.
VERSION, BEFORE = 10_000, "5.7.0"


def lottie_of(scene: Scene, tree: Tree, things: tuple[Thing, ...], scale: float = 1.0) -> dict[str, Any]:
    """What a scene's things are as an animation, ``scale`` times as large."""
    comp = tree.comp(scene.width, scene.height, things)
    length = tree.length
    if scene.background is not None:
        comp.layers.append(_background(scene, length))
    width, height = (max(1, round(side * scale)) for side in (scene.width, scene.height))
    layers = comp.all
    if scale != 1:
        tree.assets.append({"id": "all", "nm": scene.name, "layers": layers})
        own = placed(0, 0, width / scene.width, height / scene.height) | {"o": still(100)}
        size = {"w": scene.width, "h": scene.height}
        layers = [layer_of(COMPOSITION, nm=scene.name, refId="all", **size, ip=0, op=length, st=0, ks=own)]
    rate = scene.rate.numerator / scene.rate.denominator
    return {
        "v": BEFORE, "ver": VERSION, "nm": scene.name, "fr": number(rate, 6), "ip": 0, "op": length, "w": width,
        "h": height, "ddd": 0, "assets": tree.assets, "layers": layers, "markers": _markers(scene, tree, length),
        "meta": {"g": "Deft Arc"},
    }  # fmt: skip


def _background(scene: Scene, length: float) -> Layer:
    assert scene.background is not None
    share = parse_colour(scene.background)[3]
    size = {"sw": scene.width, "sh": scene.height}
    ks = IDLE | {"o": still(number(100 * share))}
    return layer_of(SOLID, nm="Background", **size, sc=scene.background[:7], ip=0, op=length, st=0, ks=ks)


def _markers(scene: Scene, tree: Tree, length: float) -> list[dict[str, Any]]:
    told = [(tree.count.frames(float(marker.time)), marker.name) for marker in scene.markers]
    return [{"tm": time, "cm": name, "dr": 0} for time, name in told if 0 <= time < length]


def lottie_text(told: dict[str, Any]) -> str:
    return json.dumps(told, ensure_ascii=False, separators=(",", ":"), allow_nan=False)


def lottie_zip(told: dict[str, Any], name: str) -> bytes:
    """The zipped form, of version 2: the animation, and a manifest that names it."""
    manifest = {"version": "2", "generator": "Deft Arc", "animations": [{"id": name}]}
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for path, text in (("manifest.json", json.dumps(manifest)), (f"a/{name}.json", lottie_text(told))):
            entry = zipfile.ZipInfo(path, (2020, 1, 1, 0, 0, 0))
            entry.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(entry, text)
    return out.getvalue()


__all__ = ["lottie_of", "lottie_text", "lottie_zip"]
