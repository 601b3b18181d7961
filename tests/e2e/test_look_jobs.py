"""Jobs of how things look that must be short, with the mouse and the keyboard, each press, drag, stroke and word counted."""

import numpy as np
import pytest
from playwright.sync_api import expect

from deftarc.core.document.artwork import Ellipse, Rectangle
from deftarc.core.edit.add import AddLayer
from deftarc.core.edit.motions import LayMotion
from deftarc.core.evaluate import evaluate, frame_times
from deftarc.core.words.shipped_motions import shipped
from tests.e2e.test_short_jobs import blank  # noqa: F401
from tests.serving import ask


def given(job, *edits):
    """Edits made beforehand, uncounted."""
    revision = job.tab.evaluate("window.deftarc.state.revision")
    for edit in edits:
        told = {"revision": revision, "edit": edit.model_dump(mode="json")}
        status, state = ask(job.bench.served.port, "POST", f"/api/projects/{job.project}/edits", told)
        assert status == 200, state
        revision = state["revision"]
    job.bench.open(f"/projects/{job.project}")


def falling(job):
    """A ball that falls and bounces, as a saved motion has it."""
    scene = job.scene.id
    crate = next(motion for motion in shipped() if motion.name == "Crate dropped")
    ball = AddLayer(scene=scene, id="ball", name="Ball", artwork=Ellipse(width=90, height=90), at=(960, 560))
    given(job, ball, LayMotion(scene=scene, motion=crate, layers=("ball",), time=0))


def page(job, name="look"):
    job.click(f"[data-page={name}]")


def unfold(job, section):
    job.click(f"[data-fold={section}] > summary")


def types_in(job, name, text):
    job.click(f'.well[data-property="{name}"] input')
    job.types(str(text))
    job.press("Enter")


def chooses(job, what, value):
    job.tab.locator(what).focus()
    job.tab.locator(what).select_option(value)
    job.did()


def test_a_soft_shadow_under_a_line_that_follows_a_falling_thing(blank):  # noqa: F811
    job = blank
    falling(job)
    job.add("line")
    job.drag((700, 900), (1220, 900))
    job.press("Shift+q")
    job.types("ball")
    job.press("Enter")
    page(job)
    job.click("[data-effect-add=shadow]")
    assert job.count <= 8
    line = job.layer("Line")
    assert [each.kind for each in line.effects] == ["shadow"]
    assert line.effects[0].softness > 0
    [link] = line.links.values()
    assert link.source.layer == "ball"


def test_a_subject_cut_out_softly_half_seen_over_the_same_picture_behind_another_mask(blank):  # noqa: F811
    job = blank
    given(job, AddLayer(scene=job.scene.id, id="view", name="View", artwork=Rectangle(width=1200, height=700)))
    job.click('[data-select="view"]')
    job.press("Control+d")
    page(job)
    unfold(job, "masks")
    job.click("[data-do=mask-ellipse]")
    job.drag((700, 350), (1100, 750))
    copy = job.scene.layers[0]
    x, y = job.bench.middle(job.tab.locator(f'[data-look="mask/{copy.masks[0].id}"]'))
    job.bench.drag((x, y), (x + 20, y))
    job.did()
    types_in(job, copy.masks[0].properties[3], 50)
    job.click('[data-select="view"]')
    job.click("[data-do=mask-rectangle]")
    job.drag((400, 300), (1000, 800))
    assert job.count <= 14
    copy, under = job.scene.layers
    assert copy.masks[0].feather > 10
    assert copy.masks[0].opacity == 0.5
    assert len(under.masks) == 1
    assert np.ptp(np.array(under.masks[0].numbers()).reshape(-1, 6)[:, 0]) == pytest.approx(600, abs=8)


def test_a_logo_drawn_on_by_its_outline_then_filled(bench):
    from tests.e2e.test_short_jobs import Counted

    job = Counted(bench)
    job.project = "quillhaven"
    job.tab.locator("#scene").select_option(label="Pennant")
    bench.settle()
    job.click('[data-select="logo"]')
    job.act("take apart")
    job.act("draw its outline on")
    job.press("Enter")
    assert job.count <= 8
    pennant = bench.served.document().scene("pennant")
    parts = [each for each in pennant.layers if each.parent == "logo"]
    assert parts
    for each in parts:
        if "points" not in each.artwork.traits:
            # What a clip holds together has no outline of its own: it comes in with the fills.
            assert [key.value for key in each.tracks["opacity"].keys] == [0, 1]
            continue
        assert [key.value for key in each.tracks["drawn_to"].keys] == [0, 1]
        if each.artwork.fill is not None:
            assert each.tracks["filled"].keys[0].time == each.tracks["drawn_to"].keys[1].time


def test_a_glow_on_the_ground_only_where_a_ball_comes_near(blank):  # noqa: F811
    job = blank
    falling(job)
    given(
        job,
        AddLayer(
            scene=job.scene.id, id="ground", name="Ground", artwork=Rectangle(width=1800, height=120), at=(960, 660)
        ),
    )
    job.add("ellipse")
    lens = job.scene.layers[0]
    page(job)
    job.click("[data-effect-add=blur]")
    types_in(job, job.layer(lens.name).effects[0].properties[0], 60)
    # Carried by the ball: its row dropped on the ball's.
    drop(job, lens.id, "ball")
    drop(job, "ground", lens.id, hold="Alt")
    assert job.count <= 12
    ground, lens = job.layer("Ground"), job.layer(lens.name)
    assert ground.matte.layer == lens.id
    assert lens.parent == "ball"
    assert lens.hidden
    table = evaluate(job.scene, frame_times(job.scene, 0, 20))
    through = table.leaf("ground").matte.branch
    assert np.ptp(through.matrix[:, 1, 2]) > 50


def drop(job, layer, onto, hold=None):
    """A row of the list dragged onto another's middle."""
    mouse = job.tab.mouse
    x, y = job.bench.middle(job.tab.locator(f'[data-select="{layer}"]'))
    to = job.tab.locator(f"#layer-{onto}").bounding_box()
    mouse.move(x, y)
    mouse.down()
    mouse.move(x + 4, y + 9, steps=2)
    if hold:
        job.tab.keyboard.down(hold)
    mouse.move(x, to["y"] + to["height"] / 2, steps=6)
    mouse.up()
    if hold:
        job.tab.keyboard.up(hold)
    job.did()


def test_rings_and_particles_at_each_contact_as_hard_as_it_hits(blank):  # noqa: F811
    job = blank
    falling(job)
    job.add("rings")
    page(job)
    chooses(job, "[data-burst-at]", "ball")
    job.add("particles")
    chooses(job, "[data-burst-at]", "ball")
    assert job.count <= 12
    rings, sparks = job.layer("Rings"), job.layer("Particles")
    times = [key.time for key in rings.tracks["burst"].keys]
    assert len(times) == 3
    assert [key.time for key in sparks.tracks["burst"].keys] == times
    values = [key.value for key in rings.tracks["burst"].keys]
    assert values[0] == 1
    assert values == sorted(values, reverse=True)
    frame = times[0] // job.scene.rate.flicks
    dots = evaluate(job.scene, frame_times(job.scene)).by_name[rings.id].dots
    assert len(dots.at(frame + 3)) == 1
    expect(job.tab.locator('#lanes .bead[data-property="burst"]')).to_have_count(6)


def test_bars_close_in(blank):  # noqa: F811
    job = blank
    job.act("bars closing")
    job.press("Enter")
    assert job.count <= 5
    bars = job.layer("Bars")
    assert [key.value for key in bars.tracks["bar_top"].keys] == [0, 0.12]
    # As wide as the frame, also when that is another one.
    assert (bars.artwork.width, bars.artwork.height) == (job.scene.width, job.scene.height)


def test_a_colour_goes_there_and_back_four_times(blank):  # noqa: F811
    job = blank
    given(
        job, AddLayer(scene=job.scene.id, id="lamp", name="Lamp", artwork=Ellipse(width=90, height=90, fill="#204060"))
    )
    job.click('[data-select="lamp"]')
    page(job)
    job.click('[data-row="fill"] .label', button="right")
    job.click(job.tab.get_by_role("menuitem", name="There and back, some times…"))
    job.tab.locator("#trial .trial-colour").fill("#ff8800")
    job.did()
    job.press("Enter")
    assert job.count <= 8
    keys = job.layer("Lamp").tracks["fill"].keys
    assert len(keys) == 9
    assert [round(key.value[0], 2) for key in keys] == [0.13, 1.0] * 4 + [0.13]


def test_motion_blur_on_everything(blank):  # noqa: F811
    job = blank
    falling(job)
    job.press("~")
    assert job.count <= 2
    assert job.scene.shutter.on
    assert all(each.smears for each in job.scene.layers)
    job.bench.go(4)
    assert job.tab.evaluate("window.deftarc.state.smear.counts.ball[0]") > 1


def test_shares_that_are_tried_are_told_and_typed_in_per_cent(blank):  # noqa: F811
    job = blank
    job.act("bars closing")
    number = job.tab.locator('.trial-number[data-trial="far"]')
    expect(number).to_have_value("12")
    number.fill("25")
    expect(job.tab.locator("#trial")).to_contain_text("% of the frame")
    number.press("Enter")
    job.did()
    assert [key.value for key in job.layer("Bars").tracks["bar_top"].keys] == [0, pytest.approx(0.25)]
    given(job, AddLayer(scene=job.scene.id, id="lamp", name="Lamp", artwork=Rectangle(width=120, height=70)))
    job.click('[data-select="lamp"]')
    job.click('[data-row="opacity"] .label', button="right")
    job.click(job.tab.get_by_role("menuitem", name="There and back, some times…"))
    number = job.tab.locator('.trial-number[data-trial="far"]')
    expect(number).to_have_value("-50")
    number.fill("-80")
    number.press("Enter")
    job.did()
    values = [key.value for key in job.layer("Lamp").tracks["opacity"].keys]
    assert min(values) == pytest.approx(0.2)
    assert max(values) == 1
