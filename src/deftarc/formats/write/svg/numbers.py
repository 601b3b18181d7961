"""Numbers and colours as SVG and CSS write them."""

from collections.abc import Sequence

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.matrices import six
from deftarc.core.spaces.outline import NEEDS


def short(value: float, digits: int = 3) -> str:
    """A number to so many decimals, without what says nothing."""
    text = f"{value:.{digits}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def fine(value: float) -> str:
    """A share, or a number whose error is multiplied by what it moves."""
    return short(value, 6)


def row(values: Sequence[float] | Floats, digits: int = 3) -> str:
    return " ".join(short(float(value), digits) for value in values)


def rgb(colour: Sequence[float] | Floats) -> str:
    """Encoded sRGB, its alpha left out; to a fraction of a step, as what goes from one to another passes those."""
    return f"rgb({' '.join(short(float(np.clip(part, 0, 1)) * 255, 2) for part in colour[:3])})"


def matrix_text(matrix: Floats) -> str:
    a, b, c, d, e, f = six(matrix)
    return f"matrix({fine(a)} {fine(b)} {fine(c)} {fine(d)} {short(e)} {short(f)})"


def path_data(verbs: str, points: Floats, digits: int = 3) -> str:
    """Points (P, 2) as path data: each verb with its numbers."""
    out: list[str] = []
    at = 0
    for verb in verbs:
        count = NEEDS[verb]
        out.append(verb + " ".join(f"{short(x, digits)} {short(y, digits)}" for x, y in points[at : at + count]))
        at += count
    return "".join(out)


def quoted(text: str) -> str:
    """Text as it stands in an attribute."""
    told = text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;").replace('"', "&quot;")
    # What XML has no way to say is left out.
    return "".join(each for each in told if each >= " " or each in "\t\n")


__all__ = ["fine", "matrix_text", "path_data", "quoted", "rgb", "row", "short"]
