"""Against an engine no one here wrote: Chromium's own easing, and its canvas beside Skia. And who reads it."""

import base64
from io import BytesIO
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from deftarc.core.changes.css import parse_easing
from deftarc.core.changes.ease import with_shape
from deftarc.core.document.artwork import Ellipse
from deftarc.core.document.blend import BLENDS
from deftarc.core.document.effects import EFFECTS
from deftarc.core.evaluate import evaluate, frame_times
from deftarc.core.spaces.bends import path_of
from deftarc.core.spaces.points import PathPoint
from deftarc.formats.wire import pack, smear_parts, table_parts
from deftarc.paint.skia.painter import blank
from deftarc.paint.skia.scene import painter_for
from deftarc.web.panels.drawings import drawing_told
from deftarc.web.served import effect_scripts
from tests.running import NOTHING
from tests.scenes import at, numbers, side

AXE = Path(__file__).parents[1] / "vendor" / "axe.min.js"

EASING = """([easings, times]) => {
  const box = document.createElement("div");
  document.body.append(box);
  const out = easings.map((easing) => {
    const move = box.animate([{ width: "0px" }, { width: "1000px" }], { duration: 1000, fill: "both", easing });
    move.pause();
    const row = times.map((t) => { move.currentTime = t * 1000; return move.effect.getComputedTiming().progress; });
    move.cancel();
    return row;
  });
  box.remove();
  return out;
}"""


def test_a_thousand_random_eases_follow_chromiums_own_cubic_bezier(tab, served):
    tab.goto(served.at("/"))
    rng = np.random.default_rng(7)
    times = [float(t) for t in np.linspace(0, 1, 41)]
    told = [(*rng.uniform(0, 1, 2), *rng.uniform(-1, 2, 2)) for _ in range(1000)]
    theirs = tab.evaluate(EASING, [[f"cubic-bezier({a},{y1},{1 - b},{y2})" for a, b, y1, y2 in told], times])
    worst = 0.0
    for (a, b, y1, y2), row in zip(told, theirs, strict=True):
        track = numbers((0, 0, {"leaving": side(a, y1)}), (25, 1, {"arriving": side(b, 1 - y2)}))
        ours = track.curve.at(np.array(times) * at(25))
        spread = max(1.0, np.ptp(ours))
        worst = max(worst, float(np.abs(ours - np.array(row)).max()) / spread)
    assert worst < 1e-4


#: Chromium measures a path by chords that are off by up to half a px: it is asked about larger ones.
FINER = 64.0
OFFSET = """([data, distances]) => {
  const box = document.createElement("div");
  box.style.cssText = "position:absolute;left:0;top:0;width:0;height:0;offset-rotate:auto;offset-anchor:0 0";
  document.body.append(box);
  const out = data.map((d, k) => {
    box.style.offsetPath = `path("${d}")`;
    return distances[k].map((distance) => {
      box.style.offsetDistance = `${distance}px`;
      const at = box.getBoundingClientRect();
      return [at.x, at.y];
    });
  });
  box.remove();
  return out;
}"""


def test_a_thousand_distances_lie_where_chromiums_offset_path_puts_them(tab, served):
    tab.goto(served.at("/"))
    tab.evaluate("window.scrollTo(0, 0)")
    rng = np.random.default_rng(11)
    paths = []
    for _ in range(50):
        row = []
        for _ in range(int(rng.integers(2, 7))):
            x, y = rng.uniform(50, 900, 2)
            joint = rng.choice(["straight", "corner", "automatic"])
            arms = {"arriving": tuple(rng.uniform(-250, 250, 2)), "leaving": tuple(rng.uniform(-250, 250, 2))}
            row.append(
                PathPoint(x=x, y=y, joint=joint, roundness=rng.uniform(0, 1), **(arms if joint == "corner" else {}))
            )
        paths.append(path_of(row))
    distances = [np.sort(rng.uniform(0, path.lengths[-1], 20)) for path in paths]

    def told(path):
        curves = "".join("C" + " ".join(f"{x:.9g},{y:.9g}" for x, y in FINER * span[1:]) for span in path.controls)
        return "M{:.9g},{:.9g}".format(*(FINER * path.points[0])) + curves

    asked = [(FINER * row).tolist() for row in distances]
    theirs = tab.evaluate(OFFSET, [[told(path) for path in paths], asked])
    for path, row, spots in zip(paths, distances, theirs, strict=True):
        ends = np.zeros(len(row), int)
        ours = path.position(row, ends, ends + len(path.points) - 2)
        assert np.hypot(*(ours - np.array(spots) / FINER).T).max() < 0.05


def test_steps_and_linear_follow_chromiums_own(tab, served):
    tab.goto(served.at("/"))
    # Not on the jumps themselves, where a browser's milliseconds may fall on either side.
    times = [float(t) for t in np.linspace(0.0031, 0.9973, 173)]
    easings = [f"steps({n}, jump-{jump})" for n in (2, 3, 5, 12) for jump in ("start", "end", "none", "both")]
    easings += ["steps(1)", "step-start", "ease", "ease-in", "ease-out", "ease-in-out", "linear"]
    easings += ["linear(0, 0.3 20%, 1.2 60%, 1)", "linear(0, 0.25, 0.9, 1)", "linear(0, 0.5 25% 75%, 1)"]
    theirs = tab.evaluate(EASING, [easings, times])
    for easing, row in zip(easings, theirs, strict=True):
        track = with_shape(numbers((0, 0), (25, 1)), 0, parse_easing(easing))
        ours = track.curve.at(np.array(times) * at(25))
        assert np.abs(ours - np.array(row)).max() < 1e-4, easing


PAINT = """async ({ scene, message, drawings, frame, scripts }) => {
  const { prepare, picturesReady } = await import("/static/js/drawings.js");
  const { paint, shapesBy } = await import("/static/js/painter.js");
  const { drawnAs, grown, unpack } = await import("/static/js/table.js");
  for (const script of scripts) await import(script);
  const { head, items, smear } = unpack(Uint8Array.from(atob(message), (c) => c.charCodeAt(0)).buffer);
  for (const item of [...items, ...(smear?.items || [])])
    if (!item.children) item.drawing = prepare(drawings[drawnAs(item.layer)]);
  if (smear) smear.items = new Map(smear.items.map((item) => [item.layer, item]));
  shapesBy((name) => drawings[name] && prepare(drawings[name]));
  const made = grown(items, head.table.roots);
  await picturesReady();
  const canvas = document.createElement("canvas");
  canvas.width = scene.width; canvas.height = scene.height;
  const ctx = canvas.getContext("2d");
  const painted = (x = 0, at = frame) => {
    ctx.reset();
    if (scene.background) { ctx.fillStyle = scene.background; ctx.fillRect(0, 0, scene.width, scene.height); }
    paint(ctx, made, at, [1, 0, 0, 1, x, 0], scene, smear);
    return canvas.toDataURL("image/png").split(",")[1];
  };
  const first = painted();
  // At another frame until that is kept, and back: what was kept there is not shown here.
  painted(0, frame + 1);
  painted(0, frame + 1);
  const back = painted();
  // Moved and put back: what is soft is kept, and laid on again. Once more: what is as it was is, too.
  painted(3.5);
  return [first, back, painted(), painted()];
}"""


def evaluated(scene, materials):
    return evaluate(scene, frame_times(scene), materials.shaper.form)


def how_far_apart(tab, served, scene, frame):
    """The picture of a frame on the canvas against Skia's: the largest difference of a channel, by pixel. Of the picture
    painted for the first time, and out of what was kept of it.
    """
    materials = served.shop.materials
    told = {layer.id: materials.of_layer(layer) for layer in scene.layers}
    painter = painter_for(scene, materials)
    table = painter.frames(scene, 0, scene.frames) if scene.shutter.on else evaluated(scene, materials)
    head, blobs = table_parts(table, 0)
    parts = {"table": head}
    if table.smear is not None:
        parts["smear"], more = smear_parts(table.smear)
        blobs = [*blobs, *more]
    given = {
        "scene": {"width": scene.width, "height": scene.height, "background": scene.background},
        "message": base64.b64encode(pack(parts, blobs)).decode(),
        "drawings": {name: drawing_told(each) for name, each in told.items()},
        "frame": frame,
        "scripts": effect_scripts(),
    }
    pictures = [Image.open(BytesIO(base64.b64decode(each))).convert("RGB") for each in tab.evaluate(PAINT, given)]
    pixels, surface = blank(scene.width, scene.height)
    painter.paint(surface.getCanvas(), table, frame, scene.background, (1, 1))
    surface.flushAndSubmit()
    return np.max([np.abs(np.asarray(each, int) - pixels[..., :3].astype(int)) for each in pictures], axis=(0, -1))


@pytest.mark.parametrize(
    ("scene_id", "frames"),
    [("crossing", (0, 30, 100)), ("card", (10, 24, 90)), ("pennant", (5, 60)), ("buoy", (0, 30, 61))],
)
def test_canvas_and_skia_paint_the_same_picture(tab, served, scene_id, frames):
    tab.goto(served.at(NOTHING))
    for frame in frames:
        apart = how_far_apart(tab, served, served.document().scene(scene_id), frame)
        # Antialiased edges may differ, a line of pixels wide; areas may not.
        assert (apart > 24).mean() < 0.002, f"frame {frame}"
        assert np.mean(apart) < 0.6
        inner = apart[1:-1, 1:-1]
        areas = np.minimum.reduce([inner, apart[:-2, 1:-1], apart[2:, 1:-1], apart[1:-1, :-2], apart[1:-1, 2:]])
        assert (areas > 24).mean() < 2e-5, f"frame {frame}"


def moving_looks():
    """A scene in which colours, widths, corners, points and letters change, carried by a turning carrier."""
    from deftarc.core.document.artwork import Carrier, Contour, FreePath, Polygon, Star, Text
    from deftarc.core.document.track import OutlineTrack
    from tests.core.spaces.test_colour import colours
    from tests.scenes import layer, positions, scene

    wave = FreePath(
        contours=(Contour(points=((-80, 0, 0, 0, 40, -60), (80, 0, -40, 60, 0, 0)), closed=True),), fill="#1f5c6b"
    )
    bent = tuple(n + 25 * (k % 3) for k, n in enumerate(wave.numbers()))
    outline = OutlineTrack(
        value=wave.numbers(), keys=({"time": 0, "value": wave.numbers()}, {"time": at(20), "value": bent})
    )
    mast = layer(
        "Mast",
        Carrier(),
        position=positions(value=(320, 180)),
        rotation=numbers((0, 0), (20, 40)),
        opacity=numbers(value=0.7),
    )
    layers = (
        layer("Wave", wave, position=positions(value=(-200, -90)), outline=outline, stroke=colours((0, "#00000000"), (20, "#b23a26")), stroke_width=numbers((0, 2), (20, 12))),
        layer("Star", Star(outer=70, inner=30), position=positions(value=(60, -60)), spikes=numbers((0, 4), (20, 9)), roundness=numbers((0, 0), (20, 0.8)), fill=colours((0, "#e2a21b"), (20, "#7a4fa3"))),
        layer("Hex", Polygon(sides=6, outer=60, stroke="#14324a", dash=(20, 12), cap="butt"), position=positions(value=(-60, 80)), dash_offset=numbers((0, 0), (20, 32)), outer=numbers((0, 40), (20, 80))),
        layer("Word", Text(text="Quay"), position=positions(value=(150, 90)), size=numbers((0, 40), (20, 80)), letter_spacing=numbers((0, 0), (20, 0.3))),
    )  # fmt: skip
    carried = tuple(each.changed(parent="mast") for each in layers)
    return scene(*carried, mast.changed(hands_opacity=True), frames=21, background="#f8efd8")


def test_canvas_and_skia_agree_on_looks_and_outlines_that_move(tab, served):
    tab.goto(served.at(NOTHING))
    for frame in (0, 9, 20):
        apart = how_far_apart(tab, served, moving_looks(), frame)
        assert (apart > 24).mean() < 0.004, f"frame {frame}"
        assert np.mean(apart) < 0.8


@pytest.mark.parametrize("theme", ["light", "night"])
@pytest.mark.parametrize("path", ["/", "/projects/quillhaven", "/projects/quillhaven?scene=lantern"])
def test_contrast_names_and_roles_pass_axe(browser, served, path, theme):
    # The page's policy forbids foreign scripts, so the checker comes in beside it.
    context = browser.new_context(viewport={"width": 1280, "height": 800}, bypass_csp=True, reduced_motion="reduce")
    context.add_init_script(f"localStorage.setItem('deftarc.theme', '{theme}')")
    tab = context.new_page()
    tab.goto(served.at(path))
    if path != "/":
        tab.wait_for_function("() => window.deftarc?.state.revision > 0")
        tab.locator('[data-select="splash"]' if "lantern" in path else '[data-select="gull"]').click()
        tab.locator("#figures .numbers").wait_for()
    tab.add_script_tag(path=str(AXE))
    assert not serious(tab)
    if path != "/":
        for step, where in LOOKS if "lantern" in path else WAYS:
            tab.evaluate(step)
            tab.locator(where).wait_for()
            tab.wait_for_timeout(300)
            assert not serious(tab, where), step
    context.close()


#: Other faces of the workbench and where they show: what is selected, the look of a shape, menus, sheets, settings.
WAYS = (
    ("document.querySelector('[data-select=title]').click()", ".when"),
    ("document.querySelector('[data-page=look]').click()", "#figures"),
    ("document.querySelector('#lanes-open').click()", "#lanes-menu"),
    ("document.querySelector('[data-menu=layer]').click()", "#menu"),
    ("document.querySelector('[data-do=help]').click()", "#keys-dialog"),
    ("(document.querySelector('#keys-dialog').close(), document.querySelector('[data-do=scene-settings]').click())",
     "dialog[open]"),
)  # fmt: skip


UNFOLD = (
    "(document.querySelector('[data-page=look]')?.click(),"
    " document.querySelectorAll('#figures details:not([open]) > summary').forEach((each) => each.click()))"
)
#: How things look: bursts, a wash with its mask and effects, a title with all that an outline has, a group.
LOOKS = (
    ("document.querySelector('[data-page=look]').click()", "#figures [data-burst-at]"),
    *(
        step
        for layer in ("ripple", "title", "lantern1")
        for step in ((f"document.querySelector('[data-select={layer}]').click()", "#figures"), (UNFOLD, "#figures"))
    ),
    ("document.querySelector('#view-open').click()", ".dropdown-menu.show"),
)


def serious(tab, where="html"):
    """What axe-core finds there to be a serious or critical hindrance."""
    found = tab.evaluate("where => axe.run(where, { runOnly: ['wcag2a', 'wcag2aa'] })", where)
    return [
        (each["id"], [node["html"][:140] for node in each["nodes"][:4]])
        for each in found["violations"]
        if each["impact"] in ("serious", "critical")
    ]


def test_the_api_is_documented_by_its_page(tab, served):
    tab.goto(served.at("/docs"))
    tab.get_by_text("/api/projects/{project_id}/edits").first.wait_for()


def treated(kind, **fields):
    """Layers treated by an effect, turned, mirrored, squeezed and skewed, and a group painted as one; all keyed."""
    from deftarc.core.document.artwork import Carrier
    from deftarc.core.document.effects import EFFECTS
    from tests.scenes import layer, positions, scene

    effect = EFFECTS[kind](id="one", **fields)
    name = effect.properties[0]
    keys = numbers((0, 2), (20, 14))
    rows = []
    for n, tracks in enumerate(
        (
            {},
            {"rotation": numbers((0, 0), (20, 200))},
            {"scale": numbers(value=-0.8), "rotation": numbers(value=30)},
            {"scale_x": numbers(value=1.5), "scale_y": numbers(value=0.6), "rotation": numbers(value=20)},
            {"skew_x": numbers(value=30), "opacity": numbers((0, 1), (20, 0.4))},
        )
    ):
        made = layer(f"L{n}", position=positions(value=(90 + 180 * (n % 3), 80 + 150 * (n // 3))), **tracks)
        made = made.changed(effects=(effect,), tracks={**made.tracks, name: keys})
        rows.append(made)
    group = layer(
        "Fleet", Carrier(group=True, as_one=True), position=positions(value=(480, 250)), opacity=numbers(value=0.6)
    )
    group = group.changed(effects=(effect,), tracks={**group.tracks, name: keys})
    members = [layer("Hull", position=positions(value=(-20, 0))), layer("Sail", position=positions(value=(25, 20)))]
    ground = layer("Ground", position=positions(value=(320, 180)), rotation=numbers(value=8))
    return scene(
        *rows, group, *(each.changed(parent="fleet") for each in members), ground, frames=21, background="#f8efd8"
    )


@pytest.mark.parametrize("kind", sorted(EFFECTS))
def test_every_effect_is_painted_alike_by_both_painters(tab, served, kind):
    tab.goto(served.at(NOTHING))
    for frame in (0, 9, 20):
        apart = how_far_apart(tab, served, treated(kind), frame)
        assert (apart > 16).mean() < 0.004, f"frame {frame}"
        assert np.mean(apart) < 1


@pytest.mark.parametrize("blend", list(BLENDS))
def test_every_way_of_blending_is_painted_alike_also_within_a_group(tab, served, blend):
    from deftarc.core.document.artwork import Carrier
    from tests.scenes import layer, positions, scene

    def disc(name, colour, x, y):
        return layer(name, Ellipse(width=150, height=150, fill=colour), position=positions(value=(x, y)))

    over = disc("Over", "#c2621caa", 190, 140).changed(blend=blend)
    group = layer(
        "Fleet", Carrier(group=True, as_one=True), position=positions(value=(400, 0)), opacity=numbers(value=0.8)
    )
    inside = disc("In", "#2f6fb0", 60, 140).changed(blend=blend, parent="fleet")
    within = disc("With", "#d9b26f", 130, 200).changed(parent="fleet")
    made = scene(
        over, group.changed(blend=blend), inside, within, disc("Under", "#1d7f62", 120, 180),
        disc("Beside", "#7a4fa3", 470, 220), frames=2, background="#9fb8c8",
    )  # fmt: skip
    tab.goto(served.at(NOTHING))
    apart = how_far_apart(tab, served, made, 0)
    assert (apart > 16).mean() < 0.004
    assert np.mean(apart) < 1
