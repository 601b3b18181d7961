"""The scenes of the campaign: Crossing, Timetable card, Pennant, Buoy, Bell; Lantern Isle has a file of its own."""

from functools import cache
from io import BytesIO

import numpy as np
from PIL import Image

from deftarc.core.base.time import FrameRate
from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.saved import offered, saved
from deftarc.core.document import (
    Contour,
    Ellipse,
    FreePath,
    Polygon,
    Project,
    Rectangle,
    Scene,
    Text,
    UserFont,
)
from deftarc.core.document.artwork import Carrier
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.effects.blur import Blur
from deftarc.core.document.effects.shadow import Shadow
from deftarc.core.document.marker import Marker
from deftarc.core.document.reactions import Pulse
from deftarc.core.edit.clocks import GiveClock
from deftarc.core.edit.copies import CopiesOf
from deftarc.core.edit.effects import AddEffect, BlendLayers
from deftarc.core.edit.families import GroupLayers, SetParent
from deftarc.core.edit.later import StretchLayers
from deftarc.core.edit.links import LaneAsked, LinkLanes, SourceAsked
from deftarc.core.edit.markers import SetMarkers
from deftarc.core.edit.motions import KeepMotion, LayMotion
from deftarc.core.edit.paths import ClosePath, JoinPath
from deftarc.core.edit.react import React
from deftarc.core.edit.samples import SplitAxes
from deftarc.core.edit.scenes import AddFont
from deftarc.core.edit.stagger import Stagger
from deftarc.core.edit.takes import NewTake, RenameTake, ShowTake
from deftarc.core.edit.ties import AnchorAsked, TieAsked, TieTimings
from deftarc.core.edit.values import SetValue
from deftarc.core.words.shipped_motions import shipped
from deftarc.demo.builder import BRICK, CREAM, INK, OCHRE, SEA, Builder
from deftarc.demo.lantern_isle import lantern_isle, lantern_scene
from deftarc.demo.signal_font import signal_font
from deftarc.formats.read import Asset
from deftarc.formats.read.font import check_font
from deftarc.store.assets import AssetStore
from deftarc.store.projects import ProjectStore

DEMO_ID = "quillhaven"


@cache
def build() -> tuple[Project, list[Asset]]:
    """The demo's document and the assets it needs; built once, since nothing in it can be changed."""
    crossing = Scene(
        id="crossing", name="Crossing", width=1920, height=1080, rate=FrameRate(numerator=24), frames=144,
        background="#f8efd8",
    )  # fmt: skip
    card = Scene(
        id="card", name="Timetable card", width=1080, height=1920, rate=FrameRate(numerator=30), frames=120,
        background="#1f5c6b",
    )  # fmt: skip
    pennant = Scene(
        id="pennant", name="Pennant", width=1080, height=1080, rate=FrameRate(numerator=25), frames=100,
        background="#f6e3bd",
    )  # fmt: skip
    buoy = Scene(
        id="buoy", name="Buoy", width=1080, height=1080, rate=FrameRate(numerator=24), frames=96,
        background="#12304a",
    )  # fmt: skip
    bell = Scene(
        id="bell", name="Bell", width=260, height=260, rate=FrameRate(numerator=30), frames=60, background=None,
    )  # fmt: skip
    builder = Builder(Project(name="Quillhaven summer", scenes=(crossing, card, pennant, buoy, bell, lantern_scene())))
    _crossing(builder)
    builder.enter(card)
    _card(builder)
    builder.enter(pennant)
    _pennant(builder)
    builder.enter(buoy)
    _buoy(builder)
    builder.enter(bell)
    _bell(builder)
    builder.enter(card)
    _bells(builder)
    builder.enter(builder.project.scene("lantern"))
    lantern_isle(builder)
    return builder.project, builder.assets


def _crossing(b: Builder) -> None:
    b.art("sky", "Sky", "harbour.svg", (960, 540))
    b.shape("sun", "Sun", Ellipse(width=300, height=300, fill="#f28c5a"), (1540, 900))
    b.key("sun", "position", {0: (1540, 1010), 96: (1540, 700)})
    b.ease("sun", "position", [0, 96], "slow-stop", 60)
    b.art("hills", "Hills and sea", "hills.svg", (960, 890))
    b.art("ferry", "Ferry", "ferry.svg", (640, 836))
    b.key("ferry", "position", {0: (420, 836), 143: (980, 836)})
    b.key("ferry", "rotation", {0: -1.2, 36: 1.2, 72: -1.2, 108: 1.2, 143: -1.2})
    b.ease("ferry", "rotation", [0, 36, 72, 108, 143], "slow-ends")
    # A float is towed on a rope: they follow the ferry as it went a little earlier, and heel the more, later still.
    b.shape("rope", "Rope", ROPE, (308, 858))
    b.shape("float", "Float", Ellipse(width=64, height=24, fill=OCHRE), (250, 862))
    ferry = {what: SourceAsked(layer="ferry", what=what) for what in ("position", "rotation")}
    for name, late, factor in (("rope", 2, 3.0), ("float", 5, 6.0)):
        towed, heels = (LaneAsked(layer=name, property=each) for each in ("position", "rotation"))
        b.do(LinkLanes(scene=b.scene.id, lanes=(towed,), to=ferry["position"], lag=b.time(late), time=b.time(24)))
        b.do(LinkLanes(scene=b.scene.id, lanes=(heels,), to=ferry["rotation"], factor=factor, lag=b.time(late + 3)))
    # A flag at its stern, as the saved motion has it, a little stronger and quicker out here.
    b.shape("flag", "Flag", FLAG, (282, 852))
    b.do(SetParent(scene=b.scene.id, layers=("flag",), parent="ferry", time=0))
    flutter = next(motion for motion in shipped() if motion.name == "Signal flag flutters")
    numbers = {dial.id: {"far": 9.0, "long": 0.75}[dial.kind] for dial in flutter.dials}
    b.do(LayMotion(scene=b.scene.id, motion=flutter, layers=("flag",), time=0, numbers=numbers))
    b.brought("mist", "Mist", mist(), "mist.png", (980, 690))
    b.key("mist", "opacity", {0: 85, 110: 25})
    b.key("mist", "position", {0: (900, 690), 143: (1080, 690)})
    title = Text(text="Quillhaven Ferry", size=120, align="start", fill=INK, font="bricolage-grotesque-800")
    b.shape("title", "Lettering", title, (96, 196))
    b.key("title", "scale", {18: 88, 34: 104, 44: 100})
    b.ease("title", "scale", [18, 34], "slow-stop", 70)
    b.ease("title", "scale", [34, 44], "slow-ends")
    b.key("title", "opacity", {18: 0, 28: 100})
    times = Text(text="summer timetable · every 20 minutes", size=46, align="start", fill=INK)
    b.shape("line", "Small print", times.changed(font="atkinson-hyperlegible-next-400"), (100, 276))
    b.key("line", "opacity", {30: 0, 48: 100})
    b.ease("line", "opacity", [30, 48], "slow-ends")
    b.art("gull", "Gull", "gull.svg", (180, 760))
    b.key("gull", "position", {8: (180, 760), 40: (620, 430), 62: (1000, 400), 74: (1000, 400), 118: (1720, 590)})
    b.ease("gull", "position", [8, 40], "slow-start")
    b.ease("gull", "position", [40, 62], "slow-stop")
    b.ease("gull", "position", [62, 74], "hold")
    b.ease("gull", "position", [74, 118], "slow-ends", 64)
    b.key("gull", "rotation", {8: -16, 62: 4, 118: 10})
    b.ease("gull", "rotation", [8, 62, 118], "slow-ends")
    b.key("gull", "scale", {74: 100, 96: 84})
    b.ease("gull", "scale", [74, 96], "slow-ends")


#: From the ferry's stern to what it tows, slack in the middle.
ROPE = FreePath(
    contours=(Contour(points=((-48, 4, 0, 0, 20, 6), (0, 9, -16, 0, 16, 0), (48, -4, -20, 8, 0, 0))),),
    stroke=CREAM, stroke_width=4, fill=None,
)  # fmt: skip
#: Stretched between two points, to be struck.
STRING = FreePath(
    contours=(Contour(points=((-260, 0, 0, 0, 0, 0), (260, 0, 0, 0, 0, 0))),), stroke=INK, stroke_width=6, fill=None
)
#: A pole with a pennant that blows astern.
FLAG = FreePath(
    contours=(
        Contour(points=((-2, 0, 0, 0, 0, 0), (-2, -92, 0, 0, 0, 0), (2, -92, 0, 0, 0, 0), (2, 0, 0, 0, 0, 0)),
                closed=True),
        Contour(points=((-2, -92, 0, 0, 0, 0), (-70, -84, 0, 0, 0, 0), (-52, -70, 0, 0, 0, 0), (-70, -56, 0, 0, 0, 0),
                        (-2, -48, 0, 0, 0, 0)), closed=True),
    ),
    fill=BRICK,
)  # fmt: skip


def _card(b: Builder) -> None:
    """A loop: all arrives, the rows one after the other, and leaves as it came, so that the end is the beginning."""
    away = 90
    b.shape("paper", "Card", Rectangle(width=900, height=1500, radius=48, fill=CREAM), (540, 1010))
    b.art("sign", "Sign", "pennant.svg", (540, 330))
    b.key("sign", "scale", {0: 0, 26: 100})
    b.settle("sign", "scale", [0, 26], far=0.14, often=3)
    head = Text(text="Quay to Lantern Isle", size=76, fill=INK, font="bricolage-grotesque-800")
    b.shape("head", "Heading", head, (540, 660))
    b.key("head", "opacity", {8: 0, 22: 100})
    rows = ("row1", "row2", "row3")
    for n, words in enumerate(("07:10   07:30   07:50", "08:10   08:30   08:50", "09:10   09:30   09:50")):
        text = Text(text=words, size=64, fill=SEA, font="atkinson-hyperlegible-mono-400")
        name, y = rows[n], 840 + 170 * n
        b.shape(name, f"Times {n + 1}", text, (540, y))
        b.key(name, "position", {18: (540, y + 120), 34: (540, y)})
        b.ease(name, "position", [18, 34], "slow-stop", 80)
        b.key(name, "opacity", {18: 0, 28: 100})
    # As they come in, other lines are to come in elsewhere.
    comes = tuple(
        KeyRef(layer="row1", property=each, time=b.time(frame))
        for each, frame in (("position", 18), ("position", 34), ("opacity", 18), ("opacity", 28))
    )
    motion = saved(b.project.scene(b.scene.id), "Times come in", comes, "last")
    about = "A line of the timetable, from below and out of nothing"
    b.do(KeepMotion(motion=motion.changed(dials=tuple(offered(motion)[:2]), about=about)))
    # The list is from the top down, and the last row is the topmost layer: from its end on the first one begins.
    b.do(Stagger(scene=b.scene.id, layers=rows, far=b.time(6), order="reversed"))
    bar = Rectangle(width=640, height=12, radius=6, fill=OCHRE)
    b.shape("bar", "Rule", bar, (540, 1390))
    b.key("bar", "width", {0: 12, 60: 640})
    b.ease("bar", "width", [0, 60], "slow-ends")
    # One motion, played there and back by its clock, which stands for a moment where it turns round.
    b.do(GiveClock(scene=b.scene.id, layers=("bar",)))
    b.key("bar", "clock", {0: 0.0, 52: 2.0, 70: 2.0, b.scene.frames: 0.0})
    b.ease("bar", "clock", [0, 52], "slow-ends")
    b.ease("bar", "clock", [70, b.scene.frames], "slow-ends")
    leaves = {"sign": away + 4, "head": away + 2} | {row: away + 2 * n for n, row in enumerate(reversed(rows))}
    for layer, frame in leaves.items():
        b.leave_as_it_came(layer, frame)
    marks = ((26, "Sign stands", "sea"), (away, "Away", "ochre"))
    b.do(SetMarkers(scene=b.scene.id, markers=tuple(
        Marker(id=f"m{frame}", time=b.time(frame), name=name, tag=tag) for frame, name, tag in marks
    )))  # fmt: skip
    # The heading goes when its marker says so.
    key = AnchorAsked(layer="head", of="key", property="opacity", time=b.time(away + 2))
    mark = AnchorAsked(of="marker", id=f"m{away}")
    b.do(
        TieTimings(scene=b.scene.id, ties=(TieAsked(what=key, to=mark, offset=None, id="leave", ids=("gone", "left")),))
    )
    # Another take of how the sign comes: without a swing.
    b.do(NewTake(scene=b.scene.id, layers=("sign",), name="Calm", id="calm", set="signs", first="springs"))
    b.ease("sign", "scale", [0], "slow-stop", 80)
    b.do(RenameTake(scene=b.scene.id, set="signs", take="springs", name="Springs"))
    b.do(ShowTake(scene=b.scene.id, set="signs", take="springs"))


def _pennant(b: Builder) -> None:
    # Rays round the logo: one, and copies of it, each a frame later.
    b.shape("ray", "Ray", Ellipse(width=14, height=58, fill=OCHRE), (540, 130))
    b.key("ray", "opacity", {22: 0, 30: 100})
    rays = CopiesOf(scene=b.scene.id, layers=("ray",), often=7, centre=(540, 480), later=b.time(1))
    b.do(rays)
    # What falls from behind the logo strikes a string; it rings, the name jolts, and the bead flashes.
    b.shape("string", "String", STRING, (540, 820))
    b.shape("bead", "Bead", Ellipse(width=36, height=36, fill=BRICK), (540, 800))
    crate = next(motion for motion in shipped() if motion.name == "Crate dropped")
    b.do(LayMotion(scene=b.scene.id, motion=crate, layers=("bead",), time=b.time(44)))
    b.art("logo", "Line logo", "pennant.svg", (540, 480))
    b.key("logo", "scale", {0: 40, 22: 160})
    b.ease("logo", "scale", [0, 22], "slow-stop", 80)
    b.key("logo", "rotation", {0: -200, 26: 0})
    b.ease("logo", "rotation", [0, 26], "slow-stop", 70)
    b.key("logo", "opacity", {0: 0, 8: 100})
    name = Text(text="Quillhaven Line", size=110, fill=BRICK, font="young-serif-400")
    b.shape("name", "Name", name, (540, 950))
    b.key("name", "position", {20: (540, 1180), 40: (540, 950)})
    b.ease("name", "position", [20, 40], "slow-stop", 70)
    soon, ringing = (
        {"attack": b.time(1), "release": b.time(8)},
        {"attack": b.time(2), "release": b.time(30), "rings": 5},
    )
    for layer, what, pulse in (
        ("string", "outline", Pulse(amount=30, aimed=True, **ringing)),
        ("name", "position", Pulse(amount=14, aimed=True, later=b.time(2), **soon)),
        ("bead", "fill", Pulse(amount=1, colour=CREAM, **soon)),
    ):
        lanes = (LaneAsked(layer=layer, property=what),)
        b.do(React(scene=b.scene.id, lanes=lanes, to=SourceAsked(layer="bead", what="position"), pulse=pulse))


def _buoy(b: Builder) -> None:
    """A loop: the buoy goes round on a closed path and leans, its lamp alternates, the sea heaves."""
    last = b.scene.frames
    font, label = check_font(signal_font())
    made = Asset(font, "font/otf")
    b.assets.append(made)
    own = UserFont(asset=made.hash, label=label)
    b.do(AddFont(font=own))
    b.shape("moon", "Moon", Ellipse(width=150, height=150, fill="#f3e3b4"), (830, 220))
    bottle = Rectangle(width=92, height=30, radius=15, fill="#8fb9a8")
    b.shape("bottle", "Bottle", bottle, (-80, 770))
    # Its drift takes twice as long as its bob: x and y each go on by themselves.
    b.key("bottle", "position", {0: (160, 770), 48: (900, 752)})
    b.do(SplitAxes(scene=b.scene.id, layer="bottle", split=True))
    b.key("bottle", "position_y", {24: 752, 48: 770})
    b.ease("bottle", "position_x", [0, 48], "slow-ends")
    b.ease("bottle", "position_y", [0, 24, 48], "slow-ends")
    b.go_on("bottle", "position_x", "alternate")
    b.go_on("bottle", "position_y", "repeat")
    b.do(StretchLayers(scene=b.scene.id, layers=("bottle",), amount=0.9))
    hull = Polygon(sides=3, outer=190, roundness=0.12, fill=BRICK)
    b.shape("hull", "Hull", hull, (540, 690))
    b.shape("band", "Band", Rectangle(width=250, height=34, radius=17, fill=CREAM), (540, 720))
    b.shape("call", "Call sign", Text(text="BELL 7", size=44, fill=INK, font=own.id), (540, 732))
    b.shape("glow", "Glow", Ellipse(width=190, height=190, fill="#f3c95c"), (540, 440))
    b.key("glow", "opacity", {0: 45, 24: 0})
    b.ease("glow", "opacity", [0, 24], "slow-ends")
    b.go_on("glow", "opacity", "alternate")
    soft = Blur(id="soft", radius=14)
    b.do(AddEffect(scene=b.scene.id, layers=("glow",), effect=soft))
    b.key("glow", soft.properties[0], {0: 34, 24: 10})
    b.ease("glow", soft.properties[0], [0, 24], "slow-ends")
    b.go_on("glow", soft.properties[0], "alternate")
    b.do(BlendLayers(scene=b.scene.id, layers=("glow",), blend="screen"))
    b.shape("lamp", "Lamp", Ellipse(width=64, height=64, fill=OCHRE), (540, 440))
    b.colours("lamp", "fill", {0: "#e2a21b", 24: "#6b3a1e"})
    b.ease("lamp", "fill", [0, 24], "slow-ends")
    b.go_on("lamp", "fill", "alternate")
    b.shape("mast", "Mast", Carrier(), (540, 520))
    carried = SetParent(scene=b.scene.id, layers=("lamp", "glow"), parent="mast", time=0)
    b.do(carried)
    b.key("mast", "rotation", {0: -5, 48: 5})
    b.ease("mast", "rotation", [0, 48], "slow-ends")
    b.go_on("mast", "rotation", "alternate")
    inside = ("hull", "band", "call", "mast")
    b.do(GroupLayers(scene=b.scene.id, layers=inside, id="float", name="Bell buoy", time=0))
    # Painted as one, it throws one shadow.
    shade = Shadow(id="shade", distance=26, direction=90, softness=16, colour="#06141f", opacity=0.5)
    b.do(AddEffect(scene=b.scene.id, layers=("float",), effect=shade))
    x, y = b.project.scene("buoy").layer("float").position.value
    b.key("float", "position", {0: (x - 26, y), 24: (x, y - 22), 48: (x + 26, y), 72: (x, y + 22), last: (x - 26, y)})
    b.do(JoinPath(scene=b.scene.id, layer="float", joint="automatic", roundness=0.5))
    b.do(ClosePath(scene=b.scene.id, layer="float", closed=True))
    b.go_on("float", "position", "repeat")
    b.key("float", "rotation", {0: -3, 48: 3})
    b.ease("float", "rotation", [0, 48], "slow-ends")
    b.go_on("float", "rotation", "alternate")
    swell = FreePath(
        contours=(
            Contour(
                points=(
                    (-640, 0, 0, 0, 130, -36), (-320, 0, -110, -30, 110, 30), (0, 0, -110, 30, 110, -30),
                    (320, 0, -110, -30, 110, 30), (640, 0, -130, 36, 0, 0), (640, 420, 0, 0, 0, 0),
                    (-640, 420, 0, 0, 0, 0),
                ),
                closed=True,
            ),
        ),
        fill="#1f5c6b",
    )  # fmt: skip
    b.shape("sea", "Sea", swell, (540, 800))
    b.waves("sea", {0: 0, 24: -26, 48: 0, 72: 26, last: 0}, (1, 3))
    b.ease("sea", "outline", [0, 24, 48, 72, last], "slow-ends")
    b.go_on("sea", "outline", "repeat")
    # Where a drop falls on the water a ring answers: it is seen at once and fades, and grows as long as it is.
    b.shape("drop", "Drop", Ellipse(width=16, height=22, fill=CREAM), (250, 470))
    b.key("drop", "position", {8: (250, 470), 30: (250, 796)})
    b.ease("drop", "position", [8, 30], "slow-start", 90)
    b.key("drop", "opacity", {0: 0, 8: 100, 30: 100, 31: 0})
    ring = Ellipse(width=80, height=24, fill=None, stroke=CREAM, stroke_width=5)
    b.shape("ring", "Ring", ring, (250, 800))
    b.do(SetValue(scene=b.scene.id, layer="ring", property="opacity", value=0, time=0, keying=False))
    for name, amount, attack, release in (("opacity", 0.9, 1, 30), ("scale", 1.6, 29, 2)):
        pulse = Pulse(amount=amount, attack=b.time(attack), release=b.time(release))
        lanes = (LaneAsked(layer="ring", property=name),)
        b.do(React(scene=b.scene.id, lanes=lanes, to=SourceAsked(layer="drop", what="position"), pulse=pulse))


def _bell(b: Builder) -> None:
    """A loop: the quay's bell swings to one side and back, and its clapper swings against it, a little later."""
    b.shape("rim", "Rim", Rectangle(width=150, height=26, radius=13, fill=OCHRE), (130, 206))
    b.shape("body", "Body", Polygon(sides=3, outer=104, roundness=0.35, fill=OCHRE), (130, 150))
    b.shape("clapper", "Clapper", Ellipse(width=34, height=34, fill=BRICK), (130, 226))
    b.shape("yoke", "Yoke", Carrier(), (130, 48))
    b.do(SetParent(scene=b.scene.id, layers=("rim", "body", "clapper"), parent="yoke", time=0))
    b.key("yoke", "rotation", {0: -16, 30: 16})
    b.ease("yoke", "rotation", [0, 30], "slow-ends")
    b.go_on("yoke", "rotation", "alternate")
    swing = SourceAsked(layer="yoke", what="rotation")
    clapper = (LaneAsked(layer="clapper", property="position_x"),)
    b.do(SplitAxes(scene=b.scene.id, layer="clapper", split=True))
    b.do(LinkLanes(scene=b.scene.id, lanes=clapper, to=swing, factor=-1.6, lag=b.time(6)))


def _bells(b: Builder) -> None:
    """The bell's scene three times on the card, each at its own place in its swing."""
    for n in range(3):
        art = SceneShown(scene="bell", width=260, height=260, begins=b.time(10 * n), goes_on="repeat")
        b.shape(f"bell{n + 1}", f"Bell {n + 1}", art, (300 + 240 * n, 1570))


def mist() -> bytes:
    """A soft band of mist as a PNG with transparency, made here from two bell curves."""
    x = np.linspace(-1, 1, 900)
    y = np.linspace(-1, 1, 130)[:, None]
    ripple = 0.75 + 0.25 * np.cos(9 * x + 2 * np.sin(5 * x))
    alpha = np.clip(np.exp(-((x / 0.62) ** 4)) * np.exp(-((y / 0.42) ** 2)) * ripple, 0, 1)
    pixels = np.full((130, 900, 4), 255, np.uint8)
    pixels[..., 3] = np.round(alpha * 215)
    out = BytesIO()
    Image.fromarray(pixels, "RGBA").save(out, "PNG")
    return out.getvalue()


def install(projects: ProjectStore, assets: AssetStore) -> None:
    """Puts the demo into a data folder that holds no project yet."""
    if projects.summaries() or projects.summaries(deleted=True):
        return
    project, needed = build()
    assets.put(needed)
    projects.create(project, DEMO_ID)
