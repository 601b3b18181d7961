"""Masks and mattes: what they are told as over time, what may be one, and what becomes of them with their layers."""

import numpy as np
import pytest

from deftarc.core.base.errors import Refusal
from deftarc.core.document.artwork import Carrier, Ellipse
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.masks import Mask
from deftarc.core.document.matte import Matte
from deftarc.core.document.track import OutlineTrack
from deftarc.core.edit import apply, told
from deftarc.core.edit.layers import DeleteLayers, DuplicateLayers
from deftarc.core.edit.masks import AddMask, ChangeMask, DrawMask
from deftarc.core.edit.mattes import ShowThrough
from deftarc.core.edit.outlines import AddPoint, DragPoints
from deftarc.core.evaluate import evaluate, frame_times
from tests.looks import round_mask, square_mask
from tests.scenes import at, layer, numbers, positions, project, scene


def test_a_masks_points_are_keyed_as_outlines_are_and_one_added_enters_every_key():
    made = project(layer("Sign").changed(masks=(square_mask(),)))
    for frame, dx in ((0, 0), (10, 30)):
        made = apply(
            made,
            DragPoints(
                scene="crossing", layer="sign", mask="square", points=(0,), dx=dx, dy=0, time=at(frame), keying=True
            ),
        )
    track = made.scenes[0].layer("sign").tracks["mask/square/mask_outline"]
    assert [key.value[0] for key in track.keys] == [-50, -20]
    made = apply(made, AddPoint(scene="crossing", layer="sign", mask="square", after=0))
    sign = made.scenes[0].layer("sign")
    track = sign.tracks["mask/square/mask_outline"]
    assert isinstance(track, OutlineTrack)
    assert len(sign.masks[0].contours[0].points) == 5
    assert {len(key.value) for key in track.keys} == {30}
    mask = evaluate(made.scenes[0], frame_times(made.scenes[0], 0, 11)).leaves[0].masks[0]
    assert mask.outline.rows == 11
    assert mask.outline.at(5).points[0][0] == pytest.approx(-35)


def test_a_mask_told_in_scene_px_lies_where_it_was_drawn_however_the_layer_is_carried():
    sign = layer("Sign", position=positions(value=(30, 0)), rotation=numbers(value=40), scale=numbers(value=2)).changed(
        parent="mast"
    )
    mast = layer("Mast", Carrier(), position=positions(value=(200, 100)), rotation=numbers(value=25))
    made = apply(
        project(sign, mast),
        AddMask(scene="crossing", layer="sign", mask=round_mask(radius=40, x=220, y=110), in_scene=True),
    )
    leaf = evaluate(made.scenes[0], [0]).leaves[0]
    spots = np.concatenate([leaf.masks[0].outline.at(0).points, np.ones((13, 1))], axis=1) @ leaf.matrix[0].T
    assert np.hypot(spots[0, 0] - 220, spots[0, 1] - 110) == pytest.approx(40)
    flat = project(layer("Flat", scale=numbers(value=0)))
    with pytest.raises(Refusal, match="no size"):
        apply(flat, AddMask(scene="crossing", layer="flat", mask=round_mask(), in_scene=True))


def test_masks_go_in_order_switch_off_and_take_their_keys_along_when_they_go():
    sign = layer("Sign").changed(masks=(square_mask(), round_mask(feather=4)))
    sign = sign.with_track("mask/round/mask_feather", numbers((0, 4), (10, 9)))
    made = project(sign)
    change = {"scene": "crossing", "layer": "sign", "mask": "round"}
    moved = apply(made, ChangeMask(**change, move=-1)).scenes[0].layer("sign")
    assert [each.id for each in moved.masks] == ["round", "square"]
    off = apply(made, ChangeMask(**change, on=False))
    assert [each.id for each in evaluate(off.scenes[0], [0]).leaves[0].masks] == ["square"]
    gone = apply(made, ChangeMask(**change, remove=True)).scenes[0].layer("sign")
    assert not gone.tracks
    with pytest.raises(Refusal, match="mask"):
        apply(made, ChangeMask(**{**change, "mask": "other"}, on=False))


def shown_through(*more, **fields):
    lens = layer("Lens", Ellipse(width=90, height=90), position=positions((0, (0, 0)), (10, (100, 0)))).changed(
        hidden=True
    )
    sign = layer("Sign").changed(matte=Matte(layer="lens", **fields))
    return project(sign, layer("Other").changed(matte=Matte(layer="lens")), lens, *more)


def test_a_hidden_layer_is_what_many_show_through_and_shows_nowhere_itself():
    made = shown_through(by="luma", inverted=True)
    table = evaluate(made.scenes[0], frame_times(made.scenes[0], 0, 11))
    assert [each.layer for each in table.leaves] == ["lens", "other", "sign"]
    assert table.leaf("lens").shows == (0, 0)
    sign, other = table.leaf("sign"), table.leaf("other")
    assert (sign.matte.by, sign.matte.inverted) == ("luma", True)
    # One and the same for both, where it is then, in the time it has.
    assert sign.matte.branch is other.matte.branch
    assert sign.matte.branch.layer == "lens~"
    assert sign.matte.branch.shows[0] == 0
    assert sign.matte.branch.matrix[10][0, 2] == 100
    assert [each.layer for each in table.branches] == ["lens", "other", "lens~", "sign"]


def test_a_group_shows_what_its_members_do_hidden_or_not_but_for_what_they_hide_themselves():
    group = layer("Both", Carrier(group=True, as_one=True)).changed(hidden=True)
    one, two = layer("One").changed(parent="both"), layer("Two").changed(parent="both", hidden=True)
    made = project(layer("Sign").changed(matte=Matte(layer="both")), group, one, two)
    branch = evaluate(made.scenes[0], [0]).leaf("sign").matte.branch
    assert [(each.layer, each.shows[1] > 0) for each in branch.children] == [("two~", False), ("one~", True)]
    unhidden = made.with_scene(made.scenes[0].with_layer(group.changed(hidden=False)))
    table = evaluate(unhidden.scenes[0], [0])
    assert table.leaf("sign").matte.branch is table.groups[0]


def test_circles_are_refused_by_name_also_through_groups():
    made = project(
        layer("A"), layer("B"), layer("Box", Carrier(group=True, as_one=True)), layer("C").changed(parent="box")
    )
    made = apply(made, ShowThrough(scene="crossing", layers=("a",), matte=Matte(layer="b")))
    with pytest.raises(Refusal, match=r"B → A → B|A → B → A"):
        apply(made, ShowThrough(scene="crossing", layers=("b",), matte=Matte(layer="a")))
    with pytest.raises(Refusal, match="circle"):
        apply(made, ShowThrough(scene="crossing", layers=("c",), matte=Matte(layer="box")))
    with pytest.raises(Refusal, match="itself"):
        apply(made, ShowThrough(scene="crossing", layers=("a",), matte=Matte(layer="a")))
    with pytest.raises(Refusal, match="nothing to see"):
        apply(
            project(layer("A"), layer("Mast", Carrier())),
            ShowThrough(scene="crossing", layers=("a",), matte=Matte(layer="mast")),
        )


def test_what_is_shown_through_and_goes_is_told_and_copies_show_through_copies():
    made = shown_through()
    edit = DeleteLayers(scene="crossing", layers=("lens",))
    after = apply(made, edit)
    assert after.scenes[0].layer("sign").matte is None
    assert any("Sign showed through Lens, which is gone" in note.text for note in told(made, edit, after))
    copied = apply(made, DuplicateLayers(scene="crossing", layers=("sign", "lens"), ids=("sign2", "lens2")))
    assert copied.scenes[0].layer("sign2").matte.layer == "lens2"
    alone = apply(made, DuplicateLayers(scene="crossing", layers=("sign",), ids=("sign2",)))
    assert alone.scenes[0].layer("sign2").matte.layer == "lens"


def test_masks_and_mattes_come_along_where_their_scene_is_shown_at_another_moment():
    made = shown_through()
    inner = made.scenes[0].with_layer(
        made.scenes[0]
        .layer("sign")
        .changed(masks=(square_mask(),))
        .with_track("mask/square/mask_feather", numbers((0, 0), (10, 20)))
    )
    outer = scene(layer("Shown", SceneShown(scene="crossing", width=640, height=360, begins=at(4))))
    outer = outer.changed(id="outer")
    table = evaluate(outer, frame_times(outer, 0, 5), scenes={"crossing": inner})
    sign = table.by_name["shown/sign"]
    assert sign.masks[0].feather == pytest.approx([8, 10, 12, 14, 16])
    assert sign.matte.branch.layer == "shown/lens~"
    assert sign.matte.branch.matrix[0][0, 2] - sign.matrix[0][0, 2] == pytest.approx(40)


def test_limits_are_sentences():
    many = tuple(Mask(id=f"m{n}", contours=square_mask().contours) for n in range(24))
    with pytest.raises(Refusal, match="24 masks"):
        apply(project(layer("Sign").changed(masks=many)), AddMask(scene="crossing", layer="sign", mask=round_mask()))
    with pytest.raises(Refusal, match="nothing to see"):
        apply(project(layer("Mast", Carrier())), AddMask(scene="crossing", layer="mast", mask=round_mask()))


@pytest.mark.parametrize(("shape", "count"), [("rectangle", 4), ("ellipse", 4)])
def test_a_mask_is_drawn_between_two_places_of_the_scene_whichever_way_round(shape, count):
    made = project(layer("Gull", position=positions(value=(100, 50)), rotation=numbers(value=90)))

    def drawn(start, to):
        edit = DrawMask(scene="crossing", layer="gull", id="m", shape=shape, start=start, to=to)
        [mask] = apply(made, edit).scenes[0].layer("gull").masks
        return mask

    mask = drawn((80, 20), (120, 80))
    assert (mask.name, len(mask.contours[0].points)) == (shape.capitalize(), count)
    spots = np.array(mask.numbers()).reshape(-1, 6)[:, :2]
    # Sixty high in the scene is sixty wide for a layer that is turned by a quarter.
    assert spots.min(axis=0) == pytest.approx([-30, -20])
    assert spots.max(axis=0) == pytest.approx([30, 20])
    assert drawn((120, 80), (80, 20)).numbers() == mask.numbers()
    with pytest.raises(Refusal, match="width and height"):
        drawn((80, 20), (80, 60))
