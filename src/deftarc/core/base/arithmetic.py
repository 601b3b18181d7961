"""Numbers as people type them: `960/2`, `+=40`, `*=1.5`, `-12.5 %`, `1.25turn`."""

import ast
import math
import operator
import re
from collections.abc import Callable

import numpy as np

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal

_OPERATORS: dict[type[ast.operator], Callable[[float, float], float]] = {
    ast.Add: operator.add, ast.Sub: operator.sub, ast.Mult: operator.mul, ast.Div: operator.truediv,
}  # fmt: skip
_PLAIN = re.compile(r"[-+]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:[eE][-+]?[0-9]+)?")


def plain_number(text: str) -> float:
    """A decimal number as files and standards write it; ValueError for all else, names and digits parted by _ too."""
    if not _PLAIN.fullmatch(text):
        raise ValueError(f"no number: {text[:20]}")
    return float(text)


_RELATIVE = re.compile(r"^\s*([-+*/])\s*=(.*)$", re.DOTALL)
#: CSS's angle units in degrees, and units that a well shows anyway.
_UNITS = {"turn": 360.0, "rad": 180 / math.pi, "grad": 0.9, "deg": 1.0, "°": 1.0, "px": 1.0, "%": 1.0, "f": 1.0}
_UNIT = re.compile(r"(?<=[\d.)])\s*(turn|grad|rad|deg|px|°|%|f)(?![a-z])")


def evaluate_number(text: str, now: float) -> float:
    """The number a typed text means, where ``now`` is the number that stands there; both in shown units.

    Raises Refusal, with what can be typed, when it means none.
    """
    told = text.strip()
    plain = told.replace("−", "-").replace("–", "-").replace("×", "*").replace("·", "*").replace("÷", "/").lower()
    relative = _RELATIVE.match(plain)
    if relative:
        plain = relative[2]
    if plain.count(",") == 1 and "." not in plain:
        plain = plain.replace(",", ".")
    plain = _UNIT.sub(lambda found: f"*{_UNITS[found[1]]!r}" if _UNITS[found[1]] != 1 else "", plain).strip()
    try:
        if len(plain) > 200 or not re.fullmatch(r"[-+*/().\d\se]+", plain):
            raise ValueError
        value = _value(ast.parse(plain, mode="eval").body)
        if relative:
            kind = {"+": ast.Add, "-": ast.Sub, "*": ast.Mult, "/": ast.Div}[relative[1]]
            value = _OPERATORS[kind](now, value)
    except ZeroDivisionError:
        raise Refusal(f"“{told[:40]}” divides by nought.") from None
    except (ValueError, SyntaxError, OverflowError, RecursionError, MemoryError):
        raise Refusal(
            f"“{told[:40]}” is no number. Type one like 120 or -4.5, a sum like 960/2, or a change like +=40 or *=1.5."
        ) from None
    if not math.isfinite(value) or abs(value) > limits.MAX_NUMBER * 100:
        raise Refusal(f"“{told[:40]}” is larger than any number here may be.")
    return value


def _value(node: ast.expr) -> float:
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool):
        return float(node.value)
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub | ast.UAdd):
        inner = _value(node.operand)
        return -inner if isinstance(node.op, ast.USub) else inner
    if isinstance(node, ast.BinOp) and type(node.op) in _OPERATORS:
        return _OPERATORS[type(node.op)](_value(node.left), _value(node.right))
    raise ValueError


def round_step(rough: float) -> float:
    """The nearest 1, 2 or 5 times a power of ten at or above a step."""
    power = 10.0 ** np.floor(np.log10(max(rough, 1e-9)))
    return float(next(power * n for n in (1, 2, 5, 10) if power * n >= rough * 0.999))
