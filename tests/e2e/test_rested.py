"""A browser whose canvas knows no filters: at rest it shows the render's own picture, and while things move its own."""

from io import BytesIO

import numpy as np
import pytest
from PIL import Image

from deftarc.core.document import Project
from deftarc.core.document.artwork import Rectangle
from deftarc.core.document.scene import Shutter
from deftarc.core.edit.scenes import SetGuides
from deftarc.core.edit.shutter import SetShutter
from deftarc.paint.skia.painter import blank
from deftarc.paint.skia.scene import painter_for
from tests.looks import effect, ground, round_mask
from tests.scenes import layer, positions, scene

WITHOUT = "delete CanvasRenderingContext2D.prototype.filter;"
PIXELS = """async () => {
  const canvas = document.getElementById("picture");
  const { zoom, x, y } = window.deftarc.viewOf();
  return { zoom, x, y, width: canvas.width, height: canvas.height, png: canvas.toDataURL().split(",")[1] };
}"""


def soft_scene(**how):
    block = layer(
        "Block", Rectangle(width=160, height=110, fill="#b23a26"), position=positions((0, (150, 120)), (20, (450, 240)))
    )
    over = layer("Over", Rectangle(width=200, height=60, fill="#e2a21b"), position=positions(value=(330, 190)))
    return scene(
        block.changed(effects=(effect("blur", radius=9),)),
        over.changed(masks=(round_mask(feather=8),)),
        *ground(),
        frames=21,
        background="#f8efd8",
        **how,
    )  # fmt: skip


@pytest.fixture
def opened(kept, served):
    """Opens a scene in a page of its own: what is taken from its canvas is not to be missed by others."""
    pages = []

    def open_it(made, script=WITHOUT):
        pages.append(kept.context.new_page())
        return _opened(pages[-1], served, made, script)

    yield open_it
    for page in pages:
        page.close()


def _opened(tab, served, made, script):
    served.shop.projects.create(Project(name="Soft", scenes=(made,)), "soft")
    tab.add_init_script(script)
    tab.goto(served.at("/projects/soft"))
    tab.wait_for_function("() => window.deftarc && window.deftarc.state.items.size > 0")
    tab.evaluate("window.deftarc.settled()")
    return tab


def edited(served, tab, edit):
    served.shop.commit("soft", served.shop.projects.open("soft").revision, edit)
    tab.wait_for_function(f"() => window.deftarc.state.revision >= {served.shop.projects.open('soft').revision}")
    tab.evaluate("window.deftarc.settled()")


def rested(tab):
    tab.wait_for_function("() => window.deftarc.rested()")


def apart(tab, served, frame, hidden=()):
    """How far what the stage shows within the frame is from what Skia paints there, of 255, by pixel."""
    import base64

    told = tab.evaluate(PIXELS)
    shown = np.asarray(Image.open(BytesIO(base64.b64decode(told["png"]))).convert("RGB"), int)
    made = served.document("soft").scenes[0]
    made = made.changed(layers=tuple(x.changed(hidden=True) if x.id in hidden else x for x in made.layers))
    painter = painter_for(made, served.shop.materials)
    pixels, surface = blank(told["width"], told["height"])
    canvas = surface.getCanvas()
    canvas.translate(told["x"], told["y"])
    canvas.scale(told["zoom"], told["zoom"])
    painter.paint_on(canvas, painter.frames(made, frame, 1), 0, made.background, (made.width, made.height))
    surface.flushAndSubmit()
    left, top = int(np.ceil(told["x"])) + 1, int(np.ceil(told["y"])) + 1
    right, bottom = left + int(made.width * told["zoom"]) - 3, top + int(made.height * told["zoom"]) - 3
    both = (each[max(top, 0) : bottom, max(left, 0) : right, :3].astype(int) for each in (shown, pixels))
    one, other = both
    return np.abs(one - other).max(axis=-1)


def go(tab, frame):
    tab.locator("#clock").fill(f"0:00:{frame:02d}")
    tab.keyboard.press("Enter")
    tab.evaluate("window.deftarc.settled()")


def test_at_rest_it_is_the_renders_own_picture(opened, served):
    tab = opened(soft_scene())
    rested(tab)
    assert apart(tab, served, 0).max() <= 1
    go(tab, 9)
    # Its own, which is not soft, until the other is there.
    assert (apart(tab, served, 9) > 16).mean() > 0.01 or tab.evaluate("window.deftarc.rested()")
    rested(tab)
    assert apart(tab, served, 9).max() <= 1


def test_selecting_and_steps_that_change_nothing_of_it_leave_it(opened, served):
    tab = opened(soft_scene())
    rested(tab)
    tab.evaluate("""() => {
      window.lost = 0;
      const watch = () => { if (!window.deftarc.rested()) window.lost += 1; requestAnimationFrame(watch); };
      watch();
    }""")
    tab.locator("[data-select=over]").click()
    tab.evaluate("window.deftarc.settled()")
    tab.locator("[data-select=block]").click()
    tab.evaluate("window.deftarc.settled()")
    edited(served, tab, SetGuides(scene="crossing", guides=({"axis": "x", "at": 40},)))
    assert tab.evaluate("window.lost") == 0
    assert apart(tab, served, 0).max() <= 1


def test_a_hand_and_playing_have_the_canvas_paint(opened, served):
    tab = opened(soft_scene())
    rested(tab)
    at = tab.evaluate("(() => { const { x, y } = window.deftarc.toClient(150, 120); return [x, y]; })()")
    tab.mouse.move(*at)
    tab.mouse.down()
    tab.mouse.move(at[0] + 30, at[1], steps=3)
    tab.wait_for_function("() => window.deftarc.state.tentative && !window.deftarc.rested()")
    tab.mouse.up()
    rested(tab)
    tab.locator("#play").click()
    tab.wait_for_function("() => window.deftarc.state.playing && window.deftarc.stats.painted > 3")
    assert not tab.evaluate("window.deftarc.rested()")
    tab.locator("#play").click()
    rested(tab)


def test_zoomed_isolated_and_in_a_second_window_it_is_what_shows(opened, served):
    tab = opened(soft_scene())
    rested(tab)
    tab.locator("#stage").hover(position={"x": 200, "y": 200})
    tab.mouse.wheel(0, -300)
    tab.wait_for_function("() => !window.deftarc.rested()")
    rested(tab)
    assert apart(tab, served, 0).max() <= 1
    tab.locator("[data-select=over]").click()
    tab.keyboard.press("i")
    tab.evaluate("window.deftarc.settled()")
    if not tab.evaluate("window.deftarc.state.isolated.size"):
        pytest.fail("nothing is isolated")
    rested(tab)
    others = [x.id for x in served.document("soft").scenes[0].layers if x.id != "over"]
    assert apart(tab, served, 0, others).max() <= 1


def test_a_canvas_that_sums_in_bytes_rests_where_something_smears(opened, served):
    bytes_only = """
      const asked = HTMLCanvasElement.prototype.getContext;
      HTMLCanvasElement.prototype.getContext = function (kind, how) {
        return asked.call(this, kind, how?.colorType ? {} : how);
      };"""
    tab = opened(soft_scene(shutter=Shutter(on=True)), bytes_only)
    edited(served, tab, SetShutter(scene="crossing", on=True, everything=True))
    go(tab, 9)
    rested(tab)
    assert apart(tab, served, 9).max() <= 1


def test_a_canvas_that_can_do_all_asks_for_nothing(opened, served):
    tab = opened(soft_scene(), "")
    asked = []
    tab.on("request", lambda request: asked.append(request.url))
    go(tab, 9)
    tab.wait_for_timeout(400)
    assert not any("/still" in url for url in asked)
    assert np.mean(apart(tab, served, 9)) <= 1
