"""Fills and strokes as Lottie styles: colours, gradients with their stops, pens."""

from typing import Any

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.matrices import apply, from_six
from deftarc.core.document.drawing import LinearGradient, Paint, RadialGradient, Solid, Stroke
from deftarc.core.plain.lanes import Lane, product
from deftarc.core.plain.levels import NEAR_SHARE
from deftarc.core.spaces.colour import parse_colour
from deftarc.formats.write.lottie.keys import Count, number, row, still

CAPS = {"butt": 1, "round": 2, "square": 3}
JOINS = {"miter": 1, "round": 2, "bevel": 3}
#: Shorter is no gradient, px.
SHORT = 1e-6


def even_scale(matrix: Floats) -> bool:
    """Whether a matrix leaves circles round."""
    a, b, c, d = (float(matrix[i, j]) for i, j in ((0, 0), (1, 0), (0, 1), (1, 1)))
    near = 1e-6 * max(abs(a), abs(b), abs(c), abs(d))
    return (abs(a - d) <= near and abs(b + c) <= near) or (abs(a + d) <= near and abs(b - c) <= near)


def sayable(paint: Paint | None, of_pen: bool) -> bool:
    """Whether Lottie has a way to say a paint."""
    if not isinstance(paint, RadialGradient):
        return True
    if paint.fr > 0:
        return False
    # A fill may have a group of its own that is as uneven as the gradient; a pen would be uneven with it.
    return not of_pen or even_scale(from_six(np.array(paint.matrix)))


def coloured(paint: Paint, look: dict[str, Lane], prop: str, share: Lane | None, count: Count, times: Floats,
             matrix: Floats | None = None) -> dict[str, Any]:  # fmt: skip
    """What of a style says its colours; ``share`` by how much it is there, ``matrix`` what it lies in is turned by."""
    colour, ends, stops = (look.get(f"{prop}{part}") for part in ("", "_ends", "_stops"))
    if isinstance(paint, Solid):
        if colour is None:
            colour = Lane.still(*parse_colour(paint.colour))
        alpha = product(times, colour.through(np.eye(4)[:, [3]]), share, NEAR_SHARE)
        return {
            "c": count.said(colour.through(np.eye(4)[:, :3]), lambda r: row(np.clip(r, 0, 1), 4)),
            "o": count.said(alpha, lambda r: row(np.clip(r * 100, 0, 100), 3)),
        }
    alpha = share if share is not None else Lane.still(1.0)
    return {
        "o": count.said(alpha, lambda r: row(np.clip(r * 100, 0, 100), 3)),
        **_laid(paint, ends, count, matrix), "g": _stops(paint, stops, count),
    }  # fmt: skip


def _laid(
    paint: LinearGradient | RadialGradient, ends: Lane | None, count: Count, matrix: Floats | None
) -> dict[str, Any]:
    """Where a gradient lies; one of lines stays as it is through any matrix."""
    of = from_six(np.array(paint.matrix))
    whole = of if matrix is None else matrix @ of
    if isinstance(paint, LinearGradient):
        rows = np.array([[paint.x1, paint.y1, paint.x2, paint.y2]]) if ends is None else ends.rows[:, :4]
        lane = _with_rows(ends, _lines(rows, whole))
        told: dict[str, Any] = {"t": 1}
    else:
        rows = np.array([[paint.cx, paint.cy, paint.r]]) if ends is None else ends.rows[:, [0, 1, 4]]
        centre, edge = apply(whole, rows[:, :2]), apply(whole, rows[:, :2] + rows[:, 2:] * np.array([1.0, 0.0]))
        lane = _with_rows(ends, np.concatenate([centre, edge], axis=1))
        told = {"t": 2, **_focus(paint)}
    pick = np.eye(4)
    return {"s": count.property(lane.through(pick[:, :2])), "e": count.property(lane.through(pick[:, 2:])), **told}


def _with_rows(lane: Lane | None, rows: Floats) -> Lane:
    return Lane.still(*rows[0]) if lane is None else Lane(lane.times, rows, lane.eases, lane.exact)


def _lines(rows: Floats, matrix: Floats) -> Floats:
    """Ends of a gradient (K, 4) whose lines of one colour stay lines through a matrix, square to its new direction."""
    starts, ends = rows[:, :2], rows[:, 2:]
    step = ends - starts
    lasts = (step * step).sum(axis=1, keepdims=True)
    # How its share goes with x and y, before and after.
    rise = np.divide(step, lasts, out=np.zeros_like(step), where=lasts > SHORT**2)
    rise = rise @ np.linalg.inv(matrix[:2, :2]) if abs(np.linalg.det(matrix[:2, :2])) > 1e-12 else rise
    square = (rise * rise).sum(axis=1, keepdims=True)
    starts = apply(matrix, starts)
    return np.concatenate([starts, starts + np.divide(rise, square, out=np.zeros_like(rise), where=square > 0)], axis=1)


def _focus(paint: RadialGradient) -> dict[str, Any]:
    away = np.array([paint.fx - paint.cx, paint.fy - paint.cy])
    far = float(np.hypot(*away))
    if far < 1e-6 or paint.r < SHORT:
        return {}
    return {"h": still(number(100 * far / paint.r)), "a": still(number(np.rad2deg(np.arctan2(away[1], away[0]))))}


def _stops(paint: LinearGradient | RadialGradient, stops: Lane | None, count: Count) -> dict[str, Any]:
    """Colours, and how clear each is where any is."""
    n = len(paint.stops)
    if stops is None:
        told = [(stop.offset, *parse_colour(stop.colour)) for stop in paint.stops]
        stops = Lane.still(*np.ravel(told))
    rows = stops.rows.reshape(len(stops.rows), n, 5)
    clear = bool(np.any(rows[..., 4] < 1))

    def said(r: Floats) -> list[float]:
        each = np.clip(r.reshape(n, 5), 0, 1)
        return row(each[:, :4], 4) + (row(each[:, [0, 4]], 4) if clear else [])

    return {"p": n, "k": count.said(stops, said)}


def pen(stroke: Stroke, look: dict[str, Lane], count: Count) -> dict[str, Any]:
    """What of a style says how a line is drawn."""
    width = look.get("stroke_width") or Lane.still(stroke.width)
    told: dict[str, Any] = {
        "w": count.said(width, lambda r: row(np.maximum(r, 0))), "lc": CAPS[stroke.cap], "lj": JOINS[stroke.join],
    }  # fmt: skip
    if stroke.join == "miter":
        told["ml"] = number(stroke.miter_limit)
    dash = look.get("dash") or (Lane.still(*stroke.dash) if stroke.dash else None)
    if dash is None:
        return told
    size = dash.rows.shape[1]
    numbers = [dash.through(np.eye(size)[:, [k]]) for k in range(size)]
    numbers = numbers * 2 if size % 2 else numbers
    # Each with a name of its own, and how far all is moved on in any case: players ask for both.
    told["d"] = [
        {"n": "dg"[k % 2], "nm": f"{('dash', 'gap')[k % 2]} {k // 2 + 1}", "v": count.property(lane)}
        for k, lane in enumerate(numbers)
    ]
    offset = look.get("dash_offset") or Lane.still(stroke.dash_offset)
    told["d"].append({"n": "o", "nm": "offset", "v": count.property(offset)})
    return told


__all__ = ["coloured", "even_scale", "pen", "sayable"]
