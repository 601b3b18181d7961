"""Edits that need to know how large things are: align and distribute, fit and fill, a logo taken apart."""

import numpy as np

from deftarc.app.snapping import boxes_at
from deftarc.core.arrange.family import carried_along
from deftarc.core.arrange.snapping import aligned
from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import from_six
from deftarc.core.document import Layer, Scene
from deftarc.core.document.artwork import Contour, FreePath, Logo, Node6, Painted, Text, TextForm
from deftarc.core.document.drawing import Bitmap, Drawing, Group, Node, Shape, Solid
from deftarc.core.edit import EditBase
from deftarc.core.edit.layers import Part, ReplaceArtwork, TakeApart, distinct
from deftarc.core.edit.transform import MoveEach, Step
from deftarc.core.edit.values import SetValue
from deftarc.core.spaces.outline import Outline
from deftarc.formats.materials import Materials
from deftarc.formats.read import Asset

WORDS = {
    "left": "Align left", "centre": "Centre across", "right": "Align right", "top": "Align top",
    "middle": "Centre down", "bottom": "Align bottom", "across": "Distribute across", "down": "Distribute down",
}  # fmt: skip


def align(
    scene: Scene, materials: Materials, layers: list[str], how: str, to_frame: bool, time: int, keying: bool
) -> EditBase:
    """The edit that aligns or distributes layers at a time, to one another or to the frame."""
    if how not in WORDS:
        raise Refusal(f"There is no way to align called “{how[:20]}”. There are: {', '.join(WORDS)}.")
    chosen = [layer for layer in layers if layer not in carried_along(scene, set(layers))]
    boxes = boxes_at(scene, time, materials, chosen)
    if not boxes or (len(boxes) < 2 and not to_frame):
        raise Refusal("Select two layers or more to align them to one another, or align to the frame.")
    if how in ("across", "down") and len(boxes) < 3 and not to_frame:
        raise Refusal("Select three layers or more to distribute them between the outer two.")
    frame = (0.0, 0.0, float(scene.width), float(scene.height)) if to_frame else None
    steps = aligned(boxes, how, frame)
    moved = tuple(Step(layer=name, dx=dx, dy=dy) for name, (dx, dy) in steps.items() if abs(dx) + abs(dy) > 1e-9)
    if not moved:
        raise Refusal("They stand like that already.")
    return MoveEach(scene=scene.id, steps=moved, time=time, keying=keying, verb=WORDS[how])


def size_factor(scene: Scene, width: float, height: float, how: str) -> float:
    """What a thing of a size is scaled by to fit in the frame, to fill it, or to stand at 100 %."""
    if how == "full":
        return 1.0
    factors = scene.width / width, scene.height / height
    return min(factors) if how == "fit" else max(factors)


def resize(scene: Scene, materials: Materials, layer: Layer, how: str, time: int, keying: bool) -> EditBase:
    """The edit that scales a layer's artwork to fit the frame, fill it, or to 100 %; its axes go together."""
    if how not in ("fit", "fill", "full"):
        raise Refusal("A picture comes in at fit, fill or full size.")
    left, top, right, bottom = materials.of_layer(layer).bounds()
    if right <= left or bottom <= top:
        raise Refusal(f"{layer.name} has no size to fit.")
    if layer.scale_link != "linked":
        raise Refusal(f"The scale axes of {layer.name} do not go together. Link them first.")
    factor = size_factor(scene, right - left, bottom - top, how)
    return SetValue(scene=scene.id, layer=layer.id, property="scale", value=factor, time=time, keying=keying)


def taken_apart(scene: Scene, materials: Materials, layer: Layer) -> tuple[EditBase, list[Asset]]:
    """The edit that makes layers of a logo's parts, and the assets they need."""
    if not isinstance(layer.artwork, Logo):
        raise Refusal(f"{layer.name} is no logo, and has no parts.")
    nodes = materials.drawn(layer.artwork).nodes
    # A logo that is one group all round is taken apart one level further in.
    while len(nodes) == 1 and isinstance(nodes[0], Group) and nodes[0].opacity == 1 and nodes[0].clip is None:
        nodes = nodes[0].nodes
    if len(nodes) == 1:
        path = as_free_path(nodes[0])
        if path is None:
            raise Refusal(f"{layer.name} is a single part of gradients or groups, and cannot be a free path.")
        return ReplaceArtwork(scene=scene.id, layer=layer.id, artwork=path), []
    if not nodes:
        raise Refusal(f"{layer.name} shows nothing that could be taken apart.")
    parts: list[Part] = []
    assets: list[Asset] = []
    taken: set[str] = set()
    for number, node in enumerate(nodes, start=1):
        path = as_free_path(node)
        left, top, right, bottom = Drawing(nodes=(node,)).bounds()
        middle = ((left + right) / 2, (top + bottom) / 2)
        own = "" if isinstance(node, Bitmap) else node.name
        name = distinct(taken, own[: limits.MAX_NAME] or f"{layer.name[:100]} part {number}")
        taken.add(name)
        if path is not None:
            parts.append(Part(name=name, artwork=_centred(path, middle), at=middle))
            continue
        drawing = Drawing(nodes=(node,))
        asset = Asset(drawing.model_dump_json(exclude_defaults=True).encode(), "application/vnd.deftarc.drawing")
        assets.append(asset)
        art = layer.artwork.changed(asset=asset.hash, notes=())
        # It keeps the logo's own origin: its gradients and groups are laid out from there.
        parts.append(Part(name=name, artwork=art))
    parts.reverse()
    return TakeApart(scene=scene.id, layer=layer.id, parts=tuple(parts)), assets


def outlined(scene: Scene, materials: Materials, layer: Layer, letters: bool) -> EditBase:
    """The edit that makes a text's outlines a free path, or each of its letters a layer with one."""
    text = layer.artwork
    if not isinstance(text, Text):
        raise Refusal(f"{layer.name} is no text, and has no letters.")
    form = materials.shaper.form(text)
    points = form.points(*(np.array([float(n)]) for n in (text.size, text.letter_spacing, text.line_height)))[0]
    paint = {name: getattr(text, name) for name in Painted.model_fields if name != "kind"}
    rows = _letters(form, points, letters)
    if not rows:
        raise Refusal(f"{layer.name} has no letter with an outline.")
    if not letters:
        contours = tuple(c for _, outline in rows for c in contours_of(outline))
        return ReplaceArtwork(scene=scene.id, layer=layer.id, artwork=FreePath(contours=contours, **paint))
    if len(rows) > limits.MAX_LAYERS:
        raise Refusal(f"{layer.name} has more letters than a scene holds layers.")
    names = _letter_names(text, rows)
    parts = []
    for name, (_, outline) in zip(names, rows, strict=True):
        left, top, right, bottom = (float(n) for n in outline.bounds())  # type: ignore[union-attr]
        middle = ((left + right) / 2, (top + bottom) / 2)
        path = FreePath(contours=contours_of(outline), **paint)
        parts.append(Part(name=name, artwork=_centred(path, middle), at=middle))
    # As one reads, the first on top; but where letters of a fill and a pen overlap, it shows which covers which.
    if _cover(text, [outline for _, outline in rows]):
        parts.reverse()
    return TakeApart(scene=scene.id, layer=layer.id, parts=tuple(parts))


def _cover(text: Text, outlines: list[Outline]) -> bool:
    """Whether it shows which of a text's letters lies over which."""
    if text.fill is None or text.stroke is None:
        return False
    wide = text.stroke_width / 2
    found = [box for each in outlines if (box := each.bounds())]
    boxes = sorted((left - wide, top - wide, right + wide, bottom + wide) for left, top, right, bottom in found)
    return any(
        b[0] < a[2] and b[1] < a[3] and a[1] < b[3]
        for n, a in enumerate(boxes) for b in boxes[n + 1 : n + 9]
    )  # fmt: skip


def _letters(form: TextForm, points: Floats, apart: bool) -> list[tuple[tuple[int, int], Outline]]:
    """A shaped text's contours by (line, place in it), or all as one."""
    out: dict[tuple[int, int], tuple[list[str], list[Floats]]] = {}
    at = 0
    here = (0, 0)
    for verb in form.verbs:
        count = {"M": 1, "L": 1, "C": 3, "Z": 0}[verb]
        if verb == "M" and apart:
            here = int(form.lines[at, 1]), int(form.places[at])
        verbs, rows = out.setdefault(here, ([], []))
        verbs.append(verb)
        rows.append(points[at : at + count])
        at += count
    return [(key, Outline("".join(verbs), np.concatenate(rows))) for key, (verbs, rows) in sorted(out.items())]


def _letter_names(text: Text, rows: list[tuple[tuple[int, int], Outline]]) -> list[str]:
    """What letters that have an outline are called: by themselves, where each stands for one that is seen."""
    seen = [letter for line in text.text.split("\n") for letter in line if not letter.isspace()]
    plain = len(seen) == len(rows) and text.text.isascii()
    return [seen[k] if plain else f"Letter {k + 1}" for k in range(len(rows))]


def as_free_path(node: Node) -> FreePath | None:
    """A shape of plain colours as a free path; None where it has gradients, or a pen that its matrix would bend."""
    if not isinstance(node, Shape) or not all(isinstance(p, Solid | None) for p in (node.fill, _pen_paint(node))):
        return None
    a, b, c, d = node.matrix[:4]
    even = abs(a * c + b * d) < 1e-9 and abs(a * a + b * b - c * c - d * d) < 1e-9
    if node.stroke is not None and not even:
        return None
    outline = Outline.parse(node.outline).through(from_six(np.array(node.matrix)))
    stroke, size = node.stroke, float(np.hypot(a, b))
    pen = {} if stroke is None else {
        "stroke": stroke.paint.colour if isinstance(stroke.paint, Solid) else None, "stroke_width": stroke.width * size,
        "cap": stroke.cap, "join": stroke.join, "dash": tuple(x * size for x in stroke.dash if x > 0)[:16],
        "dash_offset": stroke.dash_offset * size,
    }  # fmt: skip
    fill = node.fill.colour if isinstance(node.fill, Solid) else None
    contours = contours_of(outline)
    return FreePath(contours=contours, rule=node.rule, fill=fill, **pen) if contours else None


def _pen_paint(node: Shape) -> object:
    return node.stroke.paint if node.stroke is not None else None


def contours_of(outline: Outline) -> tuple[Contour, ...]:
    """An outline as contours of points with handles."""
    out: list[Contour] = []
    rows: list[list[float]] = []

    def done(closed: bool) -> None:
        if closed and len(rows) > 1 and np.hypot(rows[0][0] - rows[-1][0], rows[0][1] - rows[-1][1]) < 1e-6:
            last = rows.pop()
            rows[0][2:4] = last[2:4]
        if rows:
            points: list[Node6] = [(r[0], r[1], r[2], r[3], r[4], r[5]) for r in rows]
            out.append(Contour(points=tuple(points), closed=closed))
        rows.clear()

    at = 0
    begun = [0.0, 0.0]
    for verb in outline.verbs:
        if verb == "Z":
            done(True)
            continue
        if verb != "M" and not rows:
            # What follows a closed contour without a move begins where that did.
            rows.append([*begun, 0, 0, 0, 0])
        spots = outline.points[at : at + (3 if verb == "C" else 1)]
        at += len(spots)
        x, y = (float(v) for v in spots[-1])
        if verb == "M":
            done(False)
            begun = [x, y]
            rows.append([x, y, 0, 0, 0, 0])
        elif verb == "L":
            rows.append([x, y, 0, 0, 0, 0])
        else:
            before = rows[-1]
            before[4], before[5] = float(spots[0][0]) - before[0], float(spots[0][1]) - before[1]
            rows.append([x, y, float(spots[1][0]) - x, float(spots[1][1]) - y, 0, 0])
    done(False)
    return tuple(out)


def _centred(path: FreePath, middle: tuple[float, float]) -> FreePath:
    """The path with its origin put at a point of it."""
    rows = np.array(path.numbers()).reshape(-1, 6)
    rows[:, :2] -= middle
    return path.with_numbers(tuple(float(x) for x in rows.reshape(-1)))
