"""Scenes made to be looked at: masked, matted, treated, blended, washed; keyed, turned, mirrored, squeezed and skewed."""

from deftarc.core.document.artwork import Carrier, Contour, Ellipse, Gradient, Rectangle, Star, Stop
from deftarc.core.document.artwork.wash import Wash
from deftarc.core.document.effects import EFFECTS
from deftarc.core.document.masks import Mask
from deftarc.core.document.matte import Matte
from tests.scenes import layer, numbers, positions, scene

#: How layers lie: plain, turning, mirrored, squeezed, skewed.
WAYS = (
    {},
    {"rotation": numbers((0, 0), (20, 200))},
    {"scale": numbers(value=-0.8), "rotation": numbers(value=30)},
    {"scale_x": numbers(value=1.4), "scale_y": numbers(value=0.7), "rotation": numbers(value=20)},
    {"skew_x": numbers(value=30), "opacity": numbers((0, 1), (20, 0.5))},
)
#: A picture with something of everything in it.
SUN = Star(spikes=7, outer=75, inner=40, fill="#e2a21b", stroke="#14324a", stroke_width=6)


def contour(*points, closed=True):
    return Contour(points=tuple((x, y, 0, 0, 0, 0) for x, y in points), closed=closed)


def round_mask(name="round", radius=60.0, x=0.0, y=0.0, **fields):
    k = radius * 0.5522847498
    points = (
        (x + radius, y, 0, -k, 0, k), (x, y + radius, k, 0, -k, 0), (x - radius, y, 0, k, 0, -k), (x, y - radius, -k, 0, k, 0),
    )  # fmt: skip
    return Mask(id=name, contours=(Contour(points=points, closed=True),), **fields)


def square_mask(name="square", half=50.0, **fields):
    corners = ((-half, -half * 0.8), (half, -half), (half, half), (-half * 0.6, half))
    return Mask(id=name, contours=(contour(*corners),), **fields)


def laid(made, **changes):
    """A scene in which what ``made(n)`` gives lies in each way there is, each changed alike, over a striped ground."""
    rows = []
    for n, tracks in enumerate(WAYS):
        one = layer(f"L{n}", made(n), position=positions(value=(110 + 190 * (n % 3), 90 + 170 * (n // 3))), **tracks)
        keyed = {**one.tracks, **changes.get("tracks", {})}
        rows.append(one.changed(**{**changes, "tracks": keyed}))
    return rows


def ground():
    stripes = [
        layer(
            f"Stripe {n}", Rectangle(width=70, height=360, fill=colour), position=positions(value=(80 + 160 * n, 180))
        )
        for n, colour in enumerate(("#1f5c6b", "#c2621c", "#dfe6c8", "#7a4fa3"))
    ]
    return [each.changed(tracks={**each.tracks, "rotation": numbers(value=12)}) for each in stripes]


def masked(*masks, **tracks):
    named = {f"mask/{masks[0].id}/{name}": track for name, track in tracks.items()}
    rows = laid(lambda n: SUN, masks=masks, tracks=named)
    return scene(*rows, *ground(), frames=21, background="#f8efd8")


def matted(by, inverted, *, hidden=True, group=False):
    """Everything shows through one layer, or through a group of two, that moves."""
    through = layer(
        "Through", Star(spikes=5, outer=180, inner=90, fill="#ffd27f", stroke="#40206080", stroke_width=30),
        position=positions((0, (250, 150)), (20, (400, 210))), rotation=numbers((0, 0), (20, 60)),
    ).changed(hidden=hidden)  # fmt: skip
    extra = []
    if group:
        through = through.changed(parent="both", hidden=False)
        extra = [
            layer("Both", Carrier(group=True, as_one=True), position=positions(value=(20, 0))).changed(hidden=hidden),
            layer(
                "More", Ellipse(width=120, height=200, fill="#88aaff99"), position=positions(value=(120, 180))
            ).changed(parent="both"),
        ]
    rows = laid(lambda n: SUN, matte=Matte(layer="both" if group else "through", by=by, inverted=inverted))
    return scene(*rows, *extra, through, *ground(), frames=21, background="#f8efd8")


def washed(*effects, **fields):
    """A wash over a sun and stripes, within the scene and within a group that is seen through."""
    wash = layer("Wash", Wash(), position=positions(value=(320, 180))).changed(effects=effects, **fields)
    inner = layer("Inner", Wash(), position=positions(value=(160, 180))).changed(effects=effects, parent="fleet")
    fleet = layer("Fleet", Carrier(group=True, as_one=True), opacity=numbers(value=0.9))
    ship = layer("Ship", SUN, position=positions((0, (420, 180)), (20, (560, 240)))).changed(parent="fleet")
    sun = layer("Sun", SUN, position=positions(value=(200, 150)), rotation=numbers((0, 0), (20, 90)))
    return scene(wash, fleet, inner, ship, sun, *ground(), frames=21, background="#f8efd8")


def gradient(kind="linear", of="one"):
    stops = (
        Stop(id=f"{of}a", at=0.1, colour="#c2621c"), Stop(id=f"{of}b", at=0.5, colour="#ffe0a0cc"), Stop(id=f"{of}c", at=0.9, colour="#14324a"),
    )  # fmt: skip
    return Gradient(kind=kind, x1=-40, y1=-30, x2=50, y2=40, stops=stops)


def effect(kind, name="one", **fields):
    return EFFECTS[kind](id=name, **fields)
