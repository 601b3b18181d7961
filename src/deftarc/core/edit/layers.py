"""Edits of layers as wholes: delete, duplicate, describe, artwork changed, replaced, shared, taken apart."""

from collections.abc import Iterable, Mapping
from hashlib import sha1
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from deftarc.core.arrange.family import members, with_parent
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Colour, Frozen, Identity, Moment, Name, Number
from deftarc.core.document import Kept, Layer, Project, Scene, Tag
from deftarc.core.document.artwork import PAINT, Artwork, ArtworkBase, Carrier, Painted
from deftarc.core.document.links import Link
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.reactions import among
from deftarc.core.document.track import PathTrack
from deftarc.core.edit.base import EditBase, quoted


class LayersEdit(EditBase):
    scene: Identity
    layers: Annotated[tuple[Identity, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]

    def found(self, project: Project) -> list[Layer]:
        scene = project.scene(self.scene)
        return [scene.layer(layer_id) for layer_id in dict.fromkeys(self.layers)]

    def with_members(self, project: Project) -> list[Layer]:
        """The layers, and where they are groups all that is in them, in the list's order."""
        scene = project.scene(self.scene)
        wanted = {layer.id for layer in self.found(project)}
        for layer in self.found(project):
            if layer.group:
                wanted |= {member.id for member in members(scene, layer.id)}
        return [layer for layer in scene.layers if layer.id in wanted]

    def names(self, project: Project) -> str:
        return quoted([layer.name for layer in self.found(project)])


class DeleteLayers(LayersEdit):
    """Layers taken away, groups with all that is in them. What a deleted layer carried keeps its place in the
    picture at ``time``. Their artwork goes to the project's shelf.
    """

    at_playhead: ClassVar[bool] = True
    kind: Literal["delete_layers"] = "delete_layers"
    time: Moment = 0

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        gone = {layer.id: layer for layer in self.with_members(project)}
        for layer in scene.layers:
            if layer.id not in gone and layer.parent in gone:
                heir = gone[layer.parent].parent
                while heir in gone:
                    heir = gone[heir].parent
                scene = scene.with_layer(with_parent(scene, layer, heir, self.time))
        left = tuple(layer for layer in scene.layers if layer.id not in gone)
        return shelved(project, list(gone.values())).with_scene(scene.changed(layers=left))

    def label(self, project: Project) -> str:
        return f"Delete {self.names(project)}"


def shelved(project: Project, layers: list[Layer]) -> Project:
    """The project with these layers' artwork on its shelf, the newest first, each look once."""
    fresh = [Kept(name=layer.name, artwork=layer.artwork) for layer in layers if not layer.artwork.empty]
    if not fresh:
        return project
    shelf: list[Kept] = []
    for kept in (*fresh, *project.shelf):
        if all(kept.artwork != other.artwork for other in shelf):
            shelf.append(kept)
    return project.changed(shelf=tuple(shelf[: limits.MAX_SHELF]))


class ForgetShelf(EditBase):
    """Artwork of a deleted layer forgotten for good; adding it again is an ``add_layer``."""

    kind: Literal["forget_shelf"] = "forget_shelf"
    index: Annotated[int, Field(ge=0, lt=limits.MAX_SHELF)]

    def apply(self, project: Project) -> Project:
        if self.index >= len(project.shelf):
            raise Refusal("This is on the shelf no more.")
        return project.changed(shelf=(*project.shelf[: self.index], *project.shelf[self.index + 1 :]))

    def label(self, project: Project) -> str:
        return "Clear a place on the shelf"


class DuplicateLayers(LayersEdit):
    """Copies above their originals, groups with all that is in them. ``ids`` names those of the layers asked for.

    Parents and links inside what is copied point inside the copy. ``linked`` copies share their artwork with the
    originals.
    """

    kind: Literal["duplicate_layers"] = "duplicate_layers"
    ids: tuple[Identity, ...] = ()
    linked: bool = False

    def apply(self, project: Project) -> Project:
        return self.copied(project)[0]

    def copied(self, project: Project) -> tuple[Project, dict[str, str]]:
        """The project with the copies, and the copy's id for each of what was copied."""
        scene = project.scene(self.scene)
        originals = self.with_members(project)
        room_for(scene, len(originals))
        ids = dict(zip(dict.fromkeys(self.layers), self.ids, strict=False))
        if self.ids and len(set(self.ids)) != len(dict.fromkeys(self.layers)):
            raise Refusal("Each copy needs an id of its own.")
        taken = {layer.id for layer in scene.layers}
        if taken & set(self.ids):
            raise Refusal("Each copy needs an id of its own.")
        taken.update(self.ids)
        fresh = {layer.id: ids.get(layer.id) or _derived(layer.id, taken) for layer in originals}
        copies: dict[str, Layer] = {}
        names = set[str]()
        for layer in originals:
            name = copy_name({other.name for other in scene.layers} | names, layer.name)
            names.add(name)
            shared = layer.link or layer.id
            copies[layer.id] = layer.changed(
                id=fresh[layer.id], name=name, parent=fresh.get(layer.parent or "", layer.parent),
                links={name: _among(each, fresh) for name, each in layer.links.items()},
                reactions={name: among(each, fresh) for name, each in layer.reactions.items()},
                link=shared if self.linked and _linkable(layer) else None,
                matte=layer.matte and layer.matte.changed(layer=fresh.get(layer.matte.layer, layer.matte.layer)),
            )  # fmt: skip
        rows: list[Layer] = []
        for layer in scene.layers:
            if layer.id in copies and not any(each.group and each.id in copies for each in scene.ancestors(layer)):
                # A group is copied as one block above its original, with what is carried at any remove within it.
                rows.append(copies[layer.id])
                if layer.group:
                    rows.extend(copies[each.id] for each in members(scene, layer.id) if each.id in copies)
            rows.append(layer.changed(link=layer.link or layer.id) if _shares(layer, copies, self.linked) else layer)
        return project.with_scene(scene.changed(layers=tuple(rows))), fresh

    def label(self, project: Project) -> str:
        return f"{'Make a linked copy of' if self.linked else 'Duplicate'} {self.names(project)}"


def _among(link: Link, fresh: Mapping[str, str]) -> Link:
    """A link whose source was copied as well follows the copy."""
    source = link.source
    return link.changed(source=source.changed(layer=fresh[source.layer])) if source.layer in fresh else link


def _shares(layer: Layer, copies: dict[str, Layer], linked: bool) -> bool:
    return linked and layer.id in copies and layer.link is None and _linkable(layer)


def _linkable(layer: Layer) -> bool:
    """Whether copies of a layer can share its artwork. Those that show a scene share that anyway, each at its own place
    in it.
    """
    return not layer.artwork.empty and "scene" not in layer.artwork.traits


def _derived(name: str, taken: set[str]) -> str:
    """An id that follows from another, the first that is free."""
    n = 1
    while True:
        made = sha1(f"{name} {n}".encode(), usedforsecurity=False).hexdigest()[:10]
        if made not in taken:
            taken.add(made)
            return made
        n += 1


class Unlink(LayersEdit):
    """Layers whose artwork is their own again."""

    kind: Literal["unlink"] = "unlink"

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        for layer in self.found(project):
            scene = scene.with_layer(layer.changed(link=None))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        return f"Unlink {self.names(project)}"


class DescribeLayers(LayersEdit):
    """Name, visibility, lock, tag and what else describes a layer: whatever is given is set on each."""

    past_locks: ClassVar[bool] = True
    kind: Literal["describe_layers"] = "describe_layers"
    name: Name | None = None
    hidden: bool | None = None
    locked: bool | None = None
    reference: bool | None = None
    hands_opacity: bool | None = None
    tag: Tag | None = None

    def apply(self, project: Project) -> Project:
        fields = ("name", "hidden", "locked", "reference", "hands_opacity", "tag")
        given = {key: value for key in fields if (value := getattr(self, key)) is not None}
        scene = project.scene(self.scene)
        for layer in self.found(project):
            scene = scene.with_layer(layer.changed(**given))
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        names = self.names(project)
        if self.hidden is not None:
            return f"{'Hide' if self.hidden else 'Show'} {names}"
        if self.locked is not None:
            return f"{'Lock' if self.locked else 'Unlock'} {names}"
        if self.reference is not None:
            return f"Make {names} {'a reference' if self.reference else 'part of the picture'}"
        if self.hands_opacity is not None:
            return f"{'Hand on' if self.hands_opacity else 'Keep'} the opacity of {names}"
        return f"Tag {names}" if self.tag is not None else f"Rename {names} to {self.name}"


class PaintChange(Frozen):
    """What of a layer's artwork changes; a field left out stays. ``fill`` and ``stroke`` may be "none".

    Numbers and colours that have keys are changed by their values, not here.
    """

    fill: Colour | Literal["none"] | None = None
    stroke: Colour | Literal["none"] | None = None
    stroke_width: Number | None = None
    cap: Literal["butt", "round", "square"] | None = None
    join: Literal["miter", "round", "bevel"] | None = None
    drawn_in_turn: bool | None = None
    grow_join: Literal["miter", "round", "bevel"] | None = None
    rule: Literal["nonzero", "evenodd"] | None = None
    dash: tuple[Number, ...] | None = None
    text: str | None = None
    size: float | None = None
    font: str | None = None
    align: Literal["start", "middle", "end"] | None = None
    width: float | None = None
    height: float | None = None
    radius: float | None = None


class ChangeArtwork(EditBase):
    """The artwork of a layer changed, and of ``others`` where they have what changes."""

    kind: Literal["change_artwork"] = "change_artwork"
    scene: Identity
    layer: Identity
    others: tuple[Identity, ...] = ()
    change: PaintChange

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        given: dict[str, Any] = self.change.model_dump(exclude_none=True)
        for name in ("fill", "stroke"):
            if given.get(name) == "none":
                given[name] = None
        first = scene.layer(self.layer)
        surplus = [name for name in given if name not in type(first.artwork).model_fields]
        if surplus:
            raise Refusal(f"{first.name} has no {', '.join(surplus)} to change.")
        for layer_id in dict.fromkeys((self.layer, *self.others)):
            layer = scene.layer(layer_id)
            fields = {name: value for name, value in given.items() if name in type(layer.artwork).model_fields}
            artwork = type(layer.artwork).model_validate({**layer.artwork.model_dump(), **fields})
            scene = scene.with_layer(layer.changed(artwork=artwork))
        return project.with_scene(scene)

    def faces(self) -> Iterable[str]:
        return () if self.change.font is None else (self.change.font,)

    def label(self, project: Project) -> str:
        changed = ", ".join(self.change.model_dump(exclude_none=True)).replace("_", " ") or "artwork"
        return f"Change {changed} of {project.scene(self.scene).layer(self.layer).name}"


class ReplaceArtwork(EditBase):
    """Other artwork for a layer, its motion kept: keys of what the new artwork does not have go."""

    kind: Literal["replace_artwork"] = "replace_artwork"
    scene: Identity
    layer: Identity
    artwork: Artwork

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        return shelved(project, [layer]).with_scene(scene.with_layer(with_artwork(layer, self.artwork)))

    def artworks(self) -> Iterable[ArtworkBase]:
        return (self.artwork,)

    def label(self, project: Project) -> str:
        return f"Replace the artwork of {project.scene(self.scene).layer(self.layer).name}"


def with_artwork(layer: Layer, artwork: Artwork) -> Layer:
    """A layer with other artwork, and only such tracks as that has."""
    tracks = {n: t for n, t in layer.tracks.items() if not PROPERTIES[n].artwork or n in artwork.properties}
    tracks.pop("outline", None)
    links = {n: each for n, each in layer.links.items() if not PROPERTIES[n].artwork or n in artwork.properties}
    reactions = {n: each for n, each in layer.reactions.items() if n in tracks}
    return layer.changed(artwork=artwork, tracks=tracks, links=links, reactions=reactions)


def share_artwork(before: Project, after: Project) -> Project:
    """Linked layers follow: what an edit did to the artwork of one, all of its link get."""
    changed: dict[str, Artwork] = {}
    for scene, old in zip(after.scenes, before.scenes, strict=False):
        if scene is old or scene.id != old.id:
            continue
        known = {layer.id: layer for layer in old.layers}
        for layer in scene.layers:
            was = known.get(layer.id)
            if layer.link and was is not None and was is not layer and was.artwork != layer.artwork:
                changed[layer.link] = layer.artwork
    if not changed:
        return after
    for scene in after.scenes:
        fresh = scene
        for layer in scene.layers:
            artwork = changed.get(layer.link or "")
            if artwork is not None and layer.artwork != artwork:
                same = isinstance(artwork, Painted) and layer.artwork.kind == artwork.kind
                fresh = fresh.with_layer(layer.changed(artwork=artwork) if same else with_artwork(layer, artwork))
        if fresh is not scene:
            after = after.with_scene(fresh)
    return after


class Part(Frozen):
    name: Name
    artwork: Artwork
    #: Where its middle lies in the logo's px.
    at: tuple[Number, Number] = (0.0, 0.0)


class TakeApart(EditBase):
    """A logo or a text turned into a group that moves as it did, with its parts as layers, the topmost first."""

    kind: Literal["take_apart"] = "take_apart"
    scene: Identity
    layer: Identity
    parts: Annotated[tuple[Part, ...], Field(min_length=1, max_length=limits.MAX_LAYERS)]

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        if "parts" not in layer.artwork.traits:
            raise Refusal(f"{layer.name} is neither a logo nor a text, and has no parts.")
        room_for(scene, len(self.parts))
        taken = {each.id for each in scene.layers}
        # The group moves as the layer did; what of its look was keyed goes to each part.
        looks = {n: t for n, t in layer.tracks.items() if n in PAINT}
        # What treated it whole treats them together.
        as_one = bool(layer.effects or layer.masks or layer.matte) or layer.blend != "normal"
        tracks = {n: t for n, t in layer.tracks.items() if not PROPERTIES[n].artwork}
        group = layer.changed(artwork=Carrier(group=True, as_one=as_one), hands_opacity=True, link=None, tracks=tracks)
        rows = [group] + [
            Layer(id=_derived(layer.id, taken), name=part.name, artwork=part.artwork, tag=layer.tag, parent=layer.id,
                  start=layer.start, end=layer.end, tracks={**looks, "position": PathTrack(value=part.at)})
            for part in self.parts
        ]  # fmt: skip
        at = scene.layers.index(layer)
        layers = (*scene.layers[:at], *rows, *scene.layers[at + 1 :])
        return shelved(project, [layer]).with_scene(scene.changed(layers=layers))

    def artworks(self) -> Iterable[ArtworkBase]:
        return [part.artwork for part in self.parts]

    def label(self, project: Project) -> str:
        return f"Take {project.scene(self.scene).layer(self.layer).name} apart"


def room_for(scene: Scene, more: int) -> None:
    if len(scene.layers) + more > limits.MAX_LAYERS:
        raise Refusal(f"A scene holds at most {limits.MAX_LAYERS:,} layers. Delete some first.")


def distinct(taken: set[str], name: str) -> str:
    """A name, or where it is taken the first numbered one that is free."""
    return copy_name(taken, name) if name in taken else name


def copy_name(taken: set[str], name: str) -> str:
    """“Gull” → “Gull 2”, the first number that is free."""
    head, _, tail = name.rpartition(" ")
    stem, number = (head, int(tail) + 1) if head and tail.isdigit() and len(tail) < 6 else (name, 2)
    stem = stem[: limits.MAX_NAME - 8]
    while f"{stem} {number}" in taken:
        number += 1
    return f"{stem} {number}"
