"""The shipped fonts, and text shaped to outlines with them, so that every painter draws the same.

Shaping is HarfBuzz's. A font's id is its file's name without the ending.
"""

import unicodedata
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files
from io import BytesIO
from threading import Lock

import brotli
import numpy as np
import uharfbuzz
from bidi.algorithm import (
    explicit_embed_and_overrides,
    get_base_level,
    get_embedding_levels,
    get_empty_storage,
    resolve_implicit_levels,
    resolve_neutral_types,
    resolve_weak_types,
)
from fontTools.ttLib import TTFont, woff2

from deftarc.core import limits
from deftarc.core.artwork import Text
from deftarc.core.errors import Refusal, unknown
from deftarc.core.shapes import TextForm


@dataclass(frozen=True)
class Face:
    """A shipped face: its files in the order in which a letter is looked for."""

    id: str
    label: str
    files: tuple[str, ...]


def _face(name: str, weight: int, label: str) -> Face:
    parts = ("latin", "latin-ext")
    return Face(f"{name}-{weight}", label, tuple(f"{name}-{part}-{weight}-normal.woff2" for part in parts))


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
    with counted_unpacking():
        font = TTFont(BytesIO(data))
        font.flavor = None
        plain = BytesIO()
        font.save(plain)
    return plain.getvalue()


class _Counted:
    """Brotli as fontTools calls it, counting as it unpacks: a font of a kilobyte can stand for gigabytes."""

    @staticmethod
    def decompress(data: bytes) -> bytes:
        unpacker, out, told = brotli.Decompressor(), bytearray(), bytes(data)
        while True:
            out += unpacker.process(told, output_buffer_limit=1 << 20)
            told = b""
            if len(out) > limits.MAX_FONT_UNPACKED:
                raise Refusal(f"This font unpacks to more than {limits.MAX_FONT_UNPACKED // 2**20} MiB.")
            if unpacker.is_finished():
                return bytes(out)
            if unpacker.can_accept_more_data():
                raise Refusal("This font is damaged, and cannot be used.")

    compress = brotli.compress
    MODE_FONT = brotli.MODE_FONT
    error = brotli.error


@contextmanager
def counted_unpacking() -> Iterator[None]:
    """While this lasts, fontTools unpacks WOFF2 within the limits."""
    with _ONE_AT_A_TIME:
        before, woff2.brotli = woff2.brotli, _Counted
        try:
            yield
        finally:
            woff2.brotli = before


_ONE_AT_A_TIME = Lock()


@dataclass(frozen=True, eq=False)
class Typeface:
    """A font as HarfBuzz knows it, its units per em, and the letters it has."""

    font: uharfbuzz.Font
    upem: int
    letters: frozenset[int]


@lru_cache(maxsize=64)
def _file(name: str) -> Typeface:
    return _typeface(_unpacked((files("deftarc") / "web" / "static" / "vendor" / "fonts" / name).read_bytes()))


def _typeface(plain: bytes) -> Typeface:
    face = uharfbuzz.Face(plain)
    return Typeface(uharfbuzz.Font(face), face.upem, frozenset(face.unicodes))


def _shipped(face_id: str) -> list[Typeface]:
    """A shipped face's files."""
    face = FACES.get(face_id)
    if face is None:
        raise unknown("font", face_id)
    return [_file(name) for name in face.files]


@lru_cache(maxsize=1)
def _others() -> list[Typeface]:
    """All shipped files: where a letter that a font lacks is looked for, in their order."""
    return [_file(name) for face in FACES.values() for name in face.files]


def check_font(data: bytes) -> tuple[bytes, str]:
    """An uploaded TTF, OTF or WOFF2 as plain OpenType, and its full name; Refusal when it is none or broken."""
    if len(data) > limits.MAX_FONT_BYTES:
        raise Refusal(f"This font is larger than {limits.MAX_FONT_BYTES // 1024 // 1024} MiB.")
    if data[:4] not in (b"\x00\x01\x00\x00", b"OTTO", b"true", b"wOF2"):
        raise Refusal("This file is no font Deft Arc can read. It takes TTF, OTF and WOFF2.")
    try:
        if data[:4] == b"wOF2" and int.from_bytes(data[16:20]) > limits.MAX_FONT_UNPACKED:
            raise Refusal(f"This font unpacks to more than {limits.MAX_FONT_UNPACKED // 2**20} MiB.")
        plain = _unpacked(data)
        if len(plain) > limits.MAX_FONT_UNPACKED:
            raise Refusal(f"This font unpacks to more than {limits.MAX_FONT_UNPACKED // 2**20} MiB.")
        font = TTFont(BytesIO(plain), lazy=True)
        glyphs = font["maxp"].numGlyphs
        # Asked of the shaper, which keeps ranges: a table of a few bytes can name every letter there could be.
        if not len(uharfbuzz.Face(plain).unicodes) or not 1 < glyphs <= 70_000:
            raise Refusal("This font has no letters that can be written with it.")
        if "glyf" not in font and "CFF " not in font and "CFF2" not in font:
            raise Refusal("This font has no outlines: fonts made of pictures cannot be drawn here.")
        label = str(font["name"].getDebugName(4) or font["name"].getDebugName(1) or "Own font")
        shaped = _typeface(plain).font
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
        self._own: dict[str, Typeface] = {}
        self._forms: dict[tuple[object, ...], TextForm] = {}
        #: By what was asked for, why it could not be shaped, or what of it.
        self._troubles: dict[tuple[object, ...], str] = {}

    def font(self, name: str) -> list[Typeface]:
        """The typefaces of a font, in the order in which letters are looked for; Refusal where it is not here."""
        if not name.startswith(OWN):
            return _shipped(name)
        if name not in self._own:
            self._own[name] = _typeface(self.read_asset(name.removeprefix(OWN)))
        return [self._own[name]]

    def shaped(self, text: Text) -> tuple[TextForm, str]:
        """The form of a text, the first baseline at y 0, each line aligned at x 0; and which letters no font has, in
        words. Refusal where it has no form.
        """
        faces = self.font(text.font)
        try:
            return _form(faces, text, text.letter_spacing != 0)
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
                found, missing = self.shaped(text)
            except Refusal as refusal:
                nothing = np.empty((0, 2))
                found, missing = TextForm("", nothing, nothing, nothing), str(refusal)
            self._troubles[told] = missing
            self._forms[told] = found
        return found

    def trouble(self, text: Text) -> str:
        """Why a text, or some of its letters, are drawn as nothing; empty where all is drawn."""
        self.form(text)
        return self._troubles.get(_told(text), "")


def _told(text: Text) -> tuple[object, ...]:
    return text.font, text.text, text.align, text.letter_spacing != 0


@dataclass(frozen=True)
class _Run:
    """A stretch of a line in one typeface and one direction: where it begins in the line, and its letters."""

    face: Typeface
    start: int
    letters: str
    backwards: bool


#: Marks that join to the letter before them, and what is not seen: looked for nowhere by themselves.
_JOINED = ("Mn", "Me", "Mc", "Cf", "Cc")


def _runs(line: str, faces: list[Typeface], missing: dict[str, None]) -> list[_Run]:
    """A line's stretches as they stand from left to right, by the Unicode bidirectional algorithm (UAX #9)."""
    levels = _levels(line)
    chosen: list[Typeface] = []
    for letter in line:
        if (
            chosen
            and (unicodedata.category(letter) in _JOINED or letter == " ")
            and ord(letter) in (chosen[-1].letters | {0x200C, 0x200D})
        ):
            chosen.append(chosen[-1])
            continue
        face = next((each for each in (*faces, *_others()) if ord(letter) in each.letters), None)
        if face is None and unicodedata.category(letter) not in _JOINED and not letter.isspace():
            missing[letter] = None
        chosen.append(face or (chosen[-1] if chosen else faces[0]))
    runs: list[tuple[int, _Run]] = []
    start = 0
    for k in range(1, len(line) + 1):
        if k == len(line) or chosen[k] is not chosen[start] or levels[k] != levels[start]:
            runs.append((levels[start], _Run(chosen[start], start, line[start:k], levels[start] % 2 == 1)))
            start = k
    # What has a level at least so high is turned round, from the highest to the lowest odd one.
    for level in range(max(levels, default=0), 0, -1):
        k = 0
        while k < len(runs):
            end = k
            while end < len(runs) and runs[end][0] >= level:
                end += 1
            runs[k:end] = reversed(runs[k:end])
            k = max(end, k + 1)
    return [run for _, run in runs]


def _levels(line: str) -> list[int]:
    """The embedding level of each letter of a line."""
    if line.isascii():
        return [0] * len(line)
    # Isolates and paragraph marks are not known to the levels' rules there: they stand as blanks.
    told = "".join(" " if unicodedata.bidirectional(c) in ("LRI", "RLI", "FSI", "PDI", "B", "") else c for c in line)
    storage = get_empty_storage()
    storage["base_level"] = get_base_level(told)
    storage["base_dir"] = ("L", "R")[storage["base_level"]]
    get_embedding_levels(told, storage, False, False)
    for at, letter in enumerate(storage["chars"]):
        letter["at"] = at
    for step in (
        explicit_embed_and_overrides, resolve_weak_types, resolve_neutral_types, resolve_implicit_levels,
    ):  # fmt: skip
        step(storage, False)
    levels = [int(storage["base_level"])] * len(line)
    for letter in storage["chars"]:
        levels[letter["at"]] = int(letter["level"])
    return levels


def _form(faces: list[Typeface], text: Text, spaced: bool) -> tuple[TextForm, str]:
    verbs: list[str] = []
    letters, shifts, lines = [], [], []
    missing: dict[str, None] = {}
    # Spaced letters stand apart: none are drawn together.
    features = {"liga": not spaced, "clig": not spaced, "dlig": False, "kern": True}
    for number, told in enumerate(text.text.split("\n")):
        line = unicodedata.normalize("NFC", told)
        if not line:
            continue
        pen = _Pen()
        spans: list[tuple[int, float, float, float, int]] = []
        clusters: set[int] = set()
        x = 0.0
        for run in _runs(line, faces, missing):
            buffer = uharfbuzz.Buffer()
            buffer.add_str(run.letters)
            buffer.guess_segment_properties()
            buffer.direction = "rtl" if run.backwards else "ltr"
            uharfbuzz.shape(run.face.font, buffer, features)
            for info, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
                before = len(pen.points)
                if info.codepoint:
                    run.face.font.draw_glyph(info.codepoint, _DRAW, pen)
                size = 1 / run.face.upem
                cluster = run.start + info.cluster
                clusters.add(cluster)
                spans.append(
                    (len(pen.points) - before, x + place.x_offset * size, place.y_offset * size, size, cluster)
                )
                x += place.x_advance * size
        if not pen.points:
            continue
        # Letters move apart in the order in which they stand.
        seen = dict.fromkeys(cluster for *_, cluster in spans)
        order = {cluster: at for at, cluster in enumerate(seen)}
        scale = np.concatenate([np.full((count, 1), size, float) for count, _, _, size, _ in spans])
        offsets = np.concatenate([np.full((count, 2), (dx, dy), float) for count, dx, dy, _, _ in spans])
        share = {"start": 0.0, "middle": -0.5, "end": -1.0}[text.align]
        # Spacing stands between letters: the last one has none after it that would push an aligned line aside.
        widened = share * max(0, len(order) - 1)
        shift = np.concatenate([np.full((count, 2), (order[at] + widened, 0.0), float) for count, _, _, _, at in spans])
        letters.append((np.array(pen.points) * scale + offsets + (share * x, 0.0)) * (1, -1))
        shifts.append(shift)
        lines.append(np.full((len(shift), 2), (0.0, number), float))
        verbs.extend(pen.verbs)
    if not letters:
        nothing = np.empty((0, 2))
        return TextForm("", nothing, nothing, nothing), _lacking(missing)
    return TextForm("".join(verbs), *(np.concatenate(part) for part in (letters, shifts, lines))), _lacking(missing)


def _lacking(missing: dict[str, None]) -> str:
    """Which letters no font here has, by name."""
    if not missing:
        return ""
    names = [f"“{each}” ({unicodedata.name(each, f'U+{ord(each):04X}').lower()})" for each in list(missing)[:4]]
    more = f" and {len(missing) - 4} more" if len(missing) > 4 else ""
    return f"No font here has {', '.join(names)}{more}. Bring in a font that does, and choose it for this text."
