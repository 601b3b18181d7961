"""What of a loop does not meet where it hangs on other layers."""

import math

import pytest

from deftarc.core.curves.beyond import Beyond
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.links import Later, Link, LinkSource
from deftarc.core.evaluate import evaluate
from deftarc.core.evaluate.evaluator import Evaluator
from deftarc.core.evaluate.gaps import INNER, LATE, MOMENT
from deftarc.core.evaluate.seam import SeamCheck
from tests.scenes import EASED, at, layer, numbers, positions, scene

CYCLE = {"before": Beyond(how="repeat"), "after": Beyond(how="repeat")}


def mast(**beyond):
    """Sways there and back once in the scene."""
    return layer(
        "Mast", rotation=numbers((0, 0, EASED[0]), (30, 40, EASED[0] | EASED[1]), (60, 0, EASED[1])).changed(**beyond)
    )


def follows(lag=0, factor=1.0, what="rotation"):
    link = Link(source=LinkSource(layer="mast", what=what), factor=factor, lag=lag)
    return layer("Flag").changed(links={"rotation": link})


def gaps(*layers, inner=()):
    check = SeamCheck(Evaluator(scenes={each.id: each for each in inner}))
    return {(gap.layer, gap.name): gap for gap in check.seam(scene(*layers, frames=60)).gaps}


def test_what_follows_a_cycle_meets_and_what_follows_later_needs_it_to_have_gone_on_before():
    assert not gaps(follows(), mast(**CYCLE))
    assert not gaps(follows(lag=at(5)), mast(**CYCLE))
    told = gaps(follows(lag=at(5), factor=3.0), mast())
    shows = evaluate(scene(follows(lag=at(5), factor=3.0), mast(), frames=60), [at(60) - 1, 0]).worlds["flag"]
    assert ("mast", "rotation") not in told
    turned = math.degrees(math.asin(shows[0][1, 0]))
    assert turned > 5
    assert told["flag", "rotation"].value[0] == pytest.approx(turned)
    assert shows[1][1, 0] == 0


def test_a_lane_that_follows_a_step_at_the_seam_is_off_with_what_it_follows():
    open_ended = layer("Mast", rotation=numbers((0, 0), (60, 90)))
    told = gaps(follows(factor=0.5), open_ended)
    assert told["flag", "rotation"].value[0] == pytest.approx(0.5 * told["mast", "rotation"].value[0])
    # Whole turns look alike, of what turns as of what turns with it.
    turning = layer("Mast", rotation=numbers((0, 0), (60, 360)))
    assert ("flag", "rotation") not in gaps(follows(), turning)
    assert ("flag", "rotation") in gaps(follows(factor=0.5), turning)


def test_what_is_carried_later_is_off_where_its_carrier_was_elsewhere_before():
    late = Later(position=at(5), rotation=at(5), scale=at(5))
    flag = layer("Flag", position=positions(value=(80, 0))).changed(parent="mast", later=late)
    assert (("flag", LATE)) in gaps(flag, mast())
    assert not gaps(flag, mast(**CYCLE))


def test_a_stretch_is_off_where_the_way_before_the_loop_is_another():
    there = positions((0, (0, 100)), (45, (300, 100)), (60, (0, 100)))
    ball = layer("Ball", position=there, stretch=numbers(value=2.0), stretch_smooth=numbers(value=0.2))
    told = gaps(ball)
    assert ("ball", "stretch") in told
    again = ball.with_track("position", ball.track("position").changed(**CYCLE))
    assert ("ball", "stretch") not in gaps(again)


@pytest.mark.parametrize(
    ("fields", "off"),
    [
        ({"goes_on": "repeat"}, None),
        ({"goes_on": "repeat", "rate": 2.0}, None),
        ({"goes_on": "repeat", "rate": 1.25}, 15),
        ({"goes_on": "hold"}, None),
        ({"goes_on": "alternate", "rate": 0.5}, 30),
    ],
)
def test_the_moment_a_scene_shows_is_the_one_it_began_with(fields, off):
    bell = scene(layer("Clapper", rotation=numbers((0, 0), (60, 80))), frames=60).changed(id="bell")
    told = gaps(layer("One", SceneShown(scene="bell", width=640, height=360, **fields)), inner=[bell])
    found = told.get(("one", MOMENT))
    assert (found and abs(found.value[0])) == off
    # Of a scene in which nothing moves any moment will do.
    still = bell.changed(layers=(layer("Clapper"),))
    assert not gaps(layer("One", SceneShown(scene="bell", width=640, height=360, **fields)), inner=[still])


@pytest.mark.parametrize(
    ("goes_on", "rate", "told"),
    [
        ("repeat", 1.0, True),
        ("hold", 1.0, True),
        ("repeat", 2.0, True),
        ("repeat", -1.0, False),
        ("alternate", 2.0, False),
    ],
)
def test_a_scene_that_begins_anew_at_the_seam_has_to_be_a_loop_itself(goes_on, rate, told):
    def seam(last, **fields):
        bell = scene(layer("Clapper", rotation=numbers((0, 0), (30, 50), (60, last))), frames=60).changed(id="bell")
        shown = SceneShown(scene="bell", width=640, height=360, goes_on=goes_on, rate=rate, **fields)
        return gaps(layer("One", shown), inner=[bell]).get(("one", INNER))

    assert bool(seam(80)) == told
    # Begun elsewhere in its cycle, it begins anew elsewhere.
    assert seam(80, begins=at(20)) is None
    if told:
        # What meets but for its speed, meets but for its speed.
        assert seam(0).far == 0
        assert seam(0).kink > 0


def test_a_scene_in_a_scene_in_a_scene_is_looked_at_when_it_changes():
    bell = scene(layer("Clapper", rotation=numbers((0, 0), (60, 80))), frames=60).changed(id="bell")
    shown = SceneShown(scene="bell", width=640, height=360, goes_on="repeat")
    tower = scene(layer("Bells", shown), frames=60).changed(id="tower")
    outer = scene(layer("One", shown.changed(scene="tower")), frames=60)
    evaluator = Evaluator(scenes={"bell": bell, "tower": tower})
    check = SeamCheck(evaluator)
    assert [gap.name for gap in check.seam(outer).gaps] == [INNER]
    again = bell.changed(layers=(mast(),))
    evaluator.scenes = {"bell": again, "tower": tower}
    assert check.seam(outer).state == "perfect"


def test_another_inner_scene_is_looked_at_anew():
    bell = scene(mast(), frames=60).changed(id="bell")
    outer = scene(layer("One", SceneShown(scene="bell", width=640, height=360, goes_on="repeat")), frames=60)
    evaluator = Evaluator(scenes={"bell": bell})
    check = SeamCheck(evaluator)
    assert not check.seam(outer).gaps
    evaluator.scenes = {"bell": bell.changed(frames=45)}
    assert [gap.name for gap in check.seam(outer).gaps] == [MOMENT]
