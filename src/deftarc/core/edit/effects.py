"""Edits of effects, and of how layers and groups are laid on what is beneath."""

from typing import Annotated, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Identity
from deftarc.core.document import Carrier, Layer, Project
from deftarc.core.document.artwork import ArtworkBase
from deftarc.core.document.blend import BLENDS, Blend
from deftarc.core.document.effects import Effect
from deftarc.core.edit.layers import LayersEdit


def treatable(layer: Layer) -> bool:
    """Whether there is something to treat: a layer that shows, or a group painted as one."""
    return layer.as_one or not layer.artwork.empty


def maskable(layer: Layer) -> bool:
    """Whether there is something that could show in part: what could be treated, and a wash."""
    return treatable(layer)


class AddEffect(LayersEdit):
    """An effect put at the end of the list of each layer. A group is painted as one from then on."""

    kind: Literal["add_effect"] = "add_effect"
    effect: Effect

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for layer in self.found(project):
            if len(layer.effects) >= limits.MAX_EFFECTS:
                raise Refusal(f"{layer.name} has {limits.MAX_EFFECTS} effects, and no more can be listed.")
            if any(each.id == self.effect.id for each in layer.effects):
                raise Refusal("An effect with this id is there already.")
            layer = painted_as_one(layer) if layer.group else layer
            if not treatable(layer):
                raise Refusal(f"There is nothing to see of {layer.name} that could be treated.")
            scene = scene.with_layer(layer.changed(effects=(*layer.effects, self.effect)))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"{self.effect.label} on {self.names(project)}"


def painted_as_one(layer: Layer, as_one: bool = True) -> Layer:
    """A group put together first, or not."""
    assert isinstance(layer.artwork, Carrier)
    artwork: ArtworkBase = layer.artwork.changed(as_one=as_one)
    return layer.changed(artwork=artwork)


class ChangeEffect(LayersEdit):
    """An effect of a layer switched on or off, moved in the order in which effects treat it, or taken away."""

    kind: Literal["change_effect"] = "change_effect"
    layers: Annotated[tuple[Identity, ...], Field(min_length=1, max_length=1)]
    effect: Identity
    on: bool | None = None
    #: By so many places; below 0 it treats the layer earlier.
    move: Annotated[int, Field(ge=-limits.MAX_EFFECTS, le=limits.MAX_EFFECTS)] = 0
    remove: bool = False
    #: What else of it is chosen, by field.
    choose: Annotated[dict[str, str], Field(max_length=8)] = Field(default_factory=dict)

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layers[0])
        effect = layer.effect(self.effect)
        rows = list(layer.effects)
        at = rows.index(effect)
        rows.remove(effect)
        tracks = dict(layer.tracks)
        if self.remove:
            for name in effect.properties:
                tracks.pop(name, None)
        else:
            for name, value in self.choose.items():
                if value not in effect.choices.get(name, ()):
                    raise Refusal(f"{effect.label} has no such choice.")
            on = effect.on if self.on is None else self.on
            rows.insert(min(max(at + self.move, 0), len(rows)), effect.changed(on=on, **self.choose))
        return project.with_scene(scene.with_layer(layer.changed(effects=tuple(rows), tracks=tracks)))

    def label(self, project: Project) -> str:
        layer = project.scene(self.scene).layer(self.layers[0])
        what = next((each.label for each in layer.effects if each.id == self.effect), "an effect")
        if self.remove:
            return f"Take {what} off {layer.name}"
        if self.move:
            return f"Reorder the effects of {layer.name}"
        if self.choose:
            words = (type(layer.effect(self.effect)).choices[name][value] for name, value in self.choose.items())
            return f"{what} of {layer.name}: {', '.join(words)}"
        return f"Switch {what} of {layer.name} {'on' if self.on else 'off'}"


class PaintAsOne(LayersEdit):
    """Groups put together by themselves before they are laid on what is beneath, or their members one by one."""

    kind: Literal["paint_as_one"] = "paint_as_one"
    as_one: bool

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        groups = [layer for layer in self.found(project) if layer.group]
        if not groups:
            raise Refusal("Only a group can be painted as one. Select a group, or make one.")
        for layer in groups:
            scene = scene.with_layer(painted_as_one(layer, self.as_one))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"Paint {self.names(project)} {'as one' if self.as_one else 'layer by layer'}"


class BlendLayers(LayersEdit):
    """How layers mix with what is beneath them. A group is painted as one from then on."""

    kind: Literal["blend_layers"] = "blend_layers"
    blend: Blend

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for layer in self.found(project):
            if layer.group and self.blend != "normal":
                layer = painted_as_one(layer)
            scene = scene.with_layer(layer.changed(blend=self.blend))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"Blend {self.names(project)}: {BLENDS[self.blend]}"
