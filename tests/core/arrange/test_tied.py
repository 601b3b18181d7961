"""Ties: where one moment goes the other follows, in one step; rings are refused, what is gone is told."""

import random

import pytest

from deftarc.core.arrange.tied import moment_of
from deftarc.core.base.errors import Refusal, UnknownThing
from deftarc.core.changes.clip import copied
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document.artwork import Carrier
from deftarc.core.document.marker import Marker
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.edit import apply, told
from deftarc.core.edit.delete_keys import DeleteKeys
from deftarc.core.edit.layers import DeleteLayers, DuplicateLayers
from deftarc.core.edit.locks import Locked
from deftarc.core.edit.markers import ChangeMarkers, DeleteMarkers, Mark
from deftarc.core.edit.move_keys import MoveKeys
from deftarc.core.edit.paste import PasteKeys
from deftarc.core.edit.spans import MoveSpans, SetSpanLength, TrimSpan
from deftarc.core.edit.stretch_keys import StretchKeys
from deftarc.core.edit.takes import NewTake, ShowTake
from deftarc.core.edit.ties import AnchorAsked, ChangeTies, TieAsked, TieTimings
from deftarc.core.edit.type_keys import TypeKeys
from deftarc.core.words import told_keys
from deftarc.store.parts import PartIndex
from deftarc.store.reading_parts import Reading
from tests.scenes import at, layer, numbers, project


def row(name, start, end, *keys):
    made = layer(name, rotation=numbers(*(keys or ((start, 0), (end - 1, 90)))))
    return made.changed(start=at(start), end=at(end))


def harbour():
    return project(
        row("Sign", 0, 20),
        row("Rows", 30, 60, (30, 0), (40, 50), (55, 90)),
        row("Bell", 70, 90),
        markers=(Marker(id="ring", time=at(50)),),
        frames=200,
    )


def start(name):
    return AnchorAsked(layer=name, of="start")


def end(name):
    return AnchorAsked(layer=name, of="end")


def key(name, frame):
    return AnchorAsked(layer=name, of="key", property="rotation", time=at(frame))


RING = AnchorAsked(of="marker", id="ring")


def tied(what, to, offset=0, before=None, name="t"):
    asked = TieAsked(
        what=what, to=to, offset=None if offset is None else at(offset), id=name, ids=(f"{name}a", f"{name}b")
    )
    return apply(before or harbour(), TieTimings(scene="crossing", ties=(asked,)))


def layer_of(made, name):
    return made.scene("crossing").layer(name)


def spans(made, name):
    here = layer_of(made, name)
    return here.start / at(1), here.end / at(1)


def frames(made, name):
    return [time / at(1) for time in layer_of(made, name).track("rotation").key_times]


def move(made, by, *names, keys=True):
    return apply(made, MoveSpans(scene="crossing", layers=names, by=at(by), keys=keys))


def test_a_layer_starts_where_another_ends_and_follows_it_with_its_keys_and_a_chain_with_it():
    made = tied(start("rows"), end("sign"))
    assert (spans(made, "rows"), frames(made, "rows")) == ((20, 50), [20, 30, 45])
    made = tied(start("bell"), end("rows"), -5, made, "u")
    assert spans(made, "bell") == (45, 65)
    made = move(made, 7, "sign")
    assert (spans(made, "rows"), spans(made, "bell")) == ((27, 57), (52, 72))
    # The end trimmed, the length given: all that follows goes along.
    made = apply(made, TrimSpan(scene="crossing", layers=("sign",), end=at(30)))
    assert (spans(made, "rows"), spans(made, "bell")) == ((30, 60), (55, 75))
    made = apply(made, SetSpanLength(scene="crossing", layers=("rows",), length=at(60), keys=True))
    assert spans(made, "bell") == (85, 105)


def test_what_follows_keeps_the_distance_it_is_moved_to_itself():
    made = move(tied(start("rows"), end("sign")), 4, "rows")
    assert made.scene("crossing").ties[0].offset == at(4)
    assert spans(move(made, 10, "sign"), "rows") == (34, 64)
    # Moved together they stay as far apart.
    assert move(made, 10, "sign", "rows").scene("crossing").ties[0].offset == at(4)


def test_a_key_follows_a_key_a_marker_or_an_end_and_the_other_keys_stay():
    made = tied(key("rows", 40), RING)
    assert frames(made, "rows") == [30, 50, 55]
    marks = (Mark(id="ring"),)
    made = apply(made, ChangeMarkers(scene="crossing", marks=marks, by=-at(15)))
    assert frames(made, "rows") == [30, 35, 55]
    made = tied(key("bell", 70), key("rows", 35), 3, made, "u")
    assert frames(made, "bell") == [38, 89]
    refs = (KeyRef(layer="rows", property="rotation", time=at(35)),)
    made = apply(made, MoveKeys(scene="crossing", keys=refs, by=at(10)))
    assert (frames(made, "bell"), frames(made, "rows")) == ([48, 89], [30, 45, 55])
    assert made.scene("crossing").ties[0].offset == at(10)
    with pytest.raises(Refusal, match="another key stands"):
        apply(made, ChangeMarkers(scene="crossing", marks=marks, by=at(10)))


def test_a_key_tied_elsewhere_stays_where_its_layer_is_taken_along():
    made = tied(start("rows"), end("sign"))
    made = tied(key("rows", 30), RING, None, made, "u")
    made = move(made, 6, "sign")
    assert frames(made, "rows") == [26, 30, 51]


def test_an_end_takes_its_layer_along_unless_its_start_is_tied_too():
    made = tied(end("rows"), start("bell"))
    assert (spans(made, "rows"), frames(made, "rows")) == ((40, 70), [40, 50, 65])
    made = tied(start("rows"), end("sign"), None, made, "u")
    made = move(made, 12, "bell")
    assert (spans(made, "rows"), frames(made, "rows")) == ((40, 82), [40, 50, 65])
    with pytest.raises(Refusal, match="before it starts"):
        move(made, -60, "bell")


def test_rings_are_refused_with_their_members_named():
    made = tied(start("rows"), end("sign"))
    made = tied(start("bell"), end("rows"), None, made, "u")
    for what, to in ((start("sign"), end("bell")), (end("sign"), key("rows", 20)), (start("rows"), end("rows"))):
        with pytest.raises(Refusal, match=r"in a ring: .* →"):
            tied(what, to, None, made, "v")
    # A key does not move its layer: this is no ring.
    assert tied(key("sign", 19), start("bell"), None, made, "v")


def test_what_is_deleted_cuts_its_ties_and_it_is_said():
    made = tied(start("rows"), end("sign"))
    made = tied(key("rows", 30), RING, None, made, "u")
    for edit, words in (
        (DeleteLayers(scene="crossing", layers=("sign",)), "the start of Rows to the end of Sign is cut"),
        (DeleteMarkers(scene="crossing", marks=(Mark(id="ring"),)), "a key of Rotation of Rows to a marker is cut"),
        (DeleteKeys(scene="crossing", keys=(KeyRef(layer="rows", property="rotation", time=at(30)),)),
         "a key of Rotation of Rows to a marker is cut"),
    ):  # fmt: skip
        after = apply(made, edit)
        assert len(after.scene("crossing").ties) == 1
        assert any(words in note.text for note in told(made, edit, after))
    cut = apply(made, ChangeTies(scene="crossing", ties=("t", "u"), cut=True))
    assert cut.scene("crossing").ties == ()
    assert spans(move(cut, 9, "sign"), "rows") == (20, 50)
    with pytest.raises(UnknownThing, match="no tie"):
        apply(cut, ChangeTies(scene="crossing", ties=("t",), cut=True))


def test_a_typed_distance_puts_it_there():
    made = apply(tied(start("rows"), end("sign")), ChangeTies(scene="crossing", ties=("t",), offset=-at(8)))
    assert spans(made, "rows") == (12, 42)


def test_locked_stays_and_the_step_that_would_move_it_is_refused():
    made = tied(start("rows"), end("sign"))
    scene = made.scene("crossing")
    shut = made.with_scene(scene.with_layer(scene.layer("rows").changed(locked=True)))
    with pytest.raises(Locked, match="Rows is locked"):
        move(shut, 3, "sign")


def test_keys_keep_their_name_where_they_are_moved_typed_or_stored_and_copies_have_none():
    made = tied(key("rows", 40), RING)
    scene = made.scene("crossing")
    track = scene.layer("rows").track("rotation")
    text = told_keys(track, PROPERTIES["rotation"], scene.rate)
    typed = apply(made, TypeKeys(scene="crossing", layer="rows", property="rotation", text=text.replace("90", "80")))
    assert [k.id for k in layer_of(typed, "rows").track("rotation").keys] == [None, "ta", None]
    refs = tuple(KeyRef(layer="rows", property="rotation", time=time) for time in track.key_times)
    longer = apply(made, StretchKeys(scene="crossing", keys=refs, about=0, longer=2))
    assert [k.id for k in layer_of(longer, "rows").track("rotation").keys] == [None, "ta", None]
    clip = copied(scene, refs)
    pasted = apply(made, PasteKeys(scene="crossing", clip=clip, layers=("rows",), time=at(70)))
    assert [k.id for k in layer_of(pasted, "rows").track("rotation").keys].count("ta") == 1
    twin = apply(made, DuplicateLayers(scene="crossing", layers=("rows",), ids=("twin",)))
    assert len(twin.scene("crossing").ties) == 1
    written = PartIndex().write(made)
    assert Reading(PartIndex(), written.bodies.__getitem__).project(written.root) == made


def test_takes_keep_ties_for_when_their_keys_come_back():
    made = apply(harbour(), NewTake(scene="crossing", layers=("rows",), id="t2", set="set", first="t1"))
    made = tied(key("rows", 40), RING, 0, made)
    first = apply(made, ShowTake(scene="crossing", set="set", take="t1"))
    assert len(first.scene("crossing").ties) == 1
    assert frames(first, "rows") == [30, 40, 55]
    moved = move(first, 2, "bell")
    again = apply(moved, ShowTake(scene="crossing", set="set", take="t2"))
    assert frames(again, "rows") == [30, 50, 55]


def test_ties_hold_through_a_thousand_random_retimings():
    chance = random.Random(12)
    names = [f"l{n}" for n in range(6)]
    made = project(*(row(name.upper(), 20 * n, 20 * n + 15) for n, name in enumerate(names)), layer("Deck", Carrier()),
                   markers=(Marker(id="ring", time=at(50)),), frames=1_000)  # fmt: skip
    made = tied(start("l1"), end("l0"), 2, made, "a")
    made = tied(start("l2"), start("l1"), 5, made, "b")
    made = tied(end("l3"), start("l2"), -3, made, "c")
    made = tied(AnchorAsked(layer="l4", of="key", property="rotation", time=at(80)), end("l3"), 1, made, "d")
    made = tied(start("l5"), RING, 4, made, "e")
    done = 0
    for _ in range(1_000):
        scene = made.scene("crossing")
        name, by = chance.choice(names), at(chance.randint(-9, 9))
        what = chance.randint(0, 4)
        if what == 0:
            edit = MoveSpans(scene="crossing", layers=(name,), by=by, keys=chance.random() < 0.5)
        elif what == 1:
            edit = TrimSpan(scene="crossing", layers=(name,), end=scene.layer(name).end + by)
        elif what == 2:
            times = scene.layer(name).track("rotation").key_times
            refs = (KeyRef(layer=name, property="rotation", time=chance.choice(times)),)
            edit = MoveKeys(scene="crossing", keys=refs, by=by)
        elif what == 3:
            edit = ChangeMarkers(scene="crossing", marks=(Mark(id="ring"),), by=by)
        else:
            edit = SetSpanLength(scene="crossing", layers=(name,), length=at(chance.randint(5, 30)), keys=True)
        try:
            made = apply(made, edit)
        except Refusal:
            continue
        done += 1
        scene = made.scene("crossing")
        assert len(scene.ties) == 5
        for tie in scene.ties:
            assert moment_of(scene, tie.what) == moment_of(scene, tie.to) + tie.offset, (edit, tie)
    assert done > 800
