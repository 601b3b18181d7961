"""Evaluation: a scene and times in, a FrameTable out."""

from deftarc.core.document.shown import shown_values
from deftarc.core.evaluate.asker import Asker
from deftarc.core.evaluate.dots import Dots
from deftarc.core.evaluate.evaluator import Evaluator, Scenes, any_group_hidden, evaluate
from deftarc.core.evaluate.frames import (
    Branch,
    EffectAt,
    FrameTable,
    Group,
    Leaf,
    MaskAt,
    MatteAt,
    delivered,
    drawn_as,
    frame_times,
    outermost,
    walk,
    wire_rows,
)
from deftarc.core.evaluate.layers import REACH, own_matrix, within_reach
from deftarc.core.evaluate.pose import (
    carried_by,
    has_loose,
    heading_at,
    matrix_at,
    pose,
    posed,
    related,
    shows,
    stands_alone,
    still,
)

__all__ = [
    "REACH",
    "Asker",
    "Branch",
    "Dots",
    "EffectAt",
    "Evaluator",
    "FrameTable",
    "Group",
    "Leaf",
    "MaskAt",
    "MatteAt",
    "Scenes",
    "any_group_hidden",
    "carried_by",
    "delivered",
    "drawn_as",
    "evaluate",
    "frame_times",
    "has_loose",
    "heading_at",
    "matrix_at",
    "outermost",
    "own_matrix",
    "pose",
    "posed",
    "related",
    "shown_values",
    "shows",
    "stands_alone",
    "still",
    "walk",
    "wire_rows",
    "within_reach",
]
