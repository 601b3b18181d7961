"""Scenes set up and layers brought in, arranged and grouped, with the real mouse and keyboard."""

import re
from io import BytesIO

import pytest
from PIL import Image
from playwright.sync_api import expect

FRAME = 29_400_000  # flicks at 24 frames a second


def at(frame):
    return frame * FRAME


def layers(bench, scene="crossing"):
    return bench.served.document().scene(scene).layers


def layer(bench, name, scene="crossing"):
    return bench.served.document().scene(scene).layer(name)


def choose(bench, words):
    bench.tab.locator("#menu").get_by_role("menuitem", name=words, exact=False).first.click()
    bench.settle()


def menu(bench, name):
    bench.row(name).click(button="right")
    bench.settle()


def add(bench, what):
    bench.tab.get_by_role("button", name="Add", exact=True).click()
    bench.tab.locator(f'#add-menu [data-add="{what}"]').click()
    bench.settle()


def test_scene_settings_change_size_rate_length_and_background(bench):
    bench.tab.get_by_title("The scene", exact=True).click()
    bench.tab.get_by_role("button", name="Settings of this scene").click()
    dialog = bench.tab.locator("#part-dialog")
    dialog.get_by_label("Name").fill("Crossing wide")
    dialog.get_by_label("Preset").select_option("square")
    assert dialog.get_by_label("Width in px").input_value() == "1080"
    dialog.get_by_label("A new size").select_option("scale")
    dialog.get_by_label("Frame rate").select_option("30")
    dialog.get_by_role("button", name="Change it").click()
    bench.tab.wait_for_function("() => window.deftarc.state.scene.width === 1080")
    bench.settle()
    scene = bench.served.document().scene("crossing")
    assert (scene.name, scene.width, scene.height, scene.rate.label(), scene.frames) == (
        "Crossing wide",
        1080,
        1080,
        "30",
        180,
    )
    assert scene.layer("sun").track("scale").value == pytest.approx(1080 / 1920)
    assert scene.layer("gull").position.key_times[0] == at(8)
    expect(bench.tab.locator("#scene option:checked")).to_have_text("Crossing wide")
    bench.tab.get_by_title("The scene", exact=True).click()
    bench.tab.get_by_role("button", name="Settings of this scene").click()
    dialog.get_by_role("textbox", name="Length").fill("soon")
    dialog.get_by_role("button", name="Change it").click()
    expect(dialog.get_by_text("is no time")).to_be_visible()
    assert dialog.get_by_role("textbox", name="Length").input_value() == "soon"
    bench.tab.troubles.clear()  # the console reports the 400 itself


def test_scenes_are_made_duplicated_and_deleted(bench):
    bench.tab.get_by_title("The scene", exact=True).click()
    bench.tab.get_by_role("button", name="New scene").click()
    bench.tab.locator("#part-dialog").get_by_label("Name").fill("Buoy")
    bench.tab.locator("#part-dialog").get_by_role("button", name="Make it").click()
    bench.tab.locator("#stage-empty").wait_for()
    bench.settle()
    assert [s.name for s in bench.served.document().scenes][-1] == "Buoy"
    for what in ("Duplicate this scene", "Delete this scene"):
        bench.tab.get_by_title("The scene", exact=True).click()
        with bench.tab.expect_navigation():
            bench.tab.get_by_role("button", name=what).click()
        bench.tab.wait_for_function("() => window.deftarc?.state.revision > 0")
        bench.settle()
    assert [s.name for s in bench.served.document().scenes][-1] == "Buoy"


def test_polygon_star_and_carrier_are_added_and_their_looks_changed(bench):
    add(bench, "polygon")
    bench.tab.locator("[data-page=look]").click()
    bench.settle()
    bench.type("sides", "3+2")
    bench.type("roundness", "50")
    art = layers(bench)[0].artwork
    assert (art.sides, art.roundness) == (5, 0.5)
    bench.tab.locator('[data-colour="fill"]').fill("#102030")
    bench.settle()
    assert layers(bench)[0].artwork.fill == "#102030"
    bench.tab.locator('[data-paint-none="stroke"]').click()
    bench.settle()
    bench.tab.locator("[data-fold=outline] > summary").click()
    bench.tab.locator("[data-art=dash]").fill("12 6")
    bench.tab.locator("[data-art=dash]").press("Enter")
    bench.settle()
    bench.tab.locator("[data-art=cap]").select_option("square")
    bench.settle()
    art = layers(bench)[0].artwork
    assert (art.stroke, art.dash, art.cap) == ("#22577a", (12, 6), "square")
    bench.tab.locator('[data-key="outer"]').click()
    bench.settle()
    bench.go(24)
    bench.press("!")
    bench.type("outer", "*=2")
    item = bench.tab.evaluate(
        "(id => { const i = window.deftarc.state.items.get(id); return [i.outline.rows, i.look.bounds.rows]; })",
        layers(bench)[0].id,
    )
    assert item == [144, 144]
    add(bench, "star")
    add(bench, "carrier")
    assert [x.artwork.kind for x in layers(bench)[:3]] == ["carrier", "star", "polygon"]


def test_a_path_is_drawn_with_the_pen_and_its_points_are_edited(bench):
    add(bench, "pen")
    mouse = bench.tab.mouse
    mouse.click(*bench.client(400, 300))
    bench.drag(bench.client(700, 300), bench.client(780, 360))
    mouse.click(*bench.client(1000, 300))
    bench.press("Enter")
    path = layers(bench)[0]
    assert path.artwork.kind == "free"
    rows = [path.artwork.numbers()[k : k + 6] for k in (0, 6, 12)]
    assert rows[1][0] - rows[0][0] == pytest.approx(300, abs=3)
    assert rows[1][4:] == pytest.approx((80, 60), abs=4)
    assert rows[1][2:4] == pytest.approx((-80, -60), abs=4)
    bench.press("p")
    bench.drag(bench.client(1000, 300), bench.client(1000, 400))
    assert layers(bench)[0].artwork.numbers()[13] - rows[2][1] == pytest.approx(100, abs=4)
    bench.drag(bench.client(780, 360), bench.client(780, 300))
    assert layers(bench)[0].artwork.numbers()[11] == pytest.approx(0, abs=4)
    point = bench.tab.locator("#overlay .point").nth(1)
    x, y = bench.middle(point)
    mouse.dblclick(x, y)
    bench.settle()
    assert layers(bench)[0].artwork.numbers()[8:12] == (0, 0, 0, 0)
    x, y = bench.client(550, 300)
    mouse.dblclick(x, y)
    bench.settle()
    assert len(layers(bench)[0].artwork.numbers()) == 24
    bench.press("Delete")
    assert len(layers(bench)[0].artwork.numbers()) == 18
    bench.tab.locator("#overlay .point").first.click(button="right")
    choose(bench, "Close the path")
    assert layers(bench)[0].artwork.contours[0].closed
    bench.drag(bench.client(400, 300), bench.client(500, 300), release=False)
    bench.press("Escape")
    mouse.up()
    bench.settle()
    assert layers(bench)[0].artwork.numbers()[0] == pytest.approx(rows[0][0], abs=0.01)


def test_a_line_is_dragged_and_shift_keeps_it_level(bench):
    add(bench, "line")
    bench.drag(bench.client(300, 500), bench.client(900, 520), hold=["Shift"])
    line = layers(bench)[0]
    assert line.name == "Line"
    numbers = line.artwork.numbers()
    assert numbers[1] == numbers[7]
    assert bench.state["layers"] == [line.id]


def test_text_is_edited_in_place_on_the_picture(bench):
    bench.go("2s")
    bench.tab.mouse.dblclick(*bench.client(300, 175))
    editor = bench.tab.locator(".text-editor")
    editor.wait_for()
    editor.fill("Quillhaven\nFerry")
    bench.settle()
    assert layer(bench, "title").artwork.text == "Quillhaven Ferry"
    editor.press("Control+Enter")
    bench.settle()
    assert layer(bench, "title").artwork.text == "Quillhaven\nFerry"
    bench.tab.locator("[data-page=look]").click()
    bench.settle()
    bench.type("letter_spacing", "20")
    bench.tab.locator("[data-art=align]").select_option("end")
    bench.settle()
    art = layer(bench, "title").artwork
    assert (art.letter_spacing, art.align) == (0.2, "end")


def test_a_font_is_brought_in_checked_and_used(bench, tmp_path):
    from importlib.resources import files

    face = files("deftarc") / "fonts" / "files" / "young-serif-latin-400-normal.woff2"
    (tmp_path / "Harbour.woff2").write_bytes(face.read_bytes())
    (tmp_path / "broken.ttf").write_bytes(b"\0\1\0\0 nothing")
    bench.tab.locator("#font-file").set_input_files(str(tmp_path / "Harbour.woff2"))
    bench.tab.get_by_text("can be chosen for every text").wait_for()
    bench.settle()
    _, font = bench.served.document().fonts
    bench.select("title")
    bench.tab.locator("[data-page=look]").click()
    bench.settle()
    bench.tab.locator("[data-art=font]").select_option(font.id)
    bench.settle()
    assert layer(bench, "title").artwork.font == font.id
    bench.tab.locator("#font-file").set_input_files(str(tmp_path / "broken.ttf"))
    bench.tab.get_by_text("This font is damaged").wait_for()
    bench.tab.troubles.clear()  # the console reports the 400 itself


def test_a_layer_is_carried_by_choice_and_by_dropping_its_row_and_rings_are_refused(bench):
    bench.select("gull")
    before = bench.track("gull", "position").value_at(0)
    bench.tab.locator("[data-parent]").focus()
    bench.tab.locator("[data-parent]").select_option("ferry")
    bench.settle()
    assert layer(bench, "gull").parent == "ferry"
    assert bench.track("gull", "position").value_at(0) != before
    name = bench.row("sun")
    name.scroll_into_view_if_needed()
    bench.settle()
    target = bench.middle(bench.tab.locator("#layer-ferry"))
    box = bench.tab.locator("#layer-ferry").bounding_box()
    bench.drag(bench.middle(name), (box["x"] + 70, target[1]), steps=8)
    assert layer(bench, "sun").parent == "ferry"
    bench.select("ferry")
    bench.tab.evaluate(
        "([id, parent]) => window.deftarc.attempt({ kind: 'set_parent', scene: 'crossing', layers: [id], parent, time: 0 })",
        ["ferry", "sun"],
    )
    bench.tab.get_by_text("carry each other in a ring").wait_for()


def test_layers_are_grouped_folded_moved_as_one_and_ungrouped(bench):
    bench.select("gull")
    bench.tab.locator('[data-select="title"]').click(modifiers=["Control"])
    bench.settle()
    bench.press("Control+g")
    group = layers(bench)[0]
    assert group.group
    assert [x.id for x in layers(bench)[1:3]] == ["gull", "title"]
    bench.tab.locator(f'[data-fold="{group.id}"]').click()
    bench.settle()
    expect(bench.tab.locator("#layer-gull")).to_have_count(0)
    dot = bench.tab.locator(f"#layer-{group.id} .summary").first
    expect(dot.locator("title")).to_contain_text("A drag moves them all")
    x, y = bench.middle(dot)
    bench.drag((x, y), (x + 30, y), hold=["Alt"])
    moved = bench.track("gull", "position").key_times[0]
    assert moved > at(8)
    assert bench.track("gull", "rotation").key_times[0] == moved
    bench.go(20)
    bench.tab.mouse.click(*bench.client(*bench.track("gull", "position").value_at(at(20))))
    bench.settle()
    bench.tab.locator(f'[data-select="{group.id}"]').click()
    bench.settle()
    bench.press("Control+Shift+g")
    assert not any(x.group for x in layers(bench))


def test_rows_are_reordered_by_drag_and_by_keyboard(bench):
    first = [x.id for x in layers(bench)]
    start = bench.middle(bench.tab.locator(f'[data-select="{first[1]}"]'))
    head = bench.tab.locator(f"#layer-{first[0]}").bounding_box()
    bench.drag(start, (start[0], head["y"] + 3), steps=8)
    assert [x.id for x in layers(bench)][:2] == [first[1], first[0]]
    bench.select(first[1])
    bench.press("Control+ArrowDown")
    assert [x.id for x in layers(bench)][:2] == first[:2]
    bench.press("PageDown")
    assert bench.state["layers"] == [first[2]]


def test_tag_reference_isolate_linked_copy_and_the_shelf(bench):
    menu(bench, "sun")
    choose(bench, "Tag")
    choose(bench, "Pine")
    menu(bench, "sun")
    choose(bench, "Make it a reference")
    assert (layer(bench, "sun").tag, layer(bench, "sun").reference) == ("pine", True)
    bench.press("i")
    assert bench.tab.evaluate("[...window.deftarc.state.isolated]") == ["sun"]
    bench.tab.evaluate("document.getElementById('lanes-scroll').scrollTop = 0")
    expect(bench.tab.locator("#layer-gull")).to_have_class(re.compile(" away$"))
    bench.press("i")
    bench.press("Control+Shift+d")
    copy = bench.state["layers"][0]
    bench.tab.locator("[data-page=look]").click()
    bench.settle()
    bench.tab.locator('[data-colour="fill"]').fill("#445566")
    bench.settle()
    assert (layer(bench, copy).artwork.fill, layer(bench, "sun").artwork.fill) == ("#445566", "#445566")
    menu(bench, copy)
    choose(bench, "Unlink from its copies")
    bench.press("Delete")
    add(bench, "shelf")
    bench.tab.locator("[data-shelf='0']").click()
    bench.settle()
    bench.tab.wait_for_function("() => window.deftarc.state.layers.length === 1")
    assert layers(bench)[0].artwork.fill == "#445566"


def test_artwork_is_replaced_taken_apart_and_sized(bench, tmp_path):
    out = BytesIO()
    Image.new("RGBA", (400, 100), (9, 90, 90, 255)).save(out, "PNG")
    (tmp_path / "sail.png").write_bytes(out.getvalue())
    keys = bench.track("gull", "position").key_times
    menu(bench, "gull")
    with bench.tab.expect_file_chooser() as waiting:
        choose(bench, "Replace its artwork by a file")
    waiting.value.set_files(str(tmp_path / "sail.png"))
    bench.tab.wait_for_function("() => window.deftarc.state.info.get('gull').kind === 'picture'")
    assert bench.track("gull", "position").key_times == keys
    menu(bench, "gull")
    choose(bench, "Fill the frame")
    bench.tab.wait_for_function("() => window.deftarc.state.history.undo?.startsWith('Scale')")
    menu(bench, "ferry")
    choose(bench, "Take apart into layers")
    bench.tab.wait_for_function("() => window.deftarc.state.info.get('ferry').group")
    assert layer(bench, "ferry").position.key_times == [0, at(143)]
    assert any(x.parent == "ferry" and x.artwork.kind == "free" for x in layers(bench))


def test_spans_are_dragged_trimmed_moved_alone_and_stretched_over_their_keys(bench):
    bench.select("gull")
    px = bench.tab.evaluate("(f => f.width / (f.end - f.start))(window.deftarc.state.axis)") * FRAME
    row = bench.tab.locator("#layer-gull")
    end = bench.middle(row.locator('[data-span="end"]'))
    bench.drag(end, (end[0] - 60 * px, end[1]), hold=["Alt"])
    trimmed = layer(bench, "gull").end
    assert trimmed == pytest.approx(at(84), abs=at(1))
    expect(row.locator("[data-cover]")).to_be_visible()
    row.locator("[data-cover]").click()
    bench.tab.get_by_role("menuitem", name="Stretch its span over these keys").click()
    bench.settle()
    assert layer(bench, "gull").end == at(119)
    grip = bench.middle(row.locator("[data-span=window]"))
    bench.drag(grip, (grip[0] + 10 * px, grip[1]), hold=["Alt"])
    assert layer(bench, "gull").start == at(10)
    assert bench.track("gull", "position").key_times[0] == at(8)
    x, y = bench.middle(row.locator("[data-span=window]"))
    bench.drag((x - 60, y), (x - 60 + 5 * px, y), hold=["Alt"])
    assert layer(bench, "gull").start == at(15)
    assert bench.track("gull", "position").key_times[0] == at(13)
    bench.tab.locator("[data-span-start]").fill("0:01:00")
    bench.tab.locator("[data-span-start]").press("Enter")
    bench.settle()
    assert layer(bench, "gull").start == at(24)


def test_a_layer_is_inserted_at_the_playhead_and_what_is_pushed_out_is_told(bench):
    bench.select("gull")
    bench.go(20)
    bench.press("Control+[")
    assert layer(bench, "gull").start == at(20)
    bench.go(130)
    bench.press("Control+]")
    assert layer(bench, "gull").end == at(130)
    bench.go(10)
    bench.tab.get_by_role("button", name="Add", exact=True).click()
    bench.tab.locator("#place").select_option("insert")
    bench.tab.locator("#place-length").fill("1s")
    bench.tab.locator('#add-menu [data-add="rectangle"]').click()
    bench.tab.get_by_text("The insert pushed Gull beyond").wait_for()
    bench.settle()
    assert (layers(bench)[0].start, layers(bench)[0].end) == (at(10), at(34))
    assert layer(bench, "gull").start == at(44)
    bench.tab.get_by_role("button", name="Make the scene long enough").click()
    bench.settle()
    assert bench.served.document().scene("crossing").frames == 154
