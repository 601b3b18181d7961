"""Judges of Lottie: the published schema, and three players nobody here wrote."""

import io
import json
from functools import cache
from pathlib import Path

import jsonschema
import numpy as np
import thorvg_python as thorvg
from PIL import Image
from rlottie_python import LottieAnimation

PACKAGES = Path(__file__).parent.parent / "node_modules"
PAGE = (
    "<!doctype html><style>html,body{{margin:0;background:none}}#it{{width:{0}px;height:{1}px}}"
    "svg{{display:block}}</style><div id=it></div>"
)
LOAD = """(told) => new Promise((done, failed) => {
  window.playing = lottie.loadAnimation({
    container: document.getElementById("it"), renderer: "svg", loop: false, autoplay: false, animationData: told,
    rendererSettings: { preserveAspectRatio: "none" },
  });
  for (const name of ["error", "configError", "renderFrameError", "data_failed"])
    playing.addEventListener(name, (each) => failed(each.nativeError ?? new Error(name)));
  if (playing.isLoaded) done();
  else playing.addEventListener("DOMLoaded", () => done());
})"""


@cache
def _checker():
    schema = json.loads((PACKAGES / "@lottie-animation-community/lottie-specs/src/data/lottie.schema.json").read_text())
    return jsonschema.validators.validator_for(schema)(schema)


def faults(told):
    """What of an animation the published schema does not allow."""
    return [f"{each.message[:200]} at {list(each.absolute_path)}" for each in _checker().iter_errors(told)]


def in_page(page, told, size, frames):
    """Frames as a page's player shows them, premultiplied."""
    page.set_viewport_size({"width": size[0], "height": size[1]})
    page.set_content(PAGE.format(*size))
    page.add_script_tag(path=PACKAGES / "lottie-web/build/player/lottie_svg.js")
    page.evaluate(LOAD, told)
    for frame in frames:
        page.evaluate("(frame) => playing.goToAndStop(frame, true)", frame)
        seen = np.array(Image.open(io.BytesIO(page.screenshot(omit_background=True))).convert("RGBA")).astype(np.int64)
        seen[..., :3] = (seen[..., :3] * seen[..., 3:] + 127) // 255
        yield frame, seen


def lean(told, size, frames):
    """Frames as a player shows them that knows little of the format, premultiplied: (F, height, width, 4)."""
    with LottieAnimation.from_data(json.dumps(told)) as playing:
        for frame in frames:
            picture = playing.render_pillow_frame(frame, width=size[0], height=size[1])
            seen = np.array(picture.convert("RGBA")).astype(np.int64)
            if any(layer["nm"] == "Background" for layer in told["layers"]):
                # It loses one of 255 of all there is with each picture that it puts on another.
                seen = seen * 255 // np.maximum(seen[..., 3:], 1)
            yield frame, seen


def alone(told, size, frames):
    """Frames as a player without any page shows them, premultiplied."""
    engine = thorvg.Engine()
    canvas = thorvg.SwCanvas(engine)
    canvas.set_target(*size)
    playing = thorvg.LottieAnimation(engine)
    picture = playing.get_picture()
    picture.load_data(json.dumps(told).encode(), "lottie", None, True)
    picture.set_size(*size)
    canvas.add(picture)
    for frame in frames:
        playing.set_frame(frame)
        canvas.update()
        canvas.draw(True)
        canvas.sync()
        yield frame, np.array(canvas.get_pillow().convert("RGBA")).astype(np.int64)


__all__ = ["alone", "faults", "in_page", "lean"]
