"""A file that changed, brought in again: what was done here is kept, what was done there comes."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.arrange.alike import as_before, same_things
from deftarc.core.arrange.merged import merged
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Carrier, Ellipse, Project, Scene
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.masks import Mask
from deftarc.core.document.matte import Matte
from deftarc.core.document.origin import Origin
from deftarc.core.document.soundness import refuse_unsound
from deftarc.core.edit import apply, told
from deftarc.core.edit.brought import BringAgain, BringScenes
from deftarc.core.edit.layers import DeleteLayers
from tests.every_edit import LIT, SQUARE, WAVE
from tests.scenes import layer, numbers, positions

HASH = "0" * 64


def wing(**more):
    """A scene as a file has it: a wing with a feather that it carries, an eye, and a wake of a scene of its own."""
    return Scene(id="main", name="Gull", frames=60, background=None, layers=(
        layer("Eye", Ellipse(width=9, height=9, fill="#14324a"), position=positions(value=(40, 20))),
        layer("Feather", WAVE).changed(parent="wing"),
        layer("Wing", LIT, rotation=numbers((0, 0), (20, 40)), position=positions(value=(30, 60))),
        layer("Wake", SceneShown(scene="c0", width=200, height=80)),
    )).changed(**more)  # fmt: skip


def wake():
    return Scene(id="c0", name="Wake", width=200, height=80, frames=60, background=None, layers=(layer("Foam"),))


WAS = (wing(), wake())


def here(first=None, second=None):
    return Project(name="Quillhaven", scenes=(Scene(id="sea", name="Sea"), first or wing(), second or wake()))


def with_(scene, which, **fields):
    """A scene with one layer changed; tracks are put over what it has."""
    old = scene.layer(which)
    tracks = {**old.tracks, **fields.pop("tracks", {})}
    return scene.with_layer(old.changed(**fields, tracks=tracks))


# --- which is which ---


def numbered(scene, **scenes):
    """A scene as it is written anew: its layers numbered from the top."""
    ids = {each.id: f"l{n}" for n, each in enumerate(scene.layers)}
    return scene.changed(layers=tuple(
        each.changed(id=ids[each.id], parent=ids.get(each.parent), artwork=each.artwork if each.artwork.kind != "scene"
                     else each.artwork.changed(scene=scenes.get(each.artwork.scene, each.artwork.scene)))
        for each in scene.layers
    ))  # fmt: skip


def test_layers_are_known_by_their_names_wherever_they_are_put():
    more = wing().changed(layers=(layer("Beak"), *reversed(wing().layers)))
    now = as_before(WAS, (numbered(more).changed(id="newmain"), wake().changed(id="newc0")), {})
    assert [each.id for each in now[0].layers][1:] == ["wake", "wing", "feather", "eye"]
    assert now[0].layer("feather").parent == "wing"
    assert now[0].id == "main"


def test_what_is_called_otherwise_is_known_by_what_is_in_it():
    other = with_(wing(), "wing", name="Left wing")
    assert same_things(wing(), numbered(other))["l2"] == "wing"
    assert same_things(wing(), numbered(other))["l1"] == "feather"


def test_of_those_that_are_called_alike_the_very_same_are_each_other():
    three = wing().changed(
        layers=tuple(layer("Dot", Ellipse(width=n, height=n)).changed(id=f"d{n}") for n in (1, 2, 3))
    )
    rest = three.changed(layers=three.layers[1:])
    assert same_things(three, numbered(rest)) == {"l0": "d2", "l1": "d3"}


def test_what_became_a_group_is_the_same_still():
    now = with_(wing(), "wing", artwork=Carrier(group=True), tracks={})
    assert same_things(wing(), numbered(now))["l2"] == "wing"


def test_scenes_within_are_known_by_what_shows_them_and_new_ones_get_free_ids():
    lead = layer("Lead", SceneShown(scene="newc0", width=9, height=9))
    now = wing().changed(id="newmain", layers=(lead, *wing().layers))
    now = numbered(
        now.changed(
            layers=(lead, *with_(wing(), "wake", artwork=SceneShown(scene="newc1", width=200, height=80)).layers)
        )
    )
    ball = Scene(id="newc0", name="Ball", width=9, height=9, layers=(layer("Foam"),))
    told_ = as_before(WAS, (now.changed(id="newmain"), ball, wake().changed(id="newc1")), {"x1": set(), "main": {"l0"}})
    assert [each.id for each in told_] == ["main", "x2", "c0"]
    assert told_[0].layers[0].artwork.scene == "x2"
    assert told_[0].layer("wake").artwork.scene == "c0"
    # Nor has what is new an id that something here has.
    assert told_[0].layers[0].id not in ("l0", *(each.id for each in wing().layers))


# --- both kept ---


def test_what_one_side_changed_is_as_that_side_has_it():
    mine = with_(wing(), "wing", name="Left wing", tracks={"opacity": numbers((0, 0), (10, 1))})
    mine = with_(mine, "eye", artwork=wing().layer("eye").artwork.changed(fill="#c2621c"))
    theirs = with_(wing(frames=90), "wing", tracks={"rotation": numbers((0, 0), (20, 80))})
    theirs = with_(theirs, "eye", artwork=wing().layer("eye").artwork.changed(width=14))
    made, report = merged(here(mine), WAS, (theirs, wake()))
    scene = made.scene("main")
    assert scene.frames == 90
    assert scene.layer("wing").name == "Left wing"
    assert scene.layer("wing").tracks["opacity"] == numbers((0, 0), (10, 1))
    assert scene.layer("wing").tracks["rotation"] == numbers((0, 0), (20, 80))
    assert (scene.layer("eye").artwork.fill, scene.layer("eye").artwork.width) == ("#c2621c", 14)
    assert report.kept == []
    assert report.changed == ["Eye", "Left wing"]
    assert made.scene("c0") is here(mine).scene("c0") or made.scene("c0") == wake()


def test_what_both_changed_stays_and_is_told_or_is_the_files():
    mine = with_(wing(), "wing", tracks={"rotation": numbers((0, 0), (20, 10)), "position": positions(value=(0, 0))})
    theirs = with_(wing(), "wing", tracks={"rotation": numbers((0, 0), (20, 80)), "position": positions(value=(9, 9))})
    made, report = merged(here(mine), WAS, (theirs, wake()))
    assert made.scene("main").layer("wing") is mine.layer("wing")
    assert sorted(report.kept) == ["position of Wing", "rotation of Wing"]
    made, report = merged(here(mine), WAS, (theirs, wake()), "file")
    assert made.scene("main").layer("wing").tracks["rotation"] == numbers((0, 0), (20, 80))
    assert report.kept == []


def test_a_colour_that_was_changed_here_is_not_painted_over_by_keys_of_the_file():
    mine = with_(wing(), "eye", artwork=wing().layer("eye").artwork.changed(width=20))
    theirs = with_(wing(), "eye", tracks={"width": numbers((0, 9), (10, 30))})
    made, report = merged(here(mine), WAS, (theirs, wake()))
    assert "width" not in made.scene("main").layer("eye").tracks
    assert report.kept == ["width of Eye"]


def test_axes_taken_apart_here_stay_so():
    split = {"position_x": numbers((0, 30), (9, 40)), "position_y": numbers(value=60)}
    mine = with_(wing(), "wing", axes_split=True, tracks=split)
    theirs = with_(wing(), "wing", tracks={"position": positions((0, (30, 60)), (20, (90, 90)))})
    made, report = merged(here(mine), WAS, (theirs, wake()))
    assert made.scene("main").layer("wing").axes_split
    assert report.kept == ["position of Wing"]


def test_masks_of_one_side_and_keys_of_the_other():
    mine = with_(wing(), "wing", masks=(), tracks={})
    theirs = with_(wing(), "wing", masks=(*wing().layer("wing").masks, Mask(id="more", contours=SQUARE)),
                   tracks={"mask/more/mask_feather": numbers((0, 0), (9, 4))})  # fmt: skip
    made, _ = merged(here(mine), WAS, (theirs, wake()))
    refuse_unsound(here(mine), made)
    assert [each.id for each in made.scene("main").layer("wing").masks] == ["more"]


def test_layers_of_both_sides_lie_where_they_were_put():
    mine = wing().changed(layers=(*wing().layers[:2], layer("Glint"), *wing().layers[2:]))
    theirs = wing().changed(
        layers=(wing().layers[2], wing().layers[1], layer("Beak"), wing().layers[3], wing().layers[0])
    )
    made, report = merged(here(mine), WAS, (theirs, wake()))
    assert [each.id for each in made.scene("main").layers] == ["wing", "feather", "glint", "beak", "wake", "eye"]
    assert report.added == ["Beak"]
    # Put into another order here, they stay in that.
    turned = mine.changed(layers=tuple(reversed(mine.layers)))
    made, _ = merged(here(turned), WAS, (theirs, wake()))
    assert [each.id for each in made.scene("main").layers] == ["wake", "wing", "glint", "feather", "beak", "eye"]


def test_what_is_in_the_file_no_more_goes_unless_it_was_changed_or_carries_something():
    left = wing().changed(layers=tuple(each.changed(parent=None) for each in wing().layers if each.id == "eye"))
    made, report = merged(here(), WAS, (left,))
    assert [each.id for each in made.scene("main").layers] == ["eye"]
    assert sorted(report.gone) == ["Feather", "Wake", "Wing"]
    # The scene it showed goes with it; changed here, it stays.
    assert [each.id for each in made.scenes] == ["sea", "main"]
    kept = with_(wing(), "feather", tracks={"opacity": numbers(value=0.5)})
    made, report = merged(here(kept, wake().changed(frames=99)), WAS, (left,))
    assert [each.id for each in made.scene("main").layers] == ["eye", "feather", "wing"]
    assert made.scene("main").layer("feather").parent == "wing"
    assert report.gone == ["Wake"]
    assert "Feather is in the file no more" in report.more[0]
    assert [each.id for each in made.scenes] == ["sea", "main", "c0"]


def test_what_was_deleted_here_stays_away_with_what_it_would_carry_carried_on():
    mine = apply(here(), DeleteLayers(scene="main", layers=("wing",)))
    barb = layer("Barb").changed(parent="wing")
    theirs = with_(wing(), "wing", tracks={"rotation": numbers((0, 0), (20, 80))})
    made, report = merged(mine, WAS, (theirs.changed(layers=(barb, *theirs.layers)), wake()))
    assert "wing" not in {each.id for each in made.scene("main").layers}
    assert made.scene("main").layer("barb").parent is None
    assert "Wing was deleted here" in report.more[0]


def test_a_scene_within_that_was_deleted_here_comes_again_where_something_new_shows_it():
    mine = here()
    mine = mine.changed(scenes=(mine.scenes[0], wing().changed(layers=wing().layers[:3])))
    more = layer("Second wake", SceneShown(scene="c0", width=200, height=80))
    made, _ = merged(mine, WAS, (wing().changed(layers=(more, *wing().layers)), wake()))
    assert [each.id for each in made.scenes] == ["sea", "main", "c0"]


def test_two_that_would_carry_each_other_are_carried_as_they_are_here():
    mine = with_(wing(), "eye", parent="wing")
    theirs = with_(wing(), "wing", parent="eye")
    made, _ = merged(here(mine), WAS, (theirs, wake()))
    refuse_unsound(here(mine), made)
    assert (made.scene("main").layer("eye").parent, made.scene("main").layer("wing").parent) == ("wing", None)


def test_what_is_locked_is_left_as_it_is():
    mine = with_(wing(), "wing", locked=True)
    theirs = with_(wing(), "wing", tracks={"rotation": numbers((0, 0), (20, 80))})
    made, report = merged(here(mine), WAS, (theirs, wake()))
    assert made.scene("main").layer("wing") is mine.layer("wing")
    assert report.more == ["Wing is locked, and was left as it is"]


# --- as edits ---


def brought():
    sea = Project(name="Quillhaven", scenes=(Scene(id="sea", name="Sea"),))
    art = SceneShown(scene="main", width=1920, height=1080)
    first = wing(origin=Origin(file="gull.json", asset=HASH))
    return apply(sea, BringScenes(scene="sea", id="gull", name="gull", artwork=art, scenes=(first, wake())))


def test_scenes_are_brought_in_as_one_layer():
    made = brought()
    assert [each.id for each in made.scenes] == ["sea", "main", "c0"]
    (shown,) = made.scene("sea").layers
    assert (shown.name, shown.artwork.scene, shown.tracks["position"].value) == ("gull", "main", (960, 540))
    with pytest.raises(Refusal, match="there already"):
        apply(made, BringScenes(scene="sea", name="gull", artwork=shown.artwork, scenes=WAS))
    with pytest.raises(Refusal, match="by its first scene"):
        apply(made, BringScenes(scene="sea", name="gull", artwork=shown.artwork, scenes=(wake().changed(id="other"),)))
    many = tuple(wake().changed(id=f"w{n}") for n in range(50))
    art = SceneShown(scene="w0", width=200, height=80)
    with pytest.raises(Refusal, match="50 pictures within one another"):
        apply(made, BringScenes(scene="sea", name="gull", artwork=art, scenes=many))


def test_what_shows_it_grows_with_it_and_it_is_told():
    before = brought()
    wide = with_(wing(width=1000), "wing", tracks={"rotation": numbers((0, 0), (20, 80))})
    origin = Origin(file="gull-2.json", asset="1" * 64)
    edit = BringAgain(scene="main", was=WAS, now=(wide, wake()), origin=origin)
    made = apply(before, edit)
    assert made.scene("sea").layers[0].artwork.width == 1000
    assert made.scene("main").origin == origin
    assert [note.text for note in told(before, edit, made)] == ["gull-2.json came in again. Of its layers: 1 changed."]
    assert edit.label(before) == "Bring Gull in again"
    with pytest.raises(Refusal, match="first of the scenes"):
        apply(before, BringAgain(scene="sea", was=WAS, now=WAS, origin=origin))


def test_what_showed_through_something_that_is_gone_shows_as_it_is():
    mine = with_(wing(), "eye", matte=Matte(layer="wing"))
    theirs = wing().changed(layers=(wing().layers[0],))
    before = here(mine)
    made = apply(before, BringAgain(scene="main", was=WAS, now=(theirs,), origin=Origin(file="g.json", asset=HASH)))
    assert made.scene("main").layer("eye").matte is None


CHANGES = [
    lambda s: with_(s, "wing", tracks={"rotation": numbers((0, 5), (30, 90))}),
    lambda s: with_(s, "wing", parent="eye"),
    lambda s: with_(s, "eye", parent="wing"),
    lambda s: with_(s, "feather", hidden=True, start=700_000_000),
    lambda s: with_(s, "wing", masks=(Mask(id="m0", contours=SQUARE),), tracks={"mask/m0/mask_grow": numbers((0, 0), (9, 2))}),
    lambda s: with_(s, "wing", masks=(Mask(id="m0", contours=SQUARE), Mask(id="m1", contours=SQUARE))),
    lambda s: with_(s, "wing", artwork=LIT.changed(fill_gradient=None, fill="#c2621c")),
    lambda s: with_(s, "wing", tracks={"stop/midway/stop_at": numbers((0, 0.2), (9, 0.7))}),
    lambda s: with_(s, "wing", artwork=WAVE),
    lambda s: with_(s, "feather", artwork=WAVE.changed(dash=(4, 9)), tracks={"dash/0/dash_length": numbers((0, 4), (9, 9))}),
    lambda s: with_(s, "feather", artwork=WAVE.changed(dash=())),
    lambda s: with_(s, "eye", matte=Matte(layer="wing")),
    lambda s: with_(s, "wing", matte=Matte(layer="eye")),
    lambda s: s.changed(layers=tuple(each.changed(parent=None) for each in s.layers if each.id != "wing")),
    lambda s: s.changed(layers=tuple(reversed(s.layers)), frames=33),
    lambda s: s.changed(layers=(layer("Rope").changed(parent="eye"), *s.layers)),
]  # fmt: skip


@settings(deadline=None, max_examples=200)
@given(
    st.lists(st.sampled_from(range(len(CHANGES))), max_size=4),
    st.lists(st.sampled_from(range(len(CHANGES))), max_size=4),
)
def test_whatever_both_did_comes_to_a_sound_project_with_all_that_was_done_here(mine, theirs):
    def made(numbers_of):
        scene = wing()
        for n in numbers_of:
            try:
                scene = Scene.model_validate(CHANGES[n](scene).model_dump())
            except (ValueError, KeyError):
                # It cannot be done after what was done before.
                continue
        return scene

    own, now = made(mine), made(theirs)
    before = here(own)
    try:
        after = apply(
            before, BringAgain(scene="main", was=WAS, now=(now, wake()), origin=Origin(file="g.json", asset=HASH))
        )
    except Refusal as refusal:
        # Two that would show through each other: neither side has the better of it.
        if "show" not in str(refusal):
            raise
        return
    Project.model_validate(after.model_dump())
    # What the file left alone is as it is here, and what was left alone here is as the file has it.
    if now == wing():
        assert after.scene("main").layers == own.layers
    if own == wing():
        assert after.scene("main").layers == now.layers
