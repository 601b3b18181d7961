"""Lottie as it is written: valid by the published schema, with the document's own keys, eases, paths and layers."""

import io
import json
import zipfile
from itertools import pairwise

import numpy as np
import pytest

from deftarc.core.document.artwork import Ellipse, FreePath, Rectangle, Star
from deftarc.core.document.artwork.bursts import Particles
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.artwork.wash import Wash
from deftarc.core.document.keys import PathKey
from deftarc.core.document.marker import Marker
from deftarc.core.document.masks import Mask
from deftarc.core.document.matte import Matte
from deftarc.core.document.track import PathTrack
from deftarc.core.plain.lanes import Lane
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.outlines import Outlines
from deftarc.core.spaces.points import point_at
from deftarc.formats.write.lottie.contours import contours_of, contours_over
from deftarc.formats.write.lottie.keys import Count
from deftarc.paint.output import OUTPUTS, no_progress
from deftarc.paint.output.told import never_delivered
from tests.chance_scenes import chance_scene
from tests.core.plain.test_levels import WAYS
from tests.e2e.playing import apart, painted
from tests.e2e.test_looks_agree import SCENES
from tests.looks import contour, effect, matted, round_mask
from tests.lottie_players import alone, faults, lean
from tests.rendering import job_of, made
from tests.scenes import EASED, at, gull, layer, numbers, positions, scene, side


def told_of(job, tmp_path, **options):
    output = OUTPUTS["lottie"]
    path = tmp_path / "a.json"
    output.write(job, output.options(**options), path, no_progress)
    told = json.loads(path.read_text())
    assert faults(told) == []
    return told


def named(told, name):
    return next(each for each in told["layers"] if each["nm"] == name)


def test_keys_leave_with_their_eases_and_holds(tmp_path):
    told = named(told_of(job_of(scene(gull(), frames=60)), tmp_path), "Gull")
    assert told["ks"]["p"] == {"a": 1, "k": [
        {"t": 0, "s": [0, 0], "o": {"x": 0.42, "y": 0}, "i": {"x": 0.58, "y": 1}}, {"t": 50, "s": [300, 400]},
    ]}  # fmt: skip
    assert [key["s"] for key in told["ks"]["r"]["k"]] == [[0], [90]]
    assert told["ks"]["o"]["k"] == [{"t": 0, "s": [0], "h": 1}, {"t": 10, "s": [100]}]


def test_a_bent_way_keeps_its_curve_and_a_floating_point_cuts_its_ease(tmp_path):
    rows = [point_at((0, 0), 0.5), point_at((100, 80), 0.5), point_at((240, 0), 0.5)]
    track = PathTrack(value=(0, 0), points=tuple(rows), keys=(
        PathKey(time=0, at=0.0, leaving=side(0.42, 0.0)), PathKey(time=at(40), at=2.0),
    ))  # fmt: skip
    keys = named(told_of(job_of(scene(layer("Gull", position=track), frames=41)), tmp_path), "Gull")["ks"]["p"]["k"]
    assert [key["s"] for key in keys] == [[0, 0], [100, 80], [240, 0]]
    spans = track.path.controls
    for key, span in zip(keys, spans, strict=False):
        assert np.allclose(key["to"], span[1] - span[0], atol=1e-3)
        assert np.allclose(key["ti"], span[2] - span[3], atol=1e-3)
    # The moment at which it is halfway, by length, is the one at which the document's own motion is.
    lengths = track.path.lengths
    halfway = keys[1]["t"] * scene().rate.flicks
    assert track.sampled(np.array([halfway]), track.curve.at(np.array([halfway])))[0] == pytest.approx(
        (100, 80), abs=0.02
    )
    assert 0 < keys[1]["t"] < 40
    assert lengths[1] < lengths[2]


def test_carriers_scales_in_their_own_time_and_slants_come_as_layers_do(tmp_path):
    told = told_of(job_of(WAYS["carried"]), tmp_path)
    gull_, ship = named(told, "Gull"), [each for each in told["layers"] if each["nm"] == "Ship"]
    assert {each["ty"] for each in ship} == {3, 4}
    assert gull_["parent"] == next(each for each in ship if each["ty"] == 3)["ind"]
    free = told_of(job_of(WAYS["free"]), tmp_path)
    assert [each["nm"] for each in free["layers"]][::-1][:2] == ["Ship (width)", "Background"]
    split = named(told_of(job_of(WAYS["split"]), tmp_path), "Ship")["ks"]["p"]
    assert split["s"] is True
    assert [len(split[name]["k"]) for name in "xy"] == [2, 2]


def test_looks_leave_as_styles_and_trims(tmp_path):
    star = Star(
        outer=80, fill="#c2621c80", stroke="#14324a", stroke_width=6, dash=(9, 4, 2), drawn_from=0.2, cap="square",
    )  # fmt: skip
    told = told_of(job_of(scene(layer("Sun", star, drawn_to=numbers((0, 0.3), (20, 1.0))), frames=21)), tmp_path)
    line, fill = (group["it"] for group in named(told, "Sun")["shapes"])
    assert [item["ty"] for item in line] == ["sh", "tm", "st", "tr"]
    assert [item["ty"] for item in fill] == ["sh", "fl", "tr"]
    assert line[1]["s"]["k"] == 20
    assert [key["s"] for key in line[1]["e"]["k"]] == [[30], [100]]
    stroke = line[2]
    assert (stroke["w"]["k"], stroke["lc"], stroke["lj"]) == (6, 3, 2)
    assert [each["v"]["k"] for each in stroke["d"]] == [9, 4, 2, 9, 4, 2, 0]
    assert "".join(each["n"] for each in stroke["d"]) == "dgdgdgo"
    assert fill[1]["o"]["k"] == pytest.approx(50.2, abs=0.1)


def test_masks_mattes_and_blending(tmp_path):
    square = contour((-40, -40), (40, -40), (40, 40), (-40, 40))
    over = layer("Over").changed(masks=(Mask(id="m", contours=(square,)),), blend="multiply")
    cut = layer("Cut").changed(masks=(round_mask(radius=20, mode="subtract"),))
    two = layer("Two").changed(masks=(Mask(id="m", contours=(square,)), round_mask(radius=9, mode="subtract")))
    glass = layer("Glass", Ellipse(width=90, height=90, fill="#ffffff")).changed(hidden=True)
    seen = layer("Seen").changed(matte=Matte(layer="glass", by="luma"))
    told = told_of(job_of(scene(over, cut, two, seen, glass, frames=5)), tmp_path)
    assert [mask["mode"] for mask in named(told, "Over")["masksProperties"]] == ["a"]
    assert named(told, "Over")["bm"] == 1
    assert [mask["mode"] for mask in named(told, "Cut")["masksProperties"]] == ["a", "s"]
    assert named(told, "Two")["tt"] == 2
    place = told["layers"].index(named(told, "Seen"))
    assert named(told, "Seen")["tt"] == 3
    assert (told["layers"][place - 1]["nm"], told["layers"][place - 1]["td"]) == ("Glass", 1)


def test_what_it_has_no_word_for_leaves_as_pictures_or_is_left_out(tmp_path):
    mist = layer("Mist").changed(effects=(effect("blur", radius=4),))
    job = job_of(scene(mist, gull(), frames=6))
    told = told_of(job, tmp_path)
    assert {each["ty"] for each in told["layers"] if each["nm"] == "Mist"} == {2}
    assert told["assets"][0]["p"].startswith("data:image/png;base64,")
    assert not told_of(job, tmp_path, rest="left")["assets"]
    lines = OUTPUTS["lottie"].carried(job, OUTPUTS["lottie"].options())
    assert any(each.how == "picture" and "Mist" in each.words for each in lines)


def test_time_size_and_markers(tmp_path):
    here = scene(gull(), frames=50, markers=(Marker(id="a", time=at(20), name="Land"),), play_range=(at(10), at(30)))
    told = told_of(job_of(here), tmp_path, part="range", scale=0.5)
    assert [told[name] for name in ("ip", "op", "w", "h", "fr")] == [0, 20, 320, 180, 25]
    assert told["markers"] == [{"tm": 10, "cm": "Land", "dr": 0}]
    (all_,) = told["layers"]
    assert all_["ks"]["s"]["k"] == [50, 50]
    assert {layer["op"] for layer in told["assets"][0]["layers"]} == {20}


def test_the_zipped_form_has_a_manifest_and_the_same_animation(tmp_path):
    path = made(scene(gull(), frames=8), tmp_path / "a.lottie")
    with zipfile.ZipFile(io.BytesIO(path.read_bytes())) as archive:
        manifest = json.loads(archive.read("manifest.json"))
        told = json.loads(archive.read(f"a/{manifest['animations'][0]['id']}.json"))
    assert manifest["version"] == "2"
    assert told == told_of(job_of(scene(gull(), frames=8)), tmp_path)


def test_outlines_whose_contours_come_and_go_have_as_many_vertices_at_each_moment():
    one = Outline.parse("M0 0L10 0L10 10Z")
    two = Outline.parse("M0 0C5 0 10 5 10 10L0 10Z M20 20L30 20L30 30L20 30Z")
    first, second = contours_over(Outlines.each([one, two, one]))
    assert first.spots.shape == (3, 3, 2)
    assert second.spots.shape == (3, 4, 2)
    assert np.all(second.spots[0] < -10_000)
    (alone_,) = contours_of("MLLLZ", np.array([[[0, 0], [8, 0], [8, 8], [0, 0]]], float))
    assert (alone_.spots.shape[1], alone_.closed) == (3, True)
    longer = contours_over(Outlines.each([one, Outline.parse("M0 0L1 0L2 0L3 0L4 5Z")]))[0]
    # What was put in lies on the lines it is on.
    assert longer.spots.shape[1] == 5
    assert {(0.0, 0.0), (10.0, 0.0), (10.0, 10.0)} < {tuple(spot) for spot in longer.spots[0].tolist()}


def test_keys_of_one_moment_are_a_little_apart():
    lane = Lane(np.array([0.0, 9.0, 10.0]), np.array([[0.0], [1.0], [5.0]]), np.full((2, 4), np.nan))
    keys = Count(0.0, 1e6, 1e6).property(lane)["k"]
    times = [key["t"] for key in keys]
    assert all(b - a >= 1e-3 - 1e-9 for a, b in pairwise(times))


@pytest.mark.parametrize("name", sorted(WAYS))
def test_what_is_moved_in_each_way_plays_elsewhere_as_it_is_painted(tmp_path, name):
    compared(job_of(WAYS[name]), tmp_path, range(0, 31, 3))


@pytest.mark.parametrize("by", ["alpha", "luma"])
def test_what_shows_through_another_does_so_in_a_scene_that_is_shown_turned_and_smaller(tmp_path, by):
    inner = matted(by, False).changed(id="within", name="Within", background=None)
    shown = SceneShown(scene="within", width=inner.width, height=inner.height)
    window = layer("Window", shown, position=positions((0, (260, 190)), (20, (360, 150))), scale=numbers(value=0.6),
                   rotation=numbers(value=25))  # fmt: skip
    outer = scene(window, frames=21)
    compared(job_of(outer, scenes={"within": inner, outer.id: outer}), tmp_path, (0, 13))


#: A player that makes pens even where what they draw is uneven, and shows the same edge for it.
UNEVEN = {"gradient linear", "gradient radial", "matte luma True", "drawn"}


@pytest.mark.parametrize("name", sorted(SCENES))
def test_scenes_of_every_look_play_elsewhere_as_they_are_painted(tmp_path, name):
    compared(job_of(SCENES[name]), tmp_path, (0, 13), 1.3 if name in UNEVEN else 0.95)


@pytest.mark.parametrize("number", range(16))
def test_scenes_thrown_by_dice_play_elsewhere_as_they_are_painted(tmp_path, number):
    here, scenes = chance_scene(number)
    compared(job_of(here, scenes=scenes), tmp_path, (0, 10, 20, 30), 2.0)


def compared(job, tmp_path, frames, most=0.95, lean_most=2.05):
    """In one player, and in a second one where nothing is told to be disputed."""
    told = told_of(job, tmp_path)
    size = (job.scene.width, job.scene.height)
    players = [(alone, most)]
    if not disputes(job):
        players.append((lean, lean_most))
    for player, bound in players:
        worst = max(apart(painted(job, frame), seen)[0] for frame, seen in player(told, size, frames))
        assert worst < bound, player


def disputes(job):
    output = OUTPUTS["lottie"]
    return [each.words for each in output.carried(job, output.options()) if each.how == "disputed"]


def test_a_turn_is_read_by_players_that_ask_first_whether_a_layer_is_flat(tmp_path):
    told = told_of(job_of(scene(layer("Sign", Rectangle(width=90, height=20), rotation=numbers(value=40)))), tmp_path)
    for each in told["layers"]:
        assert list(each).index("ddd") < list(each).index("ks")
    compared(job_of(scene(layer("Sign", Rectangle(width=90, height=20), rotation=numbers(value=40)))), tmp_path, (0, 5))


def test_what_ends_is_not_there_at_its_last_frame_in_any_player(tmp_path):
    one = layer(
        "One",
        Rectangle(width=700, height=500, fill="#204060"),
        opacity=numbers(value=0.5),
        position=positions(value=(80, 80)),
    )
    fading = layer("Fading", Rectangle(width=700, height=500, fill="#a04060"), opacity=numbers((0, 0.2), (20, 1.0)),
                   position=positions(value=(200, 80)))  # fmt: skip
    job = job_of(scene(one.changed(end=at(6)), fading.changed(start=at(2), end=at(9)), frames=12))
    compared(job, tmp_path, range(12), 1.7, 2.6)


@pytest.mark.parametrize("moves", [False, True])
def test_a_slant_is_written_so_that_players_without_one_show_it(tmp_path, moves):
    skew = numbers((0, 0, EASED[0]), (20, 40, EASED[1])) if moves else numbers(value=30)
    box = layer("Box", Rectangle(width=90, height=40, fill="#204060"), skew_x=skew, position=positions(value=(200, 150)),
                rotation=numbers((0, 0), (20, 90)), scale=numbers(value=1.5))  # fmt: skip
    compared(job_of(scene(box, frames=21)), tmp_path, range(0, 21, 4), 0.3, 0.3)


def test_what_is_hidden_and_shows_in_others_does_not_stay_here():
    hidden = matted("alpha", False)
    assert any(each.hidden for each in hidden.layers)
    assert [each.words for each in never_delivered(hidden)] == []
    shaped = scene(
        layer("Fog").changed(hidden=True), layer("Dust", Particles(shaped="fog")), layer("Away").changed(hidden=True)
    )
    assert [each.words for each in never_delivered(shaped)] == ["Hidden: “Away”."]


def test_what_not_every_player_shows_is_told_by_name():
    clears = SCENES["gradient linear"]
    blends = scene(gull().changed(blend="screen", name="Glow"), gull().changed(id="x", blend="multiply"))
    assert "gradients that get clear" in disputes(job_of(clears))[0]
    assert disputes(job_of(blends)) == ["Of Glow: blending."]
    assert "mattes that show where they are dark" in disputes(job_of(SCENES["matte luma True"]))[0]
    assert disputes(job_of(scene(gull()))) == []


def test_paths_of_several_contours(tmp_path):
    rows = (contour((-40, -40), (40, -40), (0, 40)), contour((-10, -20), (10, -20), (0, 0)))
    free = layer("Free", FreePath(contours=rows, fill="#c2621c"), position=positions(value=(300, 200)))  # fmt: skip
    box = layer(
        "Box", Rectangle(width=90, height=40, radius=12), rotation=numbers((0, 0, EASED[0]), (20, 90, EASED[1]))
    )
    job = job_of(scene(free, box, frames=21))
    assert [item["ty"] for item in named(told_of(job, tmp_path), "Free")["shapes"][0]["it"]] == ["sh", "sh", "fl", "tr"]
    compared(job, tmp_path, (0, 11, 20))


def test_large_pictures_of_which_nothing_is_clear_are_photographs(tmp_path):
    wash = layer("Fog", Wash()).changed(effects=(effect("blur", radius=3),))
    told = told_of(job_of(scene(wash, gull(), frames=2, width=800, height=600)), tmp_path)
    assert {asset["p"][:23] for asset in told["assets"]} == {"data:image/jpeg;base64,"}
    compared(job_of(scene(wash, gull(), frames=2, width=800, height=600)), tmp_path, (0, 1), 1.3, 3.1)
