"""The shipped fonts, and text shaped to outlines with them, so that every painter draws the same.

Shaping is HarfBuzz's. A font's id is its file's name without the ending.
"""

import unicodedata
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

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

from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.document.artwork import Text, TextForm
from deftarc.fonts.faces import FACES, FILES
from deftarc.fonts.unpack import unpacked

#: What a text's font is called when it is the project's own: this and its asset's hash.
OWN = "own-"
#: Hands over an asset's bytes by its hash; raises Refusal when there is none.
AssetReader = Callable[[str], bytes]


@dataclass(frozen=True, eq=False)
class Typeface:
    """A font as HarfBuzz knows it, its units per em, and the letters it has."""

    font: uharfbuzz.Font
    upem: int
    letters: frozenset[int]


@lru_cache(maxsize=64)
def _file(name: str) -> Typeface:
    return typeface(unpacked((FILES / name).read_bytes()))


def typeface(plain: bytes) -> Typeface:
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
            self._own[name] = typeface(self.read_asset(name.removeprefix(OWN)))
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
                found, missing = _nothing(), str(refusal)
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


#: What takes no room: controls of direction, joining and the like.
_NO_ROOM = ("Cf", "Cc")
#: Scripts whose letters are joined in writing: nothing comes between them, as in CSS (Text 3, 8.2.1).
_CURSIVE = frozenset(
    ("Arab", "Syrc", "Mong", "Phag", "Nkoo", "Mand", "Mani", "Phlp", "Adlm", "Rohg", "Sogd", "Chrs", "Ougr")
)
#: A tab goes on to the next of stops that are so many widths of a blank apart.
TAB = 8
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
        face = next((each for each in (*faces, *_others()) if _has(each, letter)), None)
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


def _has(face: Typeface, letter: str) -> bool:
    """Whether a typeface has a letter, or what it is put together of: the shaper does that."""
    if ord(letter) in face.letters:
        return True
    parts = unicodedata.normalize("NFD", letter)
    return len(parts) > 1 and all(ord(part) in face.letters for part in parts)


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
    letters, shifts, lines, places = [], [], [], []
    missing: dict[str, None] = {}
    stop = TAB * _blank(faces[0])
    for number, told in enumerate(text.text.split("\n")):
        line = unicodedata.normalize("NFC", told)
        if not line:
            continue
        pen = _Pen()
        spans: list[tuple[int, float, float, float, int]] = []
        # By cluster, in the order in which they stand: whether it is a letter of a script that is joined in writing;
        # None of what takes no room.
        clusters: dict[int, bool | None] = {}
        x = 0.0
        for run in _runs(line, faces, missing):
            buffer = uharfbuzz.Buffer()
            buffer.add_str(run.letters)
            buffer.guess_segment_properties()
            buffer.direction = "rtl" if run.backwards else "ltr"
            cursive = buffer.script in _CURSIVE
            # Spaced letters stand apart: none are drawn together, but where they are joined in any case.
            apart = spaced and not cursive
            features = {"liga": not apart, "clig": not apart, "dlig": False, "kern": True}
            uharfbuzz.shape(run.face.font, buffer, features)
            for info, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
                before = len(pen.points)
                letter = run.letters[info.cluster]
                kind = unicodedata.category(letter)
                size = 1 / run.face.upem
                cluster = run.start + info.cluster
                if letter == "\t":
                    clusters[cluster] = False
                    x = (x // stop + 1) * stop
                    continue
                if kind in _NO_ROOM:
                    clusters[cluster] = None
                    continue
                if info.codepoint:
                    run.face.font.draw_glyph(info.codepoint, _DRAW, pen)
                clusters[cluster] = cursive and kind[0] in "LM"
                spans.append(
                    (len(pen.points) - before, x + place.x_offset * size, place.y_offset * size, size, cluster)
                )
                x += place.x_advance * size
        if not pen.points:
            continue
        order = _gaps(clusters)
        scale = np.concatenate([np.full((count, 1), size, float) for count, _, _, size, _ in spans])
        offsets = np.concatenate([np.full((count, 2), (dx, dy), float) for count, dx, dy, _, _ in spans])
        share = {"start": 0.0, "middle": -0.5, "end": -1.0}[text.align]
        # Spacing stands between letters: the last one has none after it that would push an aligned line aside.
        widened = share * max(order.values(), default=0)
        shift = np.concatenate([np.full((count, 2), (order[at] + widened, 0.0), float) for count, _, _, _, at in spans])
        letters.append((np.array(pen.points) * scale + offsets + (share * x, 0.0)) * (1, -1))
        shifts.append(shift)
        number_of = {cluster: n for n, cluster in enumerate(dict.fromkeys(at for *_, at in spans))}
        places.append(np.concatenate([np.full(count, number_of[at], np.int64) for count, *_, at in spans]))
        lines.append(np.full((len(shift), 2), (0.0, number), float))
        verbs.extend(pen.verbs)
    if not letters:
        return _nothing(), _lacking(missing)
    rows = (np.concatenate(part) for part in (letters, shifts, lines, places))
    return TextForm("".join(verbs), *rows), _lacking(missing)


def _nothing() -> TextForm:
    nothing = np.empty((0, 2))
    return TextForm("", nothing, nothing, nothing, np.empty(0, np.int64))


def _blank(face: Typeface) -> float:
    """How wide a blank is, in em."""
    glyph = face.font.get_nominal_glyph(ord(" "))
    wide = face.font.get_glyph_h_advance(glyph) / face.upem if glyph else 0.0
    return wide or 0.25


def _gaps(clusters: dict[int, bool | None]) -> dict[int, int]:
    """By cluster, how many gaps that spacing widens lie before it: none within a word that is joined in writing, and
    none about what takes no room.
    """
    out: dict[int, int] = {}
    count, before = 0, None
    for cluster, joined in clusters.items():
        if joined is None:
            continue
        if before is not None and not (before and joined):
            count += 1
        out[cluster] = count
        before = joined
    return out


def _lacking(missing: dict[str, None]) -> str:
    """Which letters no font here has, by name."""
    if not missing:
        return ""
    names = [f"“{each}” ({unicodedata.name(each, f'U+{ord(each):04X}').lower()})" for each in list(missing)[:4]]
    more = f" and {len(missing) - 4} more" if len(missing) > 4 else ""
    return f"No font here has {', '.join(names)}{more}. Bring in a font that does, and choose it for this text."
