"""The shipped fonts, and text shaped to outlines with them, so that every painter draws the same.

Shaping is HarfBuzz's. A font's id is its file's name without the ending.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files
from io import BytesIO

import numpy as np
import uharfbuzz
from fontTools.ttLib import TTFont

from deftarc.core import limits
from deftarc.core.artwork import Text
from deftarc.core.errors import Refusal, unknown
from deftarc.core.shapes import TextForm


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


#: What a text's font is called when it is the project's own: this and its asset's hash.
OWN = "own-"
#: Hands over an asset's bytes by its hash; raises Refusal when there is none.
AssetReader = Callable[[str], bytes]


def _unpacked(data: bytes) -> bytes:
    """A font's bytes as plain OpenType: WOFF2 is unpacked."""
    font = TTFont(BytesIO(data))
    font.flavor = None
    plain = BytesIO()
    font.save(plain)
    return plain.getvalue()


@lru_cache(maxsize=16)
def _shipped(face_id: str) -> tuple[uharfbuzz.Font, int]:
    """A HarfBuzz font and its units per em."""
    face = FACES.get(face_id)
    if face is None:
        raise unknown("font", face_id)
    return _font(_unpacked((files("deftarc") / "web" / "static" / "vendor" / "fonts" / face.file).read_bytes()))


def _font(plain: bytes) -> tuple[uharfbuzz.Font, int]:
    face = uharfbuzz.Face(plain)
    return uharfbuzz.Font(face), face.upem


def check_font(data: bytes) -> tuple[bytes, str]:
    """An uploaded TTF, OTF or WOFF2 as plain OpenType, and its full name; Refusal when it is none or broken."""
    if len(data) > limits.MAX_FONT_BYTES:
        raise Refusal(f"This font is larger than {limits.MAX_FONT_BYTES // 1024 // 1024} MiB.")
    if data[:4] not in (b"\x00\x01\x00\x00", b"OTTO", b"true", b"wOF2"):
        raise Refusal("This file is no font Deft Arc can read. It takes TTF, OTF and WOFF2.")
    try:
        plain = _unpacked(data)
        font = TTFont(BytesIO(plain))
        glyphs = font["maxp"].numGlyphs
        if not font.getBestCmap() or not 1 < glyphs <= 70_000:
            raise Refusal("This font has no letters that can be written with it.")
        if "glyf" not in font and "CFF " not in font and "CFF2" not in font:
            raise Refusal("This font has no outlines: fonts made of pictures cannot be drawn here.")
        label = str(font["name"].getDebugName(4) or font["name"].getDebugName(1) or "Own font")
        shaped, _ = _font(plain)
        buffer = uharfbuzz.Buffer()
        buffer.add_str("Aa")
        buffer.guess_segment_properties()
        uharfbuzz.shape(shaped, buffer)
    except Refusal:
        raise
    except Exception:
        # Font parsers raise all sorts on bad data; whatever it is, this file cannot be used.
        raise Refusal("This font is damaged, and cannot be used.") from None
    return plain, "".join(c for c in label if c.isprintable()).strip()[: limits.MAX_NAME] or "Own font"


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


class Shaper:
    """Shapes texts with the shipped fonts and those a project has brought in; keeps what it shaped."""

    def __init__(self, read_asset: AssetReader) -> None:
        self.read_asset = read_asset
        self._own: dict[str, tuple[uharfbuzz.Font, int]] = {}
        self._forms: dict[tuple[str, str, str], TextForm] = {}
        #: By what was asked for, why it could not be shaped.
        self._troubles: dict[tuple[str, str, str], str] = {}

    def font(self, name: str) -> tuple[uharfbuzz.Font, int]:
        if not name.startswith(OWN):
            return _shipped(name)
        if name not in self._own:
            self._own[name] = _font(self.read_asset(name.removeprefix(OWN)))
        return self._own[name]

    def shaped(self, text: Text) -> TextForm:
        """The form of a text: the first baseline at y 0, each line aligned at x 0. Refusal where it has none."""
        font, upem = self.font(text.font)
        try:
            return _form(font, upem, text)
        except (ValueError, RuntimeError, KeyError, UnicodeError) as error:
            raise Refusal(f"This text cannot be shaped with its font ({type(error).__name__}).") from error

    def form(self, text: Text) -> TextForm:
        """The form of a text as it is drawn: nothing where it cannot be shaped, and ``trouble`` says why."""
        told = _told(text)
        found = self._forms.get(told)
        if found is None:
            if len(self._forms) > 2000:
                self._forms.clear()
                self._troubles.clear()
            try:
                found = self.shaped(text)
            except Refusal as refusal:
                self._troubles[told] = str(refusal)
                nothing = np.empty((0, 2))
                found = TextForm("", nothing, nothing, nothing)
            self._forms[told] = found
        return found

    def trouble(self, text: Text) -> str:
        """Why a text is drawn as nothing; empty where it is not."""
        self.form(text)
        return self._troubles.get(_told(text), "")


def _told(text: Text) -> tuple[str, str, str]:
    return text.font, text.text, text.align


def _form(font: uharfbuzz.Font, upem: int, text: Text) -> TextForm:
    verbs: list[str] = []
    letters, shifts, lines = [], [], []
    for number, line in enumerate(text.text.split("\n")):
        if not line:
            continue
        buffer = uharfbuzz.Buffer()
        buffer.add_str(line)
        buffer.guess_segment_properties()
        uharfbuzz.shape(font, buffer)
        pen = _Pen()
        spans: list[tuple[int, float, float, int]] = []
        x = 0.0
        clusters = {info.cluster: None for info in buffer.glyph_infos}
        order = {cluster: at for at, cluster in enumerate(sorted(clusters))}
        for info, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
            before = len(pen.points)
            font.draw_glyph(info.codepoint, _DRAW, pen)
            spans.append((len(pen.points) - before, x + place.x_offset, place.y_offset, order[info.cluster]))
            x += place.x_advance
        if not pen.points:
            continue
        offsets = np.concatenate([np.full((count, 2), (dx, dy), float) for count, dx, dy, _ in spans])
        share = {"start": 0.0, "middle": -0.5, "end": -1.0}[text.align]
        # Spacing stands between letters: the last one has none after it that would push an aligned line aside.
        widened = share * max(0, len(order) - 1)
        shift = np.concatenate([np.full((count, 2), (at + widened, 0.0), float) for count, _, _, at in spans])
        letters.append((np.array(pen.points) + offsets + (share * x, 0.0)) * (1 / upem, -1 / upem))
        shifts.append(shift)
        lines.append(np.full((len(shift), 2), (0.0, number), float))
        verbs.extend(pen.verbs)
    if not letters:
        nothing = np.empty((0, 2))
        return TextForm("", nothing, nothing, nothing)
    return TextForm("".join(verbs), *(np.concatenate(part) for part in (letters, shifts, lines)))
