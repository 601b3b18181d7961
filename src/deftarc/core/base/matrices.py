"""3×3 matrices of the plane, kept over time.

A *matrix* here is an array (..., 3, 3) acting on columns (x, y, 1); x points right, y down, angles are
degrees clockwise. The *six* of an affine matrix are (a, b, c, d, e, f) as in CSS ``matrix()``:
x' = a·x + c·y + e, y' = b·x + d·y + f.
"""

from typing import Any

import numpy as np

from deftarc.core.base.arrays import Floats


def compose(position: Floats, rotation: Floats, scale: Floats, skew: Floats, pivot: Floats) -> Floats:
    """T(position) · R(rotation) · K(skew) · S(scale) · T(−pivot), for each time.

    Shapes: position, scale, skew, pivot (n or 1, 2); rotation (n or 1,). Rotation and skew in degrees,
    skew as CSS ``skew(ax, ay)``, scale as a factor. Returns (n, 3, 3), n the longest of the inputs.
    """
    count = max(len(position), len(rotation), len(scale), len(skew), len(pivot))
    angle = np.deg2rad(rotation)
    cos, sin = np.cos(angle), np.sin(angle)
    tan_x, tan_y = np.tan(np.deg2rad(skew[:, 0])), np.tan(np.deg2rad(skew[:, 1]))
    sx, sy = scale[:, 0], scale[:, 1]
    matrix = np.zeros((count, 3, 3))
    matrix[:, 0, 0] = (cos - sin * tan_y) * sx
    matrix[:, 1, 0] = (sin + cos * tan_y) * sx
    matrix[:, 0, 1] = (cos * tan_x - sin) * sy
    matrix[:, 1, 1] = (sin * tan_x + cos) * sy
    px, py = pivot[:, 0], pivot[:, 1]
    matrix[:, 0, 2] = position[:, 0] - matrix[:, 0, 0] * px - matrix[:, 0, 1] * py
    matrix[:, 1, 2] = position[:, 1] - matrix[:, 1, 0] * px - matrix[:, 1, 1] * py
    matrix[:, 2, 2] = 1.0
    return matrix


def linear_part(rotation: float, skew_x: float, skew_y: float) -> Floats:
    """R(rotation) · K(skew) as a (2, 2) matrix: the frame in which a layer's scale acts."""
    one = np.ones((1, 2))
    zero = np.zeros((1, 2))
    return compose(zero, np.array([rotation]), one, np.array([[skew_x, skew_y]]), zero)[0, :2, :2]


def six(matrix: Floats) -> Floats:
    """The six numbers of affine matrices: (..., 3, 3) to (..., 6)."""
    out: Any = matrix[..., [0, 1, 0, 1, 0, 1], [0, 0, 1, 1, 2, 2]]
    return out


def from_six(numbers: Floats) -> Floats:
    """Affine matrices from their six numbers: (..., 6) to (..., 3, 3)."""
    numbers = np.asarray(numbers, dtype=float)
    matrix = np.zeros((*numbers.shape[:-1], 3, 3))
    matrix[..., [0, 1, 0, 1, 0, 1], [0, 0, 1, 1, 2, 2]] = numbers
    matrix[..., 2, 2] = 1.0
    return matrix


def apply(matrix: Floats, points: Floats) -> Floats:
    """Points (n, 2) through one (3, 3) matrix, perspective division included."""
    moved = points @ matrix[:2, :2].T + matrix[:2, 2]
    if matrix[2, 0] or matrix[2, 1] or matrix[2, 2] != 1.0:
        moved = moved / (points @ matrix[2, :2] + matrix[2, 2])[:, None]
    return moved
