"""Documents evaluated to a FrameTable, and the wire."""

import numpy as np
import pytest

from deftarc.core.base.matrices import compose, from_six, six
from deftarc.core.changes.keys import change_value
from deftarc.core.evaluate import Evaluator, evaluate, frame_times, pose, still
from deftarc.formats.wire import pack, read_table, table_parts, unpack
from tests.scenes import at, gull, layer, numbers, positions, scene


def css_matrix(x, y, degrees, ax, ay, sx, sy, px, py):
    """T · R · K · S · T(−pivot) multiplied out the slow way."""
    t, r = np.eye(3), np.eye(3)
    t[:2, 2] = x, y
    c, s = np.cos(np.deg2rad(degrees)), np.sin(np.deg2rad(degrees))
    r[:2, :2] = [[c, -s], [s, c]]
    k, z, p = np.eye(3), np.diag([sx, sy, 1.0]), np.eye(3)
    k[0, 1], k[1, 0] = np.tan(np.deg2rad(ax)), np.tan(np.deg2rad(ay))
    p[:2, 2] = -px, -py
    return t @ r @ k @ z @ p


def test_a_layers_matrix_is_the_product_in_its_order():
    made = compose(
        np.array([[50.0, 60]]), np.array([30.0]), np.array([[2.0, 0.5]]), np.array([[10.0, -5]]), np.array([[7.0, 8]])
    )[0]
    assert np.allclose(made, css_matrix(50, 60, 30, 10, -5, 2, 0.5, 7, 8))
    assert np.allclose(from_six(six(made)), made)


def test_the_table_has_a_row_a_frame_and_one_where_nothing_changes():
    still_layer = layer("Ferry")
    table = evaluate(scene(gull(), still_layer), frame_times(scene()))
    assert table.leaves[0].layer == "ferry"
    assert table.leaf("gull").matrix.shape == (100, 3, 3)
    assert table.leaf("ferry").matrix.shape == (1, 3, 3)
    assert list(table.leaf("gull").opacity[[0, 9, 10]]) == [0, 0, 1]
    x, y = table.leaf("gull").matrix[25, :2, 2]
    assert (x, y) == pytest.approx((150, 200))


def test_linked_scale_keeps_its_ratio_and_an_area_link_its_area():
    linked = layer("A", scale=numbers((0, 1), (10, 3))).changed(scale_ratio=0.5)
    area = linked.changed(id="b", scale_link="area")
    table = evaluate(scene(linked, area), [at(5)])
    assert np.diag(table.leaf("a").matrix[0])[:2] == pytest.approx([2, 1])
    # What both axes come to together is kept, whatever one of them does.
    assert np.linalg.det(table.leaf("b").matrix[0]) == pytest.approx(0.5)
    assert table.leaf("b").matrix[0, 0, 0] == pytest.approx(2)


def test_a_span_and_hiding_decide_when_a_layer_shows():
    short = layer("A").changed(start=at(10), end=at(20))
    table = evaluate(scene(short, layer("B").changed(hidden=True)), frame_times(scene()))
    assert table.leaf("a").shows == (10, 20)
    assert table.leaf("b").shows == (0, 0)


def test_only_what_an_edit_touched_is_worked_out_again():
    before = scene(gull(), layer("Ferry", rotation=numbers((0, 0), (50, 20))))
    evaluator = Evaluator()
    first = evaluator.table(before, frame_times(before))
    changed = before.with_layer(before.layer("gull").with_track("rotation", numbers((0, 0), (40, 45))))
    second = evaluator.table(changed, frame_times(before))
    assert second.leaf("ferry") is first.leaf("ferry")
    assert np.allclose(second.leaf("gull").matrix, evaluate(changed, frame_times(before)).leaf("gull").matrix)


def test_opacity_never_leaves_its_bounds():
    wild = layer("A", opacity=numbers((0, 0, {"leaving": {"reach": 0.5, "rise": 4}}), (10, 1)))
    opacity = evaluate(scene(wild), frame_times(scene())).leaves[0].opacity
    assert opacity.max() == 1
    assert opacity.min() == 0


def test_a_loose_value_shows_at_its_own_time_only_and_never_in_the_table():
    moving = layer("A", rotation=numbers((0, 0), (20, 100)))
    loose = moving.with_track("rotation", change_value(moving.track("rotation"), at(10), (7.0,), keying=False))
    assert pose(loose, at(10))["rotation"] == (7,)
    assert pose(loose, at(11))["rotation"] == pytest.approx((55,))
    shown = still(scene(loose), at(10)).leaves[0].matrix[0]
    assert np.rad2deg(np.arctan2(shown[1, 0], shown[0, 0])) == pytest.approx(7)
    moved = evaluate(scene(loose), [at(10)]).leaves[0].matrix[0]
    assert np.rad2deg(np.arctan2(moved[1, 0], moved[0, 0])) == pytest.approx(50)


def test_the_wire_gives_back_what_went_in():
    table = evaluate(scene(gull(), layer("Ferry")), frame_times(scene()))
    head, blobs = table_parts(table, 0)
    head, rest = unpack(pack(head, blobs))
    rows = read_table(head, rest)
    assert head["version"] == 5
    assert rows["ferry"].shape == (1, 7)
    assert np.allclose(rows["gull"][:, :6], six(table.leaf("gull").matrix), atol=1e-4)


def test_ten_times_the_keys_give_the_same_motion():
    sparse = positions((0, (0, 0)), (90, (900, 0)))
    dense = positions(*((n, (10 * n, 0)) for n in range(91)))
    times = np.array([at(f) for f in np.linspace(0, 90, 333)], float)
    assert np.allclose(sparse.positions(times), dense.positions(times), atol=1e-6)
