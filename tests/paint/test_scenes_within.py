"""Scenes within scenes in pixels: what a scene layer shows is the scene as it is by itself; made of layers, nothing moves."""

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.document import Project, Star
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.scene import Shutter
from deftarc.core.edit import apply
from deftarc.core.edit.add import AddLayer
from deftarc.core.edit.clocks import GiveClock
from deftarc.core.edit.scenes import ChangeScene, DeleteScene
from deftarc.core.edit.shown import ChangeShown, MakeScene
from deftarc.core.edit.spans import SetSpanLength
from deftarc.core.evaluate import evaluate, frame_times
from deftarc.formats.materials import Materials
from deftarc.paint.skia.painter import blank
from deftarc.paint.skia.scene import painter_for
from tests.scenes import at, floated, layer, numbers, positions, project, scene


def pixels(made, name, frame):
    here = made.scene(name)
    painter = painter_for(here, Materials(lambda _: b""), made.by_id)
    table = evaluate(here, frame_times(here, frame, 1), scenes=made.by_id)
    out, surface = blank(here.width, here.height)
    painter.paint(surface.getCanvas(), table, 0, here.background, (1.0, 1.0))
    surface.flushAndSubmit()
    return out.copy()


def harbour(background="#f4d8a0"):
    star = layer("Star", Star(outer=60, inner=30, fill="#7a4fa3", stroke="#1d2a38"), position=positions((0, (80, 90)), (60, (500, 250))),
                 rotation=numbers((0, 0), (60, 200)), opacity=numbers(value=0.6))  # fmt: skip
    return scene(star, layer("Gull", position=floated(), scale=numbers(value=1.4)), background=background).changed(
        id="harbour", name="Harbour"
    )


@pytest.mark.parametrize("background", ["#f4d8a0", None])
def test_a_scene_layer_equals_the_scene_painted_by_itself(background):
    inner = harbour(background)
    shown = layer("In", SceneShown(scene="harbour", width=640, height=360), position=positions(value=(320, 180)))
    made = Project(name="Quillhaven", scenes=(scene(shown, background=None), inner))
    for frame in (0, 17, 43, 99):
        assert np.array_equal(pixels(made, "crossing", frame), pixels(made, "harbour", frame))


def test_a_scene_shows_without_its_ground():
    inner = harbour("#f4d8a0")
    shown = layer(
        "In", SceneShown(scene="harbour", width=640, height=360, ground=False), position=positions(value=(320, 180))
    )
    made = Project(name="Quillhaven", scenes=(scene(shown, background=None), inner))
    bare = Project(name="Quillhaven", scenes=(inner.changed(background=None),))
    assert np.array_equal(pixels(made, "crossing", 17), pixels(bare, "harbour", 17))


def test_nothing_shows_outside_its_frame():
    inner = scene(layer("Wide", scale=numbers(value=20.0), position=positions(value=(50, 50))), background=None)
    small = inner.changed(id="harbour", name="Harbour", width=100, height=100)
    shown = layer("In", SceneShown(scene="harbour", width=100, height=100), position=positions(value=(200, 150)))
    painted = pixels(Project(name="Quillhaven", scenes=(scene(shown, background=None), small)), "crossing", 0)
    rows, columns = np.nonzero(painted[..., 3])
    assert (rows.min(), rows.max(), columns.min(), columns.max()) == (100, 199, 150, 249)


def full():
    mast = layer("Mast", position=positions((0, (100, 200)), (90, (400, 120))), rotation=numbers((0, -10), (90, 30)))
    flag = layer("Flag", Star(outer=40, inner=20, fill="#b23a26"), position=positions(value=(40, -30))).changed(
        parent="mast"
    )
    late = layer("Late", rotation=numbers((30, 0), (70, 90)), position=positions(value=(500, 200))).changed(
        start=at(20), end=at(80)
    )
    return project(layer("Top", position=floated()), flag, mast, late, layer("Ground", scale=numbers(value=9.0)))


def test_making_a_scene_of_layers_changes_no_pixel_at_any_frame():
    before = full()
    edit = MakeScene(scene="crossing", layers=("flag", "mast", "late"), name="Signals", id="signals", layer_id="signal")
    made = apply(before, edit)
    assert [each.id for each in made.scene("crossing").layers] == ["top", "signal", "ground"]
    assert [each.id for each in made.scene("signals").layers] == ["flag", "mast", "late"]
    for frame in range(0, 100, 7):
        assert np.array_equal(pixels(before, "crossing", frame), pixels(made, "crossing", frame))


def test_what_is_blurred_as_it_moves_is_so_in_a_scene_made_of_it():
    ball = layer("Ball", Star(outer=60, inner=30, fill="#7a4fa3"), position=positions((0, (80, 90)), (20, (560, 250))))
    plain = layer("Plain", Star(outer=20, inner=9, fill="#123456"), position=positions((0, (500, 90)), (20, (60, 300))))
    before = project().with_scene(
        scene(ball.changed(smears=True), plain, background="#ffffff").changed(shutter=Shutter(on=True))
    )
    made = apply(before, MakeScene(scene="crossing", layers=("ball", "plain"), name="Signals", id="signals"))
    for frame in (3, 10, 17):
        one, other = blurred(before, frame), blurred(made, frame)
        assert np.abs(one.astype(int) - other).max() <= 2
        assert np.abs(one.astype(int) - pixels(before, "crossing", frame)).max() > 40


def blurred(made, frame):
    here = made.scene("crossing")
    painter = painter_for(here, Materials(lambda _: b""), made.by_id)
    out, surface = blank(here.width, here.height)
    painter.paint(surface.getCanvas(), painter.frames(here, frame, 1), 0, here.background, (1.0, 1.0))
    surface.flushAndSubmit()
    return out.copy()


def test_a_clock_given_to_a_scene_layer_goes_on_as_the_layer_does():
    made = apply(full(), MakeScene(scene="crossing", layers=("late",), id="signals", layer_id="signal", name="Signals"))
    made = apply(made, ChangeShown(scene="crossing", layers=("signal",), rate=0.5, begins=at(30)))
    given = apply(made, GiveClock(scene="crossing", layers=("signal",)))
    for frame in range(0, 100, 9):
        assert np.array_equal(pixels(made, "crossing", frame), pixels(given, "crossing", frame))
    typed = apply(made, GiveClock(scene="crossing", layers=("signal",), rate=-1.0))
    # Backwards from what it would show at its end, down to where it begins.
    values = [key.value for key in typed.scene("crossing").layer("signal").track("clock").keys]
    assert values == pytest.approx([(30 + 100) / 25, 30 / 25], rel=1e-6)


def test_what_would_change_the_picture_is_refused_by_name():
    before = full()
    with pytest.raises(Refusal, match="Flag is carried by Mast"):
        apply(before, MakeScene(scene="crossing", layers=("flag",)))
    with pytest.raises(Refusal, match="2 layers lie between them"):
        apply(before, MakeScene(scene="crossing", layers=("top", "late")))
    mixed = before.with_scene(before.scenes[0].with_layer(before.scenes[0].layer("late").changed(blend="multiply")))
    with pytest.raises(Refusal, match="Late blends with what lies beneath"):
        apply(mixed, MakeScene(scene="crossing", layers=("late",)))


def test_a_scene_that_is_shown_is_not_deleted_and_grows_in_its_layers():
    made = apply(full(), MakeScene(scene="crossing", layers=("late",), id="signals", layer_id="signal", name="Signals"))
    with pytest.raises(Refusal, match="Signals is shown in Crossing"):
        apply(made, DeleteScene(scene="signals"))
    larger = apply(made, ChangeScene(scene="signals", width=800))
    assert larger.scene("crossing").layer("signal").artwork.width == 800
    art = SceneShown(scene="crossing", width=640, height=360)
    with pytest.raises(Refusal, match=r"Signals → Crossing → Signals|Crossing → Signals → Crossing"):
        apply(made, AddLayer(scene="signals", name="Round", artwork=art))


def test_its_clock_is_changed():
    made = apply(full(), MakeScene(scene="crossing", layers=("late",), id="signals", layer_id="signal", name="Signals"))
    edit = ChangeShown(scene="crossing", layers=("signal",), rate=-2.0, begins=at(30), goes_on="repeat", plays=3)
    art = apply(made, edit).scene("crossing").layer("signal").artwork
    assert (art.rate, art.begins, art.goes_on, art.plays) == (-2.0, at(30), "repeat", 3)
    ever = apply(apply(made, edit), ChangeShown(scene="crossing", layers=("signal",), for_ever=True))
    assert ever.scene("crossing").layer("signal").artwork.plays is None
    with pytest.raises(Refusal, match="Top shows no scene"):
        apply(made, ChangeShown(scene="crossing", layers=("top",), rate=2.0))


def test_stretched_in_time_it_shows_what_it_did_all_along():
    inner = harbour()
    shown = layer(
        "In", SceneShown(scene="harbour", width=640, height=360, begins=at(5)), position=positions(value=(320, 180))
    )
    before = Project(name="Quillhaven", scenes=(scene(shown.changed(start=at(10), end=at(40)), background=None), inner))
    longer = apply(before, SetSpanLength(scene="crossing", layers=("in",), length=at(60), keys=True))
    assert longer.scene("crossing").layer("in").artwork.rate == 0.5
    for frame in (0, 8, 29):
        assert np.array_equal(pixels(longer, "crossing", 10 + 2 * frame), pixels(before, "crossing", 10 + frame))
    # Nor does it when all of its scene is stretched; a length of its own without its keys leaves its pace.
    twice = apply(before, ChangeScene(scene="crossing", frames=200, stretch=True))
    assert np.array_equal(pixels(twice, "crossing", 50), pixels(before, "crossing", 25))
    cut = apply(before, SetSpanLength(scene="crossing", layers=("in",), length=at(60)))
    assert cut.scene("crossing").layer("in").artwork.rate == 1.0
    with pytest.raises(Refusal, match="times as fast"):
        apply(before, SetSpanLength(scene="crossing", layers=("in",), length=at(0.25), keys=True))
