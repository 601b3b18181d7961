"""What was delivered, opened by an engine nobody here wrote, and compared with the frames that are painted."""

import io

import numpy as np
from PIL import Image

from deftarc.paint.skia.painter import blank

#: Brings everything that plays in a page to a moment, in seconds.
SEEK = """(time) => {
  for (const each of document.getAnimations()) { each.pause(); each.currentTime = time * 1000; }
  for (const each of document.querySelectorAll("svg")) { each.pauseAnimations(); each.setCurrentTime(time); }
  // A picture taken now is of what was there before.
  return new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => done())));
}"""


def seconds(scene, frame):
    return frame * scene.rate.denominator / scene.rate.numerator


def painted(job, frame, factor=1.0):
    """A frame as it is painted, premultiplied, (height, width, 4)."""
    scene = job.scene
    width, height = (max(1, round(side * factor)) for side in (scene.width, scene.height))
    pixels, surface = blank(width, height)
    table = job.painter.frames(scene, frame, 1)
    job.painter.paint(surface.getCanvas(), table, 0, scene.background, (width / scene.width, height / scene.height))
    surface.flushAndSubmit()
    return pixels.astype(np.int64)


def played(page, path, scene, frames, factor=1.0):
    """Frames of a file that a browser plays, premultiplied."""
    size = {"width": max(1, round(scene.width * factor)), "height": max(1, round(scene.height * factor))}
    page.set_viewport_size(size)
    page.goto(f"file://{path}")
    if str(path).endswith(".html"):
        # Where the scene is clear the page shows a ground of its own.
        page.add_style_tag(content="body{background:none!important}")
    for frame in frames:
        page.evaluate(SEEK, seconds(scene, frame))
        yield frame, pictured(page)


def pictured(page):
    """What a page shows, premultiplied."""
    told = np.array(Image.open(io.BytesIO(page.screenshot(omit_background=True))).convert("RGBA")).astype(np.int64)
    told[..., :3] = (told[..., :3] * told[..., 3:] + 127) // 255
    return told


def apart(one, two):
    """By how much of 255 two pictures differ on the mean, and of how many in a hundred pixels by more than 40."""
    off = np.abs(one - two).max(axis=2)
    return float(off.mean()), float((off > 40).mean() * 100)


__all__ = ["SEEK", "apart", "painted", "pictured", "played", "seconds"]
