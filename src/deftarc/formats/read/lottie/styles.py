"""Fills and strokes of a Lottie file as an artwork's own: colours, gradients, pens, dashes, each perhaps keyed."""

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.document.artwork import Gradient
from deftarc.core.document.artwork.gradient import Stop
from deftarc.core.document.keys import BlendKey, NumberKey
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack
from deftarc.core.spaces.colour import blend, hex_colour
from deftarc.formats.read.lottie.keys import Clocked, Key, list_of, number_of, row_of, sided
from deftarc.formats.read.lottie.source import Told

CAPS = {1: "butt", 2: "round", 3: "square"}
JOINS = {1: "miter", 2: "round", 3: "bevel"}
#: Of 1: what a colour on the way may be off.
NEAR = 0.6 / 255


@dataclass
class Styled:
    """Fields of an artwork, and tracks of it."""

    fields: dict[str, Any] = field(default_factory=dict)
    tracks: dict[str, AnyTrack] = field(default_factory=dict)


def filled(told: Told, clocked: Clocked) -> Styled:
    out = Styled({"rule": "evenodd" if told.get("r") == 2 else "nonzero"})
    if told.get("ty") == "gf":
        _gradient(told, "fill", out, clocked)
        share = clocked.number(told.get("o"), factor=0.01, default=100.0, low=0.0, high=1.0)
        out.fields["filled"] = share.value if not share.keys else 1.0
        if share.keys:
            out.tracks["filled"] = share
        out.fields["fill"] = "#000000"
        return out
    _coloured(told, "fill", out, clocked)
    return out


def stroked(told: Told, clocked: Clocked) -> Styled:
    out = Styled({"cap": CAPS.get(told.get("lc", 2), "round"), "join": JOINS.get(told.get("lj", 2), "round")})
    width = clocked.number(told.get("w"), default=1.0, low=0.0, high=10_000.0)
    out.fields["stroke_width"] = width.value
    if width.keys:
        out.tracks["stroke_width"] = width
    if told.get("ty") == "gs":
        _gradient(told, "stroke", out, clocked)
        out.fields["stroke"] = "#000000"
        if clocked.number(told.get("o"), factor=0.01, default=100.0).value < 1 or clocked.keys(told.get("o")):
            clocked.notes.add("Strokes with a gradient are as opaque as the gradient is")
    else:
        _coloured(told, "stroke", out, clocked)
    _dashed(told, out, clocked)
    return out


def _coloured(told: Told, name: str, out: Styled, clocked: Clocked) -> None:
    share = clocked.number(told.get("o"), factor=0.01, default=100.0, low=0.0, high=1.0)
    keys = clocked.keys(told.get("c"))
    still = [*row_of(clocked.still(told.get("c")), 3), share.value]
    if not keys:
        out.fields[name] = hex_colour(np.clip(still, 0, 1))
        if share.keys:
            rows = [(*np.clip(still[:3], 0, 1).tolist(), key.value) for key in share.keys]
            out.tracks[name] = _with_alpha(share, rows)
        return
    colours = [np.clip([*row_of(key.value, 3), share.value], 0, 1) for key in keys]
    out.fields[name] = hex_colour(colours[0])
    out.tracks[name] = _evenly(keys, colours, share, clocked)


def _with_alpha(share: NumberTrack, rows: list[tuple[float, ...]]) -> ColourTrack:
    """A colour whose alpha has a number's keys."""
    made = []
    for k, key in enumerate(share.keys):
        sides = {}
        for side, other in (("arriving", k - 1), ("leaving", k + 1)):
            told = getattr(key, side)
            if told is not None and 0 <= other < len(share.keys):
                change = abs(share.keys[other].value - key.value)
                rise = (
                    told.rise / (share.keys[max(k, other)].value - share.keys[min(k, other)].value) if change else 0.0
                )
                sides[side] = told.changed(rise=rise)
        made.append(BlendKey(time=key.time, value=rows[k], hold=key.hold, **sides))
    return ColourTrack(value=rows[0], keys=tuple(made))


def _evenly(keys: list[Key], colours: list[Floats], share: NumberTrack, clocked: Clocked) -> ColourTrack:
    """Colours that go evenly in their numbers, as keys between which they go evenly to the eye: as many as it takes."""
    sides = [told for _, told in sided(keys, [float(k) for k in range(len(keys))])]
    alike = all(
        _near(colours[k], colours[k + 1]) or keys[k].hold for k in range(len(keys) - 1)
    )  # fmt: skip
    rows = [tuple(float(x) for x in each) for each in colours]
    plain = ColourTrack(value=rows[0], keys=tuple(
        BlendKey(time=key.time, value=rows[k], **sides[k]) for k, key in enumerate(keys)
    ))  # fmt: skip
    if alike and not share.keys:
        return plain
    first, last = keys[0].time, keys[-1].time
    if share.keys:
        first, last = min(first, share.keys[0].time), max(last, share.keys[-1].time)
    # By frames, since what is even in numbers is not so to the eye.
    measured = _Along(keys, sides)
    frames = np.arange(first, last + clocked.flicks, clocked.flicks).astype(np.float64)
    places = measured.at(frames)
    told = np.array(colours)
    k = np.clip(places.astype(int), 0, max(0, len(told) - 2))
    part = (places - k)[:, None]
    numbers = told[k] + (told[np.minimum(k + 1, len(told) - 1)] - told[k]) * part
    if share.keys:
        numbers[:, 3] = share.motion(frames)[:, 0]
    numbers = np.clip(numbers, 0, 1)
    chosen = _chosen(numbers)
    made = tuple(BlendKey(time=round(float(frames[n])), value=tuple(numbers[n].tolist())) for n in chosen)
    return ColourTrack(value=made[0].value, keys=made)


class _Along:
    """How far along keys a motion is, in keys."""

    def __init__(self, keys: list[Key], sides: list[dict[str, Any]]) -> None:
        made = [NumberKey(time=key.time, value=float(k), **sides[k]) for k, key in enumerate(keys)]
        self.track = NumberTrack(value=0.0, keys=tuple(made))

    def at(self, times: Floats) -> Floats:
        return np.asarray(self.track.motion(times)[:, 0])


def _near(one: Floats, other: Floats) -> bool:
    """Whether the way between two colours is the same in numbers and to the eye."""
    share = np.linspace(0, 1, 9)
    rows = np.tile(one, (9, 1)), np.tile(other, (9, 1))
    even = rows[0] + (rows[1] - rows[0]) * share[:, None]
    return bool(np.abs(blend(*rows, share) - even).max() < NEAR)


def _chosen(rows: Floats) -> list[int]:
    """Which of the rows of colours are kept, so that what lies between is near enough."""
    out, first = [0], 0
    while first < len(rows) - 1:
        step = len(rows) - 1 - first
        while step > 1:
            share = np.arange(1, step) / step
            a, b = (np.tile(rows[n], (step - 1, 1)) for n in (first, first + step))
            if np.abs(blend(a, b, share) - rows[first + 1 : first + step]).max() < NEAR:
                break
            step = max(1, step // 2)
        first += step
        out.append(first)
    return out


def _gradient(told: Told, of: str, out: Styled, clocked: Clocked) -> None:
    ends = {}
    for name, where in (("1", told.get("s")), ("2", told.get("e"))):
        for part, axis in enumerate("xy"):
            track = clocked.number(where, part)
            ends[f"{axis}{name}"] = track.value
            if track.keys:
                out.tracks[f"gradient/{of}/gradient_{axis}{name}"] = track
    found = told.get("g")
    inside: Told = found if isinstance(found, dict) else {}
    stops = inside.get("k")
    keys = clocked.keys(stops)
    count = int(number_of(inside.get("p"), 2.0))
    rows = [_stops(key.value, count) for key in keys] or [_stops(clocked.still(stops), count)]
    if len({len(row) for row in rows}) > 1:
        clocked.notes.add("Gradients whose stops come and go keep those they begin with")
        keys, rows = [], rows[:1]
    made = []
    for n, (at, *colour) in enumerate(rows[0]):
        made.append(Stop(id=f"{of}{n}", at=at, colour=hex_colour(np.array(colour))))
        if len(keys) < 2:
            continue
        shares = [float(row[n][0]) for row in rows]
        out.tracks[f"stop/{of}{n}/stop_at"] = _shares(keys, shares)
        colours = [np.clip(np.array(row[n][1:]), 0, 1) for row in rows]
        out.tracks[f"stop/{of}{n}/stop_colour"] = _evenly(keys, colours, NumberTrack(value=1.0), clocked)
    if told.get("t") == 2 and number_of(clocked.still(told.get("h"))) != 0:
        clocked.notes.add("Gradients are round about their middle: their highlights are not moved from there")
    kind = "radial" if told.get("t") == 2 else "linear"
    out.fields[f"{of}_gradient"] = Gradient(kind=kind, **ends, stops=tuple(made))


def _shares(keys: list[Key], values: list[float]) -> NumberTrack:
    made = [NumberKey(time=key.time, value=values[k], **sides) for k, (key, sides) in enumerate(sided(keys, values))]
    return NumberTrack(value=values[0], keys=tuple(made))


def _stops(told: Any, count: int) -> list[list[float]]:
    """A share and a colour each, from a flat row of colours and then, perhaps, of how clear they are."""
    row = [number_of(each) for each in told] if isinstance(told, list) else []
    count = max(1, min(count, len(row) // 4, 120))
    colours = np.array(row[: 4 * count] or [0.0, 0.0, 0.0, 0.0]).reshape(-1, 4)
    rest = row[4 * count :]
    clear = np.array(rest[: len(rest) // 2 * 2]).reshape(-1, 2)
    at = np.clip(colours[:, 0], 0, 1)
    shares = at if not len(clear) else np.unique(np.concatenate([at, np.clip(clear[:, 0], 0, 1)]))
    if len(shares) < 2:
        shares = np.array([0.0, 1.0])
    parts = [np.interp(shares, at, colours[:, k]) for k in (1, 2, 3)]
    alpha = np.interp(shares, clear[:, 0], clear[:, 1]) if len(clear) else np.ones(len(shares))
    return np.clip(np.stack([shares, *parts, alpha], axis=1), 0, 1).tolist()


def _dashed(told: Told, out: Styled, clocked: Clocked) -> None:
    rows = [each for each in list_of(told.get("d")) if isinstance(each, dict)]
    lengths = [clocked.number(each.get("v"), low=0.0, high=1e6) for each in rows if each.get("n") != "o"]
    if not any(track.value > 0 or track.keys for track in lengths):
        return
    out.fields["dash"] = tuple(max(0.01, track.value) for track in lengths)
    for n, track in enumerate(lengths):
        if track.keys:
            out.tracks[f"dash/{n}/dash_length"] = track
    for each in rows:
        if each.get("n") == "o":
            offset = clocked.number(each.get("v"))
            out.fields["dash_offset"] = offset.value
            if offset.keys:
                out.tracks["dash_offset"] = offset


__all__ = ["Styled", "filled", "stroked"]
