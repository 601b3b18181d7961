"""Jobs that must be short, done with the mouse and the keyboard as a person would, each press, drag, stroke and typed
word counted.
"""

import numpy as np
import pytest
from playwright.sync_api import expect

from deftarc.core.arrange.reacted import motion_of
from deftarc.core.document.links import LinkSource
from deftarc.core.evaluate import evaluate
from tests.e2e.conftest import Workbench
from tests.serving import ask


class Counted:
    """A bench whose actions are counted."""

    def __init__(self, bench):
        self.bench, self.tab, self.count = bench, bench.tab, 0

    def did(self):
        self.count += 1
        self.bench.settle()

    def click(self, what, **more):
        (self.tab.locator(what) if isinstance(what, str) else what).click(**more)
        self.did()

    def press(self, stroke):
        self.tab.keyboard.press(stroke)
        self.did()

    def types(self, words):
        self.tab.keyboard.type(words)
        self.did()

    def drag(self, start, end):
        """From a place in the scene to another, or from something on the page."""
        begin = self.bench.client(*start) if isinstance(start, tuple) else self.bench.middle(start)
        self.bench.drag(begin, self.bench.client(*end))
        self.did()

    def add(self, words):
        self.click(self.tab.get_by_role("button", name="Add", exact=True))
        self.click(self.tab.locator(f"#add-menu [data-add={words}]"))

    def act(self, words):
        """An action found by typing."""
        self.press("c")
        self.types(words)
        self.press("Enter")

    def saved_motion(self, words, phase=None):
        self.press("Control+Shift+L")
        self.types(words)
        expect(self.tab.locator(".motion-tile.known")).to_have_count(1)
        self.press("Enter")
        if phase is not None:
            self.click("#trial [data-trial='how.phase']", click_count=3)
            self.types(str(phase))
        self.press("Enter")

    @property
    def scene(self):
        return self.bench.served.document(self.project).scenes[0]

    def layer(self, name):
        return next(each for each in self.scene.layers if each.name == name)


@pytest.fixture
def blank(tab, served):
    """A new project of five seconds, empty."""
    status, told = ask(served.port, "POST", "/api/projects", {"name": "Quay", "rate": "24", "length": "5s"})
    assert status == 201, told
    made = Counted(Workbench(tab, served, f"/projects/{told['id']}"))
    made.project = told["id"]
    return made


def worlds(job, name, frames):
    here = job.scene
    times = np.array(frames) * here.rate.flicks
    rows = evaluate(here, times).worlds[job.layer(name).id]
    return np.broadcast_to(rows, (len(times), 3, 3))


def test_a_struck_line_rings_and_rests(blank):
    job = blank
    job.add("ellipse")
    job.saved_motion("crate")
    job.add("line")
    job.drag((600, 590), (1320, 590))
    job.press("Control+Shift+A")
    job.press("Enter")
    assert job.count <= 12
    line = job.scene.layers[0]
    track = line.track("outline")
    contacts = [
        e
        for e in motion_of(job.scene, LinkSource(layer=job.scene.layers[1].id, what="position"))
        if e.kind == "contact"
    ]
    assert len(contacts) == len(line.reactions["outline"].reaction.marks) == 3
    frame = job.scene.rate.flicks
    rest = np.array(track.at(0))
    struck = np.array(track.at(contacts[0].time + 2 * frame)) - rest
    assert np.abs(struck).max() == pytest.approx(40 * 4 / 3, rel=1e-3)
    # It swings to the other side, and rests at last.
    after = [np.array(track.at(contacts[-1].time + n * frame)) - rest for n in range(60)]
    assert min(each[5] for each in after) < -0.5
    assert np.allclose(after[-1], 0)


def test_a_leaf_swings_about_its_stem_twenty_times_round_a_tree_out_of_step(blank):
    job = blank
    job.add("ellipse")
    job.drag((960, 540), (960, 240))
    job.click(job.tab.locator("[title*='Put the pivot']").first)
    job.click(job.tab.locator('[data-nine="0.5 1.0"], [data-nine="0.5 1"]').first)
    job.saved_motion("lantern")
    job.press("Control+g")
    y = job.bench.well("pivot_y")
    y.click()
    job.did()
    y.fill("300")
    y.press("Enter")
    job.did()
    job.press("*")
    job.types("20")
    job.click("#trial [data-trial='phase']", click_count=3)
    job.types("0.15")
    job.press("Enter")
    assert job.count <= 25
    leaves = [each for each in job.scene.layers if each.name.startswith("Ellipse")]
    assert len(leaves) == 20
    assert len({each.link for each in leaves}) == 1
    spots = evaluate(job.scene, np.array([0])).worlds
    rows = np.array([spots[each.id][0][:2, 2] for each in leaves])
    middle = rows.mean(axis=0)
    far = np.hypot(*(rows - middle).T)
    assert np.ptp(far) < 1
    assert far.mean() > 150
    turned = {round(each.track("rotation").at(0)[0], 2) for each in leaves}
    assert len(turned) > 5


def test_an_arm_is_carried_by_a_bobbing_body_both_from_mid_cycle(blank):
    job = blank
    job.add("rectangle")
    job.saved_motion("bob", 0.5)
    job.add("ellipse")
    job.drag((960, 540), (1110, 500))
    job.saved_motion("lantern", 0.25)
    arm, body = job.scene.layers
    start = job.bench.middle(job.bench.row(arm.id))
    job.bench.drag(start, job.bench.middle(job.tab.locator(f"#layer-{body.id}")))
    job.did()
    job.click(job.tab.locator("[title*='Put the pivot']").first)
    job.click(job.tab.locator('[data-nine="0.5 0"]').first)
    assert job.count <= 20
    body, arm = job.layer("Rectangle"), job.layer("Ellipse")
    assert arm.parent == body.id
    for each in (body, arm):
        for name in each.keyed:
            track = each.track(name)
            assert track.period
            assert track.key_times[0] < 0
    ways = worlds(job, "Ellipse", range(0, 48, 4))
    assert np.ptp(ways[:, 1, 2]) > 5
    assert np.ptp(np.arctan2(ways[:, 1, 0], ways[:, 0, 0])) > np.deg2rad(8)


def test_a_bell_scene_is_shown_three_times_at_different_places_of_its_cycle(bench):
    job = Counted(bench)
    job.project = "quillhaven"
    bench.tab.evaluate("document.dispatchEvent(new CustomEvent('deftarc:scene', { detail: 'pennant' }))")
    bench.settle()
    before = {each.id for each in bench.served.document().scene("pennant").layers}
    job.press("Control+Shift+X")
    job.click(bench.tab.locator("#drawer li", has_text="Bell").locator("button").first)
    made = [each for each in bench.served.document().scene("pennant").layers if each.id not in before]
    assert len(made) == 1, made
    job.drag((540, 540), (260, 700))
    job.press("*")
    job.types("3")
    job.click("#trial [data-trial='dx']", click_count=3)
    job.types("280")
    job.click("#trial [data-trial='phase']", click_count=3)
    job.types("0.3333")
    job.press("Enter")
    assert job.count <= 10
    bells = [each for each in bench.served.document().scene("pennant").layers if each.id not in before]
    long = bench.served.document().scene("bell").length
    assert sorted(round(each.artwork.begins / long, 2) for each in bells) == [0, 0.33, 0.67]
    across = sorted(each.track("position").at(0)[0] for each in bells)
    assert np.diff(across) == pytest.approx([280, 280])


def test_a_ball_bounces_sideways_stretched_and_squashed_its_highlight_staying_put(blank):
    job = blank
    bench, tab = job.bench, job.tab
    job.add("ellipse")
    job.drag((960, 540), (300, 200))
    # Split into its axes, so that it goes evenly across and bounces down.
    job.click(tab.locator(".figure .label", has_text="Position"), button="right")
    job.click(tab.get_by_role("menuitem", name="Split into x and y"))
    job.press("!")
    job.press("+")
    job.press("End")
    bench.well("position_x").click()
    job.did()
    job.types("1600")
    job.press("Enter")
    bench.well("rotation").click()
    job.did()
    job.types("720")
    job.press("Enter")
    job.press("Home")
    job.click(tab.locator('#lanes .lane[data-property="position_y"] button').first, button="right")
    job.click(tab.get_by_role("menuitem", name="Bounce at the playhead"))
    bench.tab.keyboard.press("Control+a")
    job.types("600")
    job.press("Enter")
    job.press("!")
    job.click(tab.locator("[data-page=relations]"))
    job.click(tab.locator("#figures [data-do=stretch-with-speed]"))
    job.click(tab.locator("#figures [data-do=squash]"))
    ball = job.scene.layers[0]
    job.add("ellipse")
    job.drag((960, 540), (260, 160))
    light = job.scene.layers[0]
    start = bench.middle(bench.row(light.id))
    bench.drag(start, bench.middle(tab.locator(f"#layer-{ball.id}")))
    job.did()
    job.click("[data-menu=layer]")
    job.click(tab.get_by_role("menuitem", name="Turn against what carries it"))
    assert job.count <= 30
    ball, light = job.scene.layer(ball.id), job.scene.layer(light.id)
    contacts = [e for e in motion_of(job.scene, LinkSource(layer=ball.id, what="position")) if e.kind == "contact"]
    assert len(contacts) >= 3
    assert ball.stretches
    assert len(ball.reactions["scale"].reaction.marks) == len(contacts)
    # Flat at the first contact by the full amount, at the second by as much less as it hits less.
    scale = ball.track("scale")
    first, second = (scale.at(each.time)[0] - 1 for each in contacts[:2])
    assert first == pytest.approx(0.35, abs=0.02)
    assert second / first == pytest.approx(contacts[1].size / contacts[0].size, abs=0.02)
    assert light.parent == ball.id
    assert light.links["rotation"].factor == -1
    here = worlds(job, light.name, range(0, 90, 10))
    turned = worlds(job, ball.name, range(0, 90, 10))
    assert np.ptp(np.unwrap(np.arctan2(turned[:, 1, 0], turned[:, 0, 0]))) > 3
    assert here.shape == turned.shape
