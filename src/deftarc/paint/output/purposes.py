"""Where a motion goes, and as what it is best sent there: what a person chooses who does not think in formats."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from deftarc.core.document import Scene
from deftarc.paint.output.movie import is_clear


@dataclass(frozen=True)
class Purpose:
    """``chosen`` says which output a scene leaves as, by its id, and with which options."""

    id: str
    label: str
    icon: str
    about: str
    chosen: Callable[[Scene], tuple[str, dict[str, Any]]]


def fitting(scene: Scene, longer: int) -> float:
    """The largest factor, at most 1, with which no side is longer than so many px."""
    return round(min(1.0, longer / max(scene.width, scene.height)), 4)


def _movie(scene: Scene, quality: str, longer: int) -> tuple[str, dict[str, Any]]:
    return "mp4", {"quality": quality, "scale": fitting(scene, longer)}


def _page(scene: Scene) -> tuple[str, dict[str, Any]]:
    if is_clear(scene.background):
        return "webm", {"quality": "good", "scale": fitting(scene, 1920)}
    return _movie(scene, "good", 1920)


PURPOSES = (
    Purpose("page", "A page on the web", "window", "as small as it is sharp, and clear where nothing is", _page),
    Purpose("chat", "A message", "chat-dots", "plays by itself wherever pictures are shown",
            lambda scene: ("gif", {"scale": fitting(scene, 480), "loops": 0, "dither": "scattered"})),
    Purpose("phone", "A telephone", "phone", "a movie of at most 1920 px, quickly sent",
            lambda scene: _movie(scene, "good", 1920)),
    Purpose("app", "An app", "phone-vibrate", "drawn by its player, sharp at every size and small",
            lambda scene: ("lottie", {"rest": "pictures"})),
    Purpose("screen", "A large screen", "display", "a movie as close to the picture as can be",
            lambda scene: _movie(scene, "high", 16_000)),
    Purpose("program", "Another program", "box-arrow-right", "every frame by its number, clear where nothing is",
            lambda scene: ("zip", {})),
)  # fmt: skip


def purpose_named(name: str) -> Purpose | None:
    return next((each for each in PURPOSES if each.id == name), None)
