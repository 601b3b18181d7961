"""Items of a layer of shapes as things to be drawn: each with its artwork and tracks, groups with what moves them."""

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from deftarc.core.document.artwork import FreePath
from deftarc.core.document.track import AnyTrack, NumberTrack
from deftarc.formats.read.lottie.keys import Clocked, mapped, number_of
from deftarc.formats.read.lottie.outlines import Source, formed, path, put_together
from deftarc.formats.read.lottie.source import Notes, Told
from deftarc.formats.read.lottie.styles import Styled, filled, stroked

#: Items that change shapes in ways that are not carried, in words.
NOT_CARRIED = {
    "rp": "Repeated shapes show once", "mm": "Shapes merged with others are drawn one over the other",
    "zz": "Zigzags are straight", "pb": "Puckered and bloated outlines are as they were drawn",
    "op": "Offset outlines are as they were drawn", "tw": "Twisted outlines are as they were drawn",
}  # fmt: skip

#: Items that are outlines.
OUTLINES = ("sh", "rc", "el", "sr")


@dataclass
class Drawn:
    """One outline with its fill and stroke."""

    name: str
    artwork: FreePath
    tracks: dict[str, AnyTrack]


@dataclass
class Bunch:
    """Several, moved together by a transform; None where nothing moves them."""

    name: str
    transform: Told | None
    children: "list[Drawn | Bunch]" = field(default_factory=list)


@dataclass
class _Trim:
    """What of lines is drawn: from a share to another, moved on by a third, each a number's track."""

    start: NumberTrack
    end: NumberTrack
    shift: NumberTrack
    in_turn: bool


def drawn_of(items: Any, clocked: Clocked, notes: Notes) -> "list[Drawn | Bunch]":
    """Things from the top down."""
    return _walk(items if isinstance(items, list) else [], clocked, notes, [], None, 0.0)


def _walk(
    items: list[Any], clocked: Clocked, notes: Notes, above: list[Source], trim: _Trim | None, rounding: float
) -> "list[Drawn | Bunch]":
    shown = [each for each in items if isinstance(each, dict) and not each.get("hd")]
    for each in shown:
        kind = each.get("ty")
        if kind in NOT_CARRIED:
            notes.add(NOT_CARRIED[kind])
        elif kind == "tm":
            trim = _trim_of(each, clocked)
        elif kind == "rd":
            corners = clocked.number(each.get("r"), low=0.0)
            rounding = corners.value
            if corners.keys:
                notes.add("Corners rounded from key to key keep the first roundness")
    out: list[Drawn | Bunch] = []
    sources = list(above)
    k = 0
    while k < len(shown):
        each = shown[k]
        kind = each.get("ty")
        if kind in OUTLINES:
            sources += _outlines(each, clocked)
        elif kind == "gr":
            rest, transform = _grouped(each)
            children = _walk(rest, clocked, notes, [], trim, rounding)
            if children:
                out.append(Bunch(_name(each), transform, children))
            elif not _styled(rest):
                # Its outlines are painted by what comes after it.
                sources += _loose(rest, clocked, transform, notes)
        elif kind in ("fl", "gf", "st", "gs"):
            styles, used = _together(shown, k, clocked)
            k += used - 1
            if sources:
                out.append(_drawn(_name(each) or "Shape", sources, styles, trim, rounding, clocked))
        k += 1
    return out


def _together(items: list[Told], k: int, clocked: Clocked) -> tuple[Styled, int]:
    """A style, with the fill that lies right beneath it where it is a stroke: one outline has both."""
    first = items[k]
    if first["ty"] in ("fl", "gf"):
        return filled(first, clocked), 1
    told = stroked(first, clocked)
    after = items[k + 1] if k + 1 < len(items) else None
    if after is not None and after.get("ty") in ("fl", "gf"):
        beneath = filled(after, clocked)
        return Styled({**beneath.fields, **told.fields}, {**beneath.tracks, **told.tracks}), 2
    told.fields["fill"] = None
    return told, 1


def _drawn(name: str, sources: list[Source], styles: Styled, trim: _Trim | None, rounding: float,
           clocked: Clocked) -> Drawn:  # fmt: skip
    contours, outline = put_together(sources, clocked)
    tracks: dict[str, AnyTrack] = dict(styles.tracks)
    fields = {"contours": contours, "rounding": rounding, **styles.fields}
    if outline is not None:
        tracks["outline"] = outline
    if trim is not None:
        for key, track in (("drawn_from", trim.start), ("drawn_to", trim.end), ("drawn_shift", trim.shift)):
            fields[key] = track.value
            if track.keys:
                tracks[key] = track
        fields["drawn_in_turn"] = trim.in_turn
    return Drawn(name, FreePath(**fields), tracks)


def _trim_of(told: Told, clocked: Clocked) -> _Trim:
    start = clocked.number(told.get("s"), factor=0.01, low=0.0, high=1.0)
    end = clocked.number(told.get("e"), factor=0.01, default=100.0, low=0.0, high=1.0)
    shift = mapped(clocked.number(told.get("o")), lambda value: value / 360)
    return _Trim(start, end, shift, told.get("m") == 2)


def _outlines(told: Told, clocked: Clocked) -> list[Source]:
    return path(told, clocked) if told["ty"] == "sh" else formed(told, clocked)


def _grouped(told: Told) -> tuple[list[Told], Told | None]:
    """What is in a group, and what moves all of it."""
    inner = [item for item in told.get("it") or [] if isinstance(item, dict)]
    transform = next((item for item in inner if item.get("ty") == "tr"), None)
    return [item for item in inner if item.get("ty") != "tr"], transform


def _styled(items: list[Told]) -> bool:
    return any(each.get("ty") in ("fl", "gf", "st", "gs") for each in items)


def _loose(items: list[Told], clocked: Clocked, transform: Told | None, notes: Notes) -> list[Source]:
    """Outlines without any style of their own, where they lie."""
    out: list[Source] = []
    for each in items:
        kind = each.get("ty")
        if kind in OUTLINES:
            out += _outlines(each, clocked)
        elif kind == "gr":
            rest, below = _grouped(each)
            out += _loose(rest, clocked, below, notes)
    return [_moved(each, transform, clocked, notes) for each in out]


def _moved(source: Source, transform: Told | None, clocked: Clocked, notes: Notes) -> Source:
    """A contour through a transform that stays."""
    if transform is None:
        return source
    if any(clocked.keys(transform.get(name)) for name in ("a", "p", "s", "r", "sk")):
        notes.add("Groups that move within what paints them stay where they begin")
    ax, ay = (clocked.number(transform.get("a"), k).value for k in (0, 1))
    px, py = (clocked.number(transform.get("p"), k).value for k in (0, 1))
    sx, sy = (clocked.number(transform.get("s"), k, 0.01, 100.0).value for k in (0, 1))
    turn = np.deg2rad(clocked.number(transform.get("r")).value)
    slant = np.tan(np.deg2rad(-number_of(clocked.still(transform.get("sk")))))
    cos, sin = np.cos(turn), np.sin(turn)
    matrix = np.array([[cos, -sin], [sin, cos]]) @ np.array([[1, slant], [0, 1]]) @ np.diag([sx, sy])

    def through(rows: list[list[float]]) -> list[list[float]]:
        told = np.array(rows)
        spots = (told[:, :2] - (ax, ay)) @ matrix.T + (px, py)
        return np.concatenate([spots, told[:, 2:4] @ matrix.T, told[:, 4:] @ matrix.T], axis=1).tolist()

    return Source(source.closed, source.keys, tuple(through(rows) for rows in source.rows))


def _name(told: Told) -> str:
    name = told.get("nm")
    return name.strip()[:100] if isinstance(name, str) else ""


__all__ = ["Bunch", "Drawn", "drawn_of"]
