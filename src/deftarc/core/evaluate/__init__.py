"""Evaluation: a scene and times in, a FrameTable out."""

from deftarc.core.document.shown import shown_values
from deftarc.core.evaluate.evaluator import (
    REACH,
    Evaluator,
    any_group_hidden,
    evaluate,
    own_matrix,
    way_of,
    within_reach,
)
from deftarc.core.evaluate.frames import FrameTable, Item, delivered, frame_times, wire_rows
from deftarc.core.evaluate.pose import carried_by, has_loose, heading_at, matrix_at, pose, still

__all__ = [
    "REACH",
    "Evaluator",
    "FrameTable",
    "Item",
    "any_group_hidden",
    "carried_by",
    "delivered",
    "evaluate",
    "frame_times",
    "has_loose",
    "heading_at",
    "matrix_at",
    "own_matrix",
    "pose",
    "shown_values",
    "still",
    "way_of",
    "wire_rows",
    "within_reach",
]
