"""Lantern Isle, by night: masks, mattes, blending, washes, gradients, shadows, blurs, bursts; a loop, blurred as it
moves.
"""

from typing import Any

from deftarc.core.base.time import FrameRate
from deftarc.core.document import Contour, Ellipse, FreePath, Polygon, Rectangle, Scene, Star, Text
from deftarc.core.document.artwork import Bars, Carrier, Gradient, Particles, Rings, Stop, Wash
from deftarc.core.document.effects.blur import Blur
from deftarc.core.document.effects.colour import Colouring
from deftarc.core.document.effects.shadow import Shadow
from deftarc.core.document.masks import Mask
from deftarc.core.document.matte import Matte
from deftarc.core.edit.bursts import BurstAt
from deftarc.core.edit.draw_on import DrawOn
from deftarc.core.edit.effects import AddEffect, BlendLayers
from deftarc.core.edit.families import GroupLayers, SetParent
from deftarc.core.edit.layers import DescribeLayers
from deftarc.core.edit.links import LaneAsked, LinkLanes, SourceAsked
from deftarc.core.edit.masks import AddMask
from deftarc.core.edit.mattes import ShowThrough
from deftarc.core.edit.shutter import SetShutter
from deftarc.core.edit.values import SetValue
from deftarc.demo.builder import CREAM, OCHRE, Builder

NIGHT, DEEP, LAND, FAR, GLOW = "#0e2038", "#0a2a3c", "#0b1622", "#16314a", "#ffd27f"
FRAMES = 144


def lantern_scene() -> Scene:
    return Scene(
        id="lantern", name="Lantern Isle", width=1920, height=1080, rate=FrameRate(numerator=24), frames=FRAMES,
        background=NIGHT,
    )  # fmt: skip


def _path(*points: tuple[float, ...], fill: str | None) -> FreePath:
    rows = tuple((*each, 0.0, 0.0, 0.0, 0.0)[:6] if len(each) == 2 else each for each in points)
    return FreePath(contours=(Contour(points=rows, closed=True),), fill=fill)


def _rounds(mask: str, x: float, y: float, rx: float, ry: float, **fields: Any) -> Mask:
    """An elliptic mask."""
    k = 0.5522847498
    points = (
        (x + rx, y, 0, -ry * k, 0, ry * k), (x, y + ry, rx * k, 0, -rx * k, 0),
        (x - rx, y, 0, ry * k, 0, -ry * k), (x, y - ry, -rx * k, 0, rx * k, 0),
    )  # fmt: skip
    return Mask(id=mask, contours=(Contour(points=points, closed=True),), **fields)


def _box(mask: str, left: float, top: float, right: float, bottom: float, **fields: Any) -> Mask:
    corners = ((left, top), (right, top), (right, bottom), (left, bottom))
    points = tuple((x, y, 0.0, 0.0, 0.0, 0.0) for x, y in corners)
    return Mask(id=mask, contours=(Contour(points=points, closed=True),), **fields)


def lantern_isle(b: Builder) -> None:
    """A loop of six seconds: the beam goes round, lanterns swing, a stone is thrown into the water."""
    here = b.scene.id
    _sky(b)
    _isle(b)
    _lanterns(b)
    _stone(b)
    # What lies on the water is drawn out and dimmed, more the nearer it is: a wash over the lower part alone.
    b.shape("ripple", "Ripple", Wash(), (960, 540))
    b.do(AddEffect(scene=here, layers=("ripple",), effect=Blur(id="drawn", radius=16, ways="along", angle=90)))
    b.do(AddEffect(scene=here, layers=("ripple",), effect=Colouring(id="dim", brightness=0.82, saturation=1.25)))
    b.do(AddMask(scene=here, layer="ripple", mask=_box("water", -960, 275, 960, 560, name="Water", feather=24)))
    head = Text(text="Lantern Isle", size=150, fill=GLOW, font="young-serif-400")
    b.shape("title", "Title", head, (960, 250))
    b.do(DrawOn(scene=here, layers=("title",), time=b.time(10), length=b.time(30), fills=b.time(14)))
    b.key("title", "opacity", {112: 100, 130: 0})
    b.do(BlendLayers(scene=here, layers=("title",), blend="screen"))
    b.shape("bars", "Bars", Bars(width=1920, height=1080, bar_top=0.07, bar_bottom=0.07, fill="#05090f"), (960, 540))
    b.do(SetShutter(scene=here, on=True, everything=True))


def _sky(b: Builder) -> None:
    here = b.scene.id
    fades = Gradient(x1=0, y1=-300, x2=0, y2=330, stops=(
        Stop(id="high", at=0.0, colour=NIGHT), Stop(id="low", at=0.7, colour="#1d4560"),
        Stop(id="rim", at=1.0, colour="#4a6f7a"),
    ))  # fmt: skip
    b.shape("sky", "Sky", Rectangle(width=1920, height=820, fill_gradient=fades), (960, 410))
    stars = Particles(
        burst_rate=14, burst_speed=0, burst_gravity=0, burst_life=3, burst_size=26, burst_size_end=6,
        burst_colour=CREAM, burst_colour_end=CREAM, burst_fade=1.0, emits="outline", source="track", shaped="spark",
        repeats=6, ahead=6, seed=7,
    )  # fmt: skip
    # Where stars come and go: a line that is not to be seen.
    wander = _path((-880, -120), (-500, 60), (-120, -160), (260, 40), (620, -140), (880, 30), (420, 130), (-420, 150),
                   fill=None)  # fmt: skip
    b.shape("track", "Star track", wander, (960, 260))
    # Each star is the artwork of a hidden layer.
    b.shape("spark", "Spark", Star(spikes=4, outer=60, inner=17, fill=CREAM), (960, 540))
    b.do(DescribeLayers(scene=here, layers=("spark",), hidden=True))
    b.shape("stars", "Stars", stars, (960, 540))
    pale = Gradient(kind="radial", x1=-20, y1=-20, x2=90, y2=40, stops=(
        Stop(id="mid", at=0.0, colour="#fff6dc"), Stop(id="edge", at=1.0, colour="#d9c48a"),
    ))  # fmt: skip
    b.shape("halo", "Halo", Ellipse(width=420, height=420, fill="#35586a"), (1560, 260))
    # A ring round the moon: one mask of two rounds, the inner of which is a hole.
    rounds = tuple(_rounds("round", 0, 0, r, r).contours[0] for r in (205, 140))
    b.do(AddMask(scene=here, layer="halo", mask=Mask(id="band", name="Band", contours=rounds, rule="evenodd")))
    b.do(AddEffect(scene=here, layers=("halo",), effect=Blur(id="soft", radius=26)))
    b.do(BlendLayers(scene=here, layers=("halo",), blend="screen"))
    b.shape("moon", "Moon", Ellipse(width=170, height=170, fill_gradient=pale), (1560, 260))
    # A crescent: what a second round covers is taken away, softly.
    b.do(AddMask(scene=here, layer="moon", mask=_rounds("shade", -52, -18, 78, 78, name="Shade", mode="subtract",
                                                        feather=7)))  # fmt: skip


def _isle(b: Builder) -> None:
    here = b.scene.id
    water = Gradient(x1=0, y1=-150, x2=0, y2=150, stops=(
        Stop(id="near", at=0.0, colour="#2b5866"), Stop(id="deep", at=1.0, colour=DEEP),
    ))  # fmt: skip
    b.shape("sea", "Sea", Rectangle(width=1920, height=280, fill_gradient=water), (960, 940))
    hill = _path((-620, 120, 0, 0, 60, -60), (-300, -30, -120, 40, 90, -40), (-40, -80, -80, 10, 80, -10),
                 (260, -20, -90, -40, 120, 50), (640, 120, -140, -20, 0, 0), fill=LAND)  # fmt: skip
    far = _path((-900, 60, 0, 0, 200, -90), (-400, -20, -160, -10, 160, 20), (100, 10, -160, -10, 200, -60),
                (620, -30, -160, -20, 120, 30), (900, 60, -90, -40, 0, 0), fill=FAR)  # fmt: skip
    b.shape("coast", "Coast", far, (960, 745))
    b.do(AddEffect(scene=here, layers=("coast",), effect=Blur(id="haze", radius=3)))
    # The light's beam goes round: wide of it, it fades by a soft mask, and what it shines through is screened.
    beam = _path((0, -8), (1000, -120), (1000, 120), (0, 8), fill="#fff2c4")
    b.shape("beam", "Beam", beam, (1180, 500))
    b.do(AddMask(scene=here, layer="beam", mask=_rounds("reach", 200, 0, 540, 110, name="Reach", feather=60)))
    b.do(AddEffect(scene=here, layers=("beam",), effect=Blur(id="air", radius=7)))
    b.do(BlendLayers(scene=here, layers=("beam",), blend="screen"))
    b.key("beam", "rotation", {0: 188, FRAMES: 548})
    b.go_on("beam", "rotation", "repeat")
    b.do(SetValue(scene=here, layer="beam", property="opacity", value=0.75, time=0, keying=False))
    tower = _path((-34, 150), (-22, -90), (22, -90), (34, 150), fill="#22384a")
    b.shape("tower", "Tower", tower, (1180, 600))
    b.shape("lamp", "Lamp", Rectangle(width=40, height=34, radius=8, fill=GLOW), (1180, 496))
    b.do(AddEffect(scene=here, layers=("lamp",), effect=Shadow(id="shine", distance=0, softness=22, spread=8,
                                                                colour="#ffcf70", opacity=0.9)))  # fmt: skip
    b.shape("roof", "Roof", Polygon(sides=3, outer=34, fill="#7c2d20"), (1180, 466))
    b.shape("isle", "Isle", hill, (960, 720))
    # The glow on the ground shows only where a lantern hangs near: through a soft round that each carries along.
    b.shape("ground", "Lit ground", hill.changed(fill="#c98a3a"), (960, 720))
    flies = Particles(
        burst_rate=9, burst_speed=36, burst_spread=360, burst_gravity=-12, burst_life=4, burst_size=7, burst_size_end=5,
        burst_colour="#ffe9a8", burst_colour_end="#ffb347", burst_fade=0.6, emits="line", burst_wide=620, repeats=6,
        ahead=6, seed=3,
    )  # fmt: skip
    b.shape("flies", "Fireflies", flies, (900, 690))
    b.do(BlendLayers(scene=here, layers=("flies",), blend="screen"))


def _lanterns(b: Builder) -> None:
    """Three on a line, each a group with a shadow of its own light, and what is lit beneath them."""
    here = b.scene.id
    rope = FreePath(
        contours=(
            Contour(points=((-430, -40, 0, 0, 140, 90), (0, 30, -150, 10, 150, -10), (430, -60, -140, 90, 0, 0))),
        ),
        stroke="#31475a", stroke_width=4, fill=None,
    )  # fmt: skip
    b.shape("rope", "Rope", rope, (800, 500))
    spots = ((560, 522), (800, 536), (1030, 508))
    names = []
    for n, (x, y) in enumerate(spots, 1):
        warm = Gradient(kind="radial", x1=0, y1=8, x2=0, y2=62, stops=(
            Stop(id=f"core{n}", at=0.0, colour="#fff3c9"), Stop(id=f"paper{n}", at=1.0, colour="#e8862e"),
        ))  # fmt: skip
        b.shape(f"paper{n}", f"Paper {n}", Ellipse(width=84, height=104, fill_gradient=warm), (x, y + 64))
        b.shape(f"cap{n}", f"Cap {n}", Rectangle(width=44, height=12, radius=4, fill="#3a2415"), (x, y + 12))
        b.shape(f"hook{n}", f"Hook {n}", Carrier(), (x, y))
        b.do(SetParent(scene=here, layers=(f"paper{n}", f"cap{n}"), parent=f"hook{n}", time=0))
        b.key(f"hook{n}", "rotation", {0: -7 + n, 36: 7 - n})
        b.ease(f"hook{n}", "rotation", [0, 36], "slow-ends")
        b.go_on(f"hook{n}", "rotation", "alternate")
        inside = (f"paper{n}", f"cap{n}", f"hook{n}")
        b.do(GroupLayers(scene=here, layers=inside, id=f"lantern{n}", name=f"Lantern {n}", time=0))
        light = Shadow(id=f"light{n}", distance=0, softness=34, spread=10, colour="#ff9e3d", opacity=0.85)
        b.do(AddEffect(scene=here, layers=(f"lantern{n}",), effect=light))
        # So much of the ground as lies about it is lit: a round with a soft edge, carried by the lantern's swing.
        b.shape(f"pool{n}", f"Pool {n}", Ellipse(width=300, height=110, fill="#ffffff"), (x, 690))
        b.do(AddEffect(scene=here, layers=(f"pool{n}",), effect=Blur(id=f"edge{n}", radius=34)))
        follow = (LaneAsked(layer=f"pool{n}", property="rotation"),)
        swings = SourceAsked(layer=f"hook{n}", what="rotation")
        b.do(LinkLanes(scene=here, lanes=follow, to=swings, factor=-0.4, time=0))
        names.append(f"pool{n}")
    b.do(GroupLayers(scene=here, layers=tuple(names), id="pools", name="Pools of light", time=0))
    b.do(ShowThrough(scene=here, layers=("ground",), matte=Matte(layer="pools"), hide=True))
    b.do(BlendLayers(scene=here, layers=("ground",), blend="screen"))


def _stone(b: Builder) -> None:
    """A stone is thrown in: where it goes under, a ring spreads and drops fly up, as hard as it hits."""
    here = b.scene.id
    b.shape("stone", "Stone", Ellipse(width=26, height=22, fill=OCHRE), (330, 640))
    b.key("stone", "position", {34: (210, 600), 48: (330, 560), 66: (430, 915)})
    b.ease("stone", "position", [34, 48], "slow-stop")
    b.ease("stone", "position", [48, 66], "slow-start", 80)
    b.key("stone", "opacity", {33: 0, 34: 100, 65: 100, 66: 0})
    rings = Rings(
        ring_radius=8, ring_radius_end=230, ring_width=10, ring_width_end=2, ring_soft=1, ring_soft_end=6,
        burst_life=2.2, burst_colour="#dff3ff", burst_colour_end="#7fb2c4", burst_fade=0.8,
    )  # fmt: skip
    drops = Particles(
        burst_count=46, burst_speed=420, burst_varied=0.6, burst_spread=58, burst_gravity=900, burst_life=0.9,
        burst_size=9, burst_size_end=4, burst_colour="#eaf7ff", burst_colour_end="#9cc8d8", burst_fade=0.3,
    )  # fmt: skip
    b.shape("splash", "Splash", drops, (960, 540))
    b.shape("ring", "Ring", rings, (960, 540))
    # Seen from the shore it is flat.
    b.do(SetValue(scene=here, layer="ring", property="scale", component=1, value=0.34, time=0, keying=False))
    b.do(BurstAt(scene=here, layers=("splash", "ring"), to="stone"))
