"""The FrameTable on the wire: a short header in JSON, then float32 in native little-endian order.

Version 5: 4 bytes ``u32`` header length, the header padded with blanks to a multiple of 4, then for each item in
turn its rows of seven numbers (a, b, c, d, e, f, opacity), one row where nothing changes; then the blocks the
header lists under ``look``, each with its rows and width; then those of each of its ``effects``; then its
``outline`` or ``dots``; then those of its ``masks``, feather, opacity and outline each. An outline has ``verbs`` and
rows of as many points, or, where its verbs change, a list of verbs and of ``sizes`` and all rows' numbers in turn.
Of dots there are those of some of the table's rows, from ``first`` on, where ``starts`` has them begin.
Groups painted as one are items, too, after all leaves; they list their ``children``. What is drawn for a matte alone is
an item that is no one's child.
"""

import json
from typing import Any

import numpy as np
import orjson

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.evaluate import Branch, FrameTable, Group, Leaf, MaskAt, outermost, walk, wire_rows
from deftarc.core.evaluate.dots import Dots
from deftarc.core.evaluate.smear import Smear
from deftarc.core.spaces.outlines import Outlines

VERSION = 5


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


def table_parts(
    table: FrameTable, first: int, only: set[str] | None = None, near: tuple[int, int] = (0, limits.MAX_DOTS_SENT)
) -> tuple[Head, list[bytes]]:
    """Header and binary parts of a table whose first row is frame ``first``; of some layers, if ``only`` says so. Of
    rings and particles it has those at and around the row ``near`` names, about so many together.

    Where there are groups painted as one, ``roots`` names what lies outside all of them, from the bottom up.
    """
    entries: list[Head] = []
    blobs: list[bytes] = []
    for branch in table.branches:
        if only is None or branch.layer in only or outermost(branch.layer) in only:
            entries.append(_entry(branch, blobs, near))
    told = table.groups or any(branch.matte is not None for branch in table.every)
    roots = [branch.layer for branch in table.roots] if told else None
    return {"version": VERSION, "first": first, "count": len(table.times), "items": entries, "roots": roots}, blobs


def smear_parts(smear: Smear, most: int = 10 * limits.MAX_DOTS_SENT) -> tuple[Head, list[bytes]]:
    """Header and binary parts of what smears: its items, those in its groups among them, at the ``moments`` of each
    frame, and by name how many of those show. Rings and particles of more than ``most`` rows do not.
    """
    fits = {each.layer for each in smear.table.every if not (isinstance(each, Leaf) and each.dots is not None
            and each.dots.counts.sum() > most)}  # fmt: skip
    names = {each.layer for each in smear.table.every if each.layer in smear.counts and _all_in(each, fits)}
    due = [each for each in smear.table.every if each.layer in names]
    wanted = {each.layer for branch in due for each in walk((branch,))}
    entries: list[Head] = []
    blobs: list[bytes] = []
    for branch in smear.table.branches:
        if branch.layer in wanted:
            entries.append(_entry(branch, blobs, (0, most)))
    counts = {name: each.tolist() for name, each in smear.counts.items() if name in names}
    return {"items": entries, "moments": smear.moments.tolist(), "counts": counts}, blobs


def _all_in(branch: Branch, names: set[str]) -> bool:
    return all(each.layer in names for each in walk((branch,)))


def dots_parts(table: FrameTable, first: int, near: int) -> tuple[Head, list[bytes]]:
    """Header and binary parts of a table's rings and particles alone, by the names of what shows them, at and around a
    row; the first row is frame ``first``.
    """
    told: Head = {}
    blobs: list[bytes] = []
    for branch in table.branches:
        if isinstance(branch, Leaf) and branch.dots is not None:
            told[branch.layer] = _dots(branch.dots, blobs, (near, limits.MAX_DOTS_SENT), first)
    return told, blobs


def _entry(branch: Branch, blobs: list[bytes], near: tuple[int, int]) -> Head:
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
        entry["outline"] = _outline(branch.outline, blobs)
    if isinstance(branch, Leaf) and branch.dots is not None:
        entry["dots"] = _dots(branch.dots, blobs, near)
    if isinstance(branch, Leaf) and branch.wash:
        entry["wash"] = True
    if branch.masks:
        entry["masks"] = [_mask(each, blobs) for each in branch.masks]
    if branch.matte is not None:
        entry["matte"] = {"layer": branch.matte.branch.layer, "by": branch.matte.by, "inverted": branch.matte.inverted}
    return entry


def _outline(outline: Outlines, blobs: list[bytes]) -> Head:
    blobs.append(outline.points.astype("<f4").tobytes())
    if outline.even:
        return {"verbs": outline.verbs[0], "rows": outline.rows, "wide": 2 * outline.grid.shape[1]}
    sizes = (2 * np.diff(outline.starts)).tolist()
    return {"verbs": list(outline.verbs), "sizes": sizes, "rows": 1, "wide": 2 * len(outline.points)}


def _dots(dots: Dots, blobs: list[bytes], near: tuple[int, int], before: int = 0) -> Head:
    first, last = dots.window(*near)
    starts, rows = dots.between(first, last)
    blobs.append(rows.astype("<f4").tobytes())
    return {
        "kind": dots.kind, "sides": dots.sides, "shaped": dots.shaped, "first": before + first,
        "starts": starts.tolist(), "rows": len(rows), "wide": rows.shape[1],
    }  # fmt: skip


def _mask(mask: MaskAt, blobs: list[bytes]) -> Head:
    told = _told({"feather": mask.feather[:, None], "opacity": mask.opacity[:, None]}, blobs)
    return {
        "id": mask.id, "mode": mask.mode, "inverted": mask.inverted, "rule": mask.rule, "values": told,
        "outline": _outline(mask.outline, blobs),
    }  # fmt: skip


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
    masks = [block for mask in entry.get("masks", []) for block in (*mask["values"], mask["outline"])]
    own = [entry[name] for name in ("outline", "dots") if name in entry]
    return [*entry.get("look", []), *effects, *own, *masks]
