"""Lottie files of the years before the format was settled, brought to what it has been since.

Until 4.1.9 colours of fills and pens went from 0 to 255, and until 4.4.18 whether a path is closed stood beside it.
"""

from typing import Any

from deftarc.formats.read.lottie.source import Told

BYTES_BEFORE = (4, 1, 9)
CLOSED_BESIDE_BEFORE = (4, 4, 18)


def modern(told: Told) -> None:
    """Changes what was read in place."""
    version = _version(told.get("v"))
    if version is None or version >= CLOSED_BESIDE_BEFORE:
        return
    rows = [told.get("layers")]
    assets = told.get("assets")
    rows += [each.get("layers") for each in assets if isinstance(each, dict)] if isinstance(assets, list) else []
    for layers in rows:
        for each in layers if isinstance(layers, list) else []:
            if isinstance(each, dict):
                _masks(each)
                _shapes(each.get("shapes"), version < BYTES_BEFORE)


def _version(told: Any) -> tuple[int, ...] | None:
    parts = told.split(".") if isinstance(told, str) else []
    return tuple(map(int, parts)) if parts and all(part.isdigit() and len(part) < 6 for part in parts) else None


def _masks(layer: Told) -> None:
    masks = layer.get("masksProperties")
    for each in masks if isinstance(masks, list) else []:
        if isinstance(each, dict):
            _close(each.get("pt"), each.get("cl"))


def _shapes(items: Any, in_bytes: bool) -> None:
    for each in items if isinstance(items, list) else []:
        if not isinstance(each, dict):
            continue
        if each.get("ty") == "gr":
            _shapes(each.get("it"), in_bytes)
        elif each.get("ty") == "sh":
            _close(each.get("ks"), each.get("closed"))
        elif each.get("ty") in ("fl", "st") and in_bytes and isinstance(each.get("c"), dict):
            _from_bytes(each["c"])


def _close(shape: Any, closed: Any) -> None:
    """A path, still or in keys, says itself whether it is closed."""
    if not isinstance(shape, dict):
        return
    told = shape.get("k")
    rows = (
        [each.get(name) for each in told if isinstance(each, dict) for name in ("s", "e")]
        if isinstance(told, list)
        else [told]
    )
    for each in rows:
        for one in each if isinstance(each, list) else [each]:
            if isinstance(one, dict):
                one.setdefault("c", bool(closed))


def _from_bytes(colour: Told) -> None:
    told = colour.get("k")
    if not isinstance(told, list):
        return
    if all(isinstance(each, int | float) for each in told):
        colour["k"] = [each / 255 for each in told]
        return
    for each in told:
        for name in ("s", "e") if isinstance(each, dict) else ():
            if isinstance(each.get(name), list):
                each[name] = [n / 255 if isinstance(n, int | float) else n for n in each[name]]


__all__ = ["modern"]
