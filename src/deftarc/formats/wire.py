"""The FrameTable on the wire: a short header in JSON, then float32 in native little-endian order.

Version 2: 4 bytes ``u32`` header length, the header padded with blanks to a multiple of 4, then for each item in
turn its rows of seven numbers (a, b, c, d, e, f, opacity), one row where nothing changes; then the blocks the
header lists under ``look``, each with its rows and width; then under ``outline`` its rows of points.
"""

import json
from typing import Any

import numpy as np
import orjson

from deftarc.core.evaluate import FrameTable, wire_rows

VERSION = 2


def pack(head: dict[str, Any], blobs: list[bytes]) -> bytes:
    """A message of a JSON head and binary parts whose lengths the head tells."""
    text = orjson.dumps(head)
    text += b" " * (-len(text) % 4)
    return b"".join([len(text).to_bytes(4, "little"), text, *blobs])


def unpack(message: bytes) -> tuple[dict[str, Any], bytes]:
    """The head and the binary rest of a packed message."""
    length = int.from_bytes(message[:4], "little")
    return json.loads(message[4 : 4 + length]), message[4 + length :]


def table_parts(table: FrameTable, first: int, only: set[str] | None = None) -> tuple[dict[str, Any], list[bytes]]:
    """Header and binary parts of a table whose first row is frame ``first``; of some layers, if ``only`` says so."""
    entries: list[dict[str, Any]] = []
    blobs: list[bytes] = []
    for item in table.leaves:
        if only is not None and item.layer not in only:
            continue
        rows = wire_rows(item)
        entry: dict[str, Any] = {"layer": item.layer, "rows": len(rows), "shows": list(item.shows)}
        blobs.append(rows.astype("<f4", copy=False).tobytes())
        if item.look:
            entry["look"] = [{"name": name, "rows": len(v), "wide": v.shape[1]} for name, v in item.look.items()]
            blobs.extend(v.astype("<f4").tobytes() for v in item.look.values())
        if item.outline is not None:
            verbs, points = item.outline
            entry["outline"] = {"verbs": verbs, "rows": len(points), "wide": 2 * points.shape[1]}
            blobs.append(points.astype("<f4").tobytes())
        entries.append(entry)
    return {"version": VERSION, "first": first, "count": len(table.times), "items": entries}, blobs


def read_table(head: dict[str, Any], rest: bytes) -> dict[str, np.ndarray[tuple[int, int], np.dtype[np.float32]]]:
    """The rows of seven of each layer of a packed table, for tests and other programs."""
    out = {}
    at = 0
    for entry in head["items"]:
        size = entry["rows"] * 28
        out[entry["layer"]] = np.frombuffer(rest[at : at + size], "<f4").reshape(-1, 7)
        at += size + 4 * sum(block["rows"] * block["wide"] for block in _blocks(entry))
    return out


def _blocks(entry: dict[str, Any]) -> list[dict[str, Any]]:
    return [*entry.get("look", []), *([entry["outline"]] if "outline" in entry else [])]
