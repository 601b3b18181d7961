"""Paths that come from elsewhere: drawn, recorded, from outlines and files; samples laid on; axes split and combined."""

import csv
import io

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.e2e.pairing import time_of

ARC = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 400 200"><path d="M0 200C0 0 400 0 400 200" fill="none" stroke="#14324a"/></svg>'


def position(bench, layer="ferry"):
    return bench.track(layer, "position")


@pytest.fixture
def sailing(bench):
    """The ferry's path under the hand."""
    bench.select("ferry")
    bench.press("e")
    return bench


def from_menu(bench, item):
    bench.tab.locator("[data-path=more]").click()
    bench.tab.get_by_role("menuitem", name=item).click()
    bench.settle()


def test_a_path_is_drawn_by_clicks_and_needs_two_keys(sailing):
    sailing.tab.locator("[data-hand=draw]").click()
    for x, y in ((300, 900), (700, 600), (1100, 900), (1500, 700)):
        sailing.tab.mouse.click(*sailing.client(x, y))
        sailing.tab.wait_for_timeout(460)
    sailing.press("Enter")
    track = position(sailing)
    assert np.array(track.spots) == pytest.approx(np.array([[300, 900], [700, 600], [1100, 900], [1500, 700]]), abs=4)
    assert track.key_times == [0, time_of(143)]
    # The two between float, and are rounded with the rest.
    expect(sailing.tab.locator("#overlay .path-float")).to_have_count(2)
    expect(sailing.tab.locator("#lanes .float-bead")).to_have_count(2)
    sailing.tab.locator("[data-path-joint=automatic]").click()
    sailing.settle()
    assert position(sailing).path.bent.all()


def test_the_hand_is_recorded_while_the_scene_plays_and_reduced_within_a_tolerance(sailing):
    sailing.go(10)
    sailing.tab.locator("[data-hand=record]").click()
    sailing.tab.mouse.move(*sailing.client(420, 836))
    sailing.tab.mouse.down()
    expect(sailing.tab.locator("body")).to_have_class("workbench playing")
    # Few steps: on a busy machine the scene goes on to its end while a hand is slow, and ends the recording.
    for n in range(0, 40, 3):
        sailing.tab.mouse.move(*sailing.client(420 + 20 * n, 836 - 300 * np.sin(n / 12)))
        sailing.tab.wait_for_timeout(20)
    sailing.tab.mouse.up()
    panel = sailing.tab.locator("#tolerance")
    expect(panel).to_be_visible()
    told = panel.locator("[data-tolerance-told]")
    expect(told).to_contain_text("off by at most")
    before = position(sailing)
    assert len(before.keys) == 2
    fine = int(told.inner_text().split(" key")[0])
    field = panel.locator("[data-tolerance-value]")
    field.fill("60")
    field.press("Tab")
    sailing.settle()
    coarse = int(told.inner_text().split(" key")[0])
    assert coarse <= fine
    # Only seen so far; kept, it is one step with keys on whole frames from the playhead on.
    assert position(sailing) == before
    panel.locator("[data-tolerance-keep]").click()
    sailing.settle()
    track = position(sailing)
    assert len(track.keys) == coarse
    assert track.key_times[0] == time_of(10)
    assert all(time % time_of(1) == 0 for time in track.key_times)
    assert track.points[0].spot == pytest.approx((420, 836), abs=70)
    assert track.positions(np.linspace(*track.key_times[:: len(track.keys) - 1], 90))[:, 1].min() < 640
    sailing.press("Control+z")
    assert position(sailing) == before


def test_escape_puts_a_recording_away(sailing):
    before = position(sailing)
    sailing.tab.locator("[data-hand=record]").click()
    sailing.tab.mouse.move(*sailing.client(420, 836))
    sailing.tab.mouse.down()
    sailing.tab.mouse.move(*sailing.client(700, 636), steps=6)
    sailing.tab.wait_for_timeout(200)
    sailing.press("Escape")
    sailing.tab.mouse.up()
    sailing.settle()
    expect(sailing.tab.locator("#tolerance")).to_be_hidden()
    assert not sailing.state["playing"]
    assert position(sailing) == before


def test_the_outline_of_another_layer_becomes_the_path(sailing):
    from_menu(sailing, "Take the path of another layer")
    sailing.tab.get_by_role("menuitem", name="Sun").click()
    sailing.settle()
    track = position(sailing)
    assert track.closed
    assert len(track.keys) == 2
    sun = sailing.served.document().scene("crossing").layer("sun")
    middle = sun.position.value_at(0)
    radius = np.hypot(*(track.path.points - middle).T)
    assert np.ptp(radius) < 1


def test_an_svg_files_path_becomes_the_path(sailing):
    sailing.tab.locator("#path-file").set_input_files(
        {"name": "arc.svg", "mimeType": "image/svg+xml", "buffer": ARC.encode()}
    )
    sailing.settle()
    expect(sailing.tab.locator("#overlay .path-line")).to_have_count(1)
    track = position(sailing)
    assert track.spots == ((760, 640), (1160, 640))
    assert track.path.bent.all()
    sailing.tab.locator("#path-file").set_input_files(
        {"name": "no.svg", "mimeType": "image/svg+xml", "buffer": b'<svg xmlns="http://www.w3.org/2000/svg"/>'}
    )
    expect(sailing.tab.locator(".notice")).to_contain_text("no.svg")
    sailing.settle()
    sailing.tab.troubles.clear()
    assert position(sailing) == track


def test_axes_are_split_with_what_it_takes_told_and_combined_again(bench):
    bench.select("gull")
    bench.press("e")
    bench.tab.locator("[data-path-joint=automatic]").click()
    bench.settle()
    before = position(bench, "gull")
    from_menu(bench, "Split into x and y")
    panel = bench.tab.locator("#tolerance")
    told = panel.locator("[data-tolerance-told]")
    expect(told).to_contain_text("keys of x and")
    field = panel.locator("[data-tolerance-value]")
    field.fill("0.1")
    field.press("Tab")
    bench.settle()
    fine = told.inner_text()
    field.fill("5")
    field.press("Tab")
    bench.settle()
    assert told.inner_text() != fine
    field.fill("0.5")
    field.press("Enter")
    bench.settle()
    expect(panel).to_be_hidden()
    gull = bench.served.document().scene("crossing").layer("gull")
    assert gull.axes_split
    # Each axis has its own lane and its own curve.
    names = bench.tab.locator('#lanes .row-line.lane[data-layer="gull"] .lane-name')
    assert set(names.all_inner_texts()) == {"Position x", "Position y", "Rotation", "Scale"}
    bench.go(60)
    shown = bench.shown("position_x"), bench.shown("position_y")
    assert shown == pytest.approx(before.value_at(time_of(60)), abs=0.6)
    # The picture can still be dragged.
    bench.press("m", "!")
    start = bench.client(*before.value_at(time_of(60)))
    bench.drag(start, (start[0] + 30, start[1]))
    dragged = bench.track("gull", "position_x").value_at(time_of(60))
    assert dragged > before.value_at(time_of(60))[0] + 60
    bench.press("!", "Control+z", "e")
    bench.tab.locator("[data-path=combine]").click()
    expect(told).to_contain_text("on a path of")
    panel.locator("[data-tolerance-keep]").click()
    bench.settle()
    after = position(bench, "gull")
    times = np.arange(time_of(8), time_of(118), time_of(1) / 2)
    assert np.hypot(*(after.positions(times) - before.positions(times)).T).max() < 1.1


def test_csv_samples_become_few_keys_and_come_out_as_they_went_in(bench):
    bench.select("gull")
    text = io.StringIO()
    out = csv.writer(text)
    out.writerow(["frame", "seconds", "value", "speed"])
    for n in range(60):
        out.writerow([n, n / 24, 50 + 40 * np.sin(n / 10), 0])
    bench.tab.locator("#figures button.label", has_text="Opacity").click(button="right")
    with bench.tab.expect_file_chooser() as chooser:
        bench.tab.get_by_role("menuitem", name="Lay CSV samples on it").click()
    chooser.value.set_files({"name": "fade.csv", "mimeType": "text/csv", "buffer": text.getvalue().encode()})
    panel = bench.tab.locator("#tolerance")
    expect(panel.locator("[data-tolerance-told]")).to_contain_text("keys for 60 samples")
    panel.locator("[data-tolerance-keep]").click()
    bench.settle()
    track = bench.track("gull", "opacity")
    assert 2 < len(track.keys) < 8
    assert track.value_at(time_of(30)) == pytest.approx(0.5 + 0.4 * np.sin(3), abs=0.011)
    # Bad files are told and change nothing.
    bench.tab.locator("#csv-file").set_input_files(
        {"name": "bad.csv", "mimeType": "text/csv", "buffer": b"seconds,value\n0,1\n1,moss\n"}
    )
    expect(bench.tab.locator(".notice", has_text="Row 3")).to_be_visible()
    bench.settle()
    bench.tab.troubles.clear()
    assert bench.track("gull", "opacity") == track


def test_keys_too_many_are_reduced_and_the_deviation_told(bench):
    bench.select("ferry")
    bench.tab.locator("#figures button.label", has_text="Rotation").click(button="right")
    rows = "seconds,value\n" + "\n".join(f"{n / 24},{n % 2 * 0.2 + n}" for n in range(48))
    with bench.tab.expect_file_chooser() as chooser:
        bench.tab.get_by_role("menuitem", name="Lay CSV samples on it").click()
    chooser.value.set_files({"name": "shake.csv", "mimeType": "text/csv", "buffer": rows.encode()})
    panel = bench.tab.locator("#tolerance")
    field = panel.locator("[data-tolerance-value]")
    expect(field).to_be_visible()
    field.fill("0.05")
    field.press("Enter")
    bench.settle()
    many = bench.track("ferry", "rotation")
    assert len(many.keys) > 10
    # From the property itself, whether the layer has a path or not.
    bench.tab.locator("#figures button.label", has_text="Rotation").click(button="right")
    bench.tab.get_by_role("menuitem", name="Fewer keys").click()
    field.fill("0.3")
    field.press("Enter")
    bench.settle()
    assert len(bench.track("ferry", "rotation").keys) <= 3
