"""Somebody who makes any edit with any numbers, at and beyond every limit, and looks at all that comes of it."""

import copy
import random
from collections import Counter

import numpy as np
from pydantic import ValidationError

from deftarc.app.workshop import Workshop
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Layer
from deftarc.core.edit import EDIT
from deftarc.core.evaluate import delivered, evaluate, frame_times
from deftarc.formats.archive import read_project
from deftarc.paint.skia.painter import blank
from deftarc.paint.skia.scene import painter_for
from deftarc.store.parts import PartIndex
from deftarc.store.reading_parts import Reading
from deftarc.store.standing import reader_of
from deftarc.web.live.page import Looking
from deftarc.web.look import AxisAsked, Focus, Look
from tests.every_edit import EDITS
from tests.prepared_edits import FONT_FILE, PREPARED, PROJECT_WIDE, SCENES_FILE
from tests.scenes import at

EDGES = [0, 1, -1, 0.5, -0.0, 5e-324, 1e-300, 1e-9, 2, 90, 1e6, -1e6, 9e6, -9e6, 1e7, -1e7, 9999999.999999998, 1.0000000000000002e7,
         -3e7, 1e12, 1e300, -1e300, 2**31, 2**53, 2**63, -(2**63), 1e-160]  # fmt: skip
TOLD = ["9e6", "-9e6", "1e7", "10000001", "*=1e7", "*=-1e7", "+=9e6", "-=9e6", "*=0", "*=1e-300", "1e400", "1/3", "0", "-0.0",
        "9" * 400, "(((1)))", "nan", "inf", "1e7*1e7", "\ud800"]  # fmt: skip
TIMES = [0, 1, at(1), at(7), at(40), at(99), at(100), -at(30), at(36_000), 24 * 3600 * 705_600_000,
         -24 * 3600 * 705_600_000, 24 * 3600 * 705_600_000 + 1]  # fmt: skip
#: Beside the edits that a page makes: the ones that grow what there is.
MORE = [
    ("set_value", {"layer": "gull", "property": "rotation", "told": "9e6", "time": 0, "keying": True}),
    ("set_value", {"layer": "gull", "property": "scale", "told": "1e9", "time": 0}),
    ("set_value", {"layer": "gull", "property": "position", "component": 1, "value": 9e6, "time": at(20), "keying": True}),
    ("move_keys", {"keys": [], "by": 0, "lift": 9e6}),
    ("stretch_keys", {"keys": [], "about": 0, "longer": 3, "taller": 1e6}),
    ("set_parent", {"layers": ["gull"], "parent": "mast", "time": 0}),
    ("ungroup", {"layers": ["mast"], "time": 0}),
    ("duplicate_layers", {"layers": ["gull", "wave"]}),
    ("change_artwork", {"layer": "gull", "change": {"width": 9e6, "radius": 1e7}}),
    ("move_pivot", {"layers": ["wave"], "own": [9e6, -9e6], "time": 0}),
    ("move_layers", {"layers": ["arc"], "dx": 9e6, "dy": -9e6, "time": 0}),
    ("turn_layers", {"layers": ["arc"], "degrees": 9e6, "time": 0}),
    ("scale_layers", {"layers": ["arc"], "start": [1e-3, 9], "to": [9e6, 18], "time": 0}),
]  # fmt: skip


#: Names that an edit gives to layers.
LAYERS = ("layer", "layers", "parent", "others", "source", "before")
LANES = ["rotation", "scale", "opacity", "width", "skew_x", "pivot_x", "stroke_width", "position"]


class Dice:
    """Makes any edit, and of each kind some that are accepted: of all kinds those that were seldom so come more often."""

    def __init__(self, seed, accepted=None):
        self.random = random.Random(seed)
        self.accepted = Counter() if accepted is None else accepted

    def kind(self):
        every = [each[:2] for each in (*EDITS, *PREPARED)] + MORE * 2
        if self.random.random() < 0.6:
            return self.random.choice(every)
        least = min(self.accepted[kind] for kind, _ in every)
        return self.random.choice([each for each in every if self.accepted[each[0]] == least])

    def edit(self, project):
        """Some edit as plain data, most of its numbers at an edge."""
        dice, here = self.random, self.random.choice(project.scenes)
        kind, fields = self.kind()
        fields = copy.deepcopy(fields)
        names = [layer.id for layer in here.layers] or ["nobody"]
        keys = [{"layer": each.id, "property": name, "time": key.time} for each in here.layers for name in each.keyed
                for key in each.track(name).keys[:6]]  # fmt: skip
        wild = dice.choice([0.0, 0.3, 0.8])

        def walk(told, name=""):
            if isinstance(told, dict):
                return {key: walk(value, key) for key, value in told.items()}
            if name == "keys":
                return dice.sample(keys, min(len(keys), dice.randint(1, 4))) if dice.random() < 0.8 else told
            if isinstance(told, list | tuple):
                return [walk(each, name) for each in told]
            if name in LAYERS and dice.random() < 0.8:
                return dice.choice(names)
            if name == "property" and dice.random() < 0.5:
                return dice.choice(LANES)
            if name == "told" and dice.random() < max(wild, 0.2):
                return dice.choice(TOLD)
            if isinstance(told, int | float) and not isinstance(told, bool) and dice.random() < wild:
                return dice.choice(TIMES if name in ("time", "by", "start", "end", "length", "about", "key") else EDGES)
            return told

        if dice.random() < 0.3:
            # As a page makes it, on what it was made for.
            here = next((each for each in project.scenes if each.id == "crossing"), here)
        else:
            fields = walk(fields)
        if kind in ("move_keys", "stretch_keys") and keys and not fields["keys"]:
            fields["keys"] = dice.sample(keys, 1)
        told = {"kind": kind, "scene": here.id, **fields}
        if kind in PROJECT_WIDE:
            told = {"kind": kind, **fields}
        return told


class Wild:
    """One project of a folder under such a hand; every step is looked at, and what was is remembered for undo."""

    def __init__(self, folder, project, seed, accepted=None):
        self.dice = Dice(seed, accepted)
        self.shop = Workshop.at(folder)
        self.shop.assets.put([FONT_FILE, SCENES_FILE])
        self.shop.projects.create(project, "p")
        self.states = [self.project]
        self.accepted = self.refused = 0

    @property
    def opened(self):
        return self.shop.projects.open("p")

    @property
    def project(self):
        return self.opened.project

    def step(self, look=False):
        """Makes one edit. Refused or held, nothing else may come of it."""
        told = self.dice.edit(self.project)
        try:
            edit = EDIT.validate_python(told)
            self.shop.commit("p", self.opened.revision, edit)
        except (ValidationError, Refusal):
            self.refused += 1
            assert self.project is self.states[-1]
            return
        self.accepted += 1
        if self.project is self.states[-1]:
            return
        self.dice.accepted[told["kind"]] += 1
        self.states.append(self.project)
        self.sound(told)
        if look:
            self.seen()

    def sound(self, told):
        """What was written is what was made, and every number of it is one."""
        with self.shop.sessions() as session:
            root = self.shop.projects.root_of("p")[1]
            again = Reading(PartIndex(), reader_of(session)).project(root)
        assert again == self.project, told
        assert not self.opened.lost
        for scene in again.scenes:
            table = evaluate(scene, frame_times(scene, 0, min(scene.frames, 3)), self.shop.materials.shaper.form)
            for item in table.leaves:
                outlines = [each.outline for each in item.masks] + [item.outline] * (item.outline is not None)
                dots = [] if item.dots is None else [item.dots.at(0)]
                numbers = [rows for each in item.effects for rows in each.values.values()]
                points = [each.points for each in outlines]
                for row in (item.matrix, item.opacity, *item.look.values(), *points, *dots, *numbers):
                    assert np.isfinite(row).all(), told
            assert all(np.isfinite(world).all() for world in table.worlds.values()), told

    def seen(self):
        """It is drawn: on the page, by the painter, and as a file that comes back."""
        for scene in self.project.scenes[:3]:
            some = [layer.id for layer in scene.layers[:2]]
            focus = next((Focus(layer=each.id, property=each.keyed[0]) for each in scene.layers if each.keyed), None)
            axis = AxisAsked(start=0, end=scene.length, width=600)
            Looking(self.shop, "p").answer(
                Look(scene=scene.id, layers=tuple(some), focus=focus, axis=axis, path=True, segments=True, fresh=True)
            )
            pixels, surface = blank(64, 36)
            table = evaluate(
                delivered(scene), frame_times(scene, scene.frames // 2, 1), self.shop.materials.shaper.form
            )
            painter_for(scene, self.shop.materials).paint(
                surface.getCanvas(), table, 0, scene.background, (64 / scene.width, 36 / scene.height)
            )
            surface.flushAndSubmit()
            assert pixels.shape == (36, 64, 4)
        assert read_project(self.shop.export("p")).project == self.project

    def back_to_the_beginning(self):
        """Undo gives every state back just as it was."""
        fresh = Workshop.at(self.shop.folder)
        for state in reversed(self.states[:-1]):
            opened = fresh.projects.open("p")
            assert fresh.projects.undo("p", opened.revision).project == state
        assert all(
            isinstance(layer, Layer) for scene in fresh.projects.open("p").project.scenes for layer in scene.layers
        )
