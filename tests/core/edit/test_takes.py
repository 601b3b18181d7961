"""Takes: versions of a timing begun, shown, copied from and deleted, and nothing of any of them lost."""

import random

import pytest

from deftarc.core.base.errors import Refusal, UnknownThing
from deftarc.core.changes.keys import KeyRef
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document.effects import EFFECTS
from deftarc.core.document.takes import TIMING
from deftarc.core.edit import apply
from deftarc.core.edit.delete_keys import DeleteKeys
from deftarc.core.edit.effects import ChangeEffect
from deftarc.core.edit.keys import Lane
from deftarc.core.edit.layers import DeleteLayers
from deftarc.core.edit.links import LaneAsked, LinkLanes, SourceAsked
from deftarc.core.edit.locks import Locked
from deftarc.core.edit.samples import SplitAxes
from deftarc.core.edit.spans import MoveSpans
from deftarc.core.edit.takes import SPAN, CopyTake, DeleteTake, NewTake, RenameTake, ShowTake, differences, in_take
from deftarc.core.evaluate import evaluate, frame_times
from deftarc.store.parts import PartIndex
from deftarc.store.reading_parts import Reading, as_it_lies
from tests.scenes import at, gull, layer, numbers, positions, project

BOB = layer("Bob", rotation=numbers((0, 0), (20, 40)).changed(after=Beyond(how="repeat")))


def begun(*layers, before=None, n=2, names=("gull",)):
    edit = NewTake(scene="crossing", layers=names, id=f"t{n}", set="set", first="t1")
    return apply(before or project(*layers or (gull(), BOB)), edit)


def show(made, take):
    return apply(made, ShowTake(scene="crossing", set="set", take=take))


def timing(made, name="gull"):
    here = made.scene("crossing").layer(name)
    return {field: getattr(here, field) for field in TIMING}


def moved(made, frames, name="gull"):
    return apply(made, MoveSpans(scene="crossing", layers=(name,), by=at(frames)))


def told(made):
    return made.scene("crossing").takes[0]


def test_a_take_begins_as_what_shows_and_each_keeps_what_was_done_in_it():
    made = begun()
    assert [take.name for take in told(made).takes] == ["Take 1", "Take 2"]
    assert told(made).shown == "t2"
    first = timing(made)
    made = moved(made, 10)
    second = timing(made)
    assert second != first
    made = show(made, "t1")
    assert timing(made) == first
    made = moved(made, -5)
    again = timing(made)
    made = show(made, "t2")
    assert timing(made) == second
    assert timing(show(made, "t1")) == again
    # A third take goes beside them; the one that shows is no edit at all.
    third = begun(before=made, n=3)
    assert [take.name for take in told(third).takes] == ["Take 1", "Take 2", "Take 3"]
    assert show(third, "t3") is third


def test_what_shows_is_evaluated_and_stored_as_if_there_were_no_takes():
    made = show(moved(begun(), 10), "t1")
    plain = project(gull(), BOB).scene("crossing")
    one, two = (evaluate(scene, frame_times(scene)) for scene in (made.scene("crossing"), plain))
    assert (one.leaf("gull").matrix == two.leaf("gull").matrix).all()
    assert (
        in_take(made.scene("crossing"), "set", "t2").layer("gull").tracks
        == moved(begun(), 10).scene("crossing").layer("gull").tracks
    )


def test_takes_come_back_from_their_parts_and_one_that_is_damaged_leaves_the_rest():
    made = show(moved(begun(names=("gull", "bob")), 10), "t1")
    written = PartIndex().write(made)
    assert Reading(PartIndex(), written.bodies.__getitem__).project(written.root) == made
    # An edit beside them writes none of them again.
    index = PartIndex()
    index.keep(index.write(made))
    after = moved(made, 3)
    more = index.write(after)
    assert len(more.bodies) == 3
    assert Reading(PartIndex(), {**written.bodies, **more.bodies}.__getitem__).project(more.root) == after
    document, lost = as_it_lies(written.root, written.bodies.__getitem__)
    assert not lost
    assert document["scenes"][0]["takes"][0]["takes"][1]["layers"][0]["layer"] == "gull"
    taken = made.scene("crossing").takes[0].takes[1].layers[0]
    name = next(known.name for known in PartIndex().write(made).known if known.thing is taken)
    spoiled = {key: body for key, body in written.bodies.items() if key != name}
    opened = Reading(PartIndex(), spoiled.__getitem__).project(written.root)
    assert [x.layer for x in opened.scene("crossing").takes[0].takes[1].layers] == ["bob"]
    assert opened.scene("crossing").layers == made.scene("crossing").layers


@pytest.mark.parametrize("seed", range(8))
def test_after_any_wandering_each_take_is_what_was_last_done_in_it(seed):
    chance = random.Random(seed)
    made = begun(gull(), BOB, names=("gull", "bob"))
    known = {"t1": (timing(made), timing(made, "bob")), "t2": (timing(made), timing(made, "bob"))}
    for n in range(3, 30):
        what = chance.choice(("move", "move", "show", "show", "new"))
        if what == "move":
            made = moved(made, chance.choice((-3, 2, 7)), chance.choice(("gull", "bob")))
        elif what == "new" and len(known) < 6:
            made = begun(before=made, n=n, names=("bob",))
        else:
            made = show(made, chance.choice(sorted(known)))
            assert (timing(made), timing(made, "bob")) == known[told(made).shown]
        known[told(made).shown] = (timing(made), timing(made, "bob"))


def test_layers_join_the_takes_of_others_with_what_they_have_and_two_sets_stay_apart():
    made = moved(begun(), 10)
    made = begun(before=made, n=3, names=("gull", "bob"))
    assert told(made).layers == ("gull", "bob")
    assert timing(show(made, "t1"), "bob") == timing(project(BOB), "bob")
    apart = apply(begun(), NewTake(scene="crossing", layers=("bob",), id="b2", set="other", first="b1"))
    with pytest.raises(Refusal, match="takes of their own"):
        begun(before=apart, n=9, names=("gull", "bob"))


def test_parts_are_copied_from_one_take_to_another_both_ways():
    made = moved(begun(), 10)
    made = apply(made, DeleteKeys(scene="crossing", keys=(KeyRef(layer="gull", property="rotation", time=at(50)),)))
    scene = made.scene("crossing")
    one, two = told(made).takes
    found = {each.property: each.words for each in differences(scene, told(made), two, one)}
    assert found == {SPAN: "shows at other times", "position": "other times", "rotation": "1 and 2 keys",
                     "opacity": "other times"}  # fmt: skip

    def copy(source, target, *names):
        lanes = tuple(Lane(layer="gull", property=name) for name in names)
        return apply(made, CopyTake(scene="crossing", set="set", source=source, target=target, lanes=lanes))

    here = copy("t1", "t2", "rotation", SPAN).scene("crossing").layer("gull")
    assert here.track("rotation").key_times == [0, at(40)]
    assert here.start == 0
    assert here.track("position").key_times == [at(10), at(60)]
    there = copy("t2", "t1", "position")
    assert there.scene("crossing").layers == scene.layers
    assert show(there, "t1").scene("crossing").layer("gull").track("position").key_times == [at(10), at(60)]
    with pytest.raises(Refusal, match="one take"):
        copy("t1", "t1", "rotation")


def test_how_axes_are_kept_goes_with_the_lanes_that_are_copied():
    made = begun(layer("Gull", position=positions((0, (0, 0)), (40, (90, 30)))))
    made = apply(made, SplitAxes(scene="crossing", layer="gull", split=True))
    lanes = (Lane(layer="gull", property="position_x"),)
    given = apply(made, CopyTake(scene="crossing", set="set", source="t2", target="t1", lanes=lanes))
    assert timing(show(given, "t1")) == timing(made)
    back = apply(made, CopyTake(scene="crossing", set="set", source="t1", target="t2", lanes=lanes))
    assert timing(back) == timing(show(made, "t1"))


def test_a_deleted_take_comes_back_by_its_note_also_the_last_but_one():
    made = begun(before=moved(begun(), 10), n=3)
    for before, gone in ((made, "t1"), (made, "t3"), (moved(begun(), 10), "t2"), (begun(), "t1")):
        edit = DeleteTake(scene="crossing", set="set", take=gone)
        after = apply(before, edit)
        note = edit.notes(before, after)[0]
        back = apply(after, note.edit)
        assert {take.id for take in told(back).takes} == {take.id for take in told(before).takes}
        assert timing(show(back, gone)) == timing(show(before, gone))
        with pytest.raises(Refusal, match="is there"):
            apply(before, note.edit)
    # The one that showed: the one before it does now.
    assert told(apply(made, DeleteTake(scene="crossing", set="set", take="t3"))).shown == "t2"


def test_locked_stays_and_names_are_asked_for():
    made = moved(begun(), 10)
    scene = made.scene("crossing")
    shut = made.with_scene(scene.with_layer(scene.layer("gull").changed(locked=True)))
    with pytest.raises(Locked):
        show(shut, "t1")
    named = apply(shut, RenameTake(scene="crossing", set="set", take="t1", name="Calm"))
    assert told(named).takes[0].name == "Calm"
    with pytest.raises(UnknownThing, match="no take"):
        show(made, "t9")


def test_what_has_no_place_any_more_is_told_and_the_rest_shows():
    name = "effect/mist/blur_radius"
    veiled = layer("Gull", rotation=numbers((0, 0), (20, 9))).changed(effects=(EFFECTS["blur"](id="mist"),))
    made = moved(begun(veiled.with_track(name, numbers((0, 4), (20, 9)))), 5)
    made = apply(made, ChangeEffect(scene="crossing", layers=("gull",), effect="mist", remove=True))
    edit = ShowTake(scene="crossing", set="set", take="t1")
    after = apply(made, edit)
    assert list(after.scene("crossing").layer("gull").tracks) == ["rotation"]
    assert after.scene("crossing").layer("gull").track("rotation").key_times == [0, at(20)]
    assert "no place for Blur of Gull" in edit.notes(made, after)[0].text


def test_layers_that_are_gone_leave_their_takes_and_bring_them_back_with_them():
    made = moved(begun(names=("gull", "bob")), 10)
    gone = apply(made, DeleteLayers(scene="crossing", layers=("gull",)))
    assert timing(show(gone, "t1"), "bob") == timing(project(BOB), "bob")


def test_what_follows_is_part_of_a_take_and_what_is_gone_is_followed_no_more():

    lane = (LaneAsked(layer="flag", property="rotation"),)
    source = SourceAsked(layer="mast", what="rotation")
    before = project(layer("Flag"), layer("Mast", rotation=numbers((0, 0), (40, 90))))
    made = apply(before, LinkLanes(scene="crossing", lanes=lane, to=source))
    made = apply(made, NewTake(scene="crossing", layers=("flag",), name="Loose", id="loose", set="set", first="led"))
    made = apply(made, LinkLanes(scene="crossing", lanes=lane, to=source, lag=at(9)))
    back = apply(made, ShowTake(scene="crossing", set="set", take="led"))
    assert back.scenes[0].layer("flag").links["rotation"].lag == 0
    again = apply(back, ShowTake(scene="crossing", set="set", take="loose"))
    assert again.scenes[0].layer("flag").links["rotation"].lag == at(9)
    gone = apply(back, DeleteLayers(scene="crossing", layers=("mast",)))
    assert not apply(gone, ShowTake(scene="crossing", set="set", take="loose")).scenes[0].layer("flag").links
