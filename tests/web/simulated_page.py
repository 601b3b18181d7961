"""A page without a browser: it keeps what the real one keeps, and puts every answer on it in the same way.

``receive`` follows static/js/workbench.js, rows.js, fragments.js and time.js: what is held over from answer to
answer is held here, so that a page that lived through many edits can be laid beside a fresh one.
"""

import itertools
import math
import re

from deftarc.core.evaluate import evaluate, frame_times
from deftarc.formats.wire import blocks_of, dots_parts, unpack
from deftarc.web.live.lines import filled
from deftarc.web.live.page import Looking
from deftarc.web.look import Look

#: What stands inside another fragment, and is emptied when that is drawn anew.
INSIDE = {"pair": ("pair-curves",), "figures": ("figures-key", "figures-segment")}
#: What an answer in two parts tells only in the second.
REST = ("history", "axis", "folded", "stops", "pair", "told")
WELL = re.compile(r'(<span class="well"[^>]*data-property="([\w/]+)"[^>]*>.*?<input[^>]*?)value="[^"]*"', re.S)


class SimulatedPage:
    def __init__(self, shop, project, scene, **asked):
        self.looking = Looking(shop, project)
        self.asked = {"scene": scene, "axis": {"start": 0, "end": 100 * 28224000, "width": 500}, **asked}
        self.info, self.items, self.drawings, self.columns, self.tops = {}, {}, {}, {}, {}
        self.rows, self.fragments, self.head, self.still, self.smear = {}, {}, {}, None, None
        self.order, self.roots, self.within = [], None, {}
        self.refused, self.gone = "", False

    def look(self, edit=None, light=False, fresh=False, snap=None, ahead=False):
        """Asks and puts the answer on, ``ahead`` in its two parts; whether it was not refused."""
        told = {"edit": edit, "snap": snap if edit else None, "light": light and not edit, "ahead": ahead}
        self.looking.followed = math.inf if ahead else 0.0
        first, rest = self.looking.begin(Look.model_validate({**self.asked, **told, "fresh": fresh}))
        taken = self.receive(first)
        if rest is not None:
            under_hand = self.picture()
            gone = self.gone
            taken = self.receive(rest())
            self.gone = self.gone or gone
            now = self.picture()
            # What followed has changed nothing of the picture; columns of what is no longer selected went.
            assert {**under_hand, "columns": {name: under_hand["columns"][name] for name in now["columns"]}} == now
        if taken and self.gone:
            # What was selected is no longer there: the page looks again without it.
            self.receive(self.looking.answer(Look.model_validate({**self.asked, **told, "light": False})))
        return taken

    def hold(self, edit, snap=None, cut=None):
        """A hand in the lanes moves on: what lies under it is asked for. With ``cut`` it rests, all is asked for, and it
        moves on meanwhile: after so many chances to leave something out.
        """
        told = {"edit": edit, "snap": snap, "brief": cut is None}
        chances = itertools.count()
        if cut is not None:
            self.looking._cut = lambda look: next(chances) >= cut
        try:
            first, rest = self.looking.begin(Look.model_validate({**self.asked, **told}))
        finally:
            self.looking.__dict__.pop("_cut", None)
        assert rest is None
        return self.receive(first)

    def receive(self, answer):
        head, rest = unpack(answer)
        self.refused, self.gone = head.get("refused", ""), False
        if self.refused or head.get("stopped"):
            return False
        at = 0

        def take(rows, wide):
            nonlocal at
            at += rows * wide * 4
            return rest[at - rows * wide * 4 : at]

        def items(table):
            for item in table["items"]:
                numbers = take(item["rows"], 7)
                yield item["layer"], (item, numbers, [take(b["rows"], b["wide"]) for b in blocks_of(item)])

        if head.get("scene"):
            self._switched(head["scene"]["id"])
        if "layers" in head:
            self._layers(head["layers"])
        if "within" in head:
            self.drawings.update(head["within"]["drawings"])
            self.within.update(head["within"]["keys"])
        # The order of the parts in an answer: the table, the still picture, the columns.
        if "table" in head:
            self.items.update(items(head["table"]))
            self.roots = head["table"]["roots"]
        still = (head["still"]["first"], dict(items(head["still"]))) if "still" in head else None
        smear = dict(items(head["smear"])) if "smear" in head else None
        fresh = {column["name"]: (column, take(column["rows"], column["wide"])) for column in head.get("columns", ())}
        assert at == len(rest)
        self.columns = {**self.columns, **fresh}
        if not head.get("rest") and ("scene" in head or not head.get("brief")):
            self.still, self.pose, self.smear = still, head.get("pose"), smear
        if "scene" in head:
            kept = [
                name
                for name in ("keyed", *(REST if {"ahead", "brief", "cut"} & head.keys() else ()))
                if name not in head
            ]
            self.head = {**{name: self.head.get(name) for name in kept}, **head}
        elif "rest" in head:
            self.head = {**{name: told for name, told in self.head.items() if name not in REST}, **head}
        if "good" in head:
            self.columns = {name: self.columns[name] for name in head["good"]}
            if self.asked.get("folded") is None:
                self.asked["folded"] = head["folded"]
        if "lanes" in head:
            self._rows(head["lanes"])
        for name, html in head["fragments"].items():
            self.fragments[name] = filled(html, self.fragments.get(name, ""))
            for inside in INSIDE.get(name, ()):
                self.fragments.pop(inside, None)
        return True

    def _switched(self, scene):
        if self.head and self.head["scene"]["id"] != scene:
            self.info, self.items, self.order, self.within = {}, {}, [], {}

    def _layers(self, told):
        self.drawings.update(told["drawings"])
        self.info.update({each["id"]: each for each in told["changed"]})
        self.order = told["order"]
        for gone in set(self.info) - set(self.order):
            del self.info[gone]
            self.items.pop(gone, None)
        self.gone = any(name not in self.info for name in self.asked.get("layers", ()))
        self.asked["layers"] = [name for name in self.asked.get("layers", ()) if name in self.info]
        self.asked["keys"] = [key for key in self.asked.get("keys", ()) if key["layer"] in self.info]

    def _rows(self, told):
        here = [name for name, _ in told["rows"]]
        self.rows = {name: told["html"].get(name, self.rows.get(name)) for name in here}
        self.tops = dict(told["rows"])
        self.height, self.empty = told["height"], told["empty"]

    def _html(self, name):
        """A fragment as it stands on the page: numbers that the page fills in from its columns left out."""
        html = self.fragments.get(name)
        if name == "figures" and html and not self.still:
            html = WELL.sub(lambda m: m[1] if m[2] in self.columns else m[0], html)
        return html

    def shows(self, name):
        """Whether an item is in the picture: a group put together once may be one no more, and what lay in a scene that
        was shown may be gone.
        """
        if not self.roots:
            return "/" not in name and "children" not in self.items[name][0]
        return name in self._reached()

    def _items(self):
        """What is in the picture; of rings and particles what is to be seen at the frame, be it sent or fetched."""
        return {name: self._at_frame(item) for name, item in self.items.items() if self.shows(name)}

    def _at_frame(self, item):
        told, numbers, blocks = item
        if "dots" not in told:
            return item
        at = next(k for k, block in enumerate(blocks_of(told)) if block is told["dots"])
        dots, rows = told["dots"], blocks[at]
        frame = self.asked.get("frame", 0)
        if not 0 <= frame - dots["first"] < len(dots["starts"]) - 1:
            dots, rows = self._fetched(told["layer"], frame)
        k = frame - dots["first"]
        first, last = (36 * start for start in dots["starts"][k : k + 2])
        looks = {name: dots[name] for name in ("kind", "sides", "shaped")}
        return {**told, "dots": looks}, numbers, [*blocks[:at], rows[first:last], *blocks[at + 1 :]]

    def _fetched(self, name, frame):
        """As stretches.js fetches what is missed."""
        project = self.looking.shop.projects.open(self.looking.project_id).project
        scene = project.scene(self.asked["scene"])
        times = frame_times(scene, frame, 1)
        table = evaluate(scene, times, self.looking.shop.materials.shaper.form, scenes=project.by_id)
        told, blobs = dots_parts(table, frame, 0)
        return told[name], blobs[list(told).index(name)]

    def _reached(self):
        found, waiting = set(), list(self.roots)
        while waiting:
            name = waiting.pop()
            if name in self.items and name not in found:
                found.add(name)
                waiting += self.items[name][0].get("children", ())
        return found

    def picture(self):
        """What lies under a hand on the picture, and what is drawn over it."""
        return {
            "order": self.order,
            "layers": dict(self.info),
            "roots": self.roots,
            "items": self._items(),
            "still": self.still,
            "pose": self.pose,
            "smear": self.smear,
            "columns": {name: told for name, told in self.columns.items() if not name.startswith(("pair", "own "))},
            **{name: self.head.get(name) for name in ("scene", "paths", "points", "snapped", "selects")},
        }

    def shown(self):
        """Everything a person sees, to be laid beside what another page shows."""
        told = ("scene", "project", "rounded", "history", "folded", "pair", "paths", "stops", "points", "told", "axis")
        return {
            "order": self.order,
            "layers": {name: {k: v for k, v in each.items() if k != "drawing"} for name, each in self.info.items()},
            "drawings": {name: self.drawings[each["drawing"]] for name, each in self.info.items()},
            "roots": self.roots,
            "items": self._items(),
            "within": {n: self.drawings[key] for n, key in self.within.items() if n in self.items and self.shows(n)},
            "still": self.still,
            "pose": self.pose,
            "columns": self.columns,
            "rows": self.rows,
            "tops": (self.tops, self.height, self.empty),
            **{f"fragment {name}": self._html(name) for name in self.fragments},
            **{f"head {name}": self.head.get(name) for name in told},
        }


def differences(lived, fresh):
    """What two pages show otherwise, by name; fragments that only one was ever asked for are left out."""
    one, other = lived.shown(), fresh.shown()
    return [name for name in other if one.get(name) != other[name]]


def beside_a_fresh_one(lived, edit=None, snap=None, begun=None):
    """A page's state asked for anew by a page that has just been opened; what is tried is tried there too, by a hand that
    began with what was asked then (``begun``).
    """
    made = SimulatedPage(lived.looking.shop, lived.looking.project_id, lived.asked["scene"])
    made.asked = {**(begun or lived.asked)}
    assert made.look(fresh=True), made.refused
    made.asked = {**lived.asked}
    assert edit is None or made.look(edit=edit, snap=snap), made.refused
    return made
