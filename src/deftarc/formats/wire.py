"""The FrameTable on the wire: a short header in JSON, then float32 in native little-endian order.

Version 3: 4 bytes ``u32`` header length, the header padded with blanks to a multiple of 4, then for each item in
turn its rows of seven numbers (a, b, c, d, e, f, opacity), one row where nothing changes; then the blocks the
header lists under ``look``, each with its rows and width; then those of each of its ``effects``; then under
``outline`` its rows of points. Groups painted as one are items, too, after all leaves; they list their ``children``.
"""

import json
from typing import Any

import numpy as np
import orjson

from deftarc.core.base.arrays import Floats
from deftarc.core.evaluate import Branch, FrameTable, Group, Leaf, outermost, wire_rows

VERSION = 3


def pack(head: dict[str, Any], blobs: list[bytes]) -> bytes:
    """A message of a JSON head and binary parts whose lengths the head tells."""
    text = orjson.dumps(head)
    text += b" " * (-len(text) % 4)
    return b"".join([len(text).to_bytes(4, "little"), text, *blobs])


def unpack(message: bytes) -> tuple[dict[str, Any], bytes]:
    """The head and the binary rest of a packed message."""
    length = int.from_bytes(message[:4], "little")
    return json.loads(message[4 : 4 + length]), message[4 + length :]


Head = dict[str, Any]


def table_parts(table: FrameTable, first: int, only: set[str] | None = None) -> tuple[Head, list[bytes]]:
    """Header and binary parts of a table whose first row is frame ``first``; of some layers, if ``only`` says so.

    Where there are groups painted as one, ``roots`` names what lies outside all of them, from the bottom up.
    """
    entries: list[Head] = []
    blobs: list[bytes] = []
    for branch in table.branches:
        if only is None or branch.layer in only or outermost(branch.layer) in only:
            entries.append(_entry(branch, blobs))
    roots = [branch.layer for branch in table.roots] if table.groups else None
    return {"version": VERSION, "first": first, "count": len(table.times), "items": entries, "roots": roots}, blobs


def _entry(branch: Branch, blobs: list[bytes]) -> Head:
    rows = wire_rows(branch)
    entry: Head = {"layer": branch.layer, "rows": len(rows), "shows": list(branch.shows)}
    blobs.append(rows.astype("<f4", copy=False).tobytes())
    if branch.blend != "normal":
        entry["blend"] = branch.blend
    if isinstance(branch, Group):
        entry["children"] = [each.layer for each in branch.children]
        if branch.clip is not None:
            entry["clip"] = list(branch.clip)
    elif branch.look:
        entry["look"] = _told(branch.look, blobs)
    if branch.effects:
        entry["effects"] = [{"id": x.id, "kind": x.kind, "values": _told(x.values, blobs)} for x in branch.effects]
    if isinstance(branch, Leaf) and branch.outline is not None:
        verbs, points = branch.outline
        entry["outline"] = {"verbs": verbs, "rows": len(points), "wide": 2 * points.shape[1]}
        blobs.append(points.astype("<f4").tobytes())
    return entry


def _told(values: dict[str, Floats], blobs: list[bytes]) -> list[Head]:
    blobs.extend(rows.astype("<f4").tobytes() for rows in values.values())
    return [{"name": name, "rows": len(rows), "wide": rows.shape[1]} for name, rows in values.items()]


def read_table(head: Head, rest: bytes) -> dict[str, np.ndarray[tuple[int, int], np.dtype[np.float32]]]:
    """The rows of seven of each layer of a packed table, for tests and other programs."""
    out = {}
    at = 0
    for entry in head["items"]:
        size = entry["rows"] * 28
        out[entry["layer"]] = np.frombuffer(rest[at : at + size], "<f4").reshape(-1, 7)
        at += size + 4 * sum(block["rows"] * block["wide"] for block in blocks_of(entry))
    return out


def blocks_of(entry: Head) -> list[Head]:
    """What comes after an item's rows of seven, in turn."""
    effects = [block for effect in entry.get("effects", []) for block in effect["values"]]
    return [*entry.get("look", []), *effects, *([entry["outline"]] if "outline" in entry else [])]
