"""A run of frames painted one after the other, some ahead of whoever takes them."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from queue import Queue
from threading import Thread
from typing import Any

import numpy as np

from deftarc.core.document import Scene
from deftarc.paint.skia.drawings import Pixels
from deftarc.paint.skia.painter import SkiaPainter, blank

#: Frames evaluated at a time, so that a long scene needs little memory.
STRETCH = 240
#: Frames painted ahead of who takes them.
AHEAD = 4


@dataclass(frozen=True)
class Size:
    """How large a scene is painted: ``width`` × ``height`` px of an array that may have more beyond the picture."""

    width: int
    height: int
    #: Of the array: what lies beyond is filled with the picture's last column and row.
    across: int
    down: int

    @classmethod
    def of(cls, scene: Scene, scale: float = 1.0, even: bool = False) -> "Size":
        """A scene's size by a factor, in whole px, at least one; ``even`` pads odd sides by one."""
        width, height = (max(1, round(side * scale)) for side in (scene.width, scene.height))
        return cls(width, height, width + width % 2 * even, height + height % 2 * even)

    @property
    def padded(self) -> bool:
        return (self.width, self.height) != (self.across, self.down)

    def factors(self, scene: Scene) -> tuple[float, float]:
        return self.width / scene.width, self.height / scene.height


def padded(pixels: Pixels, width: int, height: int) -> None:
    """Fills what lies beyond a picture of width × height px in a larger array with its last column and row."""
    pixels[:height, width:] = pixels[:height, width - 1 : width]
    pixels[height:] = pixels[height - 1 : height]


class _Ahead:
    """Paints on a thread of its own while frames are taken."""

    def __init__(
        self, scene: Scene, painter: SkiaPainter, first: int, count: int, size: Size, background: str | None
    ) -> None:
        self.scene, self.painter, self.first, self.count = scene, painter, first, count
        self.size, self.background = size, background
        self.stopped = False
        self.buffers: Queue[tuple[Pixels, Any]] = Queue()
        for _ in range(AHEAD):
            self.buffers.put(blank(size.across, size.down))
        self.ready: Queue[tuple[Pixels, Any] | BaseException | None] = Queue()
        self.thread = Thread(target=self._paint, name="painter", daemon=True)
        self.thread.start()

    def _paint(self) -> None:
        try:
            size, factors = self.size, self.size.factors(self.scene)
            for first in range(self.first, self.first + self.count, STRETCH):
                count = min(STRETCH, self.first + self.count - first)
                table = self.painter.frames(self.scene, first, count)
                for row in range(count):
                    pixels, surface = self.buffers.get()
                    if self.stopped:
                        return
                    self.painter.paint(surface.getCanvas(), table, row, self.background, factors)
                    surface.flushAndSubmit()
                    if size.padded:
                        padded(pixels, size.width, size.height)
                    self.ready.put((pixels, surface))
            self.ready.put(None)
        except BaseException as error:
            self.ready.put(error)

    def frames(self) -> Iterator[Pixels]:
        """Premultiplied RGBA, (down, across, 4) each, good until the next is asked for."""
        while (got := self.ready.get()) is not None:
            if isinstance(got, BaseException):
                raise got
            yield got[0]
            self.buffers.put(got)

    def close(self) -> None:
        self.stopped = True
        self.buffers.put(blank(2, 2))
        self.thread.join()


@contextmanager
def painted(
    scene: Scene, painter: SkiaPainter, first: int, count: int, size: Size, background: str | None
) -> Iterator[Iterator[Pixels]]:
    """Frames ``first`` on, ``count`` of them, on a background, None for none: premultiplied RGBA each."""
    ahead = _Ahead(scene, painter, first, count, size, background)
    try:
        yield ahead.frames()
    finally:
        ahead.close()


def bled(pixels: Pixels) -> Pixels:
    """Straight RGBA whose clear pixels have the colours of what is next to them, so that a codec that keeps colours at
    half the size mixes no black into soft edges. Sides are even.
    """
    height, width = pixels.shape[:2]
    blocks = pixels.reshape(height // 2, 2, width // 2, 2, 4)
    alpha = blocks[..., 3].astype(np.uint32)
    weight = alpha.sum(axis=(1, 3))
    mixed = (weight > 0) & (alpha.min(axis=(1, 3)) == 0)
    if not mixed.any():
        return pixels
    out = pixels.copy()
    mean = (blocks[..., :3] * alpha[..., None]).sum(axis=(1, 3)) // np.maximum(weight, 1)[..., None]
    spread = np.repeat(np.repeat(mean.astype(np.uint8), 2, axis=0), 2, axis=1)
    clear = np.repeat(np.repeat(mixed, 2, axis=0), 2, axis=1) & (pixels[..., 3] == 0)
    out[clear, :3] = spread[clear]
    return out
