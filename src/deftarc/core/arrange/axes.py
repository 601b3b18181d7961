"""Whose x and y a position is read and dragged in: the layer's own turned ones, its parent's, or the scene's."""

from typing import Literal

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import apply, linear_part
from deftarc.core.document import Layer, Scene
from deftarc.core.evaluate import carried_by, heading_at, shows

Axes = Literal["own", "parent", "scene"]


def back_from(matrix: Floats, layer: Layer) -> Floats:
    """The inverse of a matrix that a layer is carried by; Refusal where there is none."""
    if abs(np.linalg.det(matrix)) < 1e-12:
        raise Refusal(f"What carries {layer.name} is scaled to nothing at this frame.")
    return np.asarray(np.linalg.inv(matrix), np.float64)


def axes_basis(scene: Scene, layer: Layer, carried: Floats, axes: Axes, time: int) -> Floats:
    """The directions of some axes as the columns of a (2, 2) matrix in the scene."""
    if axes == "scene":
        return np.eye(2)
    if axes == "parent":
        return carried
    return carried @ linear_part(_turned(scene, layer, time), 0.0, 0.0)


def position_in(scene: Scene, layer: Layer, position: tuple[float, ...], axes: Axes, time: int) -> tuple[float, float]:
    """A position of a layer, told in its own, its parent's or the scene's axes."""
    return _through(_matrix(scene, layer, axes, time), position)


def position_from(scene: Scene, layer: Layer, told: tuple[float, ...], axes: Axes, time: int) -> tuple[float, float]:
    """The other way round: what a position told in some axes is in the parent's."""
    return _through(back_from(_matrix(scene, layer, axes, time), layer), told)


def _matrix(scene: Scene, layer: Layer, axes: Axes, time: int) -> Floats:
    if axes == "scene":
        return carried_by(scene, layer, time)
    matrix = np.eye(3)
    if axes == "own":
        matrix[:2, :2] = np.linalg.inv(linear_part(_turned(scene, layer, time), 0.0, 0.0))
    return matrix


def _turned(scene: Scene, layer: Layer, time: int) -> float:
    """How a layer is turned at a time, by its rotation and by its way."""
    return shows(scene, layer, "rotation", time)[0] + heading_at(scene, layer, time)


def _through(matrix: Floats, spot: tuple[float, ...]) -> tuple[float, float]:
    x, y = apply(matrix, np.array([spot], np.float64))[0]
    return float(x), float(y)


def positions_in(spots: Floats, carried: Floats, rotation: Floats, axes: Axes) -> Floats:
    """Positions over time (F or 1, 2) told in some axes, under carriers (F or 1, 3, 3), at rotations (F or 1,)."""
    if axes == "parent":
        return spots
    if axes == "scene":
        count = max(len(spots), len(carried))
        at, matrix = np.broadcast_to(spots, (count, 2)), np.broadcast_to(carried, (count, 3, 3))
        out: Floats = np.einsum("nij,nj->ni", matrix[:, :2, :2], at) + matrix[:, :2, 2]
        return out
    angle = -np.deg2rad(rotation)
    cos, sin = np.cos(angle), np.sin(angle)
    return np.stack([cos * spots[:, 0] - sin * spots[:, 1], sin * spots[:, 0] + cos * spots[:, 1]], axis=1)
