"""Texts as outlines, of the letters that a file brings along.

Letters lie as they do in the players of such files: a letter's outline and width are told for a size of 100, tracking
in thousandths of the size is added after each, spaces at a line's end take no room, and lines stand one line height
apart.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from deftarc.core.base import limits
from deftarc.core.document.artwork import Contour, FreePath
from deftarc.core.spaces.colour import hex_colour
from deftarc.formats.read.lottie.keys import Clocked, list_of, number_of, row_of
from deftarc.formats.read.lottie.outlines import Rows, path
from deftarc.formats.read.lottie.source import Told

#: How a text lies: 0 from the left, 1 to the right, 2 about the middle; what part of a line's width it is moved by.
ALIGNED = {0: 0.0, 1: 1.0, 2: 0.5}
ENDS = "\r\n\x03"
#: Points that one path takes, with room for the longest letter.
MOST_POINTS = limits.MAX_OUTLINE_POINTS


@dataclass(frozen=True)
class Letter:
    """Its width and its contours at a size of 100."""

    width: float
    contours: tuple[tuple[Rows, bool], ...]


@dataclass(frozen=True)
class Words:
    """What a text says from a moment on, in flicks: one outline, or several where it is long."""

    time: int
    paths: tuple[FreePath, ...]


class Letters:
    """All letters of a file, by face, style and sign."""

    def __init__(self, told: Told, clocked: Clocked) -> None:
        self.clocked = clocked
        self.faces: dict[str, Told] = {}
        fonts = told.get("fonts")
        for each in list_of(fonts.get("list")) if isinstance(fonts, dict) else []:
            if isinstance(each, dict):
                self.faces.setdefault(str(each.get("fName")), each)
        self.told = {
            (str(each.get("fFamily")), str(each.get("style")), str(each.get("ch"))): each
            for each in list_of(told.get("chars")) if isinstance(each, dict)
        }  # fmt: skip
        self._known: dict[tuple[str, str, str], Letter | None] = {}

    def words(self, rows: list[Any]) -> list[Words] | None:
        """What a text says, one document after the other; None where a letter of it is not here."""
        out = []
        for each in rows:
            said = each.get("s") if isinstance(each, dict) else None
            if not isinstance(said, dict) or not isinstance(said.get("t"), str):
                continue
            paths = self._paths(said)
            if paths is None:
                return None
            out.append(Words(self.clocked.time(each.get("t")), paths))
        return out or None

    def _paths(self, said: Told) -> tuple[FreePath, ...] | None:
        face = self.faces.get(str(said.get("f")), {})
        text = said["t"][: limits.MAX_TEXT]
        text = text.upper() if said.get("ca") == 1 else text
        letters: dict[str, Letter] = {}
        for sign in set(text) - set(ENDS):
            found = self._letter(str(face.get("fFamily")), str(face.get("fStyle")), sign)
            if found is None:
                return None
            letters[sign] = found
        size = min(5_000.0, max(0.01, number_of(said.get("s"), 24.0)))
        contours = list(_laid(said, text, letters, size, number_of(face.get("ascent"))))
        looks = _looks(said)
        return tuple(FreePath(contours=part, **looks) for part in _parts(contours))

    def _letter(self, family: str, style: str, sign: str) -> Letter | None:
        key = (family, style, sign)
        if key not in self._known:
            self._known[key] = self._read(key)
        return self._known[key]

    def _read(self, key: tuple[str, str, str]) -> Letter | None:
        told = self.told.get(key)
        if told is None:
            # A space is not always among them.
            return Letter(25.0, ()) if key[2].isspace() else None
        data = told.get("data")
        shapes = list_of(data.get("shapes")) if isinstance(data, dict) else []
        contours = tuple((each.rows[0], each.closed) for each in _drawn(shapes, self.clocked))
        if not contours and not key[2].isspace() and isinstance(data, dict) and "refId" in data:
            return None
        return Letter(max(0.0, number_of(told.get("w"))), contours)


def _drawn(items: list[Any], clocked: Clocked) -> Iterator[Any]:
    for each in items:
        if not isinstance(each, dict):
            continue
        if each.get("ty") == "sh":
            yield from path(each, clocked)
        elif each.get("ty") == "gr":
            yield from _drawn(list_of(each.get("it")), clocked)


def _looks(said: Told) -> dict[str, Any]:
    out: dict[str, Any] = {"fill": hex_colour((*row_of(said["fc"], 3), 1.0)) if said.get("fc") else None}
    width = number_of(said.get("sw"))
    if said.get("sc") and width > 0:
        colour = hex_colour((*row_of(said["sc"], 3), 1.0))
        out |= {"stroke": colour, "stroke_width": min(width, 10_000.0), "join": "miter"}
    return out


def _laid(said: Told, text: str, letters: dict[str, Letter], size: float, ascent: float) -> Iterator[Contour]:
    scale, tracking = size / 100, number_of(said.get("tr")) / 1000 * size
    box, corner = (row_of(said[name], 2) if isinstance(said.get(name), list) else None for name in ("sz", "ps"))
    widths = {sign: letter.width * scale + tracking for sign, letter in letters.items()}
    lines = _lines(text)
    if box is not None:
        lines = [part for line in lines for part in _broken(line, widths, box[0] + tracking)]
    share = ALIGNED.get(int(number_of(said.get("j"))), 0.0)
    height = number_of(said.get("lh")) or 1.2 * size
    left, y = (box[0] * share if box is not None else 0.0), -number_of(said.get("ls"))
    if corner is not None:
        left, y = left + corner[0], y + corner[1] + ascent * scale
    for line in lines:
        x = left - share * (sum(widths[sign] for sign in line.rstrip(" ")) - tracking)
        for sign in line:
            for rows, closed in letters[sign].contours:
                points = tuple(
                    (x + a * scale, y + b * scale, *(n * scale for n in arms)) for a, b, *arms in rows
                )  # fmt: skip
                yield Contour(points=points, closed=closed)
            x += widths[sign]
        y += height


def _lines(text: str) -> list[str]:
    return text.replace("\r\n", "\r").replace("\n", "\r").replace("\x03", "\r").split("\r")


def _broken(line: str, widths: dict[str, float], room: float) -> list[str]:
    """A line in as many as its box has it: broken at spaces, and within a word that is wider than all of it."""
    out, at, wide = [], "", 0.0
    for sign in line:
        if sign != " " and wide + widths[sign] > room:
            head, space, tail = at.rpartition(" ")
            out.append(head if space else at)
            at = tail if space else ""
            wide = sum(widths[each] for each in at)
        at += sign
        wide += widths[sign]
    return [*out, at]


def _parts(contours: list[Contour]) -> Iterator[tuple[Contour, ...]]:
    """Contours in as few rows as keep the limits of a path."""
    row: list[Contour] = []
    points = 0
    for each in contours:
        if row and (len(row) >= limits.MAX_CONTOURS or points + len(each.points) > MOST_POINTS):
            yield tuple(row)
            row, points = [], 0
        row.append(each)
        points += len(each.points)
    if row:
        yield tuple(row)


__all__ = ["Letters", "Words"]
