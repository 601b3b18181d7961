"""Answers under a hand without the lines that stay."""

from html.parser import HTMLParser

import pytest

from deftarc.web.live.lines import SAME, changed_lines, filled, is_whole
from tests.scenes import at

WHOLE = [
    '<path d="M0 0L1 1"/>',
    "<g></g>",
    '<g class="a"><g><path d="M0 0"/></g><title>a &gt; b</title></g>',
    '<input value="4 px" class="">',
    "<p>One <b>thing</b> said</p>",
    SAME,
]
PARTS = [
    "",
    "at",
    "<g>",
    "</g>",
    "<g><path/>",
    "<path/><path/>",
    "<p>One</p><p>another</p>",
    "<p>One</p> more",
    "more <p>One</p>",
    "<input><input>",
    "</g><g>",
]


@pytest.mark.parametrize("line", WHOLE)
def test_one_element_is_whole(line):
    assert is_whole(line)


@pytest.mark.parametrize("line", PARTS)
def test_more_or_less_than_one_element_is_not(line):
    assert not is_whole(line)


class Outline(HTMLParser):
    """The elements of a fragment by where they stand: what a page makes places of."""

    def __init__(self, text):
        super().__init__()
        self.tree, self.open = [], []
        self.feed(text)

    def handle_starttag(self, tag, attributes):
        self.tree.append((len(self.open), tag if dict(attributes).get("same") != "" else "*"))
        if tag not in ("input",):
            self.open.append(tag)

    def handle_startendtag(self, tag, attributes):
        self.tree.append((len(self.open), tag))

    def handle_endtag(self, tag):
        assert self.open.pop() == tag


LONG = '<path class="speed" d="M0 0L100 100L200 200"/>'


def test_a_line_that_stays_is_left_out_and_filled_in_again():
    before = f"<g>\n{LONG}\n  {LONG}\n<text>4</text>\n</g>"
    now = before.replace("4", "5")
    told = changed_lines(now, before)
    assert told == f"<g>\n{SAME}\n  {SAME}\n<text>5</text>\n</g>"
    assert filled(told, before) == now


def test_where_there_are_other_lines_all_is_told():
    before = f"<g>\n{LONG}\n</g>"
    now = f"<g>\n{LONG}\n{LONG}\n</g>"
    assert changed_lines(now, before) == now
    assert changed_lines(now, None) == now


def test_what_is_left_out_of_a_drag_leaves_every_element_in_its_place(page):
    """Each blank stands where the element it stands for stood, in all that a drag draws anew."""
    key = {"layer": "gull", "property": "position", "time": at(50)}
    asked = {"layers": ["gull"], "keys": [key], "path": True}
    whole = dict(page(**asked)[0]["fragments"])
    left_out = 0
    for n in range(1, 6):
        edit = {"kind": "bend_path", "scene": "crossing", "layer": "gull", "points": [1], "part": "point",
                "dx": 3.0 * n, "dy": 1.0, "time": 0}  # fmt: skip
        head, _ = page(**asked, edit=edit)
        for name, html in head["fragments"].items():
            full = filled(html, whole.get(name, ""))
            blanks, now = Outline(html).tree, iter(Outline(full).tree)
            for depth, tag in blanks:
                here = next(now)
                while here[0] > depth:
                    here = next(now)
                assert here[0] == depth
                assert tag in ("*", here[1])
                left_out += tag == "*"
            whole[name] = full
    assert left_out > 10
