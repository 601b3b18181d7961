"""A scene brought in again, after the file it came of has changed."""

from collections.abc import Callable
from dataclasses import dataclass

from deftarc.core.arrange.alike import as_before
from deftarc.core.arrange.merged import Prefer
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Project, Scene
from deftarc.core.edit.brought import BringAgain
from deftarc.formats.asset_kinds import SCENES
from deftarc.formats.origins import as_they_came, named, with_origin
from deftarc.formats.read import Asset, BroughtIn, BroughtScenes


@dataclass(frozen=True)
class Again:
    """The edit, the assets it names, and in words what both sides changed and stays as it is here."""

    edit: BringAgain
    assets: tuple[Asset, ...]
    kept: tuple[str, ...]


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


__all__ = ["Again", "brought_again"]
