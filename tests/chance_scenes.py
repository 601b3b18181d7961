"""Scenes thrown by dice, the same for the same number: sources, eases, paths, what they are tied to, and looks."""

import numpy as np

from deftarc.core.changes.keys import mended
from deftarc.core.curves.beyond import Beyond
from deftarc.core.curves.sides import Steps
from deftarc.core.document.artwork import Carrier, Ellipse, Gradient, Rectangle, Star, Stop, Text
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.keys import BlendKey, NumberKey, PathKey
from deftarc.core.document.links import Later, Link, LinkSource
from deftarc.core.document.masks import Mask
from deftarc.core.document.matte import Matte
from deftarc.core.document.track import ColourTrack, NumberTrack, PathTrack
from deftarc.core.spaces.points import PathPoint, point_at
from tests.looks import contour
from tests.scenes import at, layer, scene, side

COLOURS = ("#1f5c6b", "#c2621c", "#e2a21b", "#7a4fa3", "#14324a", "#5c8a3a", "#b23a26cc")
BLENDS = ("multiply", "screen", "overlay", "darken", "lighten", "difference", "hard-light", "soft-light")
FRAMES = 31


class Dice:
    def __init__(self, seed):
        self.rng = np.random.default_rng(seed)

    def often(self, share):
        return self.rng.random() < share

    def one(self, rows):
        return rows[int(self.rng.integers(len(rows)))]

    def number(self, low, high):
        return float(np.round(self.rng.uniform(low, high), 2))

    def frames(self, count):
        return sorted(int(f) for f in self.rng.choice(FRAMES, count, replace=False))

    # --- motion ---

    def shape(self, far):
        if self.often(0.12):
            return {"hold": True}
        if self.often(0.1):
            return {"steps": Steps(count=3, jump=self.one(("start", "end", "none", "both")))}
        sides = {}
        for name in ("leaving", "arriving"):
            if self.often(0.6):
                sides[name] = side(self.number(0.1, 0.9), self.number(-far, far) if self.often(0.4) else 0.0)
        return sides

    def numbers(self, low, high):
        """A number with keys of every ease, perhaps going on past them."""
        middle = self.number(low, high)
        if self.often(0.35):
            return NumberTrack(value=middle)
        keys = [
            NumberKey(time=at(f), value=self.number(low, high), **self.shape((high - low) / 3))
            for f in self.frames(int(self.rng.integers(2, 5)))
        ]
        on = {}
        if self.often(0.25):
            on["after"] = Beyond(how=self.one(("repeat", "alternate")))
        return NumberTrack(value=middle, keys=tuple(mended(keys, range(len(keys)))), **on)

    def position(self):
        """A position on straight and bent ways, at whose points it rests or through which it goes."""
        here = (self.number(150, 490), self.number(90, 270))
        if self.often(0.2):
            return PathTrack(value=here)
        points = []
        for n in range(int(self.rng.integers(2, 5))):
            spot = (80 + 160 * n + self.number(-50, 50), self.number(60, 300))
            kind = self.one(("straight", "round", "bent"))
            if kind == "bent":
                arms = [(self.number(10, 80), self.number(-60, 60)) for _ in range(2)]
                points.append(PathPoint(x=spot[0], y=spot[1], joint="corner", arriving=arms[0], leaving=arms[1]))
            else:
                points.append(point_at(spot, 0.6 if kind == "round" else None))
        keys = [PathKey(time=at(f), at=float(n), **self.shape(40)) for n, f in enumerate(self.frames(len(points)))]
        if len(keys) > 2 and self.often(0.4):
            del keys[1]
        return PathTrack(value=here, points=tuple(points), keys=tuple(mended(keys, range(len(keys)))))

    # --- what is drawn ---

    def gradient(self):
        stops = tuple(
            Stop(id=f"s{n}", at=n / 2, colour=colour)
            for n, colour in enumerate((self.one(COLOURS)[:7], self.one(COLOURS), self.one(COLOURS)[:7]))
        )
        kind = self.one(("linear", "radial"))
        return Gradient(
            kind=kind, x1=self.number(-40, 0), y1=self.number(-40, 0), x2=self.number(30, 70), y2=30, stops=stops
        )

    def artwork(self):
        told = {"fill": self.one(COLOURS)}
        if self.often(0.3):
            told["fill_gradient"] = self.gradient()
        if self.often(0.4):
            told |= {"stroke": self.one(COLOURS), "stroke_width": self.number(2, 12)}
            told["join"] = self.one(("miter", "round", "bevel"))
            if self.often(0.4):
                told |= {"dash": (self.number(6, 20), self.number(4, 12)), "cap": self.one(("butt", "round"))}
            if self.often(0.4):
                told |= {"drawn_from": 0.1, "drawn_to": 0.8, "fill": None, "fill_gradient": None}
        kind = int(self.rng.integers(4))
        if kind == 0:
            return Rectangle(width=self.number(40, 160), height=self.number(30, 120), radius=self.number(0, 20), **told)
        if kind == 1:
            return Ellipse(width=self.number(40, 160), height=self.number(30, 120), **told)
        if kind == 2:
            return Star(
                spikes=int(self.rng.integers(4, 9)), outer=self.number(50, 90), inner=self.number(20, 45), **told
            )
        return Text(text=self.one(("Quill", "Isle &", "Ahoy")), size=self.number(40, 80), **told)

    def layer(self, n):
        tracks = {
            "position": self.position(), "rotation": self.numbers(-120, 160), "scale": self.numbers(0.5, 1.6),
            "opacity": self.numbers(0.3, 1.0),
        }  # fmt: skip
        tracks["opacity"] = held(tracks["opacity"])
        art = self.artwork()
        if self.often(0.25):
            tracks |= {"skew_x": self.numbers(-25, 25)}
        if self.often(0.15):
            tracks |= {"skew_y": self.numbers(-25, 25)}
        if self.often(0.25):
            del tracks["scale"]
            tracks |= {"scale_x": self.numbers(0.5, 1.5), "scale_y": self.numbers(0.5, 1.5)}
        if self.often(0.2):
            tracks |= {"pivot_x": self.numbers(-40, 40)}
        if self.often(0.2) and art.fill is not None and art.fill_gradient is None:
            keys = [
                BlendKey(time=at(f), value=tuple(self.number(0, 1) for _ in range(3)) + (1.0,)) for f in self.frames(3)
            ]
            tracks["fill"] = ColourTrack(value=keys[0].value, keys=tuple(keys))
        if art.stroke is not None and self.often(0.4):
            tracks["stroke_width"] = held(self.numbers(1, 12), 0.2, 20)
        if getattr(art, "drawn_to", 1) < 1 and self.often(0.7):
            tracks["drawn_to"] = held(self.numbers(0.3, 1.0))
        made = layer(f"L{n}", art, **tracks)
        if self.often(0.2):
            made = made.changed(blend=self.one(BLENDS))
        if self.often(0.25):
            made = made.changed(masks=self.masks())
        return made

    def masks(self):
        out = []
        for n in range(int(self.rng.integers(1, 3))):
            x, y, half = self.number(-25, 25), self.number(-25, 25), self.number(25, 60)
            corners = (
                (x - half, y - half),
                (x + half, y - half * 0.8),
                (x + half * 0.7, y + half),
                (x - half, y + half),
            )
            out.append(Mask(id=f"m{n}", contours=(contour(*corners),), mode=self.one(("add", "subtract", "intersect")),
                            inverted=self.often(0.2), opacity=1.0 if self.often(0.7) else 0.6))  # fmt: skip
        return tuple(out)


def held(track, low=0.0, high=1.0):
    """A track of which no ease leads out of a range: it rests at its keys."""
    keys = tuple(key.changed(leaving=None, arriving=None) for key in track.keys)
    return track.changed(keys=tuple(key.changed(value=min(max(key.value, low), high)) for key in keys))


def chance_scene(seed):
    """A scene, and those shown in it, by their ids."""
    dice = Dice(seed)
    rows = [dice.layer(n) for n in range(int(dice.rng.integers(4, 8)))]
    if dice.often(0.6):
        carrier = layer("Mast", Carrier(), position=dice.position(), rotation=dice.numbers(-40, 40))
        lag = Later(position=at(3), rotation=at(3), scale=at(3)) if dice.often(0.3) else None
        rows[1] = rows[1].changed(parent="mast", later=lag)
        rows.append(carrier)
    if dice.often(0.3):
        link = Link(source=LinkSource(layer="l2", what="rotation"), factor=-0.5, lag=at(2))
        rows[0] = rows[0].changed(links={"rotation": link})
    if dice.often(0.4):
        fleet = layer("Fleet", Carrier(group=True, as_one=True), opacity=held(dice.numbers(0.4, 1)),
                      position=dice.position())  # fmt: skip
        fleet = fleet.changed(blend=dice.one(("normal", "multiply", "screen")))
        rows[2], rows[3] = (each.changed(parent="fleet", blend="normal") for each in rows[2:4])
        rows.append(fleet)
    if dice.often(0.3):
        through = layer("Glass", Star(outer=150, inner=110, spikes=9, fill="#ffd27f"), position=dice.position(),
                        rotation=dice.numbers(0, 90)).changed(hidden=True)  # fmt: skip
        rows[0] = rows[0].changed(matte=Matte(layer="glass", by=dice.one(("alpha", "luma")), inverted=dice.often(0.4)))
        rows.append(through)
    scenes = {}
    if dice.often(0.3):
        inner = scene(*(dice.layer(n) for n in range(3)), frames=FRAMES, background=None).changed(
            id="within", name="Within"
        )
        scenes["within"] = inner
        shown = SceneShown(scene="within", width=640, height=360, rate=dice.one((1.0, 0.5)))
        rows.insert(0, layer("Window", shown, position=dice.position(), scale=NumberTrack(value=0.5),
                             rotation=dice.numbers(-20, 20)))  # fmt: skip
    made = scene(*rows, frames=FRAMES, background=dice.one((None, "#fffdf7", "#dfe6c8")))
    return made, {**scenes, made.id: made}


__all__ = ["FRAMES", "chance_scene", "held"]
