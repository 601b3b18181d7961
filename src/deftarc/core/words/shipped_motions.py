"""The saved motions that ship: small ones made for Quillhaven's signs, ferries and bells, each in lines of keys."""

from dataclasses import dataclass
from functools import cache

from deftarc.core.base.time import FrameRate
from deftarc.core.changes.saved import offered
from deftarc.core.document.clip import Clip, CopiedLane
from deftarc.core.document.motion import Dial, Rest, SavedMotion
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack, NumberTrack, PathTrack
from deftarc.core.words.read import read_keys

#: The rate its lines are told at, and about how large what they were made on was, across its corners.
RATE, SIZE, FRAME = FrameRate(numerator=24), 240.0, 2203.0


@dataclass(frozen=True)
class Told:
    """A motion in lines, by layer and property. ``asks`` are the numbers it asks for: what they are called, by their
    kind, those that differ by lane with the property.
    """

    name: str
    about: str
    lines: tuple[dict[str, str], ...]
    asks: dict[str, str]
    rest: Rest = "first"
    turns: str = "again"


LONG, OFTEN = {"long": "How long"}, {"often": "How many"}
SHIPPED = (
    Told("Bob on the swell", "Up, down and a little round, for ever", (
        {"position": "after repeat: 0f 0,0 slow ends · 24f 0,14 slow ends · 48f 0,0",
         "rotation": "after repeat: 0f 0° slow ends · 12f 2.5° slow ends · 36f -2.5° slow ends · 48f 0°"},),
        {"far position": "How deep", "far rotation": "How much it rolls", **LONG}),
    Told("Gull swoops in", "Along an arc to where it is", (
        {"position": "0f -420,-260(smooth - 60,190) slow stop 70 · 26f 0,0(smooth -210,40 -)",
         "rotation": "0f 24° slow stop 60 · 26f 0°",
         "opacity": "0f 0% · 6f 100%"},),
        {"far position": "From how far", "way": "Turned by", **LONG}, "last"),
    Told("Bell swings out", "Struck once, it swings and comes to rest", (
        {"rotation": "0f 0° slow stop · 4f 22° slow ends · 14f -16° slow ends · 24f 11° slow ends · "
                     "34f -7° slow ends · 44f 4° slow ends · 54f -2° slow ends · 64f 0°"},),
        {"far rotation": "How far", **LONG}),
    Told("Signal flag flutters", "It leans and narrows in the wind, for ever", (
        {"skew_y": "after repeat: 0f 0° slow ends · 7f 7° slow ends · 19f -6° slow ends · 24f 0°",
         "scale": "after repeat: 0f 100% slow ends · 9f 96% slow ends · 24f 100%"},),
        {"far skew_y": "How strong", **LONG}),
    Told("Ticket stamped", "Down from above, flat for a moment, still", (
        {"scale": "0f 190% slow start 70 · 7f 94% · 9f 104% slow ends · 13f 100%",
         "rotation": "0f -9° slow start 70 · 7f 0° · 13f 0°",
         "opacity": "0f 0% · 4f 100%"},),
        {"far scale": "From how large", **LONG}, "last"),
    Told("Beacon blinks", "Dark for a moment, so many times", (
        {"opacity": "0f 100% slow ends · 6f 15% slow ends · 14f 100% · 30f 100%"},),
        {"far opacity": "How dark", **LONG, **OFTEN}),
    Told("Rope snaps taut", "Across, past where it is, and still", (
        {"position": "0f -160,0 slow start 60 · 9f 0,0 · 11f 14,0 slow ends · 15f -7,0 slow ends · 19f 3,0 slow ends · "
                     "23f 0,0"},),
        {"far position": "From how far", "way": "Turned by", **LONG}, "last"),
    Told("Steam drifts off", "Up, wider and gone", (
        {"position": "0f 0,0 slow stop 40 · 40f 24,-130",
         "scale": "0f 100% slow stop 40 · 40f 170%",
         "opacity": "0f 100% · 14f 80% · 40f 0%"},),
        {"far position": "How high", "far scale": "How much wider", "way": "Turned by", **LONG}),
    Told("Crate dropped", "It falls to where it is, and bounces", (
        # Even pull: parabolas, exact with reaches of a third.
        {"position": "0f 0,-320 leaving 33.333333% 0 · 12f 0,0 arriving 33.333333% 213.333 leaving 33.333333% 53.333 · "
                     "18f 0,-80 arriving 33.333333% 0 leaving 33.333333% 0 · "
                     "24f 0,0 arriving 33.333333% 53.333 leaving 33.333333% 13.333 · "
                     "27f 0,-20 arriving 33.333333% 0 leaving 33.333333% 0 · 30f 0,0 arriving 33.333333% 13.333"},),
        {"far position": "From how high", **LONG}, "last"),
    Told("Hop ashore", "Hops one after the other, each further on", (
        {"position": "0f 0,0 · 4f 0,0(corner - 18,-70) slow ends 30 · 15f 90,0(corner -18,-70 -) · 19f 90,0",
         "scale": "0f 100% slow ends · 4f 92% slow stop · 9f 104% slow ends · 15f 100% slow stop · 17f 91% slow ends · "
                  "19f 100%"},),
        {"far position": "How far", **LONG, **OFTEN}, "first", "adding"),
    Told("Capstan turns", "Whole turns, each beginning and ending softly", (
        {"rotation": "0f 0° slow ends · 36f 360°"},),
        {"far rotation": "How far round", **LONG, **OFTEN}, "first", "adding"),
    Told("Lantern sways", "Left and right on its hook, for ever", (
        {"rotation": "after repeat: 0f 0° slow stop 60 · 15f 7° slow ends · 45f -7° slow start 60 · 60f 0°"},),
        {"far rotation": "How far", **LONG}),
    Told("Timetable line comes up", "From below, a little too high, there", (
        {"position": "0f 0,80 overshoot 50 · 16f 0,0", "opacity": "0f 0% · 8f 100%"},),
        {"far position": "From how far", "way": "Turned by", **LONG}, "last"),
    Told("Tug and tow", "Two layers: the first pulls away, the other comes after it", (
        {"position": "0f 0,0 slow ends 60 · 40f 320,0"},
        {"position": "0f 0,0 · 8f 0,0 slow ends 60 · 48f 320,0",
         "rotation": "8f 0° slow ends · 14f -3° slow ends · 40f 1.5° slow ends · 52f 0°"}),
        {"far position": "How far", "way": "Turned by", **LONG}),
)  # fmt: skip


@cache
def shipped() -> tuple[SavedMotion, ...]:
    """The motions that come with Deft Arc, for all projects."""
    return tuple(map(_made, SHIPPED))


def _made(told: Told) -> SavedMotion:
    lanes = [
        CopiedLane(layer=told.name, of=of, property=name, track=_track(name, line))
        for of, part in enumerate(told.lines) for name, line in part.items()
    ]  # fmt: skip
    bare = SavedMotion(
        name=told.name, about=told.about, rest=told.rest, turns=told.turns, sizes=(SIZE,) * len(told.lines),
        frame=FRAME, clip=Clip(lanes=tuple(lanes), rate=RATE),
    )  # fmt: skip
    return bare.changed(dials=tuple(_asked(bare, told.asks)))


def _track(name: str, line: str) -> AnyTrack:
    facts = PROPERTIES[name]
    empty = PathTrack(value=(0.0, 0.0)) if facts.kind == "path" else NumberTrack(value=facts.default[0])
    return read_keys(line, empty, facts, RATE)


def _asked(bare: SavedMotion, asks: dict[str, str]) -> list[Dial]:
    """The numbers it asks for, called as it says, of those that it could."""
    found = {}
    for dial in offered(bare):
        of = bare.clip.lanes[dial.lanes[0]].property if dial.lanes else ""
        found[f"{dial.kind} {of}".strip()] = dial
    return [found[name].changed(label=label) for name, label in asks.items()]
