"""Formats: the number that is written, and what was written in an older one brought up to this one.

Each thing that is kept by itself says its format: a project file, and in the store a root, a scene, a layer, an
artwork, a stretch of keys, points or names. A step brings one kind of thing from one format to the next and knows
nothing of what lies within it, which says its format itself or is upgraded with what it lies in.

To change a format: raise FORMAT, add the steps it needs, and a golden file (``tests/golden``) written before.
"""

from collections.abc import Callable
from typing import Any, Literal

from deftarc.core.base.errors import Refusal

#: What is written now. 1 was left out when it was written, later ones are always told. 3 tells what goes on before and
#: after a lane's keys, 4 markers, takes, ties and clocks, 5 what follows what, and scenes shown in others, 6 saved
#: motions, 7 masks, mattes, gradients, washes, and what is done to outlines, 8 the files that scenes came of.
FORMAT: Literal[8] = 8
What = Literal["project", "drawing", "scene", "layer", "artwork", "track", "keys", "points", "names", "motion", "taken"]
Step = Callable[[Any], Any]


def _area_of_one(data: dict[str, Any]) -> dict[str, Any]:
    """Axes linked by area had the area 1, whatever ratio was left from before; 6 keeps it there."""
    if data.get("scale_link") == "area":
        data.pop("scale_ratio", None)
    return data


#: What brings a thing to the next format, by what it is and the format it was written in. What is not here stayed.
STEPS: dict[tuple[What, int], Step] = {("layer", 5): _area_of_one, ("taken", 5): _area_of_one}


def format_of(data: object) -> int:
    """The format some data say they are in, 1 where they say none; Refusal where it is none that is known."""
    since = data.get("format", 1) if isinstance(data, dict) else 1
    if not isinstance(since, int) or isinstance(since, bool) or since < 1:
        raise Refusal("This was written in no format of Deft Arc's.")
    if since > FORMAT:
        raise Refusal(
            f"This was written by a later Deft Arc, in format {since}; this one knows formats up to {FORMAT}."
        )
    return since


def upgrade(what: What, data: Any, since: int) -> Any:
    """One thing's data as it is written now; what lies in it is left as it is. The data may be changed in place."""
    for number in range(since, FORMAT):
        step = STEPS.get((what, number))
        data = step(data) if step is not None else data
    return data


def upgraded_layer(data: Any, since: int) -> Any:
    """A layer's data with its artwork, tracks, keys and points. What is no layer stays, to be refused by name."""
    if since == FORMAT or not isinstance(data, dict):
        return data
    data = upgrade("layer", data, since)
    if isinstance(data.get("artwork"), dict):
        data["artwork"] = upgrade("artwork", data["artwork"], since)
    tracks = data.get("tracks")
    for name, track in tracks.items() if isinstance(tracks, dict) else ():
        tracks[name] = upgraded_track(track, since)
    if "reactions" in data:
        data["reactions"] = upgraded_reactions(data["reactions"], since)
    return data


def upgraded_reactions(data: Any, since: int) -> Any:
    """The reactions of a layer with the keys they were laid on, as far as they lie as they would have to."""
    if since == FORMAT or not isinstance(data, dict):
        return data
    for told in data.values():
        if isinstance(told, dict) and "base" in told:
            told["base"] = upgraded_track(told["base"], since)
    return data


def upgraded_track(data: Any, since: int) -> Any:
    """A track's data with its keys and points, as far as they lie in it."""
    if since == FORMAT or not isinstance(data, dict):
        return data
    data = upgrade("track", data, since)
    rows: tuple[What, What] = ("keys", "points")
    for row in rows:
        if isinstance(data.get(row), list):
            data[row] = upgrade(row, data[row], since)
    return data


def _taken(scene: dict[str, Any]) -> list[dict[str, Any]]:
    """What takes of a scene have of layers, as far as it lies in it as it would have to."""
    found = []
    sets = scene.get("takes")
    for each in sets if isinstance(sets, list) else ():
        takes = each.get("takes") if isinstance(each, dict) else None
        for take in takes if isinstance(takes, list) else ():
            layers = take.get("layers") if isinstance(take, dict) else None
            found += [
                told for told in (layers if isinstance(layers, list) else ())
                if isinstance(told, dict) and isinstance(told.get("tracks"), dict)
            ]  # fmt: skip
    return found


def upgraded_motion(data: Any, since: int) -> Any:
    """A saved motion's data with its keys."""
    if since == FORMAT or not isinstance(data, dict):
        return data
    data = upgrade("motion", data, since)
    clip = data.get("clip")
    lanes = clip.get("lanes") if isinstance(clip, dict) else None
    for lane in lanes if isinstance(lanes, list) else ():
        if isinstance(lane, dict):
            lane["track"] = upgraded_track(lane.get("track"), since)
    return data


def upgraded_project(data: Any) -> Any:
    """A whole document's data as they are written now, from whatever format they say they are in."""
    since = format_of(data)
    if since == FORMAT or not isinstance(data, dict):
        return data
    data = upgrade("project", data, since)
    scenes = data.get("scenes")
    for n, scene in enumerate(scenes if isinstance(scenes, list) else ()):
        if isinstance(scene, dict):
            scene = scenes[n] = upgrade("scene", scene, since)
            layers = scene.get("layers")
            if isinstance(layers, list):
                scene["layers"] = [upgraded_layer(layer, since) for layer in layers]
            for told in _taken(scene):
                upgrade("taken", told, since)
                told["tracks"] = {name: upgraded_track(track, since) for name, track in told["tracks"].items()}
    shelf = data.get("shelf")
    for kept in shelf if isinstance(shelf, list) else ():
        if isinstance(kept, dict) and isinstance(kept.get("artwork"), dict):
            kept["artwork"] = upgrade("artwork", kept["artwork"], since)
    if isinstance(data.get("motions"), list):
        data["motions"] = [upgraded_motion(motion, since) for motion in data["motions"]]
    return {**data, "format": FORMAT}
