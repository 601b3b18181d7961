"""The library of saved motions: each plays on what is selected, is tried on it in place, kept, saved and exported."""

import pytest
from playwright.sync_api import expect

from deftarc.formats.motions import read_motions

FRAME = 29_400_000  # flicks a frame in Crossing
KEPT = "#drawer h3:has-text('In this project') + .motion-tiles .motion-tile"


def opened(bench, *layers):
    """The library open over some layers, its first pictures playing."""
    bench.select(layers[0])
    for name in layers[1:]:
        bench.row(name).click(modifiers=["Control"])
    bench.settle()
    bench.press("Control+Shift+L")
    expect(bench.tab.locator(".motion-tile.known").first).to_be_visible()
    return bench.tab.locator(".motion-tile")


def tile(bench, name):
    found = bench.tab.locator(".motion-tile").filter(has_text=name)
    found.scroll_into_view_if_needed()
    expect(found).to_have_class("motion-tile known")
    return found


def painted(bench, name):
    return bench.tab.evaluate(
        "name => [...document.querySelectorAll('.motion-tile')].find(each => each.dataset.motion === name)"
        ".querySelector('canvas').toDataURL()", name
    )  # fmt: skip


def test_a_motion_plays_on_the_selected_layer_and_is_tried_with_its_numbers_before_it_is_kept(bench):
    bench.go(10)
    opened(bench, "mist")
    expect(bench.tab.locator("#drawer-title")).to_have_text("Saved motions, for Mist")
    tile(bench, "Bell swings out")
    seen = {painted(bench, "Bell swings out")}
    bench.until(lambda: seen.add(painted(bench, "Bell swings out")) or len(seen) > 3)
    # Gone over, it is tried on the layer itself; left, all is as it was.
    tile(bench, "Bell swings out").hover()
    expect(bench.bead("mist", "rotation", 3)).to_be_visible()
    bench.tab.locator("#drawer-title").hover()
    bench.settle()
    assert bench.served.document().scene("crossing").layer("mist").track("rotation").keys == ()
    tile(bench, "Bell swings out").click()
    bar = bench.tab.locator("#trial")
    expect(bar).to_contain_text("Bell swings out")
    far = bar.locator("input.trial-number[data-trial^='numbers.far']")
    expect(far).to_have_value("22")
    far.fill("44")
    bench.settle()
    assert bench.served.document().scene("crossing").layer("mist").track("rotation").keys == ()
    bar.locator("input.trial-range[data-trial='numbers.long']").fill("4")
    bench.settle()
    bench.press("Enter")
    track = bench.track("mist", "rotation")
    base = track.keys[0].value
    assert max(key.value for key in track.keys) == pytest.approx(base + 44)
    assert (track.key_times[0], track.key_times[-1]) == (10 * FRAME, pytest.approx(10 * FRAME + 4 * 705_600_000, abs=2))
    # Laid, its numbers can be changed still.
    bench.tab.locator("[data-menu=layer]").click()
    bench.tab.get_by_role("menuitem", name="Change the motion laid last").click()
    expect(bar).to_contain_text("Bell swings out")
    expect(far).to_have_value("44")
    far.fill("11")
    bench.settle()
    bench.press("Enter")
    bench.until(lambda: max(key.value for key in bench.track("mist", "rotation").keys) == pytest.approx(base + 11))
    bench.press("Control+z")
    assert bench.track("mist", "rotation").keys == ()


def test_on_several_layers_one_after_the_other_by_the_keyboard_alone(bench):
    bench.tab.evaluate("document.dispatchEvent(new CustomEvent('deftarc:scene', { detail: 'card' }))")
    bench.settle()
    opened(bench, "row1", "row2", "row3")
    bench.tab.keyboard.type("beacon")
    bench.settle()
    expect(bench.tab.locator(".motion-tile.known")).to_have_count(1)
    bench.press("Enter")
    bar = bench.tab.locator("#trial")
    expect(bar).to_contain_text("Beacon blinks")
    bar.locator("[data-trial='how.step']").fill("6")
    bar.locator("[data-trial='how.order']").select_option("reversed")
    bench.settle()
    bench.tab.keyboard.press("Escape")
    bench.settle()
    before = [bench.track(name, "opacity", "card") for name in ("row1", "row2", "row3")]
    # Dropped, nothing was changed; once more, and kept.
    bench.press("Control+Shift+L")
    expect(bench.tab.locator(".motion-tile.known").first).to_be_visible()
    bench.tab.locator(".motion-tile").filter(has_text="Beacon").focus()
    bench.press("Enter")
    bar.locator("[data-trial='how.step']").fill("6")
    bench.settle()
    bench.tab.locator("[data-trial-keep]").click()
    bench.settle()
    after = [bench.track(name, "opacity", "card") for name in ("row1", "row2", "row3")]
    assert all(len(now.keys) > len(was.keys) for now, was in zip(after, before, strict=True))


def test_keys_are_saved_under_a_name_with_numbers_and_laid_on_another_layer(bench):
    bench.select("gull")
    bench.press("Control+Shift+S")
    dialog = bench.tab.locator("#motion-dialog")
    expect(dialog.locator("tbody tr")).to_have_count(6)
    # Without a name it is not saved.
    dialog.locator("[value=ok]").click()
    expect(dialog.locator(".sentence")).to_have_text("Give it a name.")
    dialog.locator("[name=name]").fill("Over the water")
    dialog.locator("[name=label0]").fill("How wide")
    dialog.locator("[name=low0]").fill("5000")
    dialog.locator("[value=ok]").click()
    expect(dialog.locator(".sentence")).to_contain_text("“How wide” is at first between 5000")
    bench.tab.troubles.clear()
    dialog.locator("[name=low0]").fill("100")
    dialog.locator("[value=ok]").click()
    expect(dialog).to_be_hidden()
    bench.until(lambda: len(bench.served.document().motions) == 2)
    # Under a name that there is, it is asked for twice before that one makes room.
    bench.press("Control+Shift+S")
    dialog.locator("[name=name]").fill("Times come in")
    dialog.locator("[value=ok]").click()
    expect(dialog.locator(".sentence")).to_contain_text("There is a “Times come in” already. Save it again")
    dialog.locator("[name=name]").fill("Over the water")
    dialog.locator("[data-close-dialog]").click()
    assert [each.name for each in bench.served.document().motions] == ["Times come in", "Over the water"]
    motion = bench.served.document().motions[-1]
    assert (motion.name, motion.dials[0].label, motion.dials[0].low) == ("Over the water", "How wide", 100)
    opened(bench, "title")
    expect(bench.tab.locator(KEPT)).to_have_count(2)
    bench.tab.locator(KEPT).first.click()
    bench.settle()
    bench.press("Enter")
    was, now = bench.track("gull", "position"), bench.track("title", "position")
    assert len(now.keys) == len(was.keys)
    moved = [b - a for a, b in zip(now.points[0].spot, now.points[-1].spot, strict=True)]
    assert moved == pytest.approx([b - a for a, b in zip(was.points[0].spot, was.points[-1].spot, strict=True)])


SLOW_POSTS = """() => {
  const quick = window.fetch;
  window.fetch = async (path, how) => {
    if (how?.method === "POST") await new Promise((done) => setTimeout(done, 300));
    return quick(path, how);
  };
}"""


def test_kept_for_all_projects_changed_exported_forgotten_and_taken_in(bench, tmp_path):
    opened(bench, "ferry")
    shipped = bench.tab.locator("li").filter(has_text="Beacon blinks")
    shipped.hover()
    shipped.locator("[data-library=here]").click()
    expect(bench.tab.locator(KEPT)).to_have_count(2)
    own = bench.tab.locator("#drawer li").filter(has=bench.tab.locator("[data-where=project]")).first
    # Once more, one of that name would be lost: also while the first one is still on its way.
    bench.tab.evaluate(SLOW_POSTS)
    own.hover()
    own.locator("[data-library=everywhere]").click()
    own.hover()
    own.locator("[data-library=everywhere]").click()
    expect(bench.tab.locator("#notices")).to_contain_text("There is a “Beacon blinks” already for all projects")
    every = bench.tab.locator("#drawer li").filter(has=bench.tab.locator("[data-where=everywhere]"))
    expect(every).to_have_count(1)
    every.hover()
    every.locator("[data-library=change]").click()
    dialog = bench.tab.locator("#motion-dialog")
    dialog.locator("[name=name]").fill("Lamp blinks")
    dialog.locator("[value=ok]").click()
    expect(every).to_contain_text("Lamp blinks")
    every.hover()
    with bench.tab.expect_download() as got:
        every.locator("[data-library=export]").click()
    file = tmp_path / got.value.suggested_filename
    got.value.save_as(file)
    assert file.name == "Lamp blinks.deftarc-motions"
    assert [each.name for each in read_motions(file.read_bytes())] == ["Lamp blinks"]
    every.hover()
    every.locator("[data-library=forget]").click()
    expect(every).to_have_count(0)
    # Cut in half it is refused with a sentence; whole, it is there again.
    half = tmp_path / "half.deftarc-motions"
    half.write_bytes(file.read_bytes()[: file.stat().st_size // 2])
    everywhere, here = "Import for all projects…", "Import into this project…"
    for path, where, words in (
        (half, everywhere, "cut short"), (half, here, "cut short"),
        (file, everywhere, "Imported for all projects: Lamp blinks."),
        (file, here, "Imported into this project: Lamp blinks."),
    ):  # fmt: skip
        bench.tab.locator("[data-library=import]").click()
        with bench.tab.expect_file_chooser() as chooser:
            bench.tab.get_by_role("menuitem", name=where).click()
        chooser.value.set_files(path)
        expect(bench.tab.locator("#notices")).to_contain_text(words)
    expect(every).to_have_count(1)
    expect(bench.tab.locator("#drawer li").filter(has=bench.tab.locator("[data-where=project]"))).to_have_count(3)
    bench.tab.troubles.clear()


def test_what_cannot_be_laid_says_so_on_its_tile_and_when_it_is_pressed(bench):
    opened(bench, "ferry", "gull", "title")
    # Two layers it moves, and three are selected.
    expect(tile_of(bench, "Tug and tow").locator("small")).to_contain_text("moves 2 layers")
    tile_of(bench, "Tug and tow").click()
    expect(bench.tab.locator("#notices")).to_contain_text("moves 2 layers")
    expect(bench.tab.locator("#trial")).to_be_hidden()


def tile_of(bench, name):
    found = bench.tab.locator(".motion-tile").filter(has_text=name)
    found.scroll_into_view_if_needed()
    expect(found).to_have_class("motion-tile known cannot")
    return found


def test_with_nothing_selected_they_move_a_pennant_and_say_what_to_do(bench):
    bench.press("Escape")
    bench.press("Control+Shift+L")
    expect(bench.tab.locator("#drawer")).to_contain_text("Shown on a pennant")
    own = bench.tab.locator("#drawer li").filter(has=bench.tab.locator("[data-where=project]"))
    own.hover()
    own.locator("[data-library=forget]").click()
    expect(bench.tab.locator("#drawer")).to_contain_text("Nothing of yours yet")
    tile(bench, "Bell swings out").click()
    expect(bench.tab.locator("#notices")).to_contain_text("Select the layers that are to move")
    bench.press("Control+Shift+S")
    expect(bench.tab.locator("#notices")).to_contain_text("Select keys, or layers that move")
