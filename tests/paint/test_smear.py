"""Motion blur against what can be worked out by hand, whatever it is that moves."""

import numpy as np
import pytest

from deftarc.core.document.artwork import Carrier, Particles, Rectangle
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.scene import Shutter
from deftarc.core.edit import apply
from deftarc.core.edit.shutter import SetShutter
from deftarc.core.evaluate.smear import Smearer
from deftarc.formats.materials import Materials
from deftarc.paint.skia.painter import blank
from deftarc.paint.skia.scene import painter_for
from tests.scenes import layer, numbers, positions, project, scene

MATERIALS = Materials(lambda name: b"")


def light(made, frame, scenes=None):
    """The red of a frame, in [0, 1]."""
    painter = painter_for(made, MATERIALS, scenes)
    pixels, surface = blank(made.width, made.height)
    painter.paint(surface.getCanvas(), painter.frames(made, frame, 1), 0, made.background, (1, 1))
    surface.flushAndSubmit()
    return pixels[..., 0].astype(float) / 255


def open_shut(*layers, angle=180.0, phase=-90.0, **fields):
    return scene(*layers, background="#000000", **fields).changed(shutter=Shutter(on=True, angle=angle, phase=phase))


def bar(**tracks):
    return layer("Bar", Rectangle(width=200, height=20, fill="#ffffff"), **tracks).changed(smears=True)


def test_a_bar_that_moves_evenly_is_a_ramp_and_keeps_its_light():
    moving = bar(position=positions((0, (100, 180)), (20, (500, 180))))
    sharp, soft = light(open_shut(moving, angle=0.0), 10), light(open_shut(moving, angle=360.0, phase=-180.0), 10)
    assert soft.sum() == pytest.approx(sharp.sum(), rel=0.005)
    # Twenty px a frame: its edge rises evenly over these.
    row, middle = soft[180], 300 - 100
    assert row[middle - 10 : middle + 10] == pytest.approx((np.arange(20) + 0.5) / 20, abs=0.05)
    assert row[middle + 15 : 380] == pytest.approx(1, abs=0.01)


@pytest.mark.parametrize("angle", [90.0, 180.0, 360.0, 720.0])
def test_a_bar_that_turns_comes_to_the_integral_over_its_angle(angle):
    turning = bar(position=positions(value=(320, 180)), rotation=numbers((0, 0), (20, 400)))
    made = open_shut(turning, angle=angle, phase=-angle / 2)
    soft = light(made, 9)
    assert soft.sum() == pytest.approx(200 * 20, rel=0.005)
    # Along a circle of a radius the bar covers as much of each turn as its width does there.
    turned, radius = 20 * angle / 360, 70
    ways = np.radians(np.arange(0, 360, 0.25))
    seen = soft[(180 + radius * np.sin(ways)).astype(int), (320 + radius * np.cos(ways)).astype(int)]
    covered = 2 * 2 * np.degrees(np.arcsin(10 / radius))
    assert seen.sum() * 0.25 == pytest.approx(covered, rel=0.03)
    middle = seen[int((9 * 20) / 0.25 % len(seen))]
    assert middle == pytest.approx(min(1.0, covered / 2 / turned), abs=0.08)


def test_light_of_any_motion_is_kept_growing_carried_within_a_scene_and_bursting():
    mast = layer(
        "Mast", Carrier(), position=positions((0, (300, 180)), (20, (340, 180))), rotation=numbers((0, 0), (20, 90))
    )
    carried = bar(position=positions(value=(40, 0))).changed(parent="mast")
    plain = open_shut(mast, carried, angle=0.0)
    assert light(open_shut(mast, carried), 8).sum() == pytest.approx(light(plain, 8).sum(), rel=0.005)
    shown = layer(
        "Shown", SceneShown(scene="inner", width=640, height=360), position=positions((0, (300, 180)), (20, (360, 180)))
    ).changed(smears=True)
    inner = scene(
        layer("Dot", Rectangle(width=60, height=60, fill="#ffffff"), position=positions(value=(320, 180))),
        background=None,
    ).changed(id="inner")
    still = light(open_shut(shown, angle=0.0), 8, {"inner": inner})
    moved = light(open_shut(shown), 8, {"inner": inner})
    assert moved.sum() == pytest.approx(still.sum(), rel=0.005)
    assert (moved != still).any()
    sparks = Particles(
        burst_colour="#ffffff",
        burst_colour_end="#ffffff",
        burst_fade=0,
        burst_size=20,
        burst_size_end=20,
        burst_spread=30,
    )
    born = layer("Sparks", sparks, position=positions(value=(320, 300)), burst=numbers((0, 1))).changed(smears=True)
    assert light(open_shut(born), 6).max() < 1.001
    assert (light(open_shut(born), 6) != light(open_shut(born, angle=0.0), 6)).any()


def test_what_stands_still_is_sharp_and_costs_one_moment_what_goes_far_takes_more():
    far, near = (
        bar(position=positions((0, (0, 180)), (20, (4000, 180)))),
        bar(position=positions((0, (0, 0)), (20, (40, 0)))).changed(id="near"),
    )
    made = open_shut(far, near, bar(position=positions(value=(9, 9))).changed(id="still"))
    smear = Smearer().smear(made, [made.rate.flicks * 4, made.rate.flicks * 5], None, lambda name: 100.0)
    assert smear.counts["bar"].tolist() == [64, 64]
    assert smear.counts["near"].tolist() == [8, 8]
    assert smear.counts["still"].tolist() == [1, 1]
    assert smear.rows("still", 0) == []
    assert len(smear.rows("near", 1)) == 8
    assert len(set(smear.rows("bar", 1))) == 64


def test_everything_smears_in_one_step_and_what_is_off_does_not():
    made = project(layer("A", position=positions((0, (0, 0)), (10, (300, 0)))), layer("Mast", Carrier()))
    on = apply(made, SetShutter(scene="crossing", on=True, everything=True)).scenes[0]
    assert on.layer("a").smears
    assert not on.layer("mast").smears
    assert Smearer().smear(on, [on.rate.flicks], None, lambda name: 9.0) is not None
    for off in (
        on.changed(shutter=Shutter()),
        on.with_layer(on.layer("a").changed(smears=False)),
        on.with_layer(on.layer("a").changed(hidden=True)),
    ):
        assert Smearer().smear(off, [on.rate.flicks], None, lambda name: 9.0) is None


def test_every_group_that_smears_is_painted_where_it_is():
    """What is known of a group by its id is not taken for that of another one, made where the first had been."""
    rows = []
    for n in range(12):
        group = layer(
            f"Group {n}", Carrier(group=True, as_one=True), position=positions((0, (20, 30 * n)), (10, (120, 30 * n)))
        )
        rows += [
            group.changed(smears=True),
            layer(f"Bar {n}", Rectangle(width=16, height=8, fill="#ffffff")).changed(parent=group.id),
        ]
    made = scene(*rows, frames=11, width=160, height=360, background="#000000").changed(shutter=Shutter(on=True))
    for frame in (2, 5, 8):
        for _ in range(5):
            seen = light(made, frame)
            strips = [float(seen[max(0, 30 * n - 8) : 30 * n + 8].sum()) for n in range(12)]
            assert strips[1:] == pytest.approx([strips[1]] * 11, rel=0.01)
