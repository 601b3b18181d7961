"""SVG files read and painted here, beside Chromium's own picture of them."""

import numpy as np
import pytest

from tests.svg_pictures import chromiums, here

SIZE = 120
RED_BLUE = '<stop stop-color="red"/><stop offset="1" stop-color="blue"/>'
CASES = {
    "fill on the root": ('<rect x="10" y="10" width="80" height="60"/>', 'fill="#b23a26" stroke="#14324a" stroke-width="6"'),
    "style on the root": ('<circle cx="60" cy="60" r="40"/>', 'style="fill:#e2a21b;opacity:.5"'),
    "class on the root": ('<style>.w{fill:#1f5c6b}</style><circle cx="60" cy="60" r="40"/>', 'class="w"'),
    "transform on the root": ('<rect x="10" y="10" width="60" height="20"/>', 'transform="rotate(30)"'),
    "one stop": ('<linearGradient id="g"><stop stop-color="#b23a26"/></linearGradient><rect width="90" height="90" fill="url(#g)"/>', ""),
    "gradient of no size": (f'<linearGradient id="g" x2="0">{RED_BLUE}</linearGradient><rect width="90" height="90" fill="url(#g)"/>', ""),
    "radius of nought": (f'<radialGradient id="g" r="0">{RED_BLUE}</radialGradient><rect width="90" height="90" fill="url(#g)"/>', ""),
    "flat box": (f'<linearGradient id="g">{RED_BLUE}</linearGradient><path d="M10 60H110" stroke="url(#g)" stroke-width="30"/><path d="M10 10L20 20" stroke="url(#g)" stroke-width="4"/>', ""),
    "userSpaceOnUse in per cent": (f'<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="25%" x2="75%">{RED_BLUE}</linearGradient><rect width="120" height="60" fill="url(#g)"/>', ""),
    "linearRGB": (f'<linearGradient id="g" color-interpolation="linearRGB">{RED_BLUE}</linearGradient><rect width="120" height="60" fill="url(#g)"/>', ""),
    "currentColor in stops": ('<g color="#1f5c6b"><linearGradient id="g"><stop stop-color="currentColor"/><stop offset="1" stop-color="white"/></linearGradient></g><rect width="120" height="60" fill="url(#g)"/>', ""),
    "gradient turned": (f'<linearGradient id="g" gradientTransform="rotate(40 .5 .5) scale(1 .4)">{RED_BLUE}</linearGradient><rect width="110" height="50" fill="url(#g)" stroke="url(#g)" stroke-width="9"/>', ""),
    "radial stroke": (f'<radialGradient id="g">{RED_BLUE}</radialGradient><ellipse cx="60" cy="60" rx="50" ry="22" fill="none" stroke="url(#g)" stroke-width="12"/>', ""),
    "oklch": ('<rect width="60" height="120" fill="oklch(60% .15 30)"/><rect x="60" width="60" height="120" fill="oklab(70% -.1 .1)"/>', ""),
    "color()": ('<rect width="60" height="120" fill="color(display-p3 .8 .3 .2)"/><rect x="60" width="60" height="120" fill="color(srgb .2 .5 .9)"/>', ""),
    "lab and lch": ('<rect width="60" height="120" fill="lab(50% 20 30)"/><rect x="60" width="60" height="120" fill="lch(60% 40 200)"/>', ""),
    "modern rgb and hsl": ('<rect width="60" height="120" fill="rgb(40 90 120 / 80%)"/><rect x="60" width="60" height="120" fill="hsl(20deg 80% 50%)"/>', ""),
    "named": ('<rect width="60" height="120" fill="rebeccapurple"/><rect x="60" width="60" height="120" fill="lightgoldenrodyellow"/>', ""),
    "a colour not read": ('<rect width="60" height="120" fill="nonsense"/><g fill="#1f5c6b"><rect x="60" width="60" height="120" fill="notacolour"/></g>', ""),
    "an invalid declaration": ('<style>rect{fill:#1f5c6b;fill:wibble}</style><rect width="90" height="90"/><circle r="9" cx="110" cy="9" style="fill:red;fill:12px"/>', ""),
    "var()": ('<style>svg{--ink:#b23a26}rect{fill:var(--ink)}circle{fill:var(--none, #1f5c6b)}path{fill:var(--none)}</style><rect width="50" height="50"/><circle cx="90" cy="30" r="20"/><path d="M0 70h50v40h-50z"/>', ""),
    "nested svg": ('<svg x="20" y="20" width="60" height="40" viewBox="0 0 10 10"><rect width="20" height="10" fill="#b23a26"/></svg>', ""),
    "nested slice": ('<svg width="100" height="50" viewBox="0 0 10 10" preserveAspectRatio="xMidYMin slice"><circle cx="5" cy="5" r="5" fill="#b23a26"/></svg>', ""),
    "symbol": ('<symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="7" fill="#1f5c6b"/></symbol><use href="#s" x="10" y="10" width="60" height="40"/><use href="#s" x="70" y="60" width="40" height="40" fill="red"/>', ""),
    "css transform about its box": ('<style>rect{transform-box:fill-box;transform-origin:center;transform:rotate(30deg) scale(.8)}</style><rect x="20" y="30" width="70" height="40" fill="#b23a26"/>', ""),
    "css transform about a place": ('<rect x="20" y="30" width="40" height="40" fill="#b23a26" style="transform:translate(10px, 20%) rotate(.1turn);transform-origin:60px 60px"/>', ""),
    "non-scaling stroke": ('<g transform="scale(4 1)"><rect x="4" y="10" width="20" height="80" fill="none" stroke="#14324a" stroke-width="6" vector-effect="non-scaling-stroke"/></g>', ""),
    "paint order": ('<circle cx="60" cy="60" r="36" fill="#e2a21b" stroke="#14324a" stroke-width="20" paint-order="stroke"/>', ""),
    "switch": ('<switch><rect width="90" height="90" systemLanguage="fr" fill="red"/><rect width="60" height="60" fill="#1f5c6b"/><rect width="90" height="90"/></switch>', ""),
    "pathLength": ('<path d="M10 60H110" pathLength="10" stroke="#14324a" stroke-width="12" stroke-dasharray="1 1"/>', ""),
    "em units": ('<g font-size="20"><rect x="1em" y=".5em" width="3em" height="2em" stroke-width=".2em" stroke="red"/></g>', ""),
    "geometry in css": ('<style>rect{x:20px;y:30px;width:70px;height:40px;rx:12px}circle{r:18px;cx:90px;cy:90px}path{d:path("M0 0h20v20z")}</style><rect/><circle/><path/>', ""),
    "arc of no radius": ('<path d="M10 10A0 20 0 0 1 100 40L100 100Z" fill="#b23a26"/>', ""),
    "clip path": ('<clipPath id="c"><circle cx="50" cy="50" r="30"/><rect x="60" y="60" width="50" height="50"/></clipPath><g clip-path="url(#c)"><rect width="120" height="120" fill="#1f5c6b"/></g>', ""),
    "clip of a clip": ('<clipPath id="a"><rect width="60" height="120"/></clipPath><clipPath id="c" clip-path="url(#a)"><circle cx="60" cy="60" r="40"/></clipPath><rect width="120" height="120" fill="#b23a26" clip-path="url(#c)"/>', ""),
    "clip by the box": ('<clipPath id="c" clipPathUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".4"/></clipPath><rect x="20" y="10" width="80" height="50" fill="#b23a26" clip-path="url(#c)" transform="rotate(10)"/>', ""),
    "simple mask": ('<mask id="m"><rect width="120" height="120" fill="#fff"/><circle cx="60" cy="60" r="25"/></mask><rect x="10" y="10" width="100" height="100" fill="#1f5c6b" mask="url(#m)"/>', ""),
    "path up to its error": ('<path d="M10 10H100V100 L 3 x Z" fill="#1f5c6b"/>', ""),
    "stated size of another shape": ('<circle cx="50" cy="50" r="50" fill="#1f5c6b"/>', 'width="120" height="60" viewBox="0 0 100 100"'),
}  # fmt: skip


@pytest.mark.parametrize("name", CASES)
def test_a_file_is_painted_as_chromium_paints_it(tab, name):
    body, attributes = CASES[name]
    size = "" if "viewBox" in attributes else f'viewBox="0 0 {SIZE} {SIZE}" width="{SIZE}" height="{SIZE}"'
    text = f'<svg xmlns="http://www.w3.org/2000/svg" {size} {attributes}>{body}</svg>'
    ours, logo = here(text, SIZE)
    apart = np.abs(ours - chromiums(tab, text, SIZE)).max(axis=-1)
    # Edges differ by a pixel's antialiasing, areas by rounding only.
    assert (apart > 40).mean() < 0.008, logo.notes
    assert np.median(apart[apart > 0]) < 20 if (apart > 0).any() else True


def test_rings_are_as_round_as_chromium_has_them(tab):
    """Edge upon edge of arcs: drawn as the cubics that stand for them, one pixel in a hundred was another."""
    ring = "M{0} 128.3a{1} {1} 0 0 1 {1} -{1}a{1} {1} 0 0 1 {1} {1}a{1} {1} 0 0 1 -{1} {1}a{1} {1} 0 0 1 -{1} -{1}z"
    body = "".join(ring.format(round(128.3 - r, 3), r) for r in np.arange(5.37, 126, 5.413).round(3))
    text = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 256 256"><path fill-rule="evenodd" d="{body}"/></svg>'
    ours, _ = here(text, 256)
    assert (np.abs(ours - chromiums(tab, text, 256)).max(axis=-1) > 32).mean() < 0.001
