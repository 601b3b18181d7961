"""Pieces and heaps as SVG elements: drawings with their looks, masks, mattes, effects and blending around them."""

import base64
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from types import MappingProxyType

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.matrices import from_six
from deftarc.core.document.drawing import (
    Bitmap,
    Drawing,
    LinearGradient,
    Node,
    Paint,
    RadialGradient,
    Shape,
    Solid,
)
from deftarc.core.document.drawing import Group as DrawnGroup
from deftarc.core.evaluate import Branch, EffectAt, MaskAt, drawn_as
from deftarc.core.plain.lanes import Lane, product, sampled
from deftarc.core.plain.levels import NEAR_SHARE
from deftarc.core.plain.pieces import Forms, Heap, Piece, Thing, cut_forms, forms_of
from deftarc.core.spaces.colour import parse_colour
from deftarc.core.spaces.outline import Outline
from deftarc.formats.write.pictures import Pictures
from deftarc.formats.write.svg.clock import Clock, runs_lane
from deftarc.formats.write.svg.filters import beside, functions_of
from deftarc.formats.write.svg.moved import Around, around
from deftarc.formats.write.svg.numbers import fine, matrix_text, path_data, quoted, rgb, row, short

#: Far enough out for whatever is masked.
EVERYWHERE = 'x="-100000" y="-100000" width="200000" height="200000"'


@dataclass
class Tree:
    """Writes elements. ``drawings`` are by the names leaves have; ``read`` hands over a picture's bytes and kind."""

    clock: Clock
    drawings: Mapping[str, Drawing]
    read: Callable[[str], tuple[bytes, str]]
    pictured: Callable[[Thing], Pictures | None]
    #: The moments of the frames, (F,) in flicks.
    times: Floats
    smil: bool = False
    defs: list[str] = field(default_factory=list)
    _count: int = 0

    def named(self, letter: str) -> str:
        self._count += 1
        return f"{letter}{self._count}"

    # --- animations of any attribute ---

    def _animate(self, on: Around, prop: str, lane: Lane, said: Callable[[Floats], str]) -> None:
        """A property of an element: still or moving."""
        if not lane.moves:
            if self.smil:
                on.attributes += f' {prop}="{said(lane.value)}"'
            else:
                on.style.append(f"{prop}:{said(lane.value)}")
        elif self.smil:
            on.inside += self.clock.smil(prop, lane, said)
        else:
            on.animations.append(self.clock.css(prop, lane, said))

    # --- what is around a thing ---

    def thing(self, each: Thing) -> str:
        """A piece or a heap, in the px of what it lies in."""
        branch = each.leaf if isinstance(each, Piece) else each.group
        if not each.shows.moves and each.shows.value[0] == 0:
            return ""
        outer = Around(f' data-name="{quoted(each.layer.name)}"' if each.layer is not None else "")
        if each.shows.moves:
            self._animate(outer, "visibility", each.shows, lambda r: "visible" if r[0] else "hidden")
        pictures = self.pictured(each)
        if pictures is None and (each.opacity.moves or each.opacity.value[0] != 1):
            self._animate(outer, "opacity", each.opacity, lambda r: fine(r[0]))
        if branch.blend != "normal":
            outer.style.append(f"mix-blend-mode:{branch.blend}")
        if isinstance(each, Heap):
            outer.style.append("isolation:isolate")
        if pictures is not None:
            return outer.opened() + self._pictures(pictures) + "</g>"
        inner = self._content(each)
        if each.matte is not None and branch.matte is not None:
            inner = f'<g mask="url(#{self._matte(each.matte, branch.matte.by, branch.matte.inverted)})">{inner}</g>'
        return outer.opened() + inner + "</g>" if not outer.empty else inner

    def _content(self, each: Thing) -> str:
        wraps = around(each.levels, self.clock, self.smil)
        if isinstance(each, Piece):
            return self._wrapped(wraps, self._treated(self._drawn(each), each.leaf))
        children = "".join(self.thing(child) for child in each.children)
        if each.own and each.group.clip is None:
            return self._wrapped(wraps, self._treated(children, each.group))
        if each.group.clip is None:
            if each.group.masks:
                # In the px of what it lies in; the masks are moved as the group is.
                name = self._mask(each.group.masks, wraps)
                children = f'<g mask="url(#{name})">{children}</g>'
            return children
        left, top, right, bottom = each.group.clip
        name = self.named("c")
        box = f'x="{short(left)}" y="{short(top)}" width="{short(right - left)}" height="{short(bottom - top)}"'
        self.defs.append(f'<clipPath id="{name}"><rect {box}/></clipPath>')
        return self._wrapped(wraps, self._treated(f'<g clip-path="url(#{name})">{children}</g>', each.group))

    def _treated(self, inside: str, branch: Branch) -> str:
        """What is drawn in its own px, with its masks and then its effects."""
        if branch.masks:
            inside = f'<g mask="url(#{self._mask(branch.masks, [])})">{inside}</g>'
        if branch.effects:
            on = Around()
            self._effects(on, branch.effects)
            inside = on.opened() + inside + "</g>" if not on.empty else inside
        return inside

    def _effects(self, on: Around, effects: tuple[EffectAt, ...]) -> None:
        """Effects as one list of filter functions, which is one property, still or moving."""
        says: list[tuple[int, int, Callable[[Floats], str]]] = []
        columns: list[Floats] = []
        at = 0
        for each in effects:
            numbers, said = functions_of(each)
            says.append((at, at + numbers.shape[1], said))
            at += numbers.shape[1]
            columns.append(numbers)
        lane = self._numbers(beside(*columns), 2e-3)

        def told(r: Floats) -> str:
            return " ".join(said(r[first:last]) for first, last, said in says)

        if lane.moves:
            on.animations.append(self.clock.css("filter", lane, told))
        else:
            on.style.append(f"filter:{told(lane.value)}")

    @staticmethod
    def _wrapped(wraps: list[Around], inside: str) -> str:
        return "".join(each.opened() for each in wraps) + inside + "</g>" * len(wraps)

    # --- masks and mattes ---

    def _mask(self, masks: tuple[MaskAt, ...], wraps: list[Around]) -> str:
        """Masks as one, by how light it is: laid over black in turn; moved by what stands around them."""
        white = f'<rect {EVERYWHERE} fill="#fff"/>'
        told = "" if masks[0].mode == "add" else white
        for mask in masks:
            laid = self._one_mask(mask, "#000" if mask.mode == "subtract" else "#fff")
            if mask.mode == "intersect":
                name = self._kept_mask(self._wrapped(wraps, laid))
                told = f'<g mask="url(#{name})">{told}</g>'
            else:
                told += laid
        return self._kept_mask(self._wrapped(wraps, told))

    def _kept_mask(self, inside: str, kind: str = "luminance") -> str:
        name = self.named("k")
        self.defs.append(
            f'<mask id="{name}" maskUnits="userSpaceOnUse" {EVERYWHERE} style="mask-type:{kind}">{inside}</mask>'
        )
        return name

    def _one_mask(self, mask: MaskAt, colour: str) -> str:
        outer = Around()
        opacity = self._numbers(mask.opacity)
        if opacity.moves or opacity.value[0] != 1:
            self._animate(outer, "opacity", opacity, lambda r: fine(r[0]))
        shape = Around(f' fill="{"#000" if mask.inverted else colour}" fill-rule="{mask.rule}"')
        feather = self._numbers(mask.feather)
        if feather.moves or feather.value[0] > 0:
            # As a filter's function it goes beyond what it blurs by itself.
            self._filter(shape, "blur", feather, "px")
        inside = self._path(shape, forms_of(self.times, mask.outline))
        if mask.inverted:
            # All of it but what the outline covers, however soft that is.
            name = self._kept_mask(f'<rect {EVERYWHERE} fill="#fff"/>{inside}')
            inside = f'<rect {EVERYWHERE} fill="{colour}" mask="url(#{name})"/>'
        return outer.opened() + inside + "</g>" if not outer.empty else inside

    def _filter(self, on: Around, name: str, lane: Lane, unit: str = "") -> None:
        def said(r: Floats) -> str:
            return f"{name}({short(float(r[0]), 4)}{unit})"

        if lane.moves:
            on.animations.append(self.clock.css("filter", lane, said))
        else:
            on.style.append(f"filter:{said(lane.value)}")

    def _matte(self, through: Thing, by: str, inverted: bool) -> str:
        """What something shows through, as a mask. Inverted by colours, not by a mask in a mask, whose motion browsers
        do not follow.
        """
        inside = self.thing(through)
        black = f'<rect {EVERYWHERE} fill="#000"/>'
        if by == "luma":
            turned = ' style="filter:invert(1)"' if inverted else ""
            return self._kept_mask(f"<g{turned}>{black}{inside}</g>")
        if inverted:
            return self._kept_mask(f'<rect {EVERYWHERE} fill="#fff"/><g style="filter:brightness(0)">{inside}</g>')
        return self._kept_mask(inside, "alpha")

    # --- drawings ---

    def _numbers(self, rows: Floats, near: float = 1e-3) -> Lane:
        told = rows.reshape(len(rows), -1)
        return sampled(self.times, told, near) if len(told) > 1 else Lane.still(*told[0])

    def _drawn(self, each: Piece) -> str:
        drawing = self.drawings[drawn_as(each.leaf.layer)]
        nodes = drawing.nodes
        changes = each.look or each.form is not None or "drawn" in each.leaf.look
        if changes and len(nodes) == 1 and isinstance(nodes[0], Shape):
            return self._changing(each, nodes[0])
        return "".join(self._node(node) for node in nodes)

    def _node(self, node: Node) -> str:
        if isinstance(node, DrawnGroup):
            inside = "".join(self._node(each) for each in node.nodes)
            told = ""
            if node.clip is not None:
                name = self.named("c")
                clip = Outline.parse(node.clip)
                data = path_data(clip.verbs, clip.points)
                self.defs.append(f'<clipPath id="{name}"><path d="{data}" clip-rule="{node.clip_rule}"/></clipPath>')
                told += f' clip-path="url(#{name})"'
            if node.opacity < 1:
                told += f' opacity="{fine(node.opacity)}"'
            return f"<g{told}>{inside}</g>" if told else inside
        if isinstance(node, Bitmap):
            picture, media = self.read(node.asset)
            place = f'x="{short(node.x)}" y="{short(node.y)}" width="{short(node.width)}" height="{short(node.height)}"'
            href = f"data:{media};base64,{base64.b64encode(picture).decode()}"
            return f'<image {place} preserveAspectRatio="none" href="{href}"/>'
        return self._shape(node)

    def _shape(self, node: Shape) -> str:
        outline = Outline.parse(node.outline)
        told = Around()
        self._still_paint(told, "fill", node.fill)
        if node.fill is not None and node.rule == "evenodd":
            told.attributes += ' fill-rule="evenodd"'
        if node.stroke is not None:
            self._still_paint(told, "stroke", node.stroke.paint)
            told.attributes += self._pen(node)
        if node.matrix != (1, 0, 0, 1, 0, 0):
            told.attributes += f' transform="{matrix_text(from_six(np.array(node.matrix)))}"'
        told.attributes += f' d="{path_data(outline.verbs, outline.points)}"'
        return told.opened("path")[:-1] + "/>"

    @staticmethod
    def _pen(node: Shape, look: Mapping[str, Lane] = MappingProxyType({})) -> str:
        """How its line is drawn, but for what changes."""
        stroke = node.stroke
        assert stroke is not None
        told = "" if "stroke_width" in look else f' stroke-width="{short(stroke.width)}"'
        if stroke.cap != "butt":
            told += f' stroke-linecap="{stroke.cap}"'
        if stroke.join != "miter":
            told += f' stroke-linejoin="{stroke.join}"'
        elif stroke.miter_limit != 4:
            told += f' stroke-miterlimit="{short(stroke.miter_limit)}"'
        if stroke.dash:
            told += "" if "dash" in look else f' stroke-dasharray="{row(stroke.dash)}"'
            if stroke.dash_offset and "dash_offset" not in look:
                told += f' stroke-dashoffset="{short(stroke.dash_offset)}"'
        return told

    def _still_paint(self, on: Around, prop: str, paint: Paint | None) -> None:
        if paint is None:
            on.attributes += f' {prop}="none"' if prop == "fill" else ""
        elif isinstance(paint, Solid):
            colour = parse_colour(paint.colour)
            on.attributes += f' {prop}="{paint.colour[:7]}"'
            if colour[3] < 1:
                on.attributes += f' {prop}-opacity="{fine(colour[3])}"'
        else:
            on.attributes += f' {prop}="url(#{self._gradient(paint)})"'

    def _gradient(
        self, paint: LinearGradient | RadialGradient, ends: Lane | None = None, stops: Lane | None = None
    ) -> str:
        """A gradient's id; its ends and stops perhaps over time, which SMIL alone can say of ends."""
        name = self.named("g")
        kind = "linearGradient" if isinstance(paint, LinearGradient) else "radialGradient"
        told = Around(f' id="{name}" gradientUnits="userSpaceOnUse"')
        if paint.matrix != (1, 0, 0, 1, 0, 0):
            told.attributes += f' gradientTransform="{matrix_text(from_six(np.array(paint.matrix)))}"'
        if isinstance(paint, LinearGradient):
            named = [("x1", paint.x1), ("y1", paint.y1), ("x2", paint.x2), ("y2", paint.y2)]
        else:
            named = [("cx", paint.cx), ("cy", paint.cy), ("r", paint.r), ("fx", paint.fx), ("fy", paint.fy)]
            if paint.fr:
                named.append(("fr", paint.fr))
        lanes = self._ends(ends, kind) if ends is not None else {}
        for prop, value in named:
            lane = lanes.get(prop)
            told.attributes += f' {prop}="{short(value if lane is None else float(lane.value[0]))}"'
            if lane is not None and lane.moves:
                told.inside += self.clock.smil(prop, lane, lambda r: short(r[0]))
        inside = "".join(self._stop(paint, n, stops) for n in range(len(paint.stops)))
        self.defs.append(f"{told.opened(kind)}{inside}</{kind}>")
        return name

    @staticmethod
    def _ends(ends: Lane, kind: str) -> dict[str, Lane]:
        def one(k: int) -> Lane:
            return ends.through(np.eye(5)[:, [k]])

        if kind == "linearGradient":
            return {prop: one(k) for k, prop in enumerate(("x1", "y1", "x2", "y2"))}
        return {"cx": one(0), "cy": one(1), "fx": one(0), "fy": one(1), "r": one(4)}

    def _stop(self, paint: LinearGradient | RadialGradient, n: int, stops: Lane | None) -> str:
        stop = paint.stops[n]
        if stops is None:
            colour = parse_colour(stop.colour)
            clear = f' stop-opacity="{fine(colour[3])}"' if colour[3] < 1 else ""
            return f'<stop offset="{fine(stop.offset)}" stop-color="{stop.colour[:7]}"{clear}/>'
        pick = np.eye(stops.rows.shape[1])
        told = Around()
        at = stops.through(pick[:, [5 * n]])
        told.attributes += f' offset="{fine(min(1.0, float(at.value[0])))}"'
        if at.moves:
            told.inside += self.clock.smil("offset", at, lambda r: fine(min(1.0, float(r[0]))))
        self._animate(told, "stop-color", stops.through(pick[:, 5 * n + 1 : 5 * n + 4]), rgb)
        self._animate(told, "stop-opacity", stops.through(pick[:, [5 * n + 4]]), lambda r: fine(r[0]))
        return told.opened("stop") + "</stop>"

    # --- looks that change ---

    def _changing(self, each: Piece, node: Shape) -> str:
        look = each.look
        form = each.form
        if form is None:
            still = Outline.parse(node.outline)
            form = Forms(Lane.still(*still.points.reshape(-1)), still.verbs)
        out = ""
        cut = "drawn" in each.leaf.look
        if node.fill is not None and (cut or node.stroke is None):
            out += self._coat(each, node, form, fill=True, stroke=False)
        elif not cut:
            return self._coat(each, node, form, fill=node.fill is not None, stroke=True)
        if node.stroke is not None and self._pen_there(look, node):
            out += self._coat(
                each,
                node,
                cut_forms(self.times, each.leaf, Outline.parse(node.outline)) if cut else form,
                fill=False,
                stroke=True,
            )
        return out

    @staticmethod
    def _pen_there(look: Mapping[str, Lane], node: Shape) -> bool:
        width = look.get("stroke_width")
        return width is None or bool(np.any(width.rows > 0))

    def _coat(self, each: Piece, node: Shape, form: Forms, fill: bool, stroke: bool) -> str:
        look = each.look
        told = Around()
        if fill:
            filled = look.get("filled")
            self._paint(told, "fill", node.fill, look, filled)
            if node.rule == "evenodd":
                told.attributes += ' fill-rule="evenodd"'
        else:
            told.attributes += ' fill="none"'
        if stroke and node.stroke is not None:
            self._paint(told, "stroke", node.stroke.paint, look, None)
            told.attributes += self._pen(node, look)
            width, offset, dash = (look.get(name) for name in ("stroke_width", "dash_offset", "dash"))
            if width is not None:
                self._animate(told, "stroke-width", width, lambda r: short(max(0.0, float(r[0]))))
            if dash is not None:
                self._animate(told, "stroke-dasharray", dash, row)
            if offset is not None:
                self._animate(told, "stroke-dashoffset", offset, lambda r: short(r[0]))
        return self._path(told, form)

    def _paint(self, on: Around, prop: str, paint: Paint | None, look: Mapping[str, Lane], share: Lane | None) -> None:
        ends, stops, colour = (look.get(f"{prop}{part}") for part in ("_ends", "_stops", ""))
        if isinstance(paint, LinearGradient | RadialGradient):
            if ends is not None or stops is not None:
                on.attributes += f' {prop}="url(#{self._gradient(paint, ends, stops)})"'
            else:
                self._still_paint(on, prop, paint)
        elif colour is None and share is None:
            self._still_paint(on, prop, paint)
        elif isinstance(paint, Solid):
            lane = colour or Lane.still(*parse_colour(paint.colour))
            self._animate(on, prop, lane.through(np.eye(4)[:, :3]), rgb)
            share = product(self.times, lane.through(np.eye(4)[:, [3]]), share, NEAR_SHARE)
        if share is not None and (share.moves or share.value[0] != 1):
            self._animate(on, f"{prop}-opacity", share, lambda r: fine(r[0]))

    def _path(self, told: Around, form: Forms) -> str:
        """A path element of an outline that may go from form to form."""
        if form.each is None:
            verbs = form.verbs
            if not form.lane.moves or self.smil:
                told.attributes += f' d="{path_data(verbs, form.lane.value.reshape(-1, 2))}"'
            if form.lane.moves:
                said = (lambda r: path_data(verbs, r.reshape(-1, 2))) if self.smil else (
                    lambda r: f"path('{path_data(verbs, r.reshape(-1, 2))}')"
                )  # fmt: skip
                self._animate(told, "d", form.lane, said)
        else:
            each = form.each

            def data(r: Floats) -> str:
                outline = each.at(int(r[0]))
                return path_data(outline.verbs, outline.points) or "M0 0"

            if self.smil:
                told.attributes += f' d="{data(form.lane.value)}"'
            self._animate(told, "d", form.lane, data if self.smil else (lambda r: f"path('{data(r)}')"))
        if told.inside:
            return told.opened("path") + "</path>"
        return told.opened("path")[:-1] + "/>"

    # --- pictures ---

    def _pictures(self, pictures: Pictures) -> str:
        out = ""
        for data, media, (x, y, width, height), runs in pictures.shown:
            told = Around(
                f' x="{short(x)}" y="{short(y)}" width="{short(width)}" height="{short(height)}" '
                f'preserveAspectRatio="none" href="data:{media};base64,{base64.b64encode(data).decode()}"'
            )
            shows = runs_lane(runs, self.clock)
            if shows.moves:
                self._animate(told, "visibility", shows, lambda r: "visible" if r[0] else "hidden")
            out += told.opened("image") + "</image>"
        return out


__all__ = ["Tree"]
