"""Effects as CSS filter functions, where there are any for them."""

from collections.abc import Callable

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.evaluate import EffectAt
from deftarc.formats.write.svg.numbers import fine, row, short


def beside(*rows: Floats) -> Floats:
    """Numbers over time (F or 1, n) next to each other."""
    count = max(len(each) for each in rows)
    flat = [each.reshape(len(each), -1) for each in rows]
    return np.concatenate([np.broadcast_to(each, (count, each.shape[1])) for each in flat], axis=1)


def functions_of(effect: EffectAt) -> tuple[Floats, Callable[[Floats], str]]:
    """An effect's numbers over time (F or 1, n), and how a row of them is said as filter functions."""
    values = effect.values
    if effect.kind == "blur":
        return beside(values["radius"]), lambda r: f"blur({short(float(r[0]), 4)}px)"
    if effect.kind == "shadow":
        way = np.deg2rad(values["direction"])
        alpha = values["colour"][:, 3:] * values["opacity"]
        rows = beside(values["distance"] * np.cos(way), values["distance"] * np.sin(way), values["softness"],
                            values["colour"][:, :3], alpha)  # fmt: skip
        return (
            rows,
            lambda r: (
                f"drop-shadow({short(r[0])}px {short(r[1])}px {short(r[2])}px "
                f"rgb({row(np.clip(r[3:6], 0, 1) * 255, 2)} / {fine(float(r[6]))}))"
            ),
        )
    names = ("brightness", "contrast", "saturation", "hue", "invert")
    called = ("brightness", "contrast", "saturate", "hue-rotate", "invert")
    return beside(*(values[name] for name in names)), lambda r: " ".join(
        f"{word}({short(float(x), 4)}{'deg' if word == 'hue-rotate' else ''})"
        for word, x in zip(called, r, strict=True)
    )


def sayable(effect: EffectAt) -> bool:
    """Whether an effect can be said as filter functions."""
    values = effect.values
    if effect.kind == "blur":
        return not np.any(values["along"])
    if effect.kind == "shadow":
        return not (np.any(values["only"]) or np.any(values["spread"]))
    return effect.kind == "colour" and not np.any(values["tinted"])


__all__ = ["beside", "functions_of", "sayable"]
