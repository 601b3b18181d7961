"""A project with a thing of every kind, for golden files, and what it shows in numbers."""

import numpy as np

from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.saved import offered, saved
from deftarc.core.document import Carrier, Contour, FreePath, Kept, Layer, Project, Scene
from deftarc.core.document.artwork import Bars, Gradient, Particles, Rings, Star, Stop, Wash
from deftarc.core.document.effects import EFFECTS
from deftarc.core.document.links import Later
from deftarc.core.document.masks import Mask
from deftarc.core.document.matte import Matte
from deftarc.core.document.scene import Shutter
from deftarc.core.edit import apply, apply_all
from deftarc.core.edit.eases import EaseKeys, MakeCraft
from deftarc.core.edit.layers import DeleteLayers
from deftarc.core.edit.links import LaneAsked, SourceAsked
from deftarc.core.edit.react import React
from deftarc.core.evaluate import evaluate, wire_rows
from deftarc.core.words.shipped_motions import shipped
from tests.scenes import at, layer, numbers


def everything(project: Project, demo: Project) -> Project:
    """A small project with long lanes, long artwork, many layers, crafts, eases, a shelf, and the demo's scenes."""
    here = project.scenes[0]
    long = layer("Long", rotation=numbers(*((n / 2, n % 7) for n in range(180))))
    wave = FreePath(contours=(Contour(points=tuple((x, x % 9, -1, 0, 1, 0) for x in range(90)), closed=True),))
    drawn = layer("Drawn", artwork=wave)
    here = here.changed(layers=(*here.layers, long, drawn, *(layer(f"Mote {n}") for n in range(80))))
    made = (EFFECTS["blur"](id="mist"), EFFECTS["shadow"](id="deep", colour="#22334480", opacity=0.5))
    veiled = layer("Veil").changed(effects=made, blend="multiply")
    veiled = veiled.with_track("effect/mist/blur_radius", numbers((0, 2), (20, 9)))
    fleet = layer("Convoy", Carrier(group=True, as_one=True), opacity=numbers((0, 1), (30, 0.2)))
    skiff = layer("Skiff").changed(parent="convoy", blend="screen")
    here = here.changed(layers=(*here.layers, veiled, fleet, skiff))
    here = here.changed(layers=(*here.layers, *looks()), shutter=Shutter(on=True, angle=270.0, phase=-135.0))
    project = project.with_scene(here).changed(rounded=0.4, shelf=(Kept(name="Wave", artwork=wave),))
    keys = tuple(KeyRef(layer="swing", property="rotation", time=at(frame)) for frame in (0, 10))
    project = apply_all(project, (
        EaseKeys(scene=here.id, keys=keys, ease="overshoot", as_one=True),
        MakeCraft(scene=here.id, keys=(KeyRef(layer="gull", property="rotation", time=at(40)),),
                  craft={"kind": "settle", "far": 0.3, "often": 3, "soon": 1.0}),
        DeleteLayers(scene=here.id, layers=("mote7",)),
    ))  # fmt: skip
    skiff = project.scenes[0].layer("skiff")
    project = project.with_scene(project.scenes[0].with_layer(skiff.changed(later=Later(rotation=at(3)))))
    # A string of two points, struck by how something swings.
    ends = ((-40, 0, 0, 0, 0, 0), (40, 0, 0, 0, 0, 0))
    string = layer("String", artwork=FreePath(contours=(Contour(points=ends),), stroke="#14324a"))
    here = project.scenes[0]
    project = project.with_scene(here.changed(layers=(*here.layers, string)))
    project = apply(project, React(
        scene=here.id, lanes=(LaneAsked(layer="string", property="outline"),), kinds=("contact", "peak", "stop"),
        to=SourceAsked(layer="swing", what="rotation"), pulse={"amount": 30, "attack": at(2), "release": at(9), "rings": 2},
    ))  # fmt: skip
    turned = tuple(KeyRef(layer="swing", property="rotation", time=time)
                   for time in project.scenes[0].layer("swing").track("rotation").key_times)  # fmt: skip
    nod = saved(project.scenes[0], "Nod", turned, "last", (120.0,))
    nod = nod.changed(dials=tuple(offered(nod)), turns="alternate", about="Yes")
    return project.changed(scenes=(*project.scenes, *_renamed(demo)), motions=(nod, *shipped()[:2]))


def looks() -> tuple[Layer, ...]:
    """Layers with all that is about how they look: masks, mattes, gradients, outlines, washes, bars, bursts."""
    stops = (
        Stop(id="one", at=0.0, colour="#c2621c"),
        Stop(id="two", at=0.6, colour="#ffe0a080"),
        Stop(id="end", at=1.0, colour="#14324a"),
    )
    fades = Gradient(kind="radial", x1=0, y1=0, x2=90, y2=10, stops=stops)
    square = Contour(
        points=tuple((x, y, 0, 0, 0, 0) for x, y in ((-60, -60), (60, -60), (60, 60), (-60, 60))), closed=True
    )
    masks = (
        Mask(id="hole", name="Hole", contours=(square,), feather=9, grow=3, mode="subtract", opacity=0.8),
        Mask(id="rest", contours=(square,), inverted=True, mode="intersect", on=False),
    )
    art = Star(
        outer=90,
        inner=40,
        fill_gradient=fades,
        stroke="#14324a",
        dash=(12, 7),
        drawn_to=0.7,
        drawn_in_turn=True,
        grow=4,
        rounding=6,
        grow_join="miter",
        filled=0.9,
    )
    effects = (
        EFFECTS["crop"](id="cut", left=0.2, softness=3),
        EFFECTS["colour"](id="warm", tinted=0.4, hue=30),
        EFFECTS["blur"](id="run", ways="along", angle=30),
        EFFECTS["shadow"](id="only", spread=4, only="yes"),
    )
    shown = layer("Gleam", art, drawn_from=numbers((0, 0), (30, 0.5))).changed(
        masks=masks, effects=effects, matte=Matte(layer="lens", by="luma", inverted=True), smears=True
    )
    shown = shown.with_track("mask/hole/mask_feather", numbers((0, 2), (30, 20)))
    shown = shown.with_track("stop/two/stop_at", numbers((0, 0.2), (30, 0.8)))
    shown = shown.with_track("dash/1/dash_length", numbers((0, 2), (30, 20)))
    return (
        shown, layer("Lens", Star(outer=120)).changed(hidden=True),
        layer("Tint", Wash()).changed(effects=(EFFECTS["colour"](id="all", saturation=0.5),)),
        layer("Edges", Bars(width=1920, height=1080, bar_left=0.1), bar_top=numbers((0, 0), (30, 0.2))),
        layer("Hoops", Rings(source="gleam", emits="place"), burst=numbers((3, 1), (20, 0.5))),
        layer("Dust", Particles(burst_rate=20, repeats=2, ahead=1, shaped="lens"), burst_rate=numbers((0, 5), (30, 40))),
    )  # fmt: skip


def _renamed(demo: Project) -> list[Scene]:
    """The demo's scenes under other ids, shown in each other under these."""
    names = {scene.id: f"demo{n}" for n, scene in enumerate(demo.scenes)}

    def shown(each: Layer) -> Layer:
        art = each.artwork
        return each.changed(artwork=art.changed(scene=names[art.scene])) if art.kind == "scene" else each

    return [scene.changed(id=names[scene.id], layers=tuple(map(shown, scene.layers))) for scene in demo.scenes]


def pictured(project: Project, shape_text) -> dict:
    """By scene and layer, its six numbers and its opacity at twelve frames."""
    out = {}
    for scene in project.scenes:
        frames = np.unique(np.linspace(0, scene.frames - 1, 12).round().astype(int))
        table = evaluate(scene, frames * scene.rate.flicks, shape_text, scenes=project.by_id)
        out[scene.id] = {
            item.layer: [[float(f"{n:.6g}") for n in row] for row in wire_rows(item).tolist()]
            for item in table.branches
        }
    return out
