"""A page that lived through a hundred edits shows what a fresh page shows, whatever the edits were."""

import random

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from deftarc.app.brought import brought_again
from deftarc.app.workshop import Workshop
from deftarc.core.base.errors import Refusal
from deftarc.core.document.artwork import Particles, Wash
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.matte import Matte
from deftarc.core.document.scene import Shutter
from deftarc.core.edit import EDIT
from deftarc.core.edit.brought import BringScenes
from deftarc.core.edit.layers import DescribeLayers
from deftarc.core.evaluate import FrameTable
from deftarc.formats.origins import with_origin
from deftarc.formats.read import BroughtScenes
from deftarc.formats.read.lottie.reader import read_lottie
from deftarc.web.live import brief as brief_room
from deftarc.web.live.page import Looking
from tests.animations import box, buoy, told
from tests.every_edit import EDITS, WITHOUT_SCENE, harbour
from tests.looks import effect, round_mask, square_mask
from tests.scenes import at, layer, numbers, scene
from tests.web.simulated_page import SimulatedPage, beside_a_fresh_one, differences

UNSCENED = WITHOUT_SCENE
#: What a hand in the lanes tries.
IN_LANES = ("move_keys", "stretch_keys", "move_spans", "trim_span")
#: These give what they make names of its own each time: made twice they differ, and no page tries them.
MAKING = ("duplicate_layers",)


def names_anew(edit):
    """Whether an edit that does not say what a new thing is called gives it another name each time it is read."""
    one, other = (EDIT.validate_python(edit) for _ in range(2))
    return one != other


def quay():
    """The harbour with what carries, a group in a group, and a second scene."""
    made = harbour()
    here = made.scenes[0]
    here = here.with_layer(here.layer("wave").changed(parent="mast"))
    here = here.with_layer(here.layer("gull").changed(parent="wave"))
    inlet = layer("Inlet", SceneShown(scene="buoyscene", width=640, height=360, goes_on="alternate"))
    # How things look: sparks where the gull is, a wash over all, a gull seen through the wave, masked and treated.
    sparks = Particles(emits="place", source="gull", burst_rate=20, burst_life=1)
    looks = (
        layer("Sea mist", Wash()).changed(effects=(effect("blur", radius=3),)),
        layer("Glints", sparks, burst=numbers((0, 1), (20, 0.5))),
    )
    gull = here.layer("gull").changed(
        masks=(round_mask(feather=4), square_mask(mode="subtract")),
        effects=(effect("shadow", spread=2), effect("crop", "two", left=0.1)),
        matte=Matte(layer="wave", by="luma"),
    )
    here = here.with_layer(gull).changed(
        layers=(*looks, inlet, *here.with_layer(gull).layers), shutter=Shutter(on=True)
    )
    second = scene(layer("Buoy", rotation=numbers((0, 0), (50, 30))), layer("Lamp").changed(parent="buoy"))
    return made.with_scene(here).changed(scenes=(here, second.changed(id="buoyscene", name="Buoy")))


class Hand:
    """Somebody at a page, and somebody else at the same project, doing one thing after the other."""

    def __init__(self, folder, seed):
        self.seed, self.dice = seed, random.Random(seed)
        self.shop = Workshop.at(folder)
        self.shop.projects.create(quay(), "p")
        self.page = SimulatedPage(self.shop, "p", "crossing")
        self.did = []
        self.step(lambda: self.page.look(fresh=True))

    @property
    def project(self):
        return self.shop.projects.open("p").project

    @property
    def here(self):
        return self.project.scene(self.page.asked["scene"])

    def step(self, act, edit=None, snap=None, begun=None):
        """Does one thing; then the page must show what a fresh one does."""
        if act() is False:
            # A refusal leaves all as it was, and the next look brings the newest.
            self.page.look()
            edit = snap = begun = None
        fresh = beside_a_fresh_one(self.page, edit, snap, begun)
        told = differences(self.page, fresh)
        assert not told, f"{told} after {self.did[-6:]}, begun with {self.seed}"

    def edit(self):
        """Some edit of the scene that shows, as JSON."""
        dice, here = self.dice, self.here
        # In a scene that has been emptied, edits of a layer that is not there: they are refused.
        names = [each.id for each in here.layers] or ["nobody"]
        one, other = dice.choice(names), dice.choice(names)
        keys = [{"layer": each.id, "property": name, "time": time} for each in here.layers
                for name in each.keyed for time in each.track(name).key_times]  # fmt: skip
        some = dice.sample(keys, min(len(keys), dice.randint(1, 3))) if keys else []
        time = at(dice.choice([0, 7, 20, 50, 99]))
        push, onto = dice.choice(["none", "none", "lane", "layer", "scene"]), dice.choice(["beside", "replace"])
        made = dice.choice(
            [
                ("move_layers", {"layers": [one], "dx": dice.randint(-90, 90), "dy": 5, "time": time}),
                ("move_layers", {"layers": [one, other], "dx": 3, "dy": 5, "time": time, "keying": True}),
                ("turn_layers", {"layers": [one], "degrees": dice.randint(-200, 200), "time": time}),
                ("scale_layers", {"layers": [one], "start": [9, 9], "to": [dice.randint(5, 30), 18], "time": time}),
                ("set_value", {"layer": one, "property": dice.choice(["rotation", "opacity"]),
                               "told": str(dice.randint(1, 99)), "time": time, "keying": dice.random() < 0.6}),
                ("set_parent", {"layers": [one], "parent": dice.choice([other, None]), "time": time}),
                ("link_lanes", {"lanes": [{"layer": one, "property": dice.choice(["rotation", "position", "opacity"])}],
                                "to": {"layer": other, "what": dice.choice(["rotation", "position", "speed"])},
                                "lag": at(dice.randint(-9, 9)), "factor": dice.choice([1, -0.5]), "time": time}),
                ("change_links", {"lanes": [{"layer": one, "property": "rotation"}], "lag": at(dice.randint(0, 20))}),
                ("cut_links", {"lanes": [{"layer": one, "property": "rotation"}], "keys": dice.random() < 0.3,
                               "time": time}),
                ("change_shown", {"layers": ["inlet"], "rate": dice.choice([1, -1, 0.4]), "begins": at(dice.randint(0, 30)),
                                  "goes_on": dice.choice(["once", "hold", "repeat"])}),
                ("react", {"lanes": [{"layer": one, "property": dice.choice(["rotation", "opacity", "skew_x", "position", "fill", "outline"])}],
                           "to": {"layer": other, "what": dice.choice(["rotation", "position"])},
                           "kinds": [dice.choice(["contact", "peak", "stop"])],
                           "pulse": {"amount": 0.2, "attack": at(1), "release": at(4), "rings": dice.randint(0, 2)}}),
                ("change_reactions", {"lanes": [{"layer": one, "property": "rotation"}], "field": "later", "told": "2"}),
                ("squash_at_contacts", {"layers": [one], "boxes": [[-9, -9, 9, 9]], "time": time}),
                ("stretch_layers", {"layers": [one], "on": dice.random() < 0.8, "amount": 0.6}),
                ("carry_later", {"layers": [one], "all": at(dice.randint(0, 12))}),
                ("group_layers", {"layers": list({one, other}), "time": time}),
                ("describe_layers", {"layers": [one], dice.choice(["hidden", "locked", "reference", "hands_opacity"]):
                                     dice.random() < 0.6}),
                ("describe_layers", {"layers": [one], "name": dice.choice(["Tern", "Skua", "Auk"])}),
                ("set_keys", {"layers": [one], "properties": ["rotation"], "time": time}),
                ("move_keys", {"keys": some, "by": at(dice.randint(-4, 9)), "lift": dice.choice([0, 4])}),
                ("stretch_keys", {"keys": (many := keys[: dice.randint(1, 40)]), "about": time, "push": push,
                                  "longer": dice.choice([0.5, 1.5, 2.5]), "taller": dice.choice([1, 1, -2])}),
                ("move_keys", {"keys": many, "by": at(dice.randint(-9, 9)), "push": push, "onto": onto}),
                ("delete_keys", {"keys": some}),
                ("ease_keys", {"keys": some, "ease": dice.choice(["slow-ends", "overshoot", "hold", "straight"])}),
                ("delete_layers", {"layers": [one]}),
                ("duplicate_layers", {"layers": [one], "linked": dice.random() < 0.5}),
                ("order_layers", {"layers": [one], "before": other}),
                ("trim_span", {"layers": [one], "end": at(dice.randint(30, 120))}),
                ("move_spans", {"layers": [one], "by": at(dice.randint(-9, 9))}),
                ("change_scene", {"frames": dice.randint(60, 120)}),
                ("change_scene", {"rate": {"numerator": dice.choice([24, 25, 30])}}),
                ("change_artwork", {"layer": one, "change": {"fill": dice.choice(["#22577a", "#e1a037"])}}),
                ("clear_motion", {"layers": [one], "time": time}),
                dice.choice(EDITS)[:2], dice.choice(EDITS)[:2], dice.choice(EDITS)[:2],
            ]
        )  # fmt: skip
        kind, fields = made
        return {"kind": kind, **({} if kind in UNSCENED else {"scene": here.id}), **fields}

    def commit(self, edit):
        try:
            self.shop.projects.commit("p", self.shop.projects.open("p").revision, EDIT.validate_python(edit))
        except (Refusal, ValueError):
            return False
        return True

    def once(self):
        """One thing of all that a person does; what it was is kept for a failure's words."""
        what = self.dice.choice(["edit"] * 4 + ["try"] * 3 + ["look"] * 3 + ["light", "undo", "redo", "scene", "else"])
        edit = self.edit() if what in ("edit", "try", "else") else None
        self.did.append((what, edit))
        getattr(self, f"do_{what}")(edit)

    def do_edit(self, edit):
        self.step(lambda: self.commit(edit) and self.page.look())

    def do_try(self, edit):
        snap = self.dice.choice([None, {"tolerance": 20, "frame": True, "layers": True}])
        if edit["kind"] in ("move_keys", "trim_span", "move_spans"):
            snap = snap and {"tolerance": at(2), "grabbed": at(10)}
        if edit.get("keys") == [] or edit["kind"] in MAKING or names_anew(edit):
            return
        ahead = self.dice.random() < 0.5
        # Axes stay as they were when the hand began, whatever it takes away meanwhile.
        begun = dict(self.page.asked)
        if edit["kind"] in IN_LANES and self.dice.random() < 0.7:
            # What a hand takes hold of is selected first: so axes are what they are before it moves.
            self.page.asked["keys"] = list(edit.get("keys") or self.page.asked.get("keys", ()))
            self.step(self.page.look)
            begun = dict(self.page.asked)
            self.held(edit, snap)
        self.step(lambda: self.page.look(edit=edit, snap=snap, ahead=ahead), edit, snap, begun)
        # Kept, or put back.
        if self.dice.random() < 0.5:
            self.commit(self.page.head.get("snapped", {}).get("edit") or edit)
        self.step(self.page.look)

    def held(self, edit, snap):
        """The hand comes there by way of other places, is shown what lies under it, and now and then rests."""
        brief_room.LANES_LIVE = self.dice.choice([0, 1, 30])
        for _ in range(self.dice.randint(1, 3)):
            other = dict(edit)
            if "by" in edit:
                other["by"] = at(self.dice.randint(-5, 5))
            if "longer" in edit:
                other["longer"] = self.dice.choice([0.3, 1.0, 1.7])
            self.did.append(("held", other))
            self.page.hold(other, snap, self.dice.choice([None, None, 0, 1, 2]))

    def do_look(self, _):
        dice, asked, here = self.dice, self.page.asked, self.here
        names = [each.id for each in here.layers]
        keys = [{"layer": each.id, "property": name, "time": time} for each in here.layers
                for name in each.keyed for time in each.track(name).key_times]  # fmt: skip
        chosen = dice.sample(names, min(len(names), dice.randint(0, 3)))
        change = dice.choice(
            [
                {"layers": chosen, "keys": []},
                {"keys": (some := dice.sample(keys, min(len(keys), 2))), "layers": list({k["layer"] for k in some})},
                {"frame": dice.randint(0, 99)},
                {"axis": {"start": dice.choice([0, -at(10)]), "end": at(dice.randint(60, 130)), "width": 500}},
                {"page": dice.choice(["motion", "look"])},
                {"unit": dice.choice(["timecode", "frames", "seconds"])},
                {"axes": dice.choice(["own", "parent", "scene"])},
                {"filters": {"keyed": dice.random() < 0.5, "text": dice.choice(["", "w"])}},
                {"folded": dice.sample(names, min(len(names), 2))},
                {"opened": [{"layer": name, "property": "opacity"} for name in chosen]},
                {"window": {"top": dice.choice([0, 300]), "height": 300}},
                {"path": dice.random() < 0.5, "segments": dice.random() < 0.5, "points": dice.random() < 0.5},
                {"pair": {"apart": dice.random() < 0.5, "fit": dice.choice(["all", "selection", "range"])}},
                {"keying_since": 0},
            ]
        )
        asked.update(change)
        self.step(self.page.look)

    def do_light(self, _):
        self.page.asked["frame"] = self.dice.randint(0, 59)
        self.step(lambda: self.page.look(light=True))

    def do_undo(self, _, which="undo"):
        opened = self.shop.projects.open("p")
        try:
            getattr(self.shop.projects, which)("p", opened.revision)
        except Refusal:
            return
        if all(each.id != self.page.asked["scene"] for each in self.project.scenes):
            self.page.asked["scene"] = self.project.scenes[0].id
        self.step(self.page.look)

    def do_redo(self, _):
        self.do_undo(None, "redo")

    def do_scene(self, _):
        self.page.asked.update(scene=self.dice.choice(self.project.scenes).id, folded=None)
        self.step(lambda: self.page.look(fresh=True))

    def do_else(self, edit):
        """Another window's edit: this page is only told that something changed, and looks."""
        self.step(lambda: self.commit(edit) and self.page.look())


@pytest.fixture(autouse=True, scope="module")
def heavy():
    """Every hand in the lanes moves too much for all that follows to keep up with it."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(brief_room, "MANY_KEYS", -1)
        patch.setattr(brief_room, "LANES_LIVE", brief_room.LANES_LIVE)
        yield


@pytest.fixture(scope="module")
def folders(tmp_path_factory):
    return lambda: tmp_path_factory.mktemp("page")


@given(st.integers(0, 2**32))
@example(11)
@example(3)
@example(3500660136)
@settings(max_examples=30, deadline=None)
def test_a_page_that_lived_through_many_changes_shows_what_a_fresh_one_does(folders, seed):
    hand = Hand(folders(), seed)
    for _ in range(14):
        hand.once()


def carried(hand, act):
    """One thing done to the mast, which carries a wave, which carries a gull."""
    hand.page.asked["layers"] = ["mast"]
    hand.step(hand.page.look)
    act(hand)


DONE_TO_A_CARRIER = {
    "dragged": lambda hand: hand.do_try({"kind": "move_layers", "scene": "crossing", "layers": ["mast"], "dx": 40, "dy": 9, "time": 0}),
    "typed": lambda hand: hand.do_edit({"kind": "set_value", "scene": "crossing", "layer": "mast", "property": "rotation", "told": "70", "time": 0}),
    "keyed": lambda hand: hand.do_edit({"kind": "set_value", "scene": "crossing", "layer": "mast", "property": "rotation", "told": "70", "time": at(9), "keying": True}),
    "hidden": lambda hand: hand.do_edit({"kind": "describe_layers", "scene": "crossing", "layers": ["mast"], "hands_opacity": True}),
}  # fmt: skip


@pytest.mark.parametrize("how", DONE_TO_A_CARRIER)
def test_what_is_carried_follows_its_carrier_on_the_page(tmp_path, how):
    hand = Hand(tmp_path, 1)
    carried(hand, DONE_TO_A_CARRIER[how])


@pytest.mark.parametrize("place", ["around", "inside"])
def test_what_comes_again_of_a_file_is_on_the_page_that_shows_it(tmp_path, place):
    hand = Hand(tmp_path, 1)
    shop = hand.shop

    def commit(edit, *assets):
        return shop.bring_in("p", shop.projects.open("p").revision, assets, edit, None)

    read = lambda told_: read_lottie(told(told_), "Buoy", "came").scenes  # noqa: E731
    came, kept = with_origin(read(buoy()), "buoy.json")
    art = SceneShown(scene=came[0].id, width=400, height=320, goes_on="repeat")
    hand.step(lambda: commit(BringScenes(scene="crossing", id="shown", name="Buoy", artwork=art, scenes=came), kept)
              and hand.page.look())  # fmt: skip
    if place == "inside":
        hand.page.asked.update(scene=came[0].id, folded=None)
        hand.step(lambda: hand.page.look(fresh=True))
    # The one that carries the other is called otherwise here, and moves and is drawn otherwise there.
    body = next(each for each in came[0].layers if each.name == "Buoy")
    hand.step(
        lambda: commit(DescribeLayers(scene=came[0].id, layers=(body.id,), name="Bell buoy")) and hand.page.look()
    )
    was, frames = came, [read(buoy(turns=45, above=(box("Flag", [50, 30], [0, 0.5, 0.4], 3, [60, -60], parent=2),), op=60)),
                         read(buoy(turns=10, width=60))]  # fmt: skip
    for fresh in frames:
        again = brought_again(hand.project, hand.project.scene(came[0].id), shop.assets.read,
                              BroughtScenes("Buoy", fresh, ()), "buoy.json", "here")  # fmt: skip
        hand.step(lambda again=again: commit(again.edit, *again.assets) and hand.page.look())
        assert hand.project.scene(was[0].id).layer(body.id).name == "Bell buoy"
    hand.do_undo(None)
    assert "Flag" in {each.name for each in hand.project.scene(came[0].id).layers}
    hand.do_redo(None)
    assert "Flag" not in {each.name for each in hand.project.scene(came[0].id).layers}


def test_the_guard_sees_a_page_that_is_sent_only_layers_that_changed_themselves(tmp_path, monkeypatch):
    """The fault that this file was written for, put in again."""
    whole = Looking._table

    def own_changes_only(self, head, blobs, project, scene, near):
        same = {each.id for each in scene.layers if self.sent_layers.get(each.id) is each}
        kept = dict(self.sent_items)
        table = self.evaluator.table(scene, [k * scene.rate.flicks for k in range(scene.frames)])
        self.sent_items = {**kept, **{item.layer: item for item in table.leaves if item.layer in same}}
        whole(self, head, blobs, project, scene, near)

    monkeypatch.setattr(Looking, "_table", own_changes_only)
    hand = Hand(tmp_path, 1)
    assert isinstance(hand.page.looking.evaluator.table(hand.here, [0]), FrameTable)
    with pytest.raises(AssertionError, match="items"):
        carried(hand, DONE_TO_A_CARRIER["typed"])
