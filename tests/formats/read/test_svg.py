"""SVG logos: what is read, what is named as not shown, what is refused."""

import pytest

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.document.drawing import Group, LinearGradient, RadialGradient, Shape, Solid
from deftarc.formats.read import bring_in
from deftarc.formats.read.svg.reader import read_svg


def svg(body, attributes='viewBox="0 0 200 100"'):
    head = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
    return f"{head} {attributes}>{body}</svg>".encode()


def nodes(body, **more):
    return read_svg(svg(body, **more)).drawing.nodes


def only(body):
    [node] = nodes(body)
    return node


@pytest.mark.parametrize(
    ("told", "bounds"),
    [
        ('<rect x="10" y="20" width="30" height="40"/>', (10, 20, 40, 60)),
        ('<rect width="50%" height="100" rx="10"/>', (0, 0, 100, 100)),
        ('<circle cx="50" cy="50" r="20"/>', (30, 30, 70, 70)),
        ('<ellipse cx="50" cy="50" rx="40" ry="10"/>', (10, 40, 90, 60)),
        ('<line x1="5" y1="6" x2="70" y2="80" stroke="red"/>', (5, 6, 70, 80)),
        ('<polyline points="0,0 10,0 10,30" fill="red"/>', (0, 0, 10, 30)),
        ('<polygon points="0 0 10 0 10 30"/>', (0, 0, 10, 30)),
        ('<path d="M0 0h40v20H0z"/>', (0, 0, 40, 20)),
        ('<path d="M0 50A50 50 0 0 1 100 50"/>', (0, 0, 100, 50)),
        ('<path d="M0 0Q50 100 100 0"/>', (0, 0, 100, 50)),
    ],
)
def test_basic_shapes_and_paths_reach_as_far_as_they_should(told, bounds):
    drawn = read_svg(svg(told)).drawing.bounds()
    # The drawing lies about the middle of its view box.
    assert drawn == pytest.approx([bounds[0] - 100, bounds[1] - 50, bounds[2] - 100, bounds[3] - 50], abs=0.03)


def test_size_and_view_box_give_the_scale():
    read = read_svg(svg('<rect width="200" height="100"/>', 'viewBox="0 0 200 100" width="4in"'))
    assert (read.width, read.height) == (384, 192)
    assert read.drawing.bounds() == pytest.approx((-192, -96, 192, 96))


def test_groups_pass_on_transforms_styles_and_opacity():
    group = only(
        '<g opacity=".5" fill="#0f0" transform="translate(10 0) scale(2)"><rect width="5" height="5"/><rect width="1" height="1"/></g>'
    )
    assert isinstance(group, Group)
    assert group.opacity == 0.5
    assert group.nodes[0].matrix == (2, 0, 0, 2, -90, -50)
    assert group.nodes[1].fill == Solid(colour="#00ff00")


def test_style_attributes_beat_sheets_and_sheets_beat_attributes():
    sheet = "<style>.a{fill:blue;stroke-width:3} #b{fill:yellow} rect{stroke:red!important}</style>"
    first, second, third = nodes(
        sheet + '<rect class="a" fill="green" width="9" height="9"/><rect id="b" class="a" width="9" height="9"/>'
        '<rect id="b" style="fill:#123456;stroke:none" width="9" height="9"/>'
    )
    assert first.fill.colour == "#0000ff"
    assert (first.stroke.paint.colour, first.stroke.width) == ("#ff0000", 3)
    assert second.fill.colour == "#ffff00"
    assert third.fill.colour == "#123456"
    assert third.stroke.paint.colour == "#ff0000"


def test_gradients_follow_their_references_units_and_stops():
    defs = (
        '<linearGradient id="base"><stop offset="10%" stop-color="red"/><stop offset="1" style="stop-color:blue;stop-opacity:.5"/></linearGradient>'
        '<linearGradient id="g" xlink:href="#base" gradientUnits="userSpaceOnUse" x1="5" x2="50" gradientTransform="rotate(90)"/>'
        '<radialGradient id="r" href="#base" fx="30%"/>'
    )
    linear, radial = nodes(
        f'<defs>{defs}</defs><rect fill="url(#g)" width="20" height="10"/><circle fill="url(#r) red" cx="40" cy="40" r="10"/>'
    )
    assert isinstance(linear.fill, LinearGradient)
    assert (linear.fill.x1, linear.fill.x2) == (5, 50)
    assert linear.fill.matrix[1] == pytest.approx(1)
    assert [(s.offset, s.colour) for s in linear.fill.stops] == [(0.1, "#ff0000"), (1, "#0000ff80")]
    assert isinstance(radial.fill, RadialGradient)
    assert radial.fill.matrix == (20, 0, 0, 20, 30, 30)
    assert radial.fill.fx == pytest.approx(0.3)


def test_use_draws_what_it_names_where_it_says():
    made = nodes(
        '<defs><g id="k"><circle r="4" fill="red"/></g></defs><use href="#k" x="10" y="20"/><use xlink:href="#k"/>'
    )
    assert [n.matrix[4:] for n in made] == [(-90, -30), (-100, -50)]


def test_strokes_keep_dash_cap_join_and_rule():
    told = '<path d="M0 0L9 0L9 9Z" fill-rule="evenodd" stroke="#111" stroke-width="2" stroke-dasharray="3" stroke-linecap="round" stroke-linejoin="bevel"/>'
    node = only(told)
    assert isinstance(node, Shape)
    assert (node.rule, node.stroke.cap, node.stroke.join, node.stroke.dash) == ("evenodd", "round", "bevel", (3, 3))


@pytest.mark.parametrize(
    ("body", "said"),
    [
        ("<text>Quay</text>", "text"),
        ('<image href="data:image/png;base64,AA=="/>', "embedded pictures"),
        ('<rect clip-path="circle(4px)" width="5" height="5"/>', "clipping"),
        ('<rect style="filter:url(#f)" width="5" height="5"/>', "filters"),
        ('<pattern id="p"/><rect fill="url(#p)" width="5" height="5"/>', "patterns"),
        ("<style>@media print{rect{fill:red}}</style>", "@media"),
        ('<animate attributeName="x"/>', "animation"),
        ("<blob/>", "blob"),
        (
            '<linearGradient id="s" spreadMethod="repeat"><stop/></linearGradient><rect fill="url(#s)" width="5" height="5"/>',
            "repeated gradients",
        ),
    ],
)
def test_what_is_not_supported_is_named(body, said):
    notes = read_svg(svg(body + '<rect width="9" height="9"/>')).notes
    assert any(said in note for note in notes), notes


BOMB = b'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;">]>' + svg(
    "<text>&b;</text>"
)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "empty"),
        (b"<svg", "broken"),
        (svg("<g>")[:-8], "broken"),
        (b"<html/>", "no SVG"),
        (BOMB, "entities"),
        (svg("<script>alert(1)</script>"), "script"),
        (svg('<rect onload="x()" width="9" height="9"/>'), "script"),
        (svg('<image href="http://quillhaven.example/a.png"/>'), "outside"),
        (svg('<rect style="fill:url(http://quillhaven.example/a)" width="9" height="9"/>'), "outside"),
        (svg("<style>@import 'a.css'</style><rect width='9' height='9'/>"), "outside"),
        (svg("<g>" * 70 + "</g>" * 70), "nests"),
        (svg("<g/>" * (limits.MAX_SVG_NODES + 1)), "more than"),
        (svg('<g id="a"><use href="#a"/><use href="#a"/></g>'), "without end|unfolded"),
        (svg("<defs/>"), "Nothing"),
        (svg('<path d="M0 0L1e30 5"/>'), "further"),
        (b" " * (limits.MAX_SVG_BYTES) + svg(""), "larger"),
    ],
    ids=lambda v: v if isinstance(v, str) else None,
)
def test_broken_and_hostile_files_are_refused_with_a_sentence(data, said):
    with pytest.raises(Refusal, match=said):
        bring_in(data, "logo.svg")


def test_uses_that_multiply_are_stopped():
    levels = "".join(f'<g id="l{n}">' + f'<use href="#l{n + 1}"/>' * 10 + "</g>" for n in range(8))
    with pytest.raises(Refusal, match="unfolded"):
        read_svg(svg(f'<defs>{levels}<rect id="l8" width="1" height="1"/></defs><use href="#l0"/>'))
