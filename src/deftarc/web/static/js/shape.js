// What is done to the sides and joints of the keys that are selected.
import { commit } from "./link.js";
import { say } from "./notice.js";
import { state } from "./state.js";

const scene = () => state.scene.id;
const needKeys = () =>
  state.keys.length > 0 || (say("Select keys first: click a bead, or a segment in the pair."), false);
const onKeys = (edit) => needKeys() && commit(() => ({ scene: scene(), keys: state.keys, ...edit }));
export const bendKeys = (to = "toggle", on = "both") => onKeys({ kind: "bend_keys", to, on });
export const setJoint = (joint, automatic = null) => onKeys({ kind: "choose_joint", joint, automatic });
export const keepWithin = () => onKeys({ kind: "keep_within" });
export const release = () => onKeys({ kind: "release_keys" });

// Corner, smooth, automatic, and round again, after what the first selected key has.
export const cycleJoint = () => setJoint("next");
