"""Layers that are shown through others which are shown through others: right, and no more work than there are layers."""

import numpy as np

from deftarc.core.document import Rectangle
from deftarc.core.document.matte import Matte
from deftarc.formats.materials import Materials
from deftarc.paint.skia.painter import SkiaPainter, blank
from deftarc.paint.skia.scene import painter_for
from tests.scenes import layer, positions, scene

MATERIALS = Materials(lambda name: b"")


def chain(count, upside_down=False, width=100, **how):
    """Squares side by side, each 8 px right of the one it is shown through."""
    row = [
        layer(f"L{n}", Rectangle(width=width, height=60, fill="#ffffff"), position=positions(value=(60 + 8 * n, 50)))
        for n in range(count)
    ]
    row = [
        each.changed(matte=Matte(layer=row[n + 1].id, **how)) if n + 1 < count else each for n, each in enumerate(row)
    ]
    return scene(*(row[::-1] if upside_down else row), width=240, height=100, background=None)


def painted(made, monkeypatch=None):
    """The picture's alpha at (240, 100), and how often a layer was painted."""
    painter, calls = painter_for(made, MATERIALS), []
    if monkeypatch is not None:
        paint = SkiaPainter._branch
        monkeypatch.setattr(SkiaPainter, "_branch", lambda *what: calls.append(1) or paint(*what))
    pixels, surface = blank(240, 100)
    painter.paint(surface.getCanvas(), painter.frames(made, 0, 1), 0, None, (1, 1))
    surface.flushAndSubmit()
    return pixels[..., 3].copy(), len(calls)


def test_what_shows_lies_in_all_it_is_shown_through():
    made = chain(4)
    for n in range(4):
        alone = made.changed(layers=tuple(each.changed(hidden=each.id != f"l{n}") for each in made.layers))
        shown = np.flatnonzero(painted(alone)[0][50] > 127)
        # From the left edge of the last one to the right edge of its own.
        assert (shown[0], shown[-1]) == (34, 60 + 8 * n + 49)


def test_an_inverted_one_cuts_what_the_rest_leaves_of_it():
    made = chain(3, inverted=True)
    alone = made.changed(layers=tuple(each.changed(hidden=each.id != "l0") for each in made.layers))
    shown = np.flatnonzero(painted(alone)[0][50] > 127)
    # The second is cut by the third down to its left edge, and that is cut out of the first.
    assert shown.tolist() == [*range(10, 18), *range(26, 110)]


def test_a_chain_takes_as_much_work_as_it_has_layers(monkeypatch):
    for upside_down in (False, True):
        with monkeypatch.context() as patch:
            _, calls = painted(chain(150, upside_down, 200), patch)
        assert calls <= 2 * 150
