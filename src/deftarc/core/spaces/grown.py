"""Outlines moved out or in by px: GEOS's buffers of what an outline fills, on outlines flattened within 1/40 px."""

from typing import Literal

import numpy as np
import shapely
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.spaces.contours import spans_of
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.outlines import Outlines, alike_over_time

#: Px that a flattened curve may be off, and the most parts one span is flattened into.
FLAT = 0.025
MOST_PARTS = 200
#: The most points an outline may be flattened to.
MOST_POINTS = 60_000
#: Regions worked out before, by their points from the first one on, and where that was.
_KNOWN: "dict[bytes, tuple[Floats, shapely.Geometry]]" = {}
MOST_KNOWN = 1024
#: Points of what is kept: a letter has fewer, and larger ones seldom come twice.
MOST_KEPT = 1_500
Join = Literal["round", "miter", "bevel"]
Rule = Literal["nonzero", "evenodd"]
_JOINS: dict[Join, Literal["round", "mitre", "bevel"]] = {"round": "round", "miter": "mitre", "bevel": "bevel"}


class Filled:
    """What an outline fills, as a region that can be grown again and again; its lines, where it fills nothing."""

    def __init__(self, outline: Outline, rule: Rule = "nonzero") -> None:
        rings = [flat(each.controls, each.bent) for each in spans_of(outline)]
        if sum(len(ring) for ring in rings) > MOST_POINTS:
            raise Refusal("This outline is too fine to be grown. Simplify it first.")
        self.region = _region(rings, rule)

    def grown(self, by: float, join: Join = "round") -> Outline:
        """The outline of the region moved out by px, in where below nought."""
        # So many parts of a quarter circle that its chords are off no more than other curves are.
        parts = int(np.clip(np.ceil(np.pi / 4 / np.arccos(max(1 - FLAT / max(abs(by), FLAT), 0.5))), 2, 48))
        made = shapely.buffer(
            self.region, by, quad_segs=parts, join_style=_JOINS[join], cap_style="flat", mitre_limit=4.0
        )
        return _outline(made)


def grown(outlines: Outlines, by: Floats, rule: Rule = "nonzero", join: Join = "round") -> Outlines:
    """Outlines over time grown by px over time, (F or 1,)."""
    told = [(min(k, outlines.rows - 1), float(by[min(k, len(by) - 1)])) for k in range(max(outlines.rows, len(by)))]
    alike = alike_over_time(outlines) if outlines.rows > 1 else None
    whole = alike.whole if alike is not None and alike.firsts.size else None
    largest = max((at for at, far in told if far), key=whole.__getitem__, default=0) if whole is not None else 0
    kept: dict[int, Filled] = {}

    def one(at: int, far: float) -> Outline:
        if not far:
            return outlines.at(at)
        of = at if whole is None else largest
        if of not in kept:
            kept[of] = Filled(outlines.at(of), rule)
        if whole is None or alike is None:
            return kept[of].grown(far, join)
        # One that only moves and grows as a whole is what it is where it is largest, made smaller.
        size, first = whole[at] / whole[of], alike.firsts[:, 0]
        there = kept[of].grown(far / size, join)
        return Outline(there.verbs, (there.points - first[of]) * size + first[at])

    made = {each: one(*each) for each in dict.fromkeys(told)}
    return Outlines.each([made[each] for each in told])


def flat(controls: Floats, bent: "np.ndarray[tuple[int], np.dtype[np.bool_]]") -> Floats:
    """A contour's spans (S, 4, 2) as points (n, 2), a curve's as many as keep within FLAT of it."""
    second = np.abs(np.diff(controls, n=2, axis=1)).max(axis=(1, 2))
    parts = np.where(bent, np.clip(np.ceil(np.sqrt(0.75 * second / FLAT)), 2, MOST_PARTS), 1).astype(int)
    out = [controls[:1, 0]]
    for row, count in zip(controls, parts, strict=True):
        u = (np.arange(1, count + 1) / count)[:, None]
        v = 1 - u
        out.append(v**3 * row[0] + 3 * v * v * u * row[1] + 3 * v * u * u * row[2] + u**3 * row[3])
    return np.concatenate(out)


def _region(rings: list[Floats], rule: Rule) -> "shapely.Geometry":
    """What rings fill by a rule. Those that lie apart are worked out apart, and those of a shape that was worked out
    before, as a text has them, are that shape again.
    """
    rings = [ring for ring in rings if len(ring) > 2]
    if not rings:
        return shapely.Polygon()
    boxes = shapely.box(*np.array([[*ring.min(axis=0), *ring.max(axis=0)] for ring in rings]).T)
    near = shapely.STRtree(boxes).query(boxes, predicate="intersects")
    links = coo_array((np.ones(near.shape[1]), near), shape=(len(rings), len(rings)))
    many, group = connected_components(links, directed=False)
    parts: list[shapely.Geometry] = []
    for n in range(many):
        mine = [rings[k] for k in np.flatnonzero(group == n)]
        first = mine[0][0]
        there, region = _known_faces(mine, first, rule)
        moved = region if np.array_equal(there, first) else shapely.transform(region, (first - there).__add__)
        parts += shapely.get_parts(moved).tolist()
    return shapely.multipolygons(parts) if len(parts) != 1 else parts[0]


def _known_faces(rings: list[Floats], first: Floats, rule: Rule) -> "tuple[Floats, shapely.Geometry]":
    """What rings fill, worked out where they lie or where the same ones lay before, and where their first point was."""
    if sum(map(len, rings)) > MOST_KEPT:
        return first, _faces(rings, rule)
    name = rule.encode() + b"".join(np.round(ring - first, 6).tobytes() + b"|" for ring in rings)
    # Taken out once: another page may need the room meanwhile.
    found = _KNOWN.get(name)
    if found is None:
        # Where they lie: moved by no round number, a point on another's line would be so no more.
        found = first, _faces(rings, rule)
        if len(_KNOWN) >= MOST_KNOWN:
            _KNOWN.clear()
        _KNOWN[name] = found
    return found


def _faces(rings: list[Floats], rule: Rule) -> "shapely.Geometry":
    """The faces that the rings' lines part the plane into, those that the rule fills."""
    closed = [np.concatenate([ring, ring[:1]]) for ring in rings]
    simple = shapely.polygons([shapely.linearrings(ring) for ring in closed])
    if len(closed) == 1 and bool(shapely.is_valid(simple[0])):
        return simple[0]
    lines = shapely.unary_union([shapely.LineString(ring) for ring in closed])
    faces = shapely.get_parts(shapely.polygonize([*shapely.get_parts(lines)]))
    if not len(faces):
        return shapely.Polygon()
    spots = shapely.get_coordinates(shapely.point_on_surface(faces))
    winding = sum(_windings(ring, spots) for ring in closed)
    inside = winding % 2 != 0 if rule == "evenodd" else winding != 0
    return shapely.unary_union(faces[np.asarray(inside, bool)])


def _windings(ring: Floats, spots: Floats) -> "np.ndarray[tuple[int], np.dtype[np.int64]]":
    """How often a ring (n, 2), closed, goes round spots (m, 2): crossings of the ray to the right, with their sense."""
    a, b = ring[:-1], ring[1:]
    x, y = spots[:, 0:1], spots[:, 1:2]
    up = (a[:, 1] <= y) & (b[:, 1] > y)
    down = (a[:, 1] > y) & (b[:, 1] <= y)
    left = (b[:, 0] - a[:, 0]) * (y - a[:, 1]) - (x - a[:, 0]) * (b[:, 1] - a[:, 1])
    return np.asarray((up & (left > 0)).sum(axis=1) - (down & (left < 0)).sum(axis=1), np.int64)


def _outline(region: "shapely.Geometry") -> Outline:
    verbs: list[str] = []
    points: list[Floats] = []
    for part in shapely.get_parts(region):
        for ring in shapely.get_rings(part):
            row = shapely.get_coordinates(ring)[:-1]
            if len(row) < 3:
                continue
            verbs.append("M" + "L" * (len(row) - 1) + "Z")
            points.append(row)
    return Outline("".join(verbs), np.concatenate(points) if points else np.zeros((0, 2)))


__all__ = ["Filled", "Join", "flat", "grown"]
