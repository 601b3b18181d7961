"""The kinds of edit that need others before them: as (kind, fields, its words in the history, what is made before)."""

from deftarc.core.document import Project, Scene
from deftarc.core.document.origin import Origin
from deftarc.core.document.project import UserFont
from deftarc.core.edit import EDIT, apply
from deftarc.demo.signal_font import signal_font
from deftarc.formats.asset_kinds import FONT, SCENES
from deftarc.formats.read.base import Asset
from tests.every_edit import DOT, MOTION, WITHOUT_SCENE, harbour
from tests.scenes import at

#: Kinds among these that are about the project, and take no scene.
PROJECT_WIDE = (*WITHOUT_SCENE, "add_scene", "add_font", "forget_shelf", "forget_motion", "forget_ease")
BUOY = {"id": "buoy", "name": "Buoy", "width": 90, "height": 60, "frames": 40, "layers": [
    {"id": "l0", "name": "Dot", "artwork": DOT}]}  # fmt: skip
#: The files that some of them name, of the right kinds: a project file with them in it comes back.
FONT_FILE = Asset(signal_font(), FONT)
SCENES_FILE = Asset(
    Project(name="Buoy", scenes=(Scene.model_validate(BUOY),)).model_dump_json(exclude_defaults=True).encode(), SCENES
)
SHOWN = ("bring_scenes", {"name": "Buoy", "id": "buoylayer", "scenes": [BUOY],
                          "artwork": {"kind": "scene", "scene": "buoy", "width": 90, "height": 60}})  # fmt: skip
TURNED = {**BUOY, "layers": [{**BUOY["layers"][0], "tracks": {"rotation": {"kind": "number", "value": 30}}}]}
FOLLOWS = (
    "link_lanes",
    {"lanes": [{"layer": "gull", "property": "rotation"}], "to": {"layer": "mast", "what": "rotation"}},
)
FOLLOWER = [{"layer": "gull", "property": "rotation"}]
SETTLES = (
    "make_craft",
    {"keys": [{"layer": "wide", "property": "rotation", "time": at(40)}], "craft": {"kind": "settle"}},
)
WORDS = ("add_layer", {"name": "Words", "id": "words", "artwork": {"kind": "text", "text": "Go"}})
TAKEN = {"name": "Gull", "id": "gull", "tracks": {"rotation": {"kind": "number", "value": 7}}, "artwork": DOT}
LATER = ("carry_later", {"layers": ["dory"], "all": at(2)})

PREPARED = [
    ("add_scene", {"scene": {"id": "pier", "name": "Pier"}}, "Add the scene Pier", ()),
    ("delete_scene", {"scene": "second"}, "Delete the scene Crossing copy", (("duplicate_scene", {"id": "second"}),)),
    ("add_font", {"font": {"asset": FONT_FILE.hash, "label": "Own"}}, "Bring in the font Own", ()),
    ("forget_shelf", {"index": 0}, "Clear a place on the shelf",
     (("add_layer", {"name": "Spare", "id": "spare", "artwork": DOT}), ("delete_layers", {"layers": ["spare"]}))),
    ("unlink", {"layers": ["struck"]}, "Unlink Struck", (("duplicate_layers", {"layers": ["struck"], "linked": True}),)),
    ("take_apart", {"layer": "words", "parts": [{"name": "G", "artwork": DOT}, {"name": "o", "artwork": DOT, "at": [9, 0]}]},
     "Take Words apart", (WORDS,)),
    ("ungroup", {"layers": ["fleet"], "time": 0}, "Ungroup Fleet", ()),
    ("clear_loose", {"layers": ["gull"]}, "Let go what was changed but not keyed",
     (("set_value", {"layer": "gull", "property": "rotation", "value": 5, "time": at(7), "keying": False}),)),
    ("restore_layers", {"layers": [TAKEN], "title": "Take the keys back"}, "Take the keys back", ()),
    ("forget_ease", {"name": "Soft"}, "Forget the ease Soft", (("keep_ease", {"name": "Soft", "text": "ease-out"}),)),
    ("forget_motion", {"name": "Nod"}, "Forget the motion Nod", (("keep_motion", {"motion": MOTION}),)),
    ("type_craft", {"keys": SETTLES[1]["keys"], "field": "far", "told": "35"}, "Change the far of a key of Wide", (SETTLES,)),
    ("change_links", {"lanes": FOLLOWER, "factor": 2, "lag": at(3)}, "Change how Rotation of Gull follows", (FOLLOWS,)),
    ("cut_links", {"lanes": FOLLOWER, "keys": True, "time": 0}, "Make keys of what Rotation of Gull follows", (FOLLOWS,)),
    ("change_shown", {"layers": ["buoylayer"], "rate": 0.5}, "Let Buoy run at 50%", (SHOWN,)),
    ("bring_again", {"scene": "buoy", "was": [BUOY], "now": [TURNED], "origin": {"file": "buoy.json", "asset": SCENES_FILE.hash}}, "Bring Buoy in again", (SHOWN,)),
    ("carry_later", {"layers": ["dory"], "all": at(4), "rotation": at(1)}, "Carry Dory later", ()),
    ("lay_relations", {"layers": ["dory"], "what": "later"}, "Make keys of how late Dory is carried", (LATER,)),
]  # fmt: skip


def as_edit(kind, fields):
    return EDIT.validate_python({**({} if kind in PROJECT_WIDE else {"scene": "crossing"}), **fields, "kind": kind})


def prepared(before, project=None):
    """The harbour, or another project, after these edits."""
    made = harbour() if project is None else project
    for kind, fields in before:
        made = apply(made, as_edit(kind, fields))
    return made


def all_prepared():
    """The harbour in which each kind of edit finds what it needs."""
    every = {repr(each): each for *_, before in PREPARED for each in before}
    return prepared(every.values())


def named_files():
    """A project that names the files which some edits bring in."""
    font = UserFont(asset=FONT_FILE.hash, label="Own")
    came = Scene(id="came", name="Came", origin=Origin(file="buoy.json", asset=SCENES_FILE.hash))
    return Project(name="Files", fonts=(font,), scenes=(came,))
