"""Scenes that come of a file: how the first of them is shown, and what comes of it when the file has changed."""

from collections.abc import Callable
from dataclasses import dataclass

from deftarc.core.arrange.alike import as_before
from deftarc.core.arrange.merged import Prefer
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Project, Scene
from deftarc.core.document.artwork import TextShaper
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.edit.brought import BringAgain
from deftarc.core.evaluate import Evaluator
from deftarc.core.evaluate.seam import SeamCheck
from deftarc.formats.asset_kinds import SCENES
from deftarc.formats.origins import as_they_came, named, with_origin
from deftarc.formats.read import Asset, BroughtIn, BroughtScenes


@dataclass(frozen=True)
class Again:
    """The edit, the assets it names, and in words what both sides changed and stays as it is here."""

    edit: BringAgain
    assets: tuple[Asset, ...]
    kept: tuple[str, ...]


def shown_first(scenes: tuple[Scene, ...], shape_text: TextShaper) -> SceneShown:
    """Artwork that shows the first of some scenes: for ever where it moves and its end meets its start."""
    first = scenes[0]
    evaluator = Evaluator(shape_text)
    evaluator.scenes = {each.id: each for each in scenes}
    loops = SeamCheck(evaluator).seam(first, 0, first.length).state == "perfect"
    return SceneShown(
        scene=first.id, width=first.width, height=first.height, goes_on="repeat" if loops else "hold"
    )  # fmt: skip


def brought_again(
    project: Project, scene: Scene, read_asset: Callable[[str], bytes], brought: BroughtIn | BroughtScenes, file: str,
    prefer: Prefer,
) -> Again:  # fmt: skip
    """What comes of a file that was read again; Refusal where it has nothing to do with the scene."""
    if scene.origin is None:
        raise Refusal(f"{scene.name} came of no file. Bring the file in as a new layer.")
    if not isinstance(brought, BroughtScenes):
        raise Refusal(f"{scene.name} came of a motion, and {file} is none.")
    was = named(as_they_came(read_asset(scene.origin.asset)), scene.id)
    taken = {each.id: frozenset(layer.id for layer in each.layers) for each in project.scenes}
    now, kept = with_origin(as_before(was, brought.scenes, taken), file)
    if kept is None or now[0].origin is None:
        raise Refusal("This file has become too large to be brought in again. Bring it in as a new layer.")
    plain = (now[0].changed(origin=None), *now[1:])
    if plain == was:
        raise Refusal(f"{file} has the same in it as when it came in: there is nothing to change.")
    edit = BringAgain(scene=scene.id, was=was, now=plain, origin=now[0].origin, prefer=prefer)
    both = edit.kept(project) if prefer == "here" else []
    return Again(edit, (*(each for each in brought.assets if each.media != SCENES), kept), tuple(both))


__all__ = ["Again", "brought_again", "shown_first"]
