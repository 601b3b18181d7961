"""Rings and particles of a long scene come a stretch at a time: they are there wherever one stands, scrubs or plays."""

from deftarc.core.document import Project
from deftarc.core.document.artwork import Particles
from deftarc.core.edit.scenes import SetGuides
from deftarc.core.edit.values import SetValue
from deftarc.core.evaluate import evaluate, frame_times
from tests.scenes import layer, numbers, positions, scene

SNOW = Particles(burst_rate=300, burst_life=4, ahead=4, burst_gravity=5, burst_spread=360, burst_speed=40)
#: The rows the page has of them at the frame it stands at; None where it has not got them.
HERE = """() => {
  const { frame, items } = window.deftarc.state;
  const { dots } = items.get("snow");
  for (const part of [dots, ...(dots.more || [])]) {
    const k = frame - part.first;
    if (k < 0 || k > part.starts.length - 2) continue;
    return [...part.numbers.subarray(part.starts[k] * 9, part.starts[k] * 9 + 9), part.starts[k + 1] - part.starts[k]];
  }
  return null;
}"""


def opened(tab, served):
    made = scene(
        layer("Snow", SNOW, position=positions(value=(320, 180)), burst_size=numbers((0, 4), (2000, 9))), frames=2000
    )
    served.shop.projects.create(Project(name="Snow", scenes=(made,)), "snow")
    tab.goto(served.at("/projects/snow"))
    tab.wait_for_function("() => window.deftarc && window.deftarc.state.items.size > 0")
    tab.evaluate("window.deftarc.settled()")
    return made


def go(tab, frame):
    tab.locator("#clock").fill(str(frame))
    tab.keyboard.press("Enter")
    tab.evaluate("window.deftarc.settled()")


def as_worked_out(made, frame):
    rows = evaluate(made, frame_times(made, frame, 1)).by_name["snow"].dots.at(0)
    return rows[0], len(rows)


def agree(tab, made, frame):
    tab.wait_for_function(f"() => window.deftarc.state.frame === {frame} && ({HERE})() !== null")
    told = tab.evaluate(HERE)
    first, count = as_worked_out(made, frame)
    assert told[9] == count
    assert max(abs(a - b) for a, b in zip(told[:8], first[:8], strict=True)) < 1


def test_they_are_there_wherever_one_stands_and_scrubs(tab, served):
    made = opened(tab, served)
    tab.evaluate("window.deftarc.like('unit', 'frames')")
    for frame in (0, 1500, 1499, 1400, 700, 1999):
        go(tab, frame)
        agree(tab, made, frame)
    # What is asked for is no more than is looked at: the page holds some stretches of it, not the whole.
    held = tab.evaluate("""() => {
      const { dots } = window.deftarc.state.items.get("snow");
      return [dots, ...(dots.more || [])].reduce((sum, part) => sum + part.numbers.length / 9, 0);
    }""")
    assert held <= 500_000


def test_while_it_plays_what_comes_next_is_there_before_it_is_due(tab, served):
    opened(tab, served)
    tab.evaluate(
        """() => {
      window.lacked = [];
      const watch = () => {
        if (window.deftarc.state.playing && !window.here()) window.lacked.push(window.deftarc.state.frame);
        requestAnimationFrame(watch);
      };
      window.here = HERE;
      watch();
    }""".replace("HERE", HERE)
    )
    tab.evaluate("window.deftarc.like('unit', 'frames')")
    go(tab, 140)
    # Slowly: what is asked for in time is there in time on a machine that has much else to do, too.
    tab.get_by_title("How it plays").click()
    tab.locator('[data-speed="0.25"]').click()
    assert not tab.evaluate("() => window.deftarc.state.playing")
    tab.locator("#play").click()
    tab.wait_for_function("() => window.deftarc.state.frame > 185", timeout=60_000)
    tab.locator("#play").click()
    tab.evaluate("window.deftarc.settled()")
    assert tab.evaluate("window.lacked") == []


def test_what_changes_while_a_stretch_is_on_its_way_is_asked_for_after_it(tab, served):
    made = opened(tab, served)
    tab.evaluate("window.deftarc.like('unit', 'frames')")
    answers = []

    def late(route):
        answers.append(route.fetch())
        if len(answers) == 1:
            # Worked out before a change of something else, told after it.
            edit = SetGuides(scene="crossing", guides=({"axis": "x", "at": 40},))
            served.shop.commit("snow", served.shop.projects.open("snow").revision, edit)
            tab.wait_for_function("() => window.deftarc.state.revision > 1")
        route.fulfill(response=answers[-1])

    tab.route("**/dots?*", late)
    tab.locator("#clock").fill("1500")
    tab.keyboard.press("Enter")
    agree(tab, made, 1500)
    tab.unroute_all(behavior="wait")
    assert len(answers) == 2


def test_under_a_hand_after_undo_and_in_a_second_window_they_are_those_of_the_state(tab, served):
    made = opened(tab, served)
    tab.evaluate("window.deftarc.like('unit', 'frames')")
    go(tab, 1500)
    agree(tab, made, 1500)
    tab.locator("[data-select=snow]").click()
    tab.evaluate("window.deftarc.settled()")
    second = tab.context.new_page()
    second.goto(served.at("/projects/snow"))
    second.wait_for_function("() => window.deftarc && window.deftarc.state.items.size > 0")
    second.evaluate("window.deftarc.like('unit', 'frames')")
    go(second, 900)
    edit = SetValue(scene="crossing", layer="snow", property="burst_speed", value=90, time=0)
    served.shop.commit("snow", served.shop.projects.open("snow").revision, edit)
    tab.wait_for_function("() => window.deftarc.state.revision > 1")
    tab.evaluate("window.deftarc.settled()")
    faster = served.document("snow").scenes[0]
    assert faster.layer("snow").number("burst_speed").value == 90
    agree(tab, faster, 1500)
    second.wait_for_function("() => window.deftarc.state.revision > 1")
    second.evaluate("window.deftarc.settled()")
    agree(second, faster, 900)
    go(tab, 300)
    agree(tab, faster, 300)
    tab.keyboard.press("Control+z")
    tab.evaluate("window.deftarc.settled()")
    agree(tab, made, 300)
