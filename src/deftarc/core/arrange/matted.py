"""What shows through a layer that is gone: it shows again as it is."""

from deftarc.core.document import Layer, Project, Scene


def _lost(scene: Scene) -> list[Layer]:
    here = {layer.id for layer in scene.layers}
    return [layer for layer in scene.layers if layer.matte is not None and layer.matte.layer not in here]


def mattes_kept(before: Project, after: Project) -> Project:
    """A project that came of another, without mattes that are gone."""
    for scene, _ in after.other_than(before):
        lost = _lost(scene)
        if lost:
            after = after.with_scene(scene.with_layers({layer.id: layer.changed(matte=None) for layer in lost}))
    return after


def without_matte(before: Project, after: Project) -> list[str]:
    """What showed through something that is gone, in words."""
    out = []
    for scene, now in before.other_than(after):
        here = {layer.id: layer for layer in now.layers} if now is not None else {}
        for layer in scene.layers:
            then = here.get(layer.id)
            if layer.matte is not None and then is not None and then.matte is None and layer.matte.layer not in here:
                through = scene.layer(layer.matte.layer).name
                out.append(f"{layer.name} showed through {through}, which is gone: all of it shows now")
    return out


__all__ = ["mattes_kept", "without_matte"]
