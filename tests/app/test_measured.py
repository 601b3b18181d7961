"""Sizes measured, logos taken apart, and snapping in the scene's own terms."""

import numpy as np
import pytest

from deftarc.app.measured import as_free_path, contours_of, size_factor
from deftarc.app.snapping import boxes_at, together
from deftarc.core.document import Scene
from deftarc.core.document.artwork import outline_of
from deftarc.core.document.drawing import Shape, Solid, Stroke
from deftarc.core.document.keys import LoosePosition
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.shapes import free
from deftarc.formats.materials import Materials
from tests.scenes import at, layer, numbers, positions, scene

MATERIALS = Materials(lambda name: b"")


def drawn_again(data):
    contours = contours_of(Outline.parse(data))
    rows = np.array([[n for c in contours for p in c.points for n in p]])
    verbs, points = free(contours, rows)
    return verbs, points[0], contours


def test_an_outline_becomes_points_with_handles_and_draws_the_same():
    verbs, points, contours = drawn_again("M0 0C10 -20 30 -20 40 0L40 30Z")
    assert (verbs, len(contours[0].points), contours[0].closed) == ("MCCCZ", 3, True)
    assert points[1:4].tolist() == [[10, -20], [30, -20], [40, 0]]
    assert points[-1].tolist() == [0, 0]


def test_a_contour_that_ends_where_it_began_keeps_the_handle_of_its_seam():
    _, points, contours = drawn_again("M0 0C0 -9 20 -9 20 0C20 9 0 9 0 0Z")
    assert len(contours[0].points) == 2
    assert contours[0].points[0][2:4] == (0, 9)
    assert points[-3:].tolist() == [[20, 9], [0, 9], [0, 0]]


def test_open_and_several_contours_stay_what_they_are():
    verbs, _, contours = drawn_again("M0 0L10 0M20 0L30 0L30 10Z")
    assert [c.closed for c in contours] == [False, True]
    assert verbs == "MCMCCCZ"


@pytest.mark.parametrize("matrix", [(2, 0, 0, 2, 5, 6), (0, 3, -3, 0, 0, 0)])
def test_a_plain_shape_becomes_a_free_path_with_its_pen_scaled(matrix):
    pen = Stroke(paint=Solid(colour="#112233"), width=4, dash=(3, 1))
    path = as_free_path(Shape(outline="M0 0L10 0L10 10Z", fill=Solid(colour="#445566"), stroke=pen, matrix=matrix))
    size = np.hypot(matrix[0], matrix[1])
    assert (path.fill, path.stroke, path.stroke_width) == ("#445566", "#112233", pytest.approx(4 * size))
    assert path.dash == pytest.approx((3 * size, size))
    assert outline_of(path).bounds()[2:] - outline_of(path).bounds()[:2] == pytest.approx([10 * size, 10 * size])


def test_a_pen_that_its_matrix_would_bend_stays_part_of_a_logo():
    pen = Stroke(paint=Solid(colour="#112233"), width=4)
    assert as_free_path(Shape(outline="M0 0L10 0", stroke=pen, matrix=(2, 0, 0, 1, 0, 0))) is None
    assert (
        as_free_path(Shape(outline="M0 0L10 0L9 9Z", fill=Solid(colour="#112233"), matrix=(2, 0, 0, 1, 0, 0)))
        is not None
    )


@pytest.mark.parametrize(("how", "factor"), [("fit", 0.5), ("fill", 1.2), ("full", 1.0)])
def test_pictures_fit_fill_or_stand_at_full_size(how, factor):
    made = Scene(name="Card", width=640, height=360)
    assert size_factor(made, 1280, 300, how) == pytest.approx(factor)


def test_boxes_are_those_of_the_turned_and_carried_artwork_at_the_time():
    mast = layer("Mast", position=positions(value=(100, 100)))
    flag = layer("Flag", rotation=numbers((0, 0), (10, 90))).changed(parent="mast")
    made = scene(flag, mast)
    assert boxes_at(made, 0, MATERIALS)["flag"] == pytest.approx((50, 70, 150, 130))
    assert boxes_at(made, at(10), MATERIALS)["flag"] == pytest.approx((70, 50, 130, 150))
    assert set(boxes_at(made, 0, MATERIALS, ["mast"])) == {"mast"}


def test_what_does_not_show_has_no_box_unless_it_is_asked_for():
    late = layer("Late").changed(start=at(20), end=at(30))
    made = scene(late)
    assert boxes_at(made, 0, MATERIALS) == {}
    assert "late" in boxes_at(made, 0, MATERIALS, ["late"])
    assert together([]) is None
    assert together([(0, 0, 1, 1), (5, -2, 6, 3)]) == (0, -2, 6, 3)


def words(app, client, letters):
    from deftarc.core.document.artwork import Text
    from tests.scenes import layer, numbers, positions

    shop = app.state.workshop
    sign = layer(
        "Sign",
        Text(text="Quay 7\n\nBell", fill="#22577a"),
        position=positions(value=(200, 120)),
        rotation=numbers((0, 0), (40, 90)),
    )
    from tests.scenes import project

    shop.projects.create(project(sign), "words")
    before = picture(shop, "words")
    at = client.get("/api/projects/words").json()["revision"]
    answer = client.post(
        "/api/projects/words/scenes/crossing/layers/sign/outlines", json={"revision": at, "letters": letters}
    )
    assert answer.status_code == 200, answer.text
    return shop.projects.open("words").project.scenes[0], before, picture(shop, "words")


def picture(shop, name):
    import numpy as np

    from deftarc.core.evaluate import evaluate, frame_times
    from deftarc.paint.skia.painter import blank
    from deftarc.paint.skia.scene import painter_for

    scene = shop.projects.open(name).project.scenes[0]
    pixels, surface = blank(scene.width, scene.height)
    painter_for(scene, shop.materials).paint(surface.getCanvas(), evaluate(scene, frame_times(scene)), 20, None, (1, 1))
    surface.flushAndSubmit()
    return np.array(pixels, int)


def test_a_text_becomes_one_free_path_and_looks_as_it_did(app, client):
    import numpy as np

    scene, before, after = words(app, client, False)
    [sign] = scene.layers
    assert sign.artwork.kind == "free"
    # Straight edges are drawn as curves now: antialiasing differs along them, areas do not.
    assert np.abs(before - after).max() < 100
    assert (np.abs(before - after).max(axis=-1) > 8).mean() < 4e-3
    assert sign.number("rotation").key_times[1] > 0


def test_letters_come_apart_and_look_as_they_did(app, client):
    import numpy as np

    scene, before, after = words(app, client, True)
    assert scene.layers[0].group
    assert [each.name for each in scene.layers[1:]] == list("Quay7Bell")
    assert np.abs(before - after).max() < 100
    assert (np.abs(before - after).max(axis=-1) > 8).mean() < 4e-3


def test_a_logo_of_a_single_part_becomes_a_free_path(client, app):
    from tests.formats.read.test_svg import svg

    brought = client.post(
        "/api/projects/p/scenes/crossing/files",
        files={"file": ("mark.svg", svg('<path d="M10 10L90 10L90 60Z" fill="#b23a26"/>'))},
        data={"revision": client.get("/api/projects/p").json()["revision"]},
    ).json()
    at = client.get("/api/projects/p").json()["revision"]
    answer = client.post(f"/api/projects/p/scenes/crossing/layers/{brought['layer']}/apart", json={"revision": at})
    assert answer.status_code == 200, answer.text
    made = app.state.workshop.projects.open("p").project.scenes[0].layer(brought["layer"])
    assert made.artwork.kind == "free"
    assert made.artwork.fill == "#b23a26"


def test_parts_of_a_logo_are_called_what_its_file_calls_them(client, app):
    from tests.formats.read.test_svg import svg

    box = '<path d="M10 10L90 10L90 60Z" fill="#b23a26"{}/>'
    body = (
        f'<g id="left-wing">{box.format("")}{box.format("")}</g>'
        + box.format(' id="path1024"') + box.format(' id="beak_tip"')
        + '<g><title>Sun &amp; &lt;b&gt;moon</title>' + box.format(' id="rect-3-2"') + "</g>"
        + f'<g id="eye" opacity="0.5">{box.format("")}{box.format("")}</g>'
    )  # fmt: skip
    brought = client.post(
        "/api/projects/p/scenes/crossing/files",
        files={"file": ("gull.svg", svg(body))},
        data={"revision": client.get("/api/projects/p").json()["revision"]},
    ).json()
    at = client.get("/api/projects/p").json()["revision"]
    answer = client.post(f"/api/projects/p/scenes/crossing/layers/{brought['layer']}/apart", json={"revision": at})
    assert answer.status_code == 200, answer.text
    scene = app.state.workshop.projects.open("p").project.scenes[0]
    parts = [each.name for each in scene.layers if each.parent == brought["layer"]]
    assert parts == ["eye", "Sun & <b>moon", "beak tip", "gull part 3", "left wing 2", "left wing"]


def test_points_of_an_outline_are_drawn_to_guides_and_to_each_other(app):
    from deftarc.core.document import Guide
    from deftarc.core.document.artwork import Contour, FreePath
    from deftarc.formats.wire import unpack
    from deftarc.web.live.page import Looking
    from deftarc.web.look import Look
    from tests.scenes import layer, numbers, positions, project

    rows = ((0, 0, 0, 0, 0, 0), (100, 0, 0, 0, 0, 0), (60, 80, 0, 0, 0, 0))
    made = project(layer("Wave", FreePath(contours=(Contour(points=rows),)), position=positions(value=(50, 40)), scale=numbers(value=2.0)), guides=(Guide(axis="y", at=300.0),))  # fmt: skip
    shop = app.state.workshop
    shop.projects.create(made, "wave")
    edit = {
        "kind": "drag_points",
        "scene": "crossing",
        "layer": "wave",
        "points": [2],
        "dx": 38.5,
        "dy": 49.0,
        "time": 0,
    }
    asked = {
        "scene": "crossing",
        "layers": ["wave"],
        "edit": edit,
        "snap": {"tolerance": 8, "guides": True, "layers": True},
    }
    head, _ = unpack(Looking(shop, "wave").answer(Look.model_validate(asked)))
    # x meets point 2 at 50 + 2 · 100, y the guide at 300: (300 − 40) / 2 − 80 = 50.
    assert (head["snapped"]["edit"]["dx"], head["snapped"]["edit"]["dy"]) == (40, 50)
    assert {line["what"] for line in head["snapped"]["told"]["lines"]} >= {"guide", "point 2"}


def test_a_value_changed_but_not_keyed_moves_the_box_that_snaps():
    track = positions((0, (0, 0)), (10, (40, 0)))
    loose = track.changed(loose=LoosePosition(time=at(5), value=(200, 90)))
    assert boxes_at(scene(layer("Flag", position=track)), at(5), MATERIALS)["flag"][0] == pytest.approx(-30)
    assert boxes_at(scene(layer("Flag", position=loose)), at(5), MATERIALS)["flag"][0] == pytest.approx(150)
    assert boxes_at(scene(layer("Flag", position=loose)), at(6), MATERIALS)["flag"][0] < 0
