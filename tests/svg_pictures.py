"""SVG files as pictures: as they are read and painted here, and as Chromium shows them. For tests and benchmarks."""

import base64
from io import BytesIO

import numpy as np
from PIL import Image

from deftarc.core.evaluate import FrameTable, Leaf
from deftarc.formats.read.svg.reader import read_svg
from deftarc.paint.skia.painter import SkiaPainter, blank


def here(text, side):
    """The picture as it is read and painted here, on white."""
    logo = read_svg(text.encode())
    pixels, surface = blank(side, side)
    scale = min(side / logo.width, side / logo.height)
    matrix = np.array([[scale, 0, side / 2], [0, scale, side / 2], [0, 0, 1.0]])[None]
    table = FrameTable(np.zeros(1, np.int64), (Leaf("logo", matrix, np.ones(1), (0, 1)),))
    SkiaPainter({"logo": logo.drawing}, lambda name: np.zeros((1, 1, 4), np.uint8)).paint(
        surface.getCanvas(), table, 0, "#ffffff", (1, 1)
    )
    surface.flushAndSubmit()
    return pixels[..., :3].astype(int), logo


def chromiums(page, text, side):
    """Chromium's own picture of the file, contained in a white square."""
    told = base64.b64encode(text.encode()).decode()
    page.set_content(
        f'<body style="margin:0;background:#fff"><img style="width:{side}px;height:{side}px;object-fit:contain;display:block" src="data:image/svg+xml;base64,{told}">'
    )
    page.evaluate("document.images[0].decode()")
    # A page that was never painted has nothing to capture, and on a busy machine says so.
    page.evaluate("() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))")
    shot = page.screenshot(clip={"x": 0, "y": 0, "width": side, "height": side})
    return np.asarray(Image.open(BytesIO(shot)).convert("RGB"), int)
