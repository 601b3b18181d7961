"""Edits: everything that can be done to a document, as plain data with a pure ``apply``.

``Edit`` is their union by ``kind``; ``apply`` and ``apply_all`` are the only ways a document changes.
"""

from collections.abc import Iterable
from typing import Annotated

from pydantic import Field, TypeAdapter, ValidationError

from deftarc.core.document import Project
from deftarc.core.document.soundness import in_words, refuse_unsound
from deftarc.core.edit.add import AddLayer
from deftarc.core.edit.base import EditBase, Note
from deftarc.core.edit.eases import EaseKeys, ForgetEase, KeepEase, LayEase, MakeCraft, TypeCraft, segments_of, shape_of
from deftarc.core.edit.families import GroupLayers, OrderLayers, SetParent, Ungroup
from deftarc.core.edit.keys import ClearLoose, ClearMotion, DeleteKeys, Lane, RestoreKeys, SetKeys, WorkBackwards
from deftarc.core.edit.layers import (
    ChangeArtwork,
    DeleteLayers,
    DescribeLayers,
    DuplicateLayers,
    ForgetShelf,
    PaintChange,
    Part,
    ReplaceArtwork,
    TakeApart,
    Unlink,
    share_artwork,
)
from deftarc.core.edit.locks import Locked, refuse_locked
from deftarc.core.edit.move_keys import KeysOnFrames, MoveKeys, ReleaseKeys, StretchKeys
from deftarc.core.edit.outlines import AddPoint, CloseContours, DeletePoints, DragPoints, RoundPoints
from deftarc.core.edit.pace import EvenPace, FloatKeys, SetPoints, TimeSegment
from deftarc.core.edit.paths import (
    AddPathPoint,
    BendPath,
    ClosePath,
    DeletePathPoints,
    JoinPath,
    ReversePath,
    SetRounding,
    SlideKey,
    SpreadPoints,
    TakePath,
    with_fresh_paths,
)
from deftarc.core.edit.samples import LaySamples, ReduceKeys, SplitAxes
from deftarc.core.edit.scenes import (
    AddFont,
    AddScene,
    ChangeScene,
    DeleteScene,
    DuplicateScene,
    RenameProject,
    RenameScene,
    SetGuides,
    SetPlayRange,
)
from deftarc.core.edit.sides import (
    BendKeys,
    BendSegment,
    ChooseJoint,
    KeepWithin,
    SetCurve,
    ShapeSide,
    ShiftPeak,
    TypeSide,
)
from deftarc.core.edit.spans import CoverKeys, MoveSpans, SetSpanLength, TrimSpan
from deftarc.core.edit.transform import LinkScale, MoveEach, MoveLayers, MovePivot, ScaleLayers, Step, TurnLayers
from deftarc.core.edit.values import CopyNumbers, PutKey, SetValue, TypeKey

Edit = Annotated[
    RenameProject | AddScene | DuplicateScene | RenameScene | DeleteScene | ChangeScene | SetPlayRange | SetGuides
    | AddFont | ForgetShelf
    | AddLayer | DeleteLayers | DuplicateLayers | Unlink | DescribeLayers | ChangeArtwork | ReplaceArtwork | TakeApart
    | OrderLayers | SetParent | GroupLayers | Ungroup
    | MoveSpans | TrimSpan | SetSpanLength | CoverKeys
    | SetValue | TypeKey | PutKey | CopyNumbers
    | SetKeys | DeleteKeys | MoveKeys | StretchKeys | KeysOnFrames | ReleaseKeys
    | ClearLoose | ClearMotion | WorkBackwards | RestoreKeys
    | EaseKeys | LayEase | KeepEase | ForgetEase | MakeCraft | TypeCraft
    | ShapeSide | BendSegment | TypeSide | ChooseJoint | BendKeys | ShiftPeak | KeepWithin | SetCurve
    | BendPath | JoinPath | AddPathPoint | SpreadPoints | DeletePathPoints | ClosePath | ReversePath | TakePath
    | SlideKey | SetRounding | SetPoints | FloatKeys | EvenPace | TimeSegment | LaySamples | ReduceKeys | SplitAxes
    | MoveLayers | MoveEach | TurnLayers | ScaleLayers | MovePivot | LinkScale
    | DragPoints | RoundPoints | AddPoint | DeletePoints | CloseContours,
    Field(discriminator="kind"),
]  # fmt: skip

EDIT: TypeAdapter[EditBase] = TypeAdapter(Edit)


def sentence(error: ValidationError) -> str:
    """The first thing wrong with data that came in, as one sentence."""
    first = error.errors(include_url=False, include_context=False)[0]
    where = ".".join(str(part) for part in first["loc"] if not str(part).startswith("function"))
    told = str(first["msg"]).removeprefix("Value error, ")
    return f"{where}: {told}" if where else told


def apply(project: Project, edit: EditBase) -> Project:
    """The project after an edit. Raises Refusal with a sentence, and then nothing has changed."""
    try:
        made = edit.apply(project)
        refuse_locked(project, made, edit)
        # What comes with a path of its own keeps it.
        whole = isinstance(edit, TakePath | LaySamples | SplitAxes | RestoreKeys)
        made = share_artwork(project, made if whole else with_fresh_paths(project, made))
    except ValidationError as error:
        raise in_words(error) from None
    refuse_unsound(project, made)
    return made


def apply_all(project: Project, edits: Iterable[EditBase]) -> Project:
    """Several edits in turn, all or nothing."""
    for edit in edits:
        project = apply(project, edit)
    return project


__all__ = [
    "EDIT",
    "AddFont",
    "AddLayer",
    "AddPathPoint",
    "AddPoint",
    "AddScene",
    "BendKeys",
    "BendPath",
    "BendSegment",
    "ChangeArtwork",
    "ChangeScene",
    "ChooseJoint",
    "ClearLoose",
    "ClearMotion",
    "CloseContours",
    "ClosePath",
    "CopyNumbers",
    "CoverKeys",
    "DeleteKeys",
    "DeleteLayers",
    "DeletePathPoints",
    "DeletePoints",
    "DeleteScene",
    "DescribeLayers",
    "DragPoints",
    "DuplicateLayers",
    "DuplicateScene",
    "EaseKeys",
    "Edit",
    "EditBase",
    "EvenPace",
    "FloatKeys",
    "ForgetEase",
    "ForgetShelf",
    "GroupLayers",
    "JoinPath",
    "KeepEase",
    "KeepWithin",
    "KeysOnFrames",
    "Lane",
    "LayEase",
    "LaySamples",
    "LinkScale",
    "Locked",
    "MakeCraft",
    "MoveEach",
    "MoveKeys",
    "MoveLayers",
    "MovePivot",
    "MoveSpans",
    "Note",
    "OrderLayers",
    "PaintChange",
    "Part",
    "PutKey",
    "ReduceKeys",
    "ReleaseKeys",
    "RenameProject",
    "RenameScene",
    "ReplaceArtwork",
    "RestoreKeys",
    "ReversePath",
    "RoundPoints",
    "ScaleLayers",
    "SetCurve",
    "SetGuides",
    "SetKeys",
    "SetParent",
    "SetPlayRange",
    "SetPoints",
    "SetRounding",
    "SetSpanLength",
    "SetValue",
    "ShapeSide",
    "ShiftPeak",
    "SlideKey",
    "SplitAxes",
    "SpreadPoints",
    "Step",
    "StretchKeys",
    "TakeApart",
    "TakePath",
    "TimeSegment",
    "TrimSpan",
    "TurnLayers",
    "TypeCraft", "TypeKey",
    "TypeSide",
    "Ungroup",
    "Unlink",
    "WorkBackwards",
    "apply",
    "apply_all",
    "segments_of", "sentence",
    "shape_of",
]  # fmt: skip
