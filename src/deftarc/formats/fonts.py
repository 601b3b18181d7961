"""The shipped fonts, and text shaped to outlines with them, so that every painter draws the same.

Shaping is HarfBuzz's. A font's id is its file's name without the ending.
"""

from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files
from io import BytesIO

import numpy as np
import uharfbuzz
from fontTools.ttLib import TTFont

from deftarc.core.document import Text
from deftarc.core.errors import unknown
from deftarc.core.outline import Outline


@dataclass(frozen=True)
class Face:
    id: str
    label: str
    file: str


def _face(name: str, weight: int, label: str) -> Face:
    return Face(f"{name}-{weight}", label, f"{name}-latin-{weight}-normal.woff2")


FACES: dict[str, Face] = {
    face.id: face
    for face in (
        _face("bricolage-grotesque", 400, "Bricolage Grotesque"),
        _face("bricolage-grotesque", 700, "Bricolage Grotesque Bold"),
        _face("bricolage-grotesque", 800, "Bricolage Grotesque ExtraBold"),
        _face("young-serif", 400, "Young Serif"),
        _face("atkinson-hyperlegible-next", 400, "Atkinson Hyperlegible"),
        _face("atkinson-hyperlegible-next", 700, "Atkinson Hyperlegible Bold"),
        _face("atkinson-hyperlegible-mono", 400, "Atkinson Hyperlegible Mono"),
    )
}


@lru_cache(maxsize=16)
def _shaper(face_id: str) -> tuple[uharfbuzz.Font, int]:
    """A HarfBuzz font and its units per em."""
    face = FACES.get(face_id)
    if face is None:
        raise unknown("font", face_id)
    packed = (files("deftarc") / "web" / "static" / "vendor" / "fonts" / face.file).read_bytes()
    font = TTFont(BytesIO(packed))
    font.flavor = None
    plain = BytesIO()
    font.save(plain)
    blob = uharfbuzz.Face(plain.getvalue())
    return uharfbuzz.Font(blob), blob.upem


class _Pen:
    """Collects a glyph's outline; quadratic curves become the cubic ones they are exactly."""

    def __init__(self) -> None:
        self.verbs: list[str] = []
        self.points: list[tuple[float, float]] = []

    def move(self, x: float, y: float) -> None:
        self.verbs.append("M")
        self.points.append((x, y))

    def line(self, x: float, y: float) -> None:
        self.verbs.append("L")
        self.points.append((x, y))

    def quadratic(self, cx: float, cy: float, x: float, y: float) -> None:
        x0, y0 = self.points[-1]
        self.cubic(x0 + (cx - x0) * 2 / 3, y0 + (cy - y0) * 2 / 3, x + (cx - x) * 2 / 3, y + (cy - y) * 2 / 3, x, y)

    def cubic(self, ax: float, ay: float, bx: float, by: float, x: float, y: float) -> None:
        self.verbs.append("C")
        self.points.extend(((ax, ay), (bx, by), (x, y)))

    def close(self) -> None:
        self.verbs.append("Z")


def _draw_functions() -> uharfbuzz.DrawFuncs:
    functions = uharfbuzz.DrawFuncs()
    functions.set_move_to_func(lambda x, y, pen: pen.move(x, y))
    functions.set_line_to_func(lambda x, y, pen: pen.line(x, y))
    functions.set_quadratic_to_func(lambda cx, cy, x, y, pen: pen.quadratic(cx, cy, x, y))
    functions.set_cubic_to_func(lambda ax, ay, bx, by, x, y, pen: pen.cubic(ax, ay, bx, by, x, y))
    functions.set_close_path_func(lambda pen: pen.close())
    return functions


_DRAW = _draw_functions()


def text_outline(text: Text) -> Outline:
    """A text's outline in px: the first baseline at y 0, each line aligned at x 0."""
    font, upem = _shaper(text.font)
    scale = text.size / upem
    verbs: list[str] = []
    chunks: list[np.ndarray] = []
    for number, line in enumerate(text.text.split("\n")):
        buffer = uharfbuzz.Buffer()
        buffer.add_str(line)
        buffer.guess_segment_properties()
        uharfbuzz.shape(font, buffer)
        pen = _Pen()
        spans: list[tuple[int, float, float]] = []
        x = 0.0
        for info, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
            before = len(pen.points)
            font.draw_glyph(info.codepoint, _DRAW, pen)
            spans.append((len(pen.points) - before, x + place.x_offset, place.y_offset))
            x += place.x_advance
        if not pen.points:
            continue
        offsets = np.concatenate([np.full((count, 2), (dx, dy), float) for count, dx, dy in spans])
        left = {"start": 0.0, "middle": -x / 2, "end": -x}[text.align]
        points = (np.array(pen.points) + offsets + (left, 0.0)) * (scale, -scale)
        verbs.extend(pen.verbs)
        chunks.append(points + (0.0, number * text.size * text.line_height))
    if not chunks:
        return Outline("", np.empty((0, 2)))
    return Outline("".join(verbs), np.concatenate(chunks))
