"""The canvas beside Skia: every mask, matte, effect, wash, gradient and drawn part, and pairs of them, on keyed scenes."""

import numpy as np
import pytest

from deftarc.core.document.artwork import Bars, Rectangle, Star
from deftarc.core.document.effects import EFFECTS
from deftarc.core.document.scene import Shutter
from tests.core.spaces.test_colour import colours
from tests.e2e.test_agreement import how_far_apart
from tests.looks import effect, gradient, ground, laid, masked, matted, round_mask, square_mask, washed
from tests.running import NOTHING
from tests.scenes import layer, numbers, positions, scene

MODES = ("add", "subtract", "intersect")
#: Each effect as strongly as it may well be used, in all its choices.
STRONG = {
    "blur": ({"radius": 9}, {"radius": 9, "ways": "along", "angle": 30}, {"radius": 12, "ways": "along", "angle": 90}),
    "shadow": ({"spread": 6, "opacity": 0.8}, {"spread": -4, "only": "yes", "opacity": 0.9}, {"only": "yes"}),
    "colour": (
        {"brightness": 1.2, "contrast": 1.3, "saturation": 0.4, "hue": 80},
        {"invert": 0.7, "tinted": 0.6, "tint": "#80c0ff"},
    ),
    "crop": ({"left": 0.3, "top": 0.2}, {"left": 0.25, "right": 0.1, "bottom": 0.3, "softness": 7}),
}  # fmt: skip


def made_with(*effects, tracks=()):
    rows = laid(
        lambda n: Star(spikes=6, outer=70, inner=38, fill="#e2a21b", stroke="#14324a"),
        effects=effects,
        tracks=dict(tracks),
    )
    return scene(*rows, *ground(), frames=21, background="#f8efd8")


def scenes():
    """Every scene that both painters have to paint alike, by name."""
    yield "mask add", masked(round_mask(feather=8), mask_feather=numbers((0, 0), (20, 12)))
    yield "mask pair", masked(square_mask(), round_mask(mode="subtract", radius=30, feather=4, opacity=0.7))
    yield (
        "mask three",
        masked(
            square_mask(inverted=True),
            round_mask(feather=5),
            square_mask("last", 40, mode="intersect", feather=3),
            mask_opacity=numbers((0, 0.4), (20, 1)),
        ),
    )
    yield "mask grown", masked(square_mask(feather=2), mask_grow=numbers((0, -12), (20, 15)))
    for mode in MODES:
        yield f"mask first {mode}", masked(square_mask(mode=mode, feather=6), round_mask(radius=40))
        yield f"mask inverted {mode}", masked(round_mask(radius=70), square_mask(mode=mode, inverted=True, feather=5))
    for by in ("alpha", "luma"):
        for inverted in (False, True):
            yield f"matte {by} {inverted}", matted(by, inverted, hidden=inverted)
        yield f"matte group {by}", matted(by, False, group=True)
    for kind, ways in STRONG.items():
        for n, fields in enumerate(ways):
            yield f"{kind} {n}", made_with(effect(kind, **fields))
        yield f"wash {kind}", washed(effect(kind, **ways[0]))
    yield "wash masked", washed(effect("blur", radius=6), masks=(round_mask(radius=90, feather=10),))
    yield "wash blended", washed(effect("colour", contrast=1.6), blend="multiply")
    yield "crop then shadow", made_with(effect("crop", left=0.3, softness=2), effect("shadow", "two"))
    yield "shadow then crop", made_with(effect("shadow", "two"), effect("crop", left=0.3, softness=2))
    yield (
        "blur then colour",
        made_with(
            effect("blur", radius=5),
            effect("colour", "two", invert=1),
            tracks={"effect/two/colour_hue": numbers((0, 0), (20, 300))},
        ),
    )
    for kind in ("linear", "radial"):
        art = Star(
            outer=70, inner=35, fill_gradient=gradient(kind), stroke_gradient=gradient(kind, "two"), stroke_width=12
        )
        keys = {
            "gradient/fill/gradient_x2": numbers((0, 50), (20, -30)),
            "stop/oneb/stop_at": numbers((0, 0.2), (20, 1)),
            "stop/twoc/stop_colour": colours((0, "#14324a"), (20, "#e0f0ff")),
        }
        yield f"gradient {kind}", scene(*laid(lambda n, art=art: art, tracks=keys), *ground(), frames=21)
    line = Rectangle(
        width=110, height=80, fill=None, stroke="#14324a", stroke_width=9, dash=(14, 9), rounding=16, grow=8
    )
    keys = {
        "drawn_to": numbers((0, 0.2), (20, 1)),
        "drawn_shift": numbers((0, 0), (20, 1.3)),
        "dash/0/dash_length": numbers((0, 5), (20, 20)),
    }
    yield "drawn", scene(*laid(lambda n: line, tracks=keys), *ground(), frames=21)
    grown = Star(outer=60, inner=25, fill="#c2621c", stroke="#14324a", stroke_width=4, grow_join="miter")
    yield (
        "grown",
        scene(
            *laid(lambda n: grown, tracks={"grow": numbers((0, -6), (20, 14)), "rounding": numbers((0, 0), (20, 9))}),
            *ground(),
            frames=21,
        ),
    )
    bars = layer(
        "Bars",
        Bars(width=640, height=360, bar_left=0.1),
        position=positions(value=(320, 180)),
        bar_top=numbers((0, 0), (20, 0.6)),
    )
    yield "bars", scene(bars, *ground(), frames=21)


def bursting():
    """Rings and particles of every kind, turning, mirrored, squeezed and skewed, and seen through."""
    from deftarc.core.document.artwork import Particles, Rings

    keys = {"burst": numbers((0, 1), (4, 0.6), (8, 0.8)), "opacity": numbers((0, 1), (20, 0.5))}
    rings = Rings(ring_radius_end=70, burst_colour="#c2621c", burst_colour_end="#14324a", burst_life=0.8)
    yield "rings soft", scene(*laid(lambda n: rings, tracks=keys), *ground(), frames=21)
    yield "rings hard", scene(*laid(lambda n: rings.changed(ring_soft_end=0.0), tracks=keys), *ground(), frames=21)
    sparks = Particles(
        burst_rate=60, burst_speed=120, burst_life=0.7, ahead=0.7, burst_colour_end="#c2621c", burst_spin=90
    )
    for sides in (0, 3):
        yield (
            f"particles {sides}",
            scene(*laid(lambda n, s=sides: sparks.changed(sides=s), tracks=keys), *ground(), frames=21),
        )
    sun = layer(
        "Sun",
        Star(outer=20, inner=9, fill="#c2621c", stroke="#14324a"),
        position=positions((0, (100, 200)), (20, (500, 120))),
    )
    shaped = sparks.changed(shaped="sun", emits="place", source="sun", burst_size=26)
    yield "particles shaped", scene(*laid(lambda n: shaped, tracks=keys), sun, *ground(), frames=21)


SCENES = {**dict(scenes()), **dict(bursting())}


def test_every_effect_is_among_them():
    assert set(STRONG) == set(EFFECTS)


@pytest.mark.parametrize(
    "names", [list(SCENES)[k : k + 6] for k in range(0, len(SCENES), 6)], ids=lambda names: names[0]
)
def test_both_painters_paint_it_alike(tab, served, names):
    tab.goto(served.at(NOTHING))
    for name in names:
        for frame in (0, 9):
            apart = how_far_apart(tab, served, SCENES[name], frame)
            assert (apart > 16).mean() <= 0.002, f"{name}, frame {frame}"
            assert np.mean(apart) <= 1, f"{name}, frame {frame}"


def smearing():
    """What turns, grows, jumps, is masked, treated, blended, shows through something, and spreads, all blurred."""
    rows = [
        *laid(
            lambda n: Star(spikes=6, outer=70, inner=38, fill="#e2a21b", stroke="#14324a"),
            tracks={"scale": numbers((0, 0.4), (20, 1.2))},
            masks=(round_mask(feather=6),),
            effects=(effect("shadow", spread=3),),
        ),
        layer("Bars", Bars(width=640, height=360), position=positions(value=(320, 180)), bar_top=numbers((0, 0), (9, 0.6))),
        *ground(),
    ]  # fmt: skip
    made = scene(*rows, frames=21, background="#f8efd8")
    yield "smeared", made.changed(shutter=Shutter(on=True, angle=360))
    yield "smeared matte", matted("luma", False).changed(shutter=Shutter(on=True, angle=270, phase=0))
    for name, each in bursting():
        yield f"smeared {name}", each.changed(shutter=Shutter(on=True))


def test_both_painters_blur_what_moves_alike(tab, served):
    tab.goto(served.at(NOTHING))
    for name, made in smearing():
        apart = how_far_apart(tab, served, made, 9)
        assert (apart > 16).mean() <= 0.002, name
        assert np.mean(apart) <= 1, name


def test_both_painters_paint_lantern_isle_alike_blurred_and_sharp(tab, served):
    tab.goto(served.at(NOTHING))
    whole = served.document().scene("lantern")
    # Some of its frames are enough: what is born before them is born all the same.
    for made, frames in ((whole.changed(shutter=Shutter()), (70, 100)), (whole.changed(frames=45), (44,))):
        for frame in frames:
            apart = how_far_apart(tab, served, made, frame)
            assert (apart > 16).mean() <= 0.002, f"frame {frame}"
            assert np.mean(apart) <= 1, f"frame {frame}"
