"""The history in the workbench: a list of steps by name, any of which is gone to; what was overwritten is there, too."""

from playwright.sync_api import expect


def markers(bench):
    return [m.time // 29_400_000 for m in bench.served.document().scene("crossing").markers]


def mark(bench, *frames):
    for frame in frames:
        bench.go(frame)
        bench.press("'")


def test_any_step_is_gone_to_named_found_and_opened_as_a_copy(bench):
    mark(bench, 10, 20)
    bench.select("gull")
    bench.type("rotation", "12")
    mark(bench, 30)
    bench.press("Control+z", "Control+z", "Control+z")
    mark(bench, 40)
    bench.press("Shift+H")
    drawer = bench.tab.locator("#drawer")
    rows = drawer.locator(".states > li.step")
    expect(rows).to_have_count(3)
    expect(rows.nth(0).locator("[aria-current]")).to_have_count(1)
    # What was undone and overwritten hangs where it was left: its last step brings all three back.
    drawer.locator("summary").click()
    branch = drawer.locator(".branch li.step")
    expect(branch).to_have_count(3)
    branch.nth(0).locator("[data-go-state]").click()
    bench.settle()
    assert markers(bench) == [10, 20, 30]
    assert bench.track("gull", "rotation").loose is not None
    expect(drawer.locator(".branch li.step")).to_have_count(1)
    # By the keyboard: the step below, which undo leads to as well; redo goes on.
    drawer.locator(".states > li.step [data-go-state]").nth(0).focus()
    bench.press("ArrowDown", "ArrowDown", "ArrowDown", "Enter")
    assert markers(bench) == [10, 20]
    bench.press("Escape")
    bench.press("Control+Shift+z")
    assert markers(bench) == [10, 20, 30]
    # Named, it is found by that, here and after a reload.
    bench.press("Shift+H")
    drawer.locator("[data-name-state]").nth(0).click()
    field = bench.tab.locator("#ask-dialog input")
    field.fill("Three bells")
    field.press("Enter")
    bench.settle()
    expect(drawer.locator("[data-state-chip]")).to_have_text("Three bells")
    bench.press("Escape")
    bench.press("Control+z")
    bench.open("/projects/quillhaven")
    bench.press("Shift+H")
    search = drawer.locator("[data-drawer-find]")
    search.fill("bells")
    bench.settle()
    expect(drawer.locator(".states li.step")).to_have_count(1)
    drawer.locator("[data-copy-state]").click()
    expect(bench.tab.locator("#notices")).to_contain_text("project of its own")
    search.fill("rotation")
    bench.settle()
    drawer.locator("[data-go-state]").click()
    bench.settle()
    assert markers(bench) == [10, 20]
    with bench.tab.context.expect_page() as opening:
        bench.tab.locator("#notices").get_by_text("Open it").click()
    expect(opening.value.locator("#marks .pennant")).to_have_count(3)
