"""Every kind of edit once, as (kind, fields, its words in the history), and the project they are made on."""

from deftarc.core.changes.places import released
from deftarc.core.curves.beyond import Beyond
from deftarc.core.document.artwork import Carrier, Contour, FreePath, Gradient, Particles, Star, Stop
from deftarc.core.document.effects import EFFECTS
from deftarc.core.document.marker import Marker
from deftarc.core.document.masks import Mask
from deftarc.core.document.reactions import Pulse
from deftarc.core.document.takes import Take, TakenLayer, TakeSet
from deftarc.core.document.ties import Anchor, Tie
from deftarc.core.edit import apply
from deftarc.core.edit.links import LaneAsked, SourceAsked
from deftarc.core.edit.react import React
from tests.scenes import at, floated, gull, layer, numbers, positions, project, side

WAVE = FreePath(contours=(Contour(points=((0, 0, 0, 0, 9, 0), (60, 0, -9, 0, 9, 9), (90, 0, 0, 0, 0, 0))),))
KEY = {"layer": "gull", "property": "rotation", "time": at(40)}
RUN = [{"layer": "swing", "property": "rotation", "time": at(frame)} for frame in (0, 10, 30)]
CLIP = {"lanes": [{"layer": "Swing", "property": "rotation", "track": {"kind": "number", "value": 0, "keys": [
    {"time": 0, "value": 0, "leaving": {"reach": 0.4, "rise": 5}}, {"time": at(10), "value": 40}]}}]}  # fmt: skip
MOTION = {"name": "Nod", "clip": CLIP, "dials": [
    {"id": "far", "kind": "far", "label": "How far", "value": 40, "low": 0, "high": 90}]}  # fmt: skip
LANE = {"layer": "swing", "property": "rotation"}
PULSE = {"amount": 0.2, "attack": at(1), "release": at(6), "rings": 2}
DOT = {"kind": "ellipse", "width": 9, "height": 9}

SQUARE = [
    {
        "points": [[-40, -40, 0, 0, 0, 0], [40, -40, 0, 0, 0, 0], [40, 40, 0, 0, 0, 0], [-40, 40, 0, 0, 0, 0]],
        "closed": True,
    }
]
#: Masked, and filled with a gradient of three stops.
LIT = Star(spikes=5, outer=90, inner=40, stroke="#14324a", fill_gradient=Gradient(x1=-90, y1=0, x2=90, y2=0, stops=(
    Stop(id="one", at=0, colour="#c2621c"), Stop(id="midway", at=0.5, colour="#ffe0a0"), Stop(id="last", at=1, colour="#14324a"))))  # fmt: skip

#: Kinds that are about the project, and take no scene.
WITHOUT_SCENE = ("rename_project", "set_rounding", "keep_motion", "bring_motions")
EDITS = [
    ("rename_project", {"name": "Harbour"}, "Rename the project to Harbour"),
    ("rename_scene", {"name": "Morning"}, "Rename the scene to Morning"),
    ("duplicate_scene", {"id": "two"}, "Duplicate the scene Crossing"),
    ("change_scene", {"frames": 120, "background": "none"}, "Change the length, background of Crossing"),
    ("set_play_range", {"start": at(10)}, "Set the play range"),
    ("set_guides", {"guides": [{"axis": "x", "at": 40}]}, "Change the guides"),
    ("set_guides", {"locked": True}, "Lock the guides"),
    ("add_layer", {"name": "Dot", "artwork": DOT}, "Add Dot"),
    ("add_layer", {"name": "Dot", "artwork": DOT, "place": "insert", "length": at(5)}, "Insert Dot"),
    ("add_layer", {"name": "Dot", "artwork": DOT, "place": "overwrite", "length": at(5)}, "Overwrite with Dot"),
    ("delete_layers", {"layers": ["gull", "wave"]}, "Delete 2 layers"),
    ("duplicate_layers", {"layers": ["gull"]}, "Duplicate Gull"),
    ("duplicate_layers", {"layers": ["gull"], "linked": True}, "Make a linked copy of Gull"),
    ("describe_layers", {"layers": ["gull"], "hidden": True}, "Hide Gull"),
    ("describe_layers", {"layers": ["gull"], "locked": True}, "Lock Gull"),
    ("describe_layers", {"layers": ["gull"], "reference": True}, "Make Gull a reference"),
    ("describe_layers", {"layers": ["mast"], "hands_opacity": True}, "Hand on the opacity of Mast"),
    ("describe_layers", {"layers": ["gull"], "tag": "pine"}, "Tag Gull"),
    ("describe_layers", {"layers": ["gull"], "name": "Bird"}, "Rename Gull to Bird"),
    ("change_artwork", {"layer": "wave", "change": {"stroke_width": 9}}, "Change stroke width of Wave"),
    ("add_effect", {"layers": ["gull", "wave"], "effect": {"kind": "blur", "id": "soft"}}, "Blur on 2 layers"),
    ("add_effect", {"layers": ["gull"], "effect": {"kind": "shadow", "id": "under", "colour": "#12345680"}}, "Shadow on Gull"),
    ("change_effect", {"layers": ["veiled"], "effect": "mist", "on": False}, "Switch Blur of Veiled off"),
    ("change_effect", {"layers": ["veiled"], "effect": "mist", "move": 1}, "Reorder the effects of Veiled"),
    ("change_effect", {"layers": ["veiled"], "effect": "mist", "remove": True}, "Take Blur off Veiled"),
    ("paint_as_one", {"layers": ["fleet"], "as_one": True}, "Paint Fleet as one"),
    ("blend_layers", {"layers": ["gull"], "blend": "multiply"}, "Blend Gull: multiply"),
    ("replace_artwork", {"layer": "gull", "artwork": DOT}, "Replace the artwork of Gull"),
    ("order_layers", {"layers": ["mast"], "before": "gull"}, "Reorder Mast"),
    ("set_parent", {"layers": ["gull"], "parent": "mast", "time": 0}, "Let Mast carry Gull"),
    ("group_layers", {"layers": ["gull", "wave"], "time": 0}, "Group 2 layers"),
    ("move_spans", {"layers": ["gull"], "by": at(3)}, "Move Gull in time"),
    ("move_spans", {"layers": ["gull"], "by": at(3), "keys": False}, "Move the span of Gull"),
    ("trim_span", {"layers": ["gull"], "end": at(60)}, "Trim Gull"),
    ("set_span_length", {"layers": ["gull", "wave"], "length": at(60)}, "Give 2 layers a length"),
    ("cover_keys", {"layers": ["late"]}, "Stretch Late over its keys"),
    ("set_value", {"layer": "gull", "others": ["wave"], "property": "opacity", "told": "*=.5", "time": at(20), "keying": True}, "Opacity of 2 layers"),
    ("type_key", {**KEY, "told": "+=5"}, "A key of Gull"),
    ("put_key", {**KEY, "time": at(7), "value": 12}, "Key Rotation of Gull"),
    ("copy_numbers", {"source": "wave", "layers": ["mast"], "time": 0}, "Numbers of Wave to Mast"),
    ("set_keys", {"layers": ["wave"], "time": 0}, "Key all of Wave"),
    ("set_keys", {"layers": ["wave"], "properties": ["outline"], "time": 0}, "Key Outline of Wave"),
    ("delete_keys", {"keys": [KEY]}, "Delete a key of Gull"),
    ("move_keys", {"keys": [KEY], "by": at(2)}, "Move a key of Gull"),
    ("ease_keys", {"keys": [KEY], "ease": "slow-ends"}, "Slow ends on a key of Gull"),
    ("ease_keys", {"keys": [KEY], "ease": "steps", "steps": {"count": 6, "jump": "both"}}, "Steps on a key of Gull"),
    ("ease_keys", {"keys": RUN, "ease": "overshoot", "as_one": True}, "Overshoot on 3 keys of Swing"),
    ("move_keys", {"keys": RUN[1:], "by": 0, "lift": 12}, "Move 2 keys of Swing"),
    ("stretch_keys", {"keys": RUN, "about": 0, "longer": 2, "taller": 0.5}, "Stretch 3 keys of Swing"),
    ("move_keys", {"keys": RUN[:2], "by": at(5), "push": "scene", "onto": "replace"}, "Move 2 keys of Swing"),
    ("stretch_keys", {"keys": RUN[:2], "about": 0, "longer": 2, "push": "lane"}, "Stretch 2 keys of Swing"),
    ("reverse_keys", {"keys": RUN}, "Reverse 3 keys of Swing"),
    ("align_keys", {"keys": [*RUN[1:], KEY], "time": at(20)}, "Bring 3 keys of 2 layers to one time"),
    ("spread_keys", {"keys": RUN}, "Spread 3 keys of Swing evenly"),
    ("scale_values", {"keys": RUN, "factor": -1}, "Mirror the values of 3 keys of Swing"),
    ("scale_values", {"keys": [{"layer": "bend", "property": "position", "time": at(10)}], "factor": 2, "more": 5, "about": "middle", "axis": "y"}, "Scale the values of a key of Bend"),
    ("paste_keys", {"clip": CLIP, "layers": ["wave", "mast"], "time": at(5)}, "Paste 2 keys on 2 layers"),
    ("paste_keys", {"clip": CLIP, "layers": ["gull"], "onto_property": "opacity", "time": 0, "how": {
        "often": 3, "alternate": True, "onto": "replace", "relative": True, "mirrored": True, "reversed": True,
        "fit": "span"}}, "Paste 2 keys 3 times on Gull"),
    ("type_keys", {"layer": "wave", "property": "scale", "text": "0f 100% slow ends · 50f 60% slow ends 70 · 99f 100% hold"}, "Type the keys of Scale of Wave"),
    ("stagger", {"layers": ["gull", "swing", "wide"], "far": at(4), "order": "middle", "ease": "slow-stop"}, "Stagger 3 layers"),
    ("stagger", {"lanes": [LANE, {"layer": "gull", "property": "opacity"}], "far": -at(2), "by": "end", "order": "across"}, "Stagger 2 lanes"),
    ("paste_eases", {"clip": CLIP, "keys": RUN}, "Paste the easing on 3 keys of Swing"),
    ("set_beyond", {"lanes": [LANE], "how": "repeat", "count": 2.5}, "Repeat 2.5 times after the keys of Rotation of Swing"),
    ("set_beyond", {"lanes": [LANE, {**LANE, "layer": "gull"}], "how": "alternate", "side": "both", "part": at(10)}, "Alternate before and after the keys of Rotation of 2 layers"),
    ("set_beyond", {"lanes": [LANE], "how": "rest", "rest": [45]}, "Rest after the keys of Rotation of Swing"),
    ("bake_beyond", {"lanes": [{"layer": "round", "property": "rotation"}], "end": at(90)}, "Make keys of what goes on in Rotation of Round"),
    ("set_phase", {"lanes": [{"layer": "round", "property": "rotation"}], "phase": 0.25, "step": 0.1}, "Phase of Rotation of Round"),
    ("set_markers", {"markers": [{"id": "dusk", "time": at(30), "name": "Dusk", "tag": "sea"}]}, "Set the marker Dusk"),
    ("set_markers", {"layer": "gull", "markers": [{"id": "a", "time": at(3)}, {"id": "b", "time": at(7)}]}, "Set 2 markers on Gull"),
    ("mark_tempo", {"start": at(10), "tempo": 120, "beats": 3, "id": "t"}, "Mark the beats of 120 a minute"),
    ("change_markers", {"marks": [{"id": "dawn"}, {"id": "cry", "layer": "swing"}], "by": at(4)}, "Move 2 markers"),
    ("change_markers", {"marks": [{"id": "dawn"}], "name": "Noon", "tag": "pine"}, "Name a marker Noon"),
    ("delete_markers", {"marks": [{"id": "cry", "layer": "swing"}]}, "Delete a marker"),
    ("keys_to_markers", {"keys": RUN}, "Bring 3 keys of Swing to the markers"),
    ("new_take", {"layers": ["wave", "mast"], "id": "other", "set": "pair", "first": "one"}, "Begin a take of 2 layers"),
    ("show_take", {"set": "turns", "take": "quick"}, "Show the take Quick"),
    ("rename_take", {"set": "turns", "take": "slow", "name": "Slower"}, "Name the take Slower"),
    ("copy_take", {"set": "turns", "source": "quick", "target": "slow", "lanes": [{"layer": "gull", "property": "rotation"}, {"layer": "gull", "property": "span"}]}, "Copy 2 lanes from Quick to Slow"),
    ("restore_take", {"take": "b", "set": {"id": "gone", "layers": ["dory"], "shown": "a", "takes": [{"id": "a", "name": "A"}, {"id": "b", "name": "B", "layers": [{"layer": "dory", "tracks": {"rotation": {"kind": "number", "value": 5}}}]}]}}, "Bring the take B back"),
    ("delete_take", {"set": "turns", "take": "quick"}, "Delete the take Quick"),
    ("link_lanes", {"lanes": [{"layer": "gull", "property": "rotation"}], "to": {"layer": "mast", "what": "rotation"}, "lag": at(3)}, "Let Rotation of Gull follow Rotation of Mast"),
    ("link_lanes", {"lanes": [{"layer": "gull", "property": "rotation"}, {"layer": "swing", "property": "skew_x"}], "to": {"layer": "mast", "what": "position_x"}, "over": [0, 300], "onto": [1, 2], "held": True}, "Let 2 lanes follow Position x of Mast"),
    ("make_scene", {"layers": ["swing"], "name": "Yard", "id": "yard", "layer_id": "yardlayer"}, "Make a scene of Swing"),
    ("bring_scenes", {"name": "Buoy", "artwork": {"kind": "scene", "scene": "came", "width": 90, "height": 60}, "scenes": [
        {"id": "came", "name": "Buoy", "width": 90, "height": 60, "layers": [{"id": "l0", "name": "Dot", "artwork": DOT}]}]}, "Bring in Buoy"),
    ("chain_layers", {"layers": ["gull", "swing"], "lag": at(2), "time": 0}, "Make a tail of 2 layers"),
    ("stretch_layers", {"layers": ["gull"], "amount": 0.5}, "Stretch Gull with its speed"),
    ("tie_timings", {"ties": [{"what": {"layer": "gull", "of": "start"}, "to": {"layer": "late", "of": "end"}, "id": "t"}]}, "Tie the start of Gull to the end of Late"),
    ("tie_timings", {"ties": [{"what": {"layer": "swing", "of": "key", "property": "rotation", "time": at(10)}, "to": {"of": "marker", "id": "dawn"}, "offset": at(9), "id": "t", "ids": ["k", "l"]}]}, "Tie a key of Rotation of Swing to the marker Dawn"),
    ("change_ties", {"ties": ["knot"], "offset": at(4)}, "Change the distance of a tie"),
    ("change_ties", {"ties": ["knot"], "cut": True}, "Cut a tie"),
    ("give_clock", {"layers": ["gull", "swing"], "rate": 0.5}, "Give 2 layers a clock at 50%"),
    ("freeze_clock", {"layers": ["timed"], "time": at(30), "length": at(9)}, "Freeze Timed"),
    ("bake_clock", {"layers": ["timed"]}, "Make keys of the clock of Timed"),
    ("close_seam", {"lanes": [LANE, {"layer": "gull", "property": "position"}]}, "Close the loop of 2 lanes of 2 layers"),
    ("close_seam", {"lanes": [{"layer": "round", "property": "rotation"}], "own": True, "how": "speed"}, "Match the speed at the seam of Rotation of Round"),
    ("close_seam", {}, "Close the loop of 5 lanes of 10 layers"),
    ("loop_length", {"length": at(80)}, "Set the length of the loop"),
    ("keys_on_frames", {"keys": [{"layer": "loose", "property": "rotation", "time": at(10.3)}]}, "Put a key of Loose on frames"),
    ("bend_segment", {"layer": "swing", "property": "rotation", "time": at(10), "share": 0.4, "lift": 12}, "Bend Rotation of Swing"),
    ("release_keys", {"keys": [{"layer": "gull", "property": "position", "time": at(50)}]}, "Release a key of Gull"),
    ("shape_side", {**KEY, "time": 0, "side": "leaving", "reach": 0.5, "rise": 40}, "Shape Rotation of Gull"),
    ("shape_side", {**KEY, "side": "arriving", "speed": 20, "apart": True}, "Shape Rotation of Gull"),
    ("type_side", {"keys": [KEY], "side": "arriving", "speed": "45"}, "Type the arriving speed of a key of Gull"),
    ("type_side", {"keys": [KEY], "side": "arriving", "reach": "12f"}, "Type the arriving reach of a key of Gull"),
    ("choose_joint", {"keys": RUN[1:2], "joint": "automatic", "automatic": {"tension": 0.5}}, "Automatic joint on a key of Swing"),
    ("bend_keys", {"keys": RUN}, "Bend or straighten 3 keys of Swing"),
    ("shift_peak", {"layer": "gull", "property": "position", "time": 0, "to": 0.3}, "Move the speed peak of Position of Gull"),
    ("keep_within", {"keys": [{**KEY, "layer": "wide", "time": 0}]}, "Keep a key of Wide within"),
    ("set_curve", {"lanes": [{"layer": "gull", "property": "rotation"}], "within": True}, "Keep Rotation of Gull within its keys"),
    ("lay_ease", {"keys": [KEY], "text": "cubic-bezier(.2, 0, 0, 1)"}, "A CSS ease on a key of Gull"),
    ("copies_of", {"layers": ["wave"], "often": 5, "phase": 0.2, "later": at(2)}, "5 of Wave"),
    ("keep_motion", {"motion": MOTION}, "Save the motion Nod"),
    ("bring_motions", {"motions": [MOTION]}, "Import a motion"),
    ("lay_motion", {"motion": MOTION, "layers": ["wave", "mast"], "time": at(5)}, "Nod on 2 layers"),
    ("lay_motion", {"motion": MOTION, "layers": ["gull"], "time": at(5), "numbers": {"far": 20}, "how": {
        "rest": "last", "at": "start", "fit": "span", "onto": "replace"}}, "Nod on Gull"),
    ("keep_ease", {"name": "Soft", "text": "ease-out"}, "Keep the ease Soft"),
    ("keep_ease", {"name": "Run", "keys": RUN}, "Keep the ease Run"),
    ("make_craft", {"keys": [KEY], "craft": {"kind": "settle"}}, "Settle on a key of Gull"),
    ("make_craft", {"layer": "wave", "property": "rotation", "time": at(4), "told": "90", "craft": {"kind": "bounce"}}, "Bounce Rotation of Wave"),
    ("clear_motion", {"layers": ["gull"], "time": at(9)}, "Clear all motion of Gull"),
    ("work_backwards", {"layers": ["wave"], "time": 0, "end": at(9)}, "Keep the look of Wave as its end"),
    ("move_layers", {"layers": ["wave"], "dx": 4, "dy": 2, "time": 0}, "Move Wave"),
    ("move_each", {"steps": [{"layer": "wave", "dx": 1, "dy": 1}], "time": 0, "verb": "Align left"}, "Align left Wave"),
    ("turn_layers", {"layers": ["wave"], "degrees": 20, "time": 0}, "Turn Wave"),
    ("scale_layers", {"layers": ["wave"], "start": [9, 9], "to": [18, 18], "time": 0}, "Scale Wave"),
    ("move_pivot", {"layers": ["wave"], "own": [5, 5], "time": 0}, "Move the pivot of Wave"),
    ("link_scale", {"layer": "wave", "link": "free", "time": 0}, "Unlink the scale axes of Wave"),
    ("link_scale", {"layer": "wave", "link": "area", "time": 0}, "Link by area the scale axes of Wave"),
    ("drag_points", {"layer": "wave", "points": [0], "dx": 3, "dy": 0}, "Edit the points of Wave"),
    ("round_points", {"layer": "wave", "points": [1], "smooth": False}, "Edit the points of Wave"),
    ("add_point", {"layer": "wave", "after": 0}, "Edit the points of Wave"),
    ("delete_points", {"layer": "wave", "points": [1]}, "Edit the points of Wave"),
    ("bend_path", {"layer": "arc", "points": [1], "dx": 9, "dy": 4, "time": 0}, "Bend the path of Arc"),
    ("bend_path", {"layer": "arc", "points": [1], "part": "leaving", "dx": 9, "dy": 4, "time": 0, "constrain": True}, "Bend the path of Arc"),
    ("join_path", {"layer": "arc", "points": [1], "joint": "corner"}, "Join the points of Arc"),
    ("join_path", {"layer": "arc", "joint": "automatic", "roundness": 0.8}, "Round the path of Arc"),
    ("add_path_point", {"layer": "arc", "span": 1, "u": 0.3}, "Add a point to the path of Arc"),
    ("spread_points", {"layer": "arc", "first": 0, "last": 2, "count": 3}, "Add 3 points to the path of Arc"),
    ("delete_path_points", {"layer": "arc", "points": [1]}, "Delete a point of the path of Arc"),
    ("close_path", {"layer": "arc", "closed": True}, "Close the path of Arc"),
    ("reverse_path", {"layer": "arc"}, "Turn round the path of Arc"),
    ("take_path", {"layer": "wave", "points": [[0, 0, 0, 0, 9, 9], [50, 20, -9, 0, 9, 0], [90, 0, 0, 0, 0, 0]], "time": 0, "end": at(40)}, "Give Wave a path"),
    ("slide_key", {"layer": "pace", "key": at(10), "to": [30, 0], "time": 0}, "Slide a key along the path of Pace"),
    ("set_rounding", {"rounded": 0.5}, "New paths are rounded by 50%"),
    ("set_points", {"layer": "arc"}, "Set the time of points on the path of Arc"),
    ("float_keys", {"keys": [{"layer": "bend", "property": "position", "time": at(10)}]}, "Let a key of Bend float"),
    ("even_pace", {"layer": "bend"}, "One speed along the path of Bend"),
    ("even_pace", {"layer": "bend", "what": "distances"}, "Even distances along the path of Bend"),
    ("time_segment", {**RUN[0], "told": "6"}, "Time a segment of Rotation of Swing"),
    ("lay_samples", {"layer": "wave", "property": "rotation", "times": [0, at(1), at(2)], "values": [[0], [4], [9]], "tolerance": 1}, "Lay samples on Wave"),
    ("lay_recording", {"layer": "gull", "property": "position", "spots": [[0, 0, 0], [0.05, 40, 9], [0.2, 90, 30]], "start": 0, "tolerance": 1}, "Record the path of Gull"),
    ("reduce_keys", {"keys": RUN, "tolerance": 40}, "Reduce 3 keys of Swing"),
    ("split_axes", {"layer": "arc", "split": True}, "Split the axes of Arc"),
    ("split_axes", {"layer": "apart", "split": False}, "Combine the axes of Apart as a path"),
    ("close_contours", {"layer": "wave", "closed": True}, "Close Wave"),
    ("react", {"lanes": [{"layer": "wave", "property": "skew_x"}], "to": {"layer": "swing", "what": "rotation"}, "pulse": PULSE}, "Let Skew x of Wave answer Rotation of Swing"),
    ("change_reactions", {"lanes": [{"layer": "struck", "property": "rotation"}], "field": "amount", "told": "40"}, "Change how Rotation of Struck answers"),
    ("change_reactions", {"lanes": [{"layer": "struck", "property": "rotation"}], "turn": 0}, "Change how Rotation of Struck answers"),
    ("end_reactions", {"lanes": [{"layer": "struck", "property": "rotation"}]}, "Let Rotation of Struck answer nothing"),
    ("end_reactions", {"lanes": [{"layer": "struck", "property": "rotation"}], "keys": True}, "Leave Rotation of Struck as keys"),
    ("squash_at_contacts", {"layers": ["bend"], "time": 0}, "Squash Bend at contacts"),
    ("add_mask", {"layer": "gull", "mask": {"id": "round", "contours": SQUARE, "feather": 8}}, "Mask Gull"),
    ("draw_mask", {"layer": "gull", "id": "oval", "shape": "ellipse", "start": [100, 100], "to": [220, 190]}, "Mask Gull"),
    ("add_mask", {"layer": "fleet", "mask": {"id": "round", "contours": SQUARE}, "in_scene": True, "time": at(10)}, "Mask Fleet"),
    ("change_mask", {"layer": "lit", "mask": "hole", "mode": "subtract"}, "Hole of Lit: hides what is in it"),
    ("change_mask", {"layer": "lit", "mask": "hole", "inverted": True, "name": "Gap"}, "Rename Hole to Gap"),
    ("change_mask", {"layer": "lit", "mask": "hole", "move": 1}, "Reorder the masks of Lit"),
    ("change_mask", {"layer": "lit", "mask": "hole", "remove": True}, "Take Hole off Lit"),
    ("drag_points", {"layer": "lit", "mask": "hole", "points": [0], "dx": 3, "dy": 0}, "Edit the points of Lit"),
    ("add_point", {"layer": "lit", "mask": "hole", "after": 0}, "Edit the points of Lit"),
    ("show_through", {"layers": ["gull", "wave"], "matte": {"layer": "lit", "by": "luma"}, "hide": True}, "Show 2 layers through Lit"),
    ("change_effect", {"layers": ["veiled"], "effect": "mist", "choose": {"ways": "along"}}, "Blur of Veiled: along the angle"),
    ("set_gradient", {"layer": "gull", "shape": "radial", "box": [-50, -50, 50, 50]}, "A gradient as fill of Gull"),
    ("set_gradient", {"layer": "lit"}, "One colour as fill of Lit"),
    ("add_stop", {"layer": "lit", "at": 0.3, "id": "third"}, "Add a stop to the fill of Lit"),
    ("remove_stop", {"layer": "lit", "stop": "midway"}, "Take a stop off Lit"),
    ("drag_handle", {"layer": "veiled", "handle": "effect/deep", "to": [40, 40], "keying": True, "time": at(9)}, "Shadow of Veiled"),
    ("drag_handle", {"layer": "lit", "handle": "mask/hole", "to": [90, 0]}, "Feather a mask of Lit"),
    ("drag_handle", {"layer": "lit", "handle": "gradient/fill/2", "to": [90, 30]}, "Gradient of Lit"),
    ("drag_handle", {"layer": "lit", "handle": "gradient/fill/stop/midway", "to": [20, 30]}, "Gradient of Lit"),
    ("drag_handle", {"layer": "lit", "handle": "drawn/to", "to": [60, 0]}, "What is drawn of Lit"),
    ("draw_on", {"layers": ["wave", "lit"], "length": at(20), "fills": at(10), "step": at(2)}, "Draw 2 layers on"),
    ("change_bursts", {"layers": ["sparks"], "change": {"sides": 5, "source": "gull", "emits": "place"}}, "Change how Sparks bursts"),
    ("burst_at", {"layers": ["sparks"], "to": "bend", "kinds": ["contact", "stop"]}, "Let Sparks burst with Bend"),
    ("set_shutter", {"on": True, "everything": True}, "Blur what moves in Crossing"),
    ("set_shutter", {"angle": 270, "phase": -135}, "Change the shutter of Crossing"),
    ("there_and_back", {"layers": ["lit"], "property": "stroke", "colour": "#ff0000", "often": 3}, "Stroke of Lit there and back"),
    ("there_and_back", {"layers": ["wave"], "property": "rotation", "far": 20}, "Rotation of Wave there and back"),
    ("close_bars", {"sides": "round", "id": "bars"}, "Bars closing in"),
    ("smear_layers", {"layers": ["gull"], "smears": True}, "Blur Gull in motion"),
]  # fmt: skip


#: Two takes of how the gull turns: one shows, the other is quicker and begins later.
QUICK = TakenLayer(
    layer="gull", start=at(5), tracks={"rotation": numbers((5, 0), (20, 120)), "opacity": numbers(value=1)}
)
TURNS = TakeSet(id="turns", layers=("gull",), shown="slow",
                takes=(Take(id="slow", name="Slow"), Take(id="quick", name="Quick", layers=(QUICK,))))  # fmt: skip


def harbour():
    late = layer("Late", rotation=numbers((5, 0), (90, 9))).changed(start=at(20), end=at(60))
    mast = layer("Mast", Carrier(), position=positions(value=(30, 40)), rotation=numbers(value=15))
    swing = layer("Swing", rotation=numbers((0, 0), (10, 40), (30, 90)))
    swing = swing.changed(markers=(Marker(id="cry", time=at(12)),))
    wide = layer("Wide", rotation=numbers((0, 0, {"leaving": side(0.4, 300)}), (40, 90)))
    arc = layer("Arc", position=floated())
    bend = layer("Bend", position=positions((0, (0, 0)), (10, (100, 30)), (30, (240, 0))))
    pace = layer("Pace", position=released(positions((0, (0, 0)), (10, (100, 0)), (30, (200, 0))), 1))
    loose = layer("Loose", rotation=numbers((0, 0), (10.3, 40), (30, 90)))
    apart = layer("Apart", position_x=numbers((0, 0), (20, 90)), position_y=numbers((0, 5), (12, 60)))
    made = project(
        gull(),
        arc,
        bend,
        apart,
        pace,
        loose,
        layer("Wave", WAVE, position=positions(value=(7, 8))),
        late,
        mast,
        swing,
        wide,
        layer("Veiled").changed(effects=(EFFECTS["blur"](id="mist"), EFFECTS["shadow"](id="deep"))),
        layer("Fleet", Carrier(group=True)),
        layer("Lit", LIT).changed(
            masks=(Mask(id="hole", name="Hole", contours=SQUARE), Mask(id="more", contours=SQUARE, mode="intersect"))
        ),
        layer("Sparks", Particles(burst_rate=4, repeats=2)),
        layer("Dory").changed(parent="fleet"),
        layer("Round", rotation=numbers((0, 0), (7, 9), (20, 0)).changed(after=Beyond(how="accumulate"))),
        layer("Struck"),
        layer("Timed", rotation=numbers((0, 0), (50, 90)), clock=numbers((0, 0), (40, 1), (90, 3.2))),
        markers=(Marker(id="dawn", time=at(6), name="Dawn"),),
        takes=(TURNS,),
        ties=(Tie(id="knot", what=Anchor(layer="late", of="start"), to=Anchor(of="marker", id="dawn"), offset=at(14)),),
    )
    struck = (LaneAsked(layer="struck", property="rotation"),)
    to = SourceAsked(layer="swing", what="rotation")
    return apply(made, React(scene="crossing", lanes=struck, to=to, pulse=Pulse(**PULSE)))
