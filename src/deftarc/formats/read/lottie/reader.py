"""A Lottie animation as a project: its picture is the first scene, those shown within it are the others."""

from fractions import Fraction
from math import ceil
from typing import Any

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS, FrameRate
from deftarc.core.document import Scene
from deftarc.core.document.marker import Marker, in_order
from deftarc.formats.read.base import BroughtScenes
from deftarc.formats.read.lottie.keys import Clocked, list_of, number_of, text_of
from deftarc.formats.read.lottie.layers import Composition, Shared
from deftarc.formats.read.lottie.older import modern
from deftarc.formats.read.lottie.source import Notes, Told, read_json

#: Frames a second that time is divided by evenly, where those of a file do not.
USUAL = (24, 25, 30, 50, 60, 100, 120)


def read_lottie(data: bytes, name: str = "", prefix: str = "") -> BroughtScenes:
    """Its scenes' ids begin with ``prefix``. Refusal in a sentence where it is no Lottie, or more than can be read."""
    told, beside = read_json(data)
    modern(told)
    rate = number_of(told.get("fr"), 25.0)
    if not 0 < rate <= 1_000:
        raise Refusal("This animation has no frame rate that can be used.")
    first, last = number_of(told.get("ip")), number_of(told.get("op"))
    if last <= first:
        raise Refusal("This animation ends before it begins.")
    notes = Notes()
    assets = {str(each.get("id")): each for each in list_of(told.get("assets")) if isinstance(each, dict)}
    shown = _shown(told, assets, notes)
    if len(shown) + 1 > limits.MAX_SCENES:
        raise Refusal(f"This animation has more than {limits.MAX_SCENES} pictures within one another.")
    sizes = _sizes(told, shown, assets, prefix)
    shared = Shared(notes, assets, beside, sizes, told)
    flicks = round(FLICKS / rate)
    made = _Maker(shared, flicks, _rate_of(rate))
    title = text_of(told.get("nm"), limits.MAX_NAME) or name or "Animation"
    scenes = [made.scene(f"{prefix}main", title, told, first, last, told.get("w"), told.get("h"))]
    for key in shown:
        inside = assets[key]["layers"]
        start, end = 0.0, max([number_of(each.get("op")) for each in inside if isinstance(each, dict)] or [1.0])
        scene, width, height = sizes[key]
        label = text_of(assets[key].get("nm"), limits.MAX_NAME) or text_of(key, 40) or "Within"
        scenes.append(made.scene(scene, label, assets[key], start,
                                 max(end, 1.0), width, height))  # fmt: skip
    return BroughtScenes(title, tuple(scenes), tuple(shared.found.values()), notes.sentences)


class _Maker:
    def __init__(self, shared: Shared, flicks: int, rate: FrameRate) -> None:
        self.shared, self.flicks, self.rate = shared, flicks, rate

    def scene(self, scene_id: str, name: str, told: Told, first: float, last: float, width: Any, height: Any) -> Scene:
        length = round((last - first) * self.flicks)
        frames = max(1, min(limits.MAX_SCENE_FRAMES, ceil(length / self.rate.flicks - 1e-6)))
        wide, tall = (
            max(limits.MIN_SIDE, min(limits.MAX_SIDE, round(number_of(side, 512.0)))) for side in (width, height)
        )
        clocked = Clocked(self.flicks, first, self.shared.notes)
        rows = told["layers"] if isinstance(told.get("layers"), list) else []
        layers = Composition(rows, clocked, frames * self.rate.flicks, self.shared).layers()
        return Scene(
            id=scene_id, name=name, width=wide, height=tall, rate=self.rate, frames=frames, background=None,
            layers=layers, markers=_markers(told, clocked),
        )  # fmt: skip


def _markers(told: Told, clocked: Clocked) -> tuple[Marker, ...]:
    rows = [each for each in list_of(told.get("markers")) if isinstance(each, dict)]
    made = [
        Marker(id=f"m{n}", time=clocked.time(each.get("tm")), name=text_of(each.get("cm"), limits.MAX_NAME))
        for n, each in enumerate(rows[: limits.MAX_MARKERS])
    ]
    return in_order(tuple(made))


def _rate_of(rate: float) -> FrameRate:
    """The frame rate of a file, or the next usual one above where time cannot be divided by it."""
    for told in (Fraction(rate).limit_denominator(1), Fraction(round(rate * 1001 / 1000) * 1000, 1001)):
        if abs(float(told) - rate) < 0.01 and told > 0:
            try:
                return FrameRate(numerator=told.numerator, denominator=told.denominator)
            except ValueError:
                continue
    return FrameRate(numerator=next((each for each in USUAL if each >= rate), 120))


def _shown(told: Told, assets: dict[str, Told], notes: Notes) -> list[str]:
    """Compositions that show, each once, without those that show themselves."""
    out: list[str] = []
    depth: dict[str, int] = {}

    def look(rows: Any, chain: tuple[str, ...]) -> None:
        for each in rows if isinstance(rows, list) else []:
            if not isinstance(each, dict) or each.get("ty") != 0:
                continue
            key = str(each.get("refId"))
            if key not in assets or not isinstance(assets[key].get("layers"), list):
                continue
            if key in chain:
                notes.add("A composition that shows itself shows nothing there")
                each["refId"] = ""
                continue
            if len(chain) >= limits.MAX_SCENE_DEPTH:
                raise Refusal("This animation has pictures within one another deeper than Deft Arc reads.")
            if depth.get(key, -1) < len(chain):
                depth[key] = len(chain)
                if key not in out:
                    out.append(key)
                look(assets[key]["layers"], (*chain, key))

    look(told.get("layers"), ())
    return out


def _sizes(told: Told, shown: list[str], assets: dict[str, Told], prefix: str) -> dict[str, tuple[str, float, float]]:
    """The scene each composition becomes, as large as the layers that show it say."""
    sizes: dict[str, tuple[float, float]] = {}
    for rows in (told.get("layers"), *(assets[key]["layers"] for key in shown)):
        for each in rows if isinstance(rows, list) else []:
            if isinstance(each, dict) and each.get("ty") == 0:
                key = str(each.get("refId"))
                width, height = (number_of(each.get(name), number_of(told.get(name), 512.0)) for name in ("w", "h"))
                known = sizes.get(key, (0.0, 0.0))
                sizes[key] = (max(known[0], width, 2.0), max(known[1], height, 2.0))
    return {key: (f"{prefix}c{n}", *sizes[key]) for n, key in enumerate(shown)}


__all__ = ["read_lottie"]
