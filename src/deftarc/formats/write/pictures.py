"""What cannot be said as drawings, as pictures in turn."""

from dataclasses import dataclass


@dataclass(frozen=True, eq=False)
class Pictures:
    """What cannot be said otherwise, as pictures: each with where it lies in the scene (x, y, width, height) and the
    moments from one up to another at which it shows; ``data`` is WebP or PNG.
    """

    shown: tuple[tuple[bytes, str, tuple[float, float, float, float], tuple[tuple[float, float], ...]], ...]


__all__ = ["Pictures"]
