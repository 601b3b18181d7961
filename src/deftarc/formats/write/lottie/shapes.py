"""Drawn shapes as groups of Lottie items: outlines, what is drawn of them, pens and fills."""

from typing import Any

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.matrices import from_six
from deftarc.core.document.drawing import Group as DrawnGroup
from deftarc.core.document.drawing import Node, RadialGradient, Shape
from deftarc.core.plain.lanes import Lane, sampled
from deftarc.core.plain.levels import NEAR, apart
from deftarc.core.plain.pieces import Forms, Piece, cut_forms
from deftarc.core.spaces.arc import arc_table
from deftarc.core.spaces.contours import spans_of
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.outlines import Outlines
from deftarc.formats.write.lottie.contours import paths_of
from deftarc.formats.write.lottie.keys import Count, number, still
from deftarc.formats.write.lottie.paints import coloured, even_scale, pen, sayable

Item = dict[str, Any]


def drawable(node: Node) -> bool:
    """Whether Lottie has a way to say a node, with all there is in it."""
    if isinstance(node, DrawnGroup):
        return all(drawable(each) for each in node.nodes)
    if not isinstance(node, Shape):
        return True
    return sayable(node.fill, False) and (node.stroke is None or sayable(node.stroke.paint, True))


def group(items: list[Item], name: str = "", matrix: Floats | None = None) -> Item:
    """Items together, moved by a matrix that stays."""
    x, y, turn, slant, wide, tall = (float(n) for n in apart((np.eye(3) if matrix is None else matrix)[None])[0])
    told = {
        "ty": "tr", "a": still(0, 0), "p": still(number(x), number(y)), "r": still(number(turn, 6)),
        "s": still(number(100 * wide, 4), number(100 * tall, 4)), "sk": still(number(-slant, 6)), "sa": still(0),
        "o": still(100),
    }  # fmt: skip
    return {"ty": "gr", **({"nm": name} if name else {}), "it": [*items, told]}


class Drawn:
    """Writes shapes, those that change among them."""

    def __init__(self, count: Count, times: Floats) -> None:
        self.count, self.times = count, times

    def still(self, node: Shape) -> list[Item]:
        """A shape that stays as it is: its groups, from the top down."""
        outline = Outline.parse(node.outline)
        form = Forms(Lane.still(*outline.points.reshape(-1)), outline.verbs)
        return self._shape(node, form, {}, [])

    def changing(self, piece: Piece, node: Shape) -> list[Item]:
        """A shape whose looks or outline change."""
        form = piece.form
        outline = Outline.parse(node.outline)
        if form is None:
            form = Forms(Lane.still(*outline.points.reshape(-1)), outline.verbs)
        if "drawn" not in piece.leaf.look or node.stroke is None:
            return self._shape(node, form, piece.look, [])
        trims = self._trims(piece, outline)
        if trims is None:
            # Of an outline whose contours come and go: what of it is drawn at each moment.
            cut = cut_forms(self.times, piece.leaf, outline)
            filled = self._shape(node.changed(stroke=None), form, piece.look, []) if node.fill is not None else []
            return self._shape(node.changed(fill=None), cut, piece.look, []) + filled
        return self._shape(node, form, piece.look, trims)

    def _shape(self, node: Shape, form: Forms, look: dict[str, Lane], trims: list[Item]) -> list[Item]:
        matrix = from_six(np.array(node.matrix))
        if not form.verbs and form.each is None:
            return []
        paths = paths_of(form, self.count)
        strokes = []
        if node.stroke is not None and _there(look):
            kind = "st" if node.stroke.paint.kind == "solid" else "gs"
            share = None
            strokes = [{
                "ty": kind, **coloured(node.stroke.paint, look, "stroke", share, self.count, self.times),
                **pen(node.stroke, look, self.count),
            }]  # fmt: skip
        if trims and strokes:
            shared = all(each == trims[0] for each in trims)
            lines = [[*paths, trims[0], *strokes]] if shared else [
                [path, trim, *strokes] for path, trim in zip(paths, trims, strict=True)
            ]  # fmt: skip
            groups = [group(items, matrix=matrix) for items in lines]
            return groups + ([group(self._filled(node, form, look), matrix=matrix)] if node.fill is not None else [])
        if node.fill is None:
            return [group([*paths, *strokes], matrix=matrix)] if strokes else []
        own = _own_matrix(node)
        if own is not None:
            fill = group(self._filled(node, form, look, own), matrix=matrix @ own)
            return ([group([*paths, *strokes], matrix=matrix)] if strokes else []) + [fill]
        return [group([*paths, *strokes, self._fill(node, look)], matrix=matrix)]

    def _filled(self, node: Shape, form: Forms, look: dict[str, Lane], own: Floats | None = None) -> list[Item]:
        if own is None:
            own = _own_matrix(node)
        if own is None:
            return [*paths_of(form, self.count), self._fill(node, look)]
        back: Floats = np.linalg.inv(own).astype(np.float64)
        return [*paths_of(form, self.count, back), self._fill(node, look, back)]

    def _fill(self, node: Shape, look: dict[str, Lane], back: Floats | None = None) -> Item:
        assert node.fill is not None
        kind = "fl" if node.fill.kind == "solid" else "gf"
        told = coloured(node.fill, look, "fill", look.get("filled"), self.count, self.times, back)
        return {"ty": kind, **told, "r": 2 if node.rule == "evenodd" else 1}

    def _trims(self, piece: Piece, still_outline: Outline) -> list[Item] | None:
        """What is drawn of each contour, as trims; None where its contours come and go."""
        rows = piece.leaf.look["drawn"]
        outlines = piece.leaf.outline
        if outlines is not None and not outlines.even:
            return None
        told = outlines if outlines is not None else Outlines.each([still_outline])
        count = max(len(rows), told.rows)
        verbs = told.verbs[0].count("M")
        shares = np.zeros((count, verbs, 2))
        known: list[tuple[Any, Floats]] = []
        for k in range(count):
            if k < told.rows:
                known = []
                for spans in spans_of(told.at(k)):
                    table = arc_table(spans.controls, spans.bent)
                    known.append((table, table.lengths))
                if len(known) != verbs:
                    return None
            cuts = rows[min(k, len(rows) - 1)].reshape(-1, 2)
            for c, (table, lengths) in enumerate(known):
                shares[k, c] = [_share(table, lengths, float(place)) for place in cuts[c]]
        reach = max((float(lengths[-1]) for _, lengths in known), default=1.0)
        near = NEAR / max(reach, 1.0)
        return [self._trim(shares[:, c], near) for c in range(verbs)]

    def _trim(self, shares: Floats, near: float) -> Item:
        """A contour's part, from one share of its length to another (F, 2); past its end it goes on at its start."""
        if np.any(shares[:, 1] > 1 + 1e-9):
            shares = np.stack([np.zeros(len(shares)), shares[:, 1] - shares[:, 0], shares[:, 0]], axis=1)
        else:
            shares = np.concatenate([shares, np.zeros((len(shares), 1))], axis=1)
        lane = sampled(self.times, shares, near) if len(shares) > 1 else Lane.still(*shares[0])
        start, end, shift = (lane.through(np.eye(3)[:, [k]]) for k in range(3))
        return {
            "ty": "tm", "s": self.count.property(start, 4, 100), "e": self.count.property(end, 4, 100),
            "o": self.count.property(shift, 4, 360), "m": 1,
        }  # fmt: skip


def _there(look: dict[str, Lane]) -> bool:
    width = look.get("stroke_width")
    return width is None or bool(np.any(width.rows > 0))


def _own_matrix(node: Shape) -> Floats | None:
    """The matrix of a fill's gradient that leaves circles no circles; None where none does."""
    if not isinstance(node.fill, RadialGradient):
        return None
    matrix = from_six(np.array(node.fill.matrix))
    if even_scale(matrix) or abs(np.linalg.det(matrix[:2, :2])) < 1e-12:
        return None
    return matrix


def _share(table: Any, lengths: Floats, place: float) -> float:
    """A place in a contour's spans as a share of its length, past it where the place is."""
    count = len(lengths) - 1
    turns = np.floor(place / count)
    within = place - turns * count
    span = min(int(within), count - 1)
    along = float(table.distance_at(np.array([span]), np.array([within - span]))[0])
    return float(turns + along / max(float(lengths[-1]), 1e-300))


__all__ = ["Drawn", "drawable", "group"]
