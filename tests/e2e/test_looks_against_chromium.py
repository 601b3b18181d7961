"""Skia's pictures of looks against what Chromium makes of the same in its own CSS and SVG."""

from io import BytesIO

import numpy as np
import pytest
from PIL import Image

from deftarc.core.document.artwork import Contour, Ellipse, FreePath, Rectangle, Star
from deftarc.core.document.blend import BLENDS
from deftarc.core.evaluate import evaluate
from deftarc.paint.skia.painter import blank
from deftarc.paint.skia.scene import painter_for
from tests.looks import effect, round_mask, square_mask
from tests.scenes import layer, positions, scene

STAR = Star(spikes=5, outer=90, inner=42, fill="#e2a21b")
SHAPE = '<path fill="#e2a21b" transform="translate(160 120)" d="{}"/>'
PLACE = {"position": positions(value=(160, 120))}


def ours(served, *layers):
    materials = served.shop.materials
    made = scene(*layers, width=320, height=240, background="#f8efd8")
    pixels, surface = blank(320, 240)
    painter_for(made, materials).paint(surface.getCanvas(), evaluate(made, [0]), 0, made.background, (1, 1))
    surface.flushAndSubmit()
    return pixels[..., :3].astype(int)


def theirs(tab, body):
    tab.set_content(
        f'<body style="margin:0"><svg width="320" height="240" style="display:block;background:#f8efd8;isolation:isolate">{body}</svg>'
    )
    shot = tab.locator("svg").first.screenshot()
    return np.asarray(Image.open(BytesIO(shot)).convert("RGB"), int)


def outline(art):
    return art.resting().data()


def close(tab, served, layers, body):
    apart = np.abs(ours(served, *layers) - theirs(tab, body)).max(axis=-1)
    assert apart.mean() <= 1
    assert (apart > 24).mean() < 0.01


@pytest.mark.parametrize(
    ("fields", "css"),
    [
        ({"kind": "blur", "radius": 9}, "blur(9px)"),
        ({"kind": "shadow", "distance": 20, "direction": 0, "softness": 6, "colour": "#14324a", "opacity": 0.7}, "drop-shadow(20px 0 6px rgb(20 50 74 / 0.7))"),
        ({"kind": "colour", "brightness": 1.3}, "brightness(1.3)"),
        ({"kind": "colour", "contrast": 0.6}, "contrast(0.6)"),
        ({"kind": "colour", "saturation": 0.3}, "saturate(0.3)"),
        ({"kind": "colour", "hue": 130}, "hue-rotate(130deg)"),
        ({"kind": "colour", "invert": 0.8}, "invert(0.8)"),
        ({"kind": "colour", "brightness": 1.2, "contrast": 1.4, "saturation": 1.5, "hue": -40}, "brightness(1.2) contrast(1.4) saturate(1.5) hue-rotate(-40deg)"),
    ],
)  # fmt: skip
def test_effects_are_what_css_filters_are(tab, served, fields, css):
    body = f'<g style="filter:{css}">{SHAPE.format(outline(STAR))}</g>'
    close(tab, served, [layer("Star", STAR, **PLACE).changed(effects=(effect(**fields),))], body)


@pytest.mark.parametrize("kind", ["clip", "feather", "inverted", "subtract"])
def test_masks_are_what_svg_makes_of_them(tab, served, kind):
    square, soft = square_mask(half=60), round_mask(radius=60, feather=10)
    box = f'<path d="{outline(FreePath(contours=square.contours))}" fill="#fff" {{}}/>'
    disc = f'<path d="{outline(FreePath(contours=soft.contours))}" fill="{{}}" style="filter:blur(10px)"/>'
    all_of_it = '<rect x="-200" y="-200" width="400" height="400" fill="#fff"/>'
    masks, picture = {
        "clip": ((square,), box.format("")),
        "feather": ((soft,), disc.format("#fff")),
        "inverted": ((soft.changed(inverted=True),), all_of_it + disc.format("#000")),
        "subtract": ((square, soft.changed(mode="subtract")), box.format("") + disc.format("#000")),
    }[kind]
    where = 'x="-200" y="-200" width="400" height="400" maskUnits="userSpaceOnUse"'
    body = (
        f'<mask id="m" {where}>{picture}</mask><g transform="translate(160 120)"><g mask="url(#m)">'
        f'<path fill="#e2a21b" d="{outline(STAR)}"/></g></g>'
    )
    close(tab, served, [layer("Star", STAR, **PLACE).changed(masks=masks)], body)


@pytest.mark.parametrize(("by", "inverted"), [("alpha", False), ("luma", False), ("luma", True)])
def test_mattes_are_what_css_masks_are(tab, served, by, inverted):
    from deftarc.core.document.matte import Matte

    lens = Ellipse(width=150, height=110, fill="#8a4fd0")
    through = layer("Lens", lens, position=positions(value=(190, 120))).changed(hidden=True)
    sign = layer("Star", STAR, **PLACE).changed(matte=Matte(layer="lens", by=by, inverted=inverted))
    shape = f'<path transform="translate(190 120)" fill="#8a4fd0" d="{outline(lens)}"/>'
    if inverted:
        # What a mask hides is what is light in it: all, less the lens as light as it is.
        shape = f'<rect width="320" height="240" fill="#fff"/><g style="filter:invert(1)">{shape}</g>'
    body = f'<mask id="m" style="mask-type:{"alpha" if by == "alpha" else "luminance"}" maskUnits="userSpaceOnUse" x="0" y="0" width="320" height="240">{shape}</mask><g mask="url(#m)">{SHAPE.format(outline(STAR))}</g>'
    close(tab, served, [sign, through], body)


@pytest.mark.parametrize("share", [(0.0, 0.3), (0.25, 0.8), (0.5, 0.55)])
@pytest.mark.parametrize("shape", ["square", "disc", "wave"])
def test_drawn_parts_are_what_dashes_of_that_length_are(tab, served, shape, share):
    pens = {"fill": None, "stroke": "#14324a", "stroke_width": 9, "cap": "butt"}
    wave = FreePath(
        contours=(Contour(points=((-110, 0, 0, 0, 60, -120), (0, 20, -50, 60, 40, -50), (110, -30, -30, 90, 0, 0))),),
        **pens,
    )
    art = {
        "square": Rectangle(width=150, height=110, **pens),
        "disc": Ellipse(width=170, height=120, **pens),
        "wave": wave,
    }[shape]
    first, last = share
    dashes = f'pathLength="1" stroke-dasharray="{last - first} 2" stroke-dashoffset="{-first}"'
    body = f'<path transform="translate(160 120)" fill="none" stroke="#14324a" stroke-width="9" stroke-linejoin="round" {dashes} d="{outline(art)}"/>'
    close(tab, served, [layer("Line", art.changed(drawn_from=first, drawn_to=last), **PLACE)], body)


@pytest.mark.parametrize("blend", list(BLENDS))
def test_blending_is_what_css_blending_is(tab, served, blend):
    under = Ellipse(width=190, height=150, fill="#2f6fb0")
    body = (
        f'<path transform="translate(120 120)" fill="#2f6fb0" d="{outline(under)}"/>'
        f'<g style="mix-blend-mode:{blend}">{SHAPE.format(outline(STAR))}</g>'
    )
    over = layer("Star", STAR, **PLACE).changed(blend=blend)
    close(tab, served, [over, layer("Under", under, position=positions(value=(120, 120)))], body)
