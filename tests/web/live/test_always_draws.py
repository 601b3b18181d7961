"""Whatever is stored opens and draws: texts with empty lines, gradients of no size, missing files, broken parts."""

import json
import zlib

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from deftarc.app.workshop import Workshop
from deftarc.core.document import Project
from deftarc.core.document.artwork import Contour, Ellipse, FreePath, Picture, Polygon, Rectangle, Star, Text
from deftarc.core.document.drawing import Drawing, LinearGradient, RadialGradient, Shape, Stop
from deftarc.core.evaluate import evaluate, frame_times
from deftarc.fonts.faces import FACES
from deftarc.formats.wire import unpack
from deftarc.paint.skia.painter import SkiaPainter, blank
from deftarc.paint.skia.scene import painter_for
from deftarc.store.projects import ProjectStore
from deftarc.web.live.page import Looking
from deftarc.web.look import Look
from tests.scenes import layer, numbers, positions, project, scene

EMPTY_LINES = ["Quay\n\nLantern", "\n", "\n\n\n", " ", "a\n \nb", "\t", "\u202e", "\u0301", "\x00"]


def drawn(made, materials, frame=0):
    """The pixels of a frame of a scene."""
    pixels, surface = blank(made.width, made.height)
    table = evaluate(made, frame_times(made), materials.shaper.form)
    painter_for(made, materials).paint(surface.getCanvas(), table, frame, made.background, (1, 1))
    surface.flushAndSubmit()
    return pixels


@pytest.mark.parametrize("words", EMPTY_LINES)
def test_a_text_with_nothing_to_shape_in_a_line_opens_and_draws(tmp_path, words):
    shop = Workshop.at(tmp_path)
    shop.projects.create(project(layer("Sign", Text(text=words), position=positions(value=(200, 200)))), "p")
    head, _ = unpack(Looking(shop, "p").answer(Look(scene="crossing")))
    assert head["layers"]["order"] == ["sign"]
    assert drawn(shop.projects.open("p").project.scenes[0], shop.materials).any()


def test_an_empty_line_leaves_room(tmp_path):
    shop = Workshop.at(tmp_path)
    bounds = [shop.materials.drawing(Text(text=words)).bounds() for words in ("Quay\nIsle", "Quay\n\nIsle")]
    assert bounds[1][3] - bounds[0][3] == pytest.approx(72 * 1.2)


@pytest.mark.parametrize(
    "paint",
    [
        LinearGradient(x1=0, y1=0, x2=50, y2=0, stops=(Stop(offset=0.5, colour="#b23a26"),)),
        LinearGradient(x1=9, y1=9, x2=9, y2=9, stops=(Stop(offset=0, colour="#14324a"), Stop(offset=1, colour="#b23a26"))),
        RadialGradient(cx=0, cy=0, r=0, fx=0, fy=0, stops=(Stop(offset=0, colour="#14324a"), Stop(offset=1, colour="#b23a26"))),
    ],
)  # fmt: skip
def test_a_gradient_of_one_stop_or_of_no_size_is_its_last_colour(paint):
    square = Shape(outline="M0 0L50 0L50 50L0 50Z", fill=paint)
    made = scene(layer("Square"), width=64, height=64, background=None)
    pixels, surface = blank(64, 64)
    painter = SkiaPainter({"square": Drawing(nodes=(square,))}, lambda name: np.zeros((1, 1, 4), np.uint8), None)
    painter.paint(surface.getCanvas(), evaluate(made, [0]), 0, None, (1, 1))
    surface.flushAndSubmit()
    assert tuple(pixels[25, 25]) == (0xB2, 0x3A, 0x26, 255)


def test_what_is_not_here_is_drawn_as_nothing_and_told(tmp_path):
    shop = Workshop.at(tmp_path)
    lost = layer("Photo", Picture(asset="0" * 64, width=90, height=60))
    own = layer("Sign", Text(text="Quay", font="own-" + "1" * 64))
    shop.projects.create(project(lost, own, layer("Quay", position=positions(value=(99, 99)))), "p")
    head, _ = unpack(Looking(shop, "p").answer(Look(scene="crossing")))
    told = {each["id"]: each["trouble"] for each in head["layers"]["changed"]}
    assert "no file" in told["photo"]
    assert "no file" in told["sign"]
    assert told["quay"] == ""
    assert "data-trouble=" in head["lanes"]["html"]["layer-photo"]
    assert drawn(shop.projects.open("p").project.scenes[0], shop.materials)[99, 99, 3] == 255


@pytest.mark.parametrize("how", ["nonsense", "no JSON", "a field that is none"])
def test_a_project_whose_layer_is_broken_opens_with_it_marked(tmp_path, how):
    shop = Workshop.at(tmp_path)
    shop.projects.create(project(layer("Gull"), layer("Ferry").changed(parent="gull")), "p")
    with shop.projects.sessions.begin() as session:
        from sqlalchemy import text

        for name, body in session.execute(text("SELECT hash, body FROM parts")).all():
            data = json.loads(zlib.decompress(body))
            if data.get("name") == "Gull":
                bad = {"nonsense": b"\x00\x01", "no JSON": zlib.compress(b"{"), "a field that is none": zlib.compress(json.dumps({**data, "wing": 1}).encode())}[how]  # fmt: skip
                session.execute(text("UPDATE parts SET body = :body WHERE hash = :name"), {"body": bad, "name": name})
    again = ProjectStore(shop.projects.sessions)
    opened = again.open("p")
    first, second = opened.project.scenes[0].layers
    assert first.name.startswith("Damaged:")
    assert second.name == "Ferry"
    # It goes on: an edit of another layer leaves the damaged part stored as it lies.
    from deftarc.core.edit.layers import DescribeLayers

    again.commit("p", opened.revision, DescribeLayers(scene="crossing", layers=("ferry",), name="Boat"))
    assert [each.name for each in ProjectStore(shop.projects.sessions).open("p").project.scenes[0].layers][1] == "Boat"


FLOATS = st.floats(-3000, 3000)
SIZES = st.floats(0.01, 4000)
COLOURS = st.none() | st.sampled_from(["#b23a26", "#14324a80", "#00000000"])
PAINT = {"fill": COLOURS, "stroke": COLOURS, "stroke_width": st.floats(0, 900)}
NODES = st.tuples(*[FLOATS] * 6)
ARTWORKS = st.one_of(
    st.builds(Rectangle, width=SIZES, height=SIZES, radius=st.floats(0, 4000), **PAINT),
    st.builds(Ellipse, width=SIZES, height=SIZES, **PAINT),
    st.builds(Polygon, sides=st.floats(3, 100), outer=SIZES, roundness=st.floats(0, 1), **PAINT),
    st.builds(Star, spikes=st.floats(2, 100), outer=SIZES, inner=st.floats(0, 4000), roundness=st.floats(0, 1), **PAINT),
    st.builds(
        FreePath,
        contours=st.lists(
            st.builds(Contour, points=st.lists(NODES, min_size=1, max_size=4).map(tuple), closed=st.booleans()),
            min_size=1, max_size=3,
        ).map(tuple),
        rule=st.sampled_from(["nonzero", "evenodd"]), dash=st.lists(SIZES, max_size=3).map(tuple), **PAINT,
    ),
    st.builds(
        Text, text=st.text(min_size=1, max_size=30), font=st.sampled_from(sorted(FACES)), size=st.floats(0.1, 4000),
        align=st.sampled_from(["start", "middle", "end"]), letter_spacing=st.floats(-1, 10), **PAINT,
    ),
)  # fmt: skip


@st.composite
def layers(draw):
    made = layer("Any", draw(ARTWORKS), position=positions((0, (draw(FLOATS), draw(FLOATS))), (9, (draw(FLOATS), 9.0))),
                 rotation=numbers((0, draw(FLOATS)), (9, draw(FLOATS))), scale=numbers((0, draw(st.floats(-9, 9))), (5, 1)),
                 skew_x=numbers(value=draw(st.floats(-89, 89))), opacity=numbers((0, draw(st.floats(0, 1))), (9, 0)))  # fmt: skip
    if isinstance(made.artwork, Text):
        made = made.changed(tracks={**made.tracks, "size": numbers((0, 9), (9, draw(st.floats(0.1, 900))))})
    return made


@given(layers())
@settings(max_examples=120, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_every_document_opens_evaluates_and_draws(tmp_path, made):
    shop = Workshop.at(tmp_path)
    whole = project(made, frames=10, width=64, height=64)
    # What the store accepts is a document as it comes back from JSON.
    whole = Project.model_validate_json(whole.model_dump_json())
    name = shop.projects.create(whole)
    head, _ = unpack(Looking(shop, name).answer(Look(scene="crossing", layers=("any",))))
    assert "refused" not in head
    table = evaluate(whole.scenes[0], frame_times(whole.scenes[0]), shop.materials.shaper.form)
    assert np.isfinite(table.leaves[0].matrix).all()
    for frame in (0, 5, 9):
        drawn(whole.scenes[0], shop.materials, frame)


def test_an_outline_that_reaches_too_far_is_drawn_as_nothing_and_told(tmp_path):
    """Stored before it was refused, or come by a project file: each number keeps its limit, the drawing does not."""
    shop = Workshop.at(tmp_path)
    far = FreePath(
        contours=(Contour(points=((0, 0, 0, 0, 0, 0), (-9e6, 0, -9e6, 0, 0, 0)), closed=True),), fill="#b23a26"
    )
    whole = project(
        layer("Far", far, position=positions(value=(0, 0))),
        layer("Near", Rectangle(width=9, height=9), position=positions(value=(9, 9))),
    )
    shop.projects.create(whole, "p")
    head, _ = unpack(Looking(shop, "p").answer(Look(scene="crossing")))
    told = {each["name"]: each["trouble"] for each in head["layers"]["changed"]}
    assert "reaches further" in told["Far"]
    assert told["Near"] == ""
    drawn(whole.scenes[0], shop.materials)
