"""Edits of many keys' values at once: scaled or mirrored about a value, moved by an amount."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Number
from deftarc.core.changes.raise_values import level_of, placed, raised
from deftarc.core.document import Project, Scene
from deftarc.core.document.properties import PROPERTIES, Property
from deftarc.core.document.track import AnyTrack, BlendTrack, NumberTrack, PathTrack
from deftarc.core.edit.base import MOST_TOLD, LaneName, Note
from deftarc.core.edit.keys import KeysEdit, by_lane
from deftarc.core.edit.move_keys import indices_of


class ScaleValues(KeysEdit):
    """Keys' values v made ``about + (v − about)·factor + more``; a factor of −1 mirrors them about a value.

    ``about`` is each lane's ``first`` chosen key, the ``middle`` of its chosen values, or a number in its shown unit;
    ``more`` is in the shown unit. Of a position, x or y or both are changed, and a number is about that axis's value.

    A mirror image is never cut off by what a property allows: where its first value would lead out of that, it is made
    about the middle of what the keys span.
    """

    nothing: ClassVar[str] = "Colours and outlines have no values to scale. Select keys of numbers or positions."
    kind: Literal["scale_values"] = "scale_values"
    factor: Annotated[float, Field(ge=-1000, le=1000)] = 1.0
    more: Number = 0.0
    about: Literal["first", "middle"] | Number = "first"
    axis: Literal["both", "x", "y"] = "both"

    def on_lane(self, scene: Scene, lane: LaneName, track: AnyTrack, times: list[int]) -> AnyTrack | None:
        if isinstance(track, BlendTrack):
            return None
        facts = PROPERTIES[lane[1]]
        chosen = indices_of(track, times)
        if isinstance(track, PathTrack):
            return placed(track, chosen, self._matrix(track, chosen))
        if track.evenly and self.more:
            return self._by_amount(track, lane[1], chosen)
        return raised(track, facts, chosen, self._level(track, facts, chosen), self.factor, self.more / facts.factor)

    @property
    def mirrors(self) -> bool:
        return self.factor == -1.0 and not self.more

    def _level(self, track: NumberTrack, facts: Property, chosen: list[int]) -> float:
        """The measure a lane is scaled about. Refusal where a mirror image about a typed value would be cut off."""
        level = level_of(track, facts, chosen, self.about)
        if not self.mirrors or not self._cut_off(track, facts, chosen, level):
            return level
        if self.about == "first":
            return level_of(track, facts, chosen, "middle")
        raise Refusal(
            f"Mirrored about {float(self.about):g} {facts.unit}, these values of {facts.label} would {facts.leaving}. "
            "Mirror them about the middle of what they span."
        )

    def _cut_off(self, track: NumberTrack, facts: Property, chosen: list[int], level: float) -> list[int]:
        """Which of some keys do not come to have the value that is meant, for the property does not go so far."""
        more = 0.0 if track.evenly else self.more / facts.factor
        rows = track.valued(level + (track.measures()[chosen] - level) * self.factor + more)
        return [k for k, value in zip(chosen, rows.tolist(), strict=True) if abs(facts.held(value) - value) > 1e-9]

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        scene = before.scene(self.scene)
        turned, held = [], 0
        for (layer, name), times in by_lane(scene, self.keys).items():
            track, facts = scene.layer(layer).track(name), PROPERTIES[name]
            if not isinstance(track, NumberTrack):
                continue
            chosen = indices_of(track, times)
            cut = self._cut_off(track, facts, chosen, level_of(track, facts, chosen, self.about))
            if cut and self.mirrors:
                turned.append(f"{facts.label} of “{scene.layer(layer).name}”")
            else:
                held += len(cut)
        out = []
        if turned:
            out.append(Note(
                f"Mirrored about the middle of what the keys span, as their first value would lead past what there is: "
                f"{', '.join(turned[:MOST_TOLD])}{' …' if len(turned) > MOST_TOLD else ''}."
            ))  # fmt: skip
        if held:
            out.append(Note(f"{held} key{'s are' if held > 1 else ' is'} held at the end of what the property allows."))
        return out

    def _by_amount(self, track: NumberTrack, name: str, chosen: list[int]) -> AnyTrack:
        """What grows evenly moved by an amount: its shapes are kept as ratios, so they stay in proportion."""
        facts = PROPERTIES[name]
        made = raised(track, facts, chosen, level_of(track, facts, chosen, self.about), self.factor, 0.0)
        lows = [made.keys[k].value + self.more / facts.factor for k in chosen]
        if min(lows) <= 0:
            raise Refusal("What grows evenly stays above nought. Take away less, or let it grow by amount first.")
        for k, value in zip(chosen, lows, strict=True):
            made = raised(made, facts, [k], 0.0, 1.0, float(np.log(value / made.keys[k].value)))
        return made

    def _matrix(self, track: PathTrack, chosen: list[int]) -> Floats:
        spots = np.array(track.positions(np.array([float(track.keys[k].time) for k in chosen])))
        about = {"first": spots[0], "middle": (spots.min(axis=0) + spots.max(axis=0)) / 2}.get(
            str(self.about), np.full(2, self.about if isinstance(self.about, float | int) else 0.0)
        )
        on = np.array([self.axis in ("both", "x"), self.axis in ("both", "y")])
        factors, more = np.where(on, self.factor, 1.0), np.where(on, self.more, 0.0)
        matrix = np.eye(3)
        matrix[0, 0], matrix[1, 1] = factors
        matrix[:2, 2] = about * (1 - factors) + more
        return matrix

    def label(self, project: Project) -> str:
        verb = "Mirror" if self.mirrors else "Move" if self.factor == 1.0 else "Scale"
        return f"{verb} the values of {self.of_what(project)}"
