// Made by `make types` from the models of Python.

/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "PathPoint".
 */
export type PathPoint =
  | {
      x: number;
      y: number;
      joint?: "straight" | "corner" | "smooth" | "automatic";
      arriving?: unknown[] | null;
      leaving?: unknown[] | null;
      roundness?: number;
    }
  | number[];

export interface Told {
  edit?:
    | DeleteLayers
    | ForgetShelf
    | DuplicateLayers
    | Unlink
    | DescribeLayers
    | ChangeArtwork
    | ReplaceArtwork
    | TakeApart
    | MoveSpans
    | TrimSpan
    | SetSpanLength
    | CoverKeys
    | GiveClock
    | FreezeClock
    | BakeClock
    | BendPath
    | JoinPath
    | AddPathPoint
    | SpreadPoints
    | DeletePathPoints
    | ClosePath
    | ReversePath
    | TakePath
    | SlideKey
    | SetRounding
    | RenameProject
    | AddScene
    | DuplicateScene
    | RenameScene
    | DeleteScene
    | ChangeScene
    | SetPlayRange
    | SetGuides
    | AddFont
    | ChangeShown
    | MakeScene
    | AddLayer
    | SetKeys
    | ClearLoose
    | ClearMotion
    | WorkBackwards
    | RestoreKeys
    | SetBeyond
    | BakeBeyond
    | SetPhase
    | BringScenes
    | BringAgain
    | LinkLanes
    | ChangeLinks
    | CutLinks
    | MoveLayers
    | TurnLayers
    | ScaleLayers
    | MovePivot
    | MoveEach
    | LinkScale
    | React
    | ChangeReactions
    | EndReactions
    | SquashAtContacts
    | ChangeBursts
    | BurstAt
    | CopiesOf
    | LaySamples
    | LayRecording
    | ReduceKeys
    | SplitAxes
    | DeleteKeys
    | AddEffect
    | ChangeEffect
    | PaintAsOne
    | BlendLayers
    | AddMask
    | DrawMask
    | ChangeMask
    | SetGradient
    | AddStop
    | RemoveStop
    | DrawOn
    | MoveKeys
    | KeysOnFrames
    | EaseKeys
    | LayEase
    | KeepEase
    | ForgetEase
    | MakeCraft
    | TypeCraft
    | SetParent
    | GroupLayers
    | Ungroup
    | OrderLayers
    | DragHandle
    | CarryLater
    | ChainLayers
    | StretchLayers
    | LayRelations
    | SetMarkers
    | MarkTempo
    | ChangeMarkers
    | DeleteMarkers
    | KeysToMarkers
    | ShowThrough
    | Stagger
    | KeepMotion
    | BringMotions
    | ForgetMotion
    | LayMotion
    | DragPoints
    | RoundPoints
    | AddPoint
    | DeletePoints
    | CloseContours
    | SetPoints
    | FloatKeys
    | ReleaseKeys
    | EvenPace
    | TimeSegment
    | PasteKeys
    | PasteEases
    | ScaleValues
    | CloseSeam
    | LoopLength
    | SetShutter
    | SmearLayers
    | ShapeSide
    | BendSegment
    | TypeSide
    | ChooseJoint
    | BendKeys
    | ShiftPeak
    | KeepWithin
    | SetCurve
    | StretchKeys
    | ThereAndBack
    | CloseBars
    | NewTake
    | ShowTake
    | RenameTake
    | DeleteTake
    | RestoreTake
    | CopyTake
    | TieTimings
    | ChangeTies
    | ReverseKeys
    | AlignKeys
    | SpreadKeys
    | TypeKeys
    | SetValue
    | TypeKey
    | PutKey
    | CopyNumbers;
  Look?: Look;
  State?: State;
  BroughtInLayer?: BroughtInLayer;
  MadeFont?: MadeFont;
  Went?: Went;
  Moment?: Moment;
  RenderState?: RenderState;
  Refused?: Refused;
}
/**
 * Layers taken away, groups with all that is in them. What a deleted layer carried keeps its place in the
 * picture at ``time``. Their artwork goes to the project's shelf.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "DeleteLayers".
 */
export interface DeleteLayers {
  scene: string;
  layers: string[];
  kind: "delete_layers";
  time?: number;
}
/**
 * Artwork of a deleted layer forgotten for good; adding it again is an ``add_layer``.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ForgetShelf".
 */
export interface ForgetShelf {
  kind: "forget_shelf";
  index: number;
}
/**
 * Copies above their originals, groups with all that is in them. ``ids`` names those of the layers asked for.
 *
 * Parents and links inside what is copied point inside the copy. ``linked`` copies share their artwork with the
 * originals.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "DuplicateLayers".
 */
export interface DuplicateLayers {
  scene: string;
  layers: string[];
  kind: "duplicate_layers";
  ids?: string[];
  linked?: boolean;
}
/**
 * Layers whose artwork is their own again.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Unlink".
 */
export interface Unlink {
  scene: string;
  layers: string[];
  kind: "unlink";
}
/**
 * Name, visibility, lock, tag and what else describes a layer: whatever is given is set on each.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "DescribeLayers".
 */
export interface DescribeLayers {
  scene: string;
  layers: string[];
  kind: "describe_layers";
  name?: string | null;
  hidden?: boolean | null;
  locked?: boolean | null;
  reference?: boolean | null;
  hands_opacity?: boolean | null;
  tag?: ("plum" | "sea" | "pine" | "brick" | "ochre" | "slate") | null;
}
/**
 * The artwork of a layer changed, and of ``others`` where they have what changes.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ChangeArtwork".
 */
export interface ChangeArtwork {
  kind: "change_artwork";
  scene: string;
  layer: string;
  others?: string[];
  change: PaintChange;
}
/**
 * What of a layer's artwork changes; a field left out stays. ``fill`` and ``stroke`` may be "none".
 *
 * Numbers and colours that have keys are changed by their values, not here.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "PaintChange".
 */
export interface PaintChange {
  fill?: string | "none" | null;
  stroke?: string | "none" | null;
  stroke_width?: number | null;
  cap?: ("butt" | "round" | "square") | null;
  join?: ("miter" | "round" | "bevel") | null;
  drawn_in_turn?: boolean | null;
  grow_join?: ("miter" | "round" | "bevel") | null;
  rule?: ("nonzero" | "evenodd") | null;
  dash?: number[] | null;
  text?: string | null;
  size?: number | null;
  font?: string | null;
  align?: ("start" | "middle" | "end") | null;
  width?: number | null;
  height?: number | null;
  radius?: number | null;
}
/**
 * Other artwork for a layer, its motion kept: keys of what the new artwork does not have go.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ReplaceArtwork".
 */
export interface ReplaceArtwork {
  kind: "replace_artwork";
  scene: string;
  layer: string;
  artwork:
    | Bars
    | Rings
    | Particles
    | Carrier
    | FreePath
    | Picture
    | Logo
    | Rectangle
    | Ellipse
    | Polygon
    | Star
    | Text
    | Wash
    | SceneShown;
}
/**
 * A frame of ``width`` × ``height`` px about the origin, its scene's, less what is open: each bar closes in by a
 * share of the frame. Where two meet nothing is open.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Bars".
 */
export interface Bars {
  fill?: string | null;
  stroke?: string | null;
  stroke_width?: number;
  cap?: "butt" | "round" | "square";
  join?: "miter" | "round" | "bevel";
  filled?: number;
  fill_gradient?: Gradient | null;
  stroke_gradient?: Gradient | null;
  dash?: number[];
  dash_offset?: number;
  drawn_from?: number;
  drawn_to?: number;
  drawn_shift?: number;
  drawn_in_turn?: boolean;
  grow?: number;
  grow_join?: "round" | "miter" | "bevel";
  rounding?: number;
  kind: "bars";
  width: number;
  height: number;
  bar_left?: number;
  bar_top?: number;
  bar_right?: number;
  bar_bottom?: number;
}
/**
 * From (x1, y1) to (x2, y2) in the artwork's px: along that way, or radial, from the first to the circle about it
 * through the second. Beyond its ends it goes on as it is there.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Gradient".
 */
export interface Gradient {
  kind?: "linear" | "radial";
  x1: number;
  y1: number;
  x2: number;
  y2: number;
  stops: Stop[];
}
/**
 * A colour at a share of the way. ``id`` is its own among those of its artwork.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Stop".
 */
export interface Stop {
  id: string;
  at: number;
  colour: string;
}
/**
 * A ring for each burst, its numbers going from one to another over its life by an ease, as large as the burst is
 * strong. ``softness`` is the standard deviation of the Gaussian on both sides of its line.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Rings".
 */
export interface Rings {
  emits?: "point" | "line" | "place" | "outline";
  source?: string | null;
  burst?: number;
  burst_life?: number;
  burst_colour?: string | null;
  burst_colour_end?: string | null;
  burst_fade?: number;
  burst_off_x?: number;
  burst_off_y?: number;
  kind: "rings";
  ring_radius?: number;
  ring_radius_end?: number;
  ring_width?: number;
  ring_width_end?: number;
  ring_soft?: number;
  ring_soft_end?: number;
  ease?: string;
  strength?: number;
}
/**
 * So many at each burst, and so many a second besides. Each sets out in a direction, give or take half the spread,
 * at a speed that varies by a share; gravity draws it down and drag slows it. ``sides`` 0 makes discs; ``shaped``
 * shows another layer's artwork instead. ``repeats`` lets the same ones come again after so many seconds; they begin
 * ``ahead`` of the layer.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Particles".
 */
export interface Particles {
  emits?: "point" | "line" | "place" | "outline";
  source?: string | null;
  burst?: number;
  burst_life?: number;
  burst_colour?: string | null;
  burst_colour_end?: string | null;
  burst_fade?: number;
  burst_off_x?: number;
  burst_off_y?: number;
  kind: "particles";
  burst_count?: number;
  burst_rate?: number;
  burst_direction?: number;
  burst_spread?: number;
  burst_speed?: number;
  burst_varied?: number;
  burst_gravity?: number;
  burst_drag?: number;
  burst_size?: number;
  burst_size_end?: number;
  burst_spin?: number;
  burst_wide?: number;
  sides?: number;
  shaped?: string | null;
  seed?: number;
  repeats?: number;
  ahead?: number;
}
/**
 * Nothing to see: it carries others. A ``group`` also folds its members in the list, hides and locks them.
 *
 * A group painted ``as_one`` has its members put together by themselves and then laid on what is beneath: its
 * opacity, blending and effects go for all of them at once.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Carrier".
 */
export interface Carrier {
  kind: "carrier";
  group?: boolean;
  as_one?: boolean;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "FreePath".
 */
export interface FreePath {
  fill?: string | null;
  stroke?: string | null;
  stroke_width?: number;
  cap?: "butt" | "round" | "square";
  join?: "miter" | "round" | "bevel";
  filled?: number;
  fill_gradient?: Gradient | null;
  stroke_gradient?: Gradient | null;
  dash?: number[];
  dash_offset?: number;
  drawn_from?: number;
  drawn_to?: number;
  drawn_shift?: number;
  drawn_in_turn?: boolean;
  grow?: number;
  grow_join?: "round" | "miter" | "bevel";
  rounding?: number;
  contours: Contour[];
  kind: "free";
  rule?: "nonzero" | "evenodd";
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Contour".
 */
export interface Contour {
  points: unknown[][];
  closed?: boolean;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Picture".
 */
export interface Picture {
  kind: "picture";
  asset: string;
  width: number;
  height: number;
}
/**
 * A vector logo kept whole: ``asset`` is its drawing, ``source`` the SVG it was read from.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Logo".
 */
export interface Logo {
  kind: "logo";
  asset: string;
  source: string;
  width: number;
  height: number;
  notes?: string[];
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Rectangle".
 */
export interface Rectangle {
  fill?: string | null;
  stroke?: string | null;
  stroke_width?: number;
  cap?: "butt" | "round" | "square";
  join?: "miter" | "round" | "bevel";
  filled?: number;
  fill_gradient?: Gradient | null;
  stroke_gradient?: Gradient | null;
  dash?: number[];
  dash_offset?: number;
  drawn_from?: number;
  drawn_to?: number;
  drawn_shift?: number;
  drawn_in_turn?: boolean;
  grow?: number;
  grow_join?: "round" | "miter" | "bevel";
  rounding?: number;
  kind: "rectangle";
  width: number;
  height: number;
  radius?: number;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Ellipse".
 */
export interface Ellipse {
  fill?: string | null;
  stroke?: string | null;
  stroke_width?: number;
  cap?: "butt" | "round" | "square";
  join?: "miter" | "round" | "bevel";
  filled?: number;
  fill_gradient?: Gradient | null;
  stroke_gradient?: Gradient | null;
  dash?: number[];
  dash_offset?: number;
  drawn_from?: number;
  drawn_to?: number;
  drawn_shift?: number;
  drawn_in_turn?: boolean;
  grow?: number;
  grow_join?: "round" | "miter" | "bevel";
  rounding?: number;
  kind: "ellipse";
  width: number;
  height: number;
}
/**
 * Regular, one corner straight up; roundness 1 makes it a circle, as near as cubics come.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Polygon".
 */
export interface Polygon {
  fill?: string | null;
  stroke?: string | null;
  stroke_width?: number;
  cap?: "butt" | "round" | "square";
  join?: "miter" | "round" | "bevel";
  filled?: number;
  fill_gradient?: Gradient | null;
  stroke_gradient?: Gradient | null;
  dash?: number[];
  dash_offset?: number;
  drawn_from?: number;
  drawn_to?: number;
  drawn_shift?: number;
  drawn_in_turn?: boolean;
  grow?: number;
  grow_join?: "round" | "miter" | "bevel";
  rounding?: number;
  kind: "polygon";
  sides?: number;
  outer?: number;
  roundness?: number;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Star".
 */
export interface Star {
  fill?: string | null;
  stroke?: string | null;
  stroke_width?: number;
  cap?: "butt" | "round" | "square";
  join?: "miter" | "round" | "bevel";
  filled?: number;
  fill_gradient?: Gradient | null;
  stroke_gradient?: Gradient | null;
  dash?: number[];
  dash_offset?: number;
  drawn_from?: number;
  drawn_to?: number;
  drawn_shift?: number;
  drawn_in_turn?: boolean;
  grow?: number;
  grow_join?: "round" | "miter" | "bevel";
  rounding?: number;
  kind: "star";
  spikes?: number;
  outer?: number;
  inner?: number;
  roundness?: number;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Text".
 */
export interface Text {
  fill?: string | null;
  stroke?: string | null;
  stroke_width?: number;
  cap?: "butt" | "round" | "square";
  join?: "miter" | "round" | "bevel";
  filled?: number;
  fill_gradient?: Gradient | null;
  stroke_gradient?: Gradient | null;
  dash?: number[];
  dash_offset?: number;
  drawn_from?: number;
  drawn_to?: number;
  drawn_shift?: number;
  drawn_in_turn?: boolean;
  grow?: number;
  grow_join?: "round" | "miter" | "bevel";
  rounding?: number;
  kind: "text";
  text: string;
  font?: string;
  size?: number;
  align?: "start" | "middle" | "end";
  line_height?: number;
  letter_spacing?: number;
}
/**
 * Everywhere, or where its masks and its matte let it, which are in its layer's px as its lengths are.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Wash".
 */
export interface Wash {
  kind: "wash";
}
/**
 * Another scene as a layer: its middle is the layer's, and nothing shows outside its frame.
 *
 * At the layer's start its moment ``begins`` shows, in flicks, and it goes on at ``rate``: 1 is its own pace, below 0
 * it runs backwards. A layer that has a clock shows what that tells instead. ``plays`` counts a repeat's plays; None
 * is for ever.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SceneShown".
 */
export interface SceneShown {
  kind: "scene";
  scene: string;
  width: number;
  height: number;
  begins?: number;
  rate?: number;
  goes_on?: "once" | "hold" | "repeat" | "alternate";
  plays?: number | null;
  ground?: boolean;
}
/**
 * A logo or a text turned into a group that moves as it did, with its parts as layers, the topmost first.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "TakeApart".
 */
export interface TakeApart {
  kind: "take_apart";
  scene: string;
  layer: string;
  parts: Part[];
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Part".
 */
export interface Part {
  name: string;
  artwork:
    | Bars
    | Rings
    | Particles
    | Carrier
    | FreePath
    | Picture
    | Logo
    | Rectangle
    | Ellipse
    | Polygon
    | Star
    | Text
    | Wash
    | SceneShown;
  at?: unknown[];
}
/**
 * Spans moved in time by flicks: with their keys the layers play later as they are, without them only the window
 * moves. An open end becomes the scene's when the start moves.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "MoveSpans".
 */
export interface MoveSpans {
  scene: string;
  layers: string[];
  kind: "move_spans";
  by: number;
  keys?: boolean;
}
/**
 * The start or the end of spans put at a time; keys stay where they are.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "TrimSpan".
 */
export interface TrimSpan {
  scene: string;
  layers: string[];
  kind: "trim_span";
  start?: number | null;
  end?: number | null;
}
/**
 * Several spans given one length from their starts; with ``keys`` their keys stretch in proportion, and what they
 * show goes at another rate.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SetSpanLength".
 */
export interface SetSpanLength {
  scene: string;
  layers: string[];
  kind: "set_span_length";
  length: number;
  keys?: boolean;
}
/**
 * Spans stretched over keys that lie outside them.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "CoverKeys".
 */
export interface CoverKeys {
  scene: string;
  layers: string[];
  kind: "cover_keys";
}
/**
 * Layers given a clock of their own that runs at a rate from the start of their span on: 1 is the scene's, 0.5 half
 * as fast, below 0 it runs backwards from the span's end; None is the rate at which a layer goes already. One there is
 * takes its place.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "GiveClock".
 */
export interface GiveClock {
  scene: string;
  layers: string[];
  kind: "give_clock";
  rate?: number | null;
}
/**
 * Clocks held still for a while from a moment on; what they tell later comes so much later. Both are the scene's
 * time: a clock within another one is held where that shows it, for as long as is seen.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "FreezeClock".
 */
export interface FreezeClock {
  scene: string;
  layers: string[];
  kind: "freeze_clock";
  time: number;
  length: number;
}
/**
 * The motion of layers in the time of their clocks made into ordinary keys, and the clocks taken away: of them
 * and of what is in them, where they are groups. Where a clock runs evenly keys are moved as they are; else there is
 * one at each frame. Refused by name where the motion would not be the same.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "BakeClock".
 */
export interface BakeClock {
  scene: string;
  layers: string[];
  kind: "bake_clock";
}
/**
 * Points of the path, or one handle of each, moved by (dx, dy) scene px as seen at ``time``.
 *
 * Constrained, points go level, upright or at 45°, and a handle lies so. ``apart`` leaves the other handle alone.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "BendPath".
 */
export interface BendPath {
  scene: string;
  layer: string;
  kind: "bend_path";
  points: number[];
  part?: "point" | "arriving" | "leaving";
  dx: number;
  dy: number;
  time: number;
  apart?: boolean;
  constrain?: boolean;
}
/**
 * How the path goes through points, or through all where none are named: then new points do so as well.
 *
 * ``toggle`` makes sharp points smooth and round ones straight.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "JoinPath".
 */
export interface JoinPath {
  scene: string;
  layer: string;
  kind: "join_path";
  points?: number[];
  joint: ("straight" | "corner" | "smooth" | "automatic") | "toggle";
  roundness?: number | null;
}
/**
 * A point put on the path at a parameter ``u`` of a span; it floats, and the motion stays as it is.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "AddPathPoint".
 */
export interface AddPathPoint {
  scene: string;
  layer: string;
  kind: "add_path_point";
  span: number;
  u?: number;
}
/**
 * So many floating points put at even distances between two points of the path.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SpreadPoints".
 */
export interface SpreadPoints {
  scene: string;
  layer: string;
  kind: "spread_points";
  first: number;
  last: number;
  count: number;
}
/**
 * Points taken out of the path; with one that a key rests on, the key goes too.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "DeletePathPoints".
 */
export interface DeletePathPoints {
  scene: string;
  layer: string;
  kind: "delete_path_points";
  points: number[];
}
/**
 * The path closed by a way ``back`` to its start or by its last point put there, or opened again.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ClosePath".
 */
export interface ClosePath {
  scene: string;
  layer: string;
  kind: "close_path";
  closed: boolean;
  back?: boolean;
}
/**
 * The path run from its end to its start, keys at their times.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ReversePath".
 */
export interface ReversePath {
  scene: string;
  layer: string;
  kind: "reverse_path";
}
/**
 * A path given to a layer whole, in scene px as seen at ``time``: drawn by clicks, or taken from an outline.
 *
 * Its points float but for the two ends. The first and the last key keep their times and sides; a layer without a
 * motion gets them at ``time`` and at ``end``.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "TakePath".
 */
export interface TakePath {
  kind: "take_path";
  scene: string;
  layer: string;
  points: unknown[][];
  closed?: boolean;
  time: number;
  end: number;
}
/**
 * A pace key put where the path is nearest to a place of the scene, as seen at ``time``; it keeps its own time.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SlideKey".
 */
export interface SlideKey {
  scene: string;
  layer: string;
  kind: "slide_key";
  key: number;
  to: unknown[];
  time: number;
}
/**
 * What points of new paths in this project are: straight, or automatic with a roundness.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SetRounding".
 */
export interface SetRounding {
  kind: "set_rounding";
  rounded: number | null;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "RenameProject".
 */
export interface RenameProject {
  kind: "rename_project";
  name: string;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "AddScene".
 */
export interface AddScene {
  kind: "add_scene";
  scene: Scene;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Scene".
 */
export interface Scene {
  id?: string;
  name: string;
  width?: number;
  height?: number;
  rate?: FrameRate;
  frames?: number;
  background?: string | null;
  shutter?: Shutter;
  play_range?: unknown[] | null;
  markers?: Marker[];
  takes?: TakeSet[];
  ties?: Tie[];
  staggers?: StaggerRecord[];
  guides?: Guide[];
  guides_locked?: boolean;
  grid?: number;
  origin?: Origin | null;
  layers?: Layer[];
}
/**
 * Frames a second as the fraction ``numerator / denominator``.
 */
export interface FrameRate {
  numerator?: number;
  denominator?: number;
}
/**
 * How long light falls in during a frame, as an ``angle`` of 360° for all of it, and by what ``phase`` of that it
 * begins after the frame's moment: −angle / 2 is about it.
 */
export interface Shutter {
  on?: boolean;
  angle?: number;
  phase?: number;
}
/**
 * A moment with a name, which may be empty, and a colour. Its id is its own among those of its scene or layer.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Marker".
 */
export interface Marker {
  id: string;
  time: number;
  name?: string;
  tag?: "plum" | "sea" | "pine" | "brick" | "ochre" | "slate";
}
/**
 * Takes of some layers, together.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "TakeSet".
 */
export interface TakeSet {
  id: string;
  layers: string[];
  shown: string;
  takes: Take[];
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Take".
 */
export interface Take {
  id: string;
  name: string;
  layers?: TakenLayer[];
}
/**
 * A layer's timing: its span, its tracks, what they follow, and how its axes are kept; what it is made of is not in
 * it.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "TakenLayer".
 */
export interface TakenLayer {
  layer: string;
  start?: number;
  end?: number | null;
  axes_split?: boolean;
  scale_link?: "linked" | "free" | "area";
  scale_ratio?: number;
  tracks?: {
    [k: string]: NumberTrack | PathTrack | ColourTrack | OutlineTrack;
  };
  links?: {
    [k: string]: Link;
  };
  later?: Later | null;
  reactions?: {
    [k: string]: Reacting;
  };
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "NumberTrack".
 */
export interface NumberTrack {
  before?: Beyond | null;
  after?: Beyond | null;
  keys?: NumberKey[];
  within?: boolean;
  crafts?: (Settle | Bounce)[];
  kind: "number";
  value: number;
  loose?: LooseNumber | null;
  evenly?: boolean;
}
/**
 * How a lane goes on past its keys on one side.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Beyond".
 */
export interface Beyond {
  how: "rest" | "repeat" | "alternate" | "accumulate" | "continue";
  count?: number | null;
  part?: number | null;
  value?: number[];
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "NumberKey".
 */
export interface NumberKey {
  time: number;
  arriving?: Side | null;
  leaving?: Side | null;
  hold?: boolean;
  steps?: Steps | null;
  joint?: "corner" | "smooth" | "automatic";
  automatic?: Automatic | null;
  id?: string | null;
  value: number;
}
/**
 * A bent side of a key: how far its handle reaches, as a fraction of the segment's duration, and rises, in
 * measure units, towards its own segment. A side that is None is straight.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Side".
 */
export interface Side {
  reach: number;
  rise: number;
}
/**
 * A segment in ``count`` equal parts of time, as CSS's ``steps()``: where it jumps is ``jump-`` the word.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Steps".
 */
export interface Steps {
  count: number;
  jump?: "start" | "end" | "none" | "both";
}
/**
 * An automatic joint's tension, continuity and bias; ``free`` lets the curve go past its keys.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Automatic".
 */
export interface Automatic {
  tension?: number;
  continuity?: number;
  bias?: number;
  free?: boolean;
}
/**
 * A damped spring. ``far`` is how far past the first swing goes: a share of the change between two keys, or,
 * at the playhead, an amount in the measure's unit. ``often`` counts the swings, ``soon`` is the time in seconds
 * until it rests.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Settle".
 */
export interface Settle {
  kind: "settle";
  between?: boolean;
  far?: number;
  often?: number;
  soon?: number;
}
/**
 * A ball let go. ``height`` is the drop in the measure's unit, ``keeps`` the restitution: the share of the speed
 * kept at each contact; ``often`` counts the bounces; ``soon`` is the time in seconds until it lies still.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Bounce".
 */
export interface Bounce {
  kind: "bounce";
  between?: boolean;
  height?: number;
  keeps?: number;
  often?: number;
  soon?: number;
}
/**
 * A value changed but not keyed: it shows at its own time at work, and never renders.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "LooseNumber".
 */
export interface LooseNumber {
  time: number;
  value: number;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "PathTrack".
 */
export interface PathTrack {
  before?: Beyond | null;
  after?: Beyond | null;
  keys?: PathKey[];
  within?: boolean;
  crafts?: (Settle | Bounce)[];
  kind: "path";
  value: unknown[];
  points?: PathPoint[];
  closed?: boolean;
  way_back?: number;
  rounded?: number | null;
  loose?: LoosePosition | null;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "PathKey".
 */
export interface PathKey {
  time: number;
  arriving?: Side | null;
  leaving?: Side | null;
  hold?: boolean;
  steps?: Steps | null;
  joint?: "corner" | "smooth" | "automatic";
  automatic?: Automatic | null;
  id?: string | null;
  at: number;
  past?: number;
  pace?: boolean;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "LoosePosition".
 */
export interface LoosePosition {
  time: number;
  value: unknown[];
}
/**
 * Encoded sRGB and alpha, blended in OKLab.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ColourTrack".
 */
export interface ColourTrack {
  before?: Beyond | null;
  after?: Beyond | null;
  keys?: BlendKey[];
  within?: boolean;
  crafts?: (Settle | Bounce)[];
  value: number[];
  loose?: LooseBlend | null;
  kind: "colour";
}
/**
 * A key between whose values a share is blended: a colour as four numbers, an outline as its points' numbers.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "BlendKey".
 */
export interface BlendKey {
  time: number;
  arriving?: Side | null;
  leaving?: Side | null;
  hold?: boolean;
  steps?: Steps | null;
  joint?: "corner" | "smooth" | "automatic";
  automatic?: Automatic | null;
  id?: string | null;
  value: number[];
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "LooseBlend".
 */
export interface LooseBlend {
  time: number;
  value: number[];
}
/**
 * Six numbers a point (x, y, arriving handle, leaving handle, from the point), blended point by point.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "OutlineTrack".
 */
export interface OutlineTrack {
  before?: Beyond | null;
  after?: Beyond | null;
  keys?: BlendKey[];
  within?: boolean;
  crafts?: (Settle | Bounce)[];
  value: number[];
  loose?: LooseBlend | null;
  kind: "outline";
}
/**
 * What a property follows, and how. ``lag`` in flicks is how much later; below 0 it goes ahead.
 *
 * ``over`` are two values of the source, the ends of the range the link was told by, if it was; with ``held`` the
 * source counts only as far as these. An offset has two numbers where it is a position's.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Link".
 */
export interface Link {
  source: LinkSource;
  factor?: number;
  offset?: number[];
  lag?: number;
  over?: unknown[] | null;
  held?: boolean;
}
/**
 * What is followed: a property of a layer, or one of DERIVED. A place is always its position, whichever way its
 * axes are kept; where a number follows it, ``part`` says which of its two. ``axes`` says in which px a place, or what
 * comes of it, is told.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "LinkSource".
 */
export interface LinkSource {
  layer: string;
  what: string;
  part?: (0 | 1) | null;
  axes?: "own" | "parent" | "scene";
}
/**
 * How much later, in flicks, a layer goes where its carrier's place, turn and size take it.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Later".
 */
export interface Later {
  position?: number;
  rotation?: number;
  scale?: number;
}
/**
 * What a property's keys were made of: those it had before, and what was laid on them.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Reacting".
 */
export interface Reacting {
  base: NumberTrack | PathTrack | ColourTrack | OutlineTrack;
  reaction: Reaction;
}
/**
 * Pulses at what a motion does. ``off`` are the places in that row of those that are left out.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Reaction".
 */
export interface Reaction {
  source: LinkSource;
  kinds?: ("contact" | "peak" | "stop")[];
  off?: number[];
  points?: number[];
  pulse: Pulse;
  marks?: Deftarc_Core_Document_Reactions__Mark[];
}
/**
 * Rest, peak, rest. ``amount`` is the peak's of the strongest, in the property's core unit; it begins ``later``
 * than what it answers, or before it below 0, and takes ``attack``, ``hold`` and ``release``, all in flicks. A release
 * may ring: so many swings about its rest, dying down. ``sized`` makes each as strong as what it answers; ``aimed``
 * turns it the way that came: for a position's x or y by as much of it, for a size as a squash across it, for an
 * outline or a position that way. These go in px, ``way`` where they are not aimed: in degrees, clockwise from right.
 * A colour goes so much of the way to ``colour``.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Pulse".
 */
export interface Pulse {
  amount?: number;
  later?: number;
  attack: number;
  hold?: number;
  release: number;
  rings?: number;
  sized?: boolean;
  aimed?: boolean;
  way?: number;
  colour?: string;
}
/**
 * What a pulse answers: when, in the time of the property's own keys; how strong, and the way it came by.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "deftarc__core__document__reactions__Mark".
 */
export interface Deftarc_Core_Document_Reactions__Mark {
  time: number;
  strength: number;
  way: number[];
}
/**
 * ``what`` is held at ``to``, later by ``offset``, or earlier where that is below 0.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Tie".
 */
export interface Tie {
  id: string;
  what: Anchor;
  to: Anchor;
  offset?: number;
}
/**
 * A moment that can be tied: a layer's start or end, one of its keys, or a marker; the scene's where no layer is
 * told. Keys and markers are called by their ids.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Anchor".
 */
export interface Anchor {
  layer?: string | null;
  of: "start" | "end" | "key" | "marker";
  id?: string | null;
  property?: string | null;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "StaggerRecord".
 */
export interface StaggerRecord {
  layers?: string[];
  lanes?: Lane[];
  by?: "step" | "total" | "end";
  far: number;
  order?: "listed" | "reversed" | "middle" | "ends" | "across" | "down" | "shuffled";
  seed?: number;
  ease?: string;
  strength?: number;
  spans?: boolean;
  begins: number;
  starts: number[];
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Lane".
 */
export interface Lane {
  layer: string;
  property: string;
}
/**
 * A line across the picture: ``x`` stands at an x, ``y`` lies at a y, in scene px.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Guide".
 */
export interface Guide {
  axis: "x" | "y";
  at: number;
}
/**
 * ``file`` is the file's name; ``asset`` the scenes as they came of it, this one first.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Origin".
 */
export interface Origin {
  file: string;
  asset: string;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Layer".
 */
export interface Layer {
  id?: string;
  name: string;
  artwork:
    | Bars
    | Rings
    | Particles
    | Carrier
    | FreePath
    | Picture
    | Logo
    | Rectangle
    | Ellipse
    | Polygon
    | Star
    | Text
    | Wash
    | SceneShown;
  tag?: "plum" | "sea" | "pine" | "brick" | "ochre" | "slate";
  hidden?: boolean;
  locked?: boolean;
  reference?: boolean;
  parent?: string | null;
  hands_opacity?: boolean;
  blend?:
    | "normal"
    | "multiply"
    | "screen"
    | "overlay"
    | "darken"
    | "lighten"
    | "color-dodge"
    | "color-burn"
    | "hard-light"
    | "soft-light"
    | "difference"
    | "exclusion"
    | "hue"
    | "saturation"
    | "color"
    | "luminosity";
  masks?: Mask[];
  matte?: Matte | null;
  smears?: boolean;
  effects?: (Shadow | Blur | Colouring | Crop)[];
  link?: string | null;
  start?: number;
  end?: number | null;
  markers?: Marker[];
  axes_split?: boolean;
  path_closed?: boolean;
  scale_link?: "linked" | "free" | "area";
  scale_ratio?: number;
  tracks?: {
    [k: string]: NumberTrack | PathTrack | ColourTrack | OutlineTrack;
  };
  links?: {
    [k: string]: Link;
  };
  later?: Later | null;
  reactions?: {
    [k: string]: Reacting;
  };
}
/**
 * ``feather`` is the standard deviation in px of the Gaussian that softens its edge to both sides; grown by
 * ``grow`` px before. ``opacity`` says how much of it there is.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Mask".
 */
export interface Mask {
  contours: Contour[];
  id: string;
  name?: string;
  on?: boolean;
  mode?: "add" | "subtract" | "intersect";
  inverted?: boolean;
  rule?: "nonzero" | "evenodd";
  feather?: number;
  grow?: number;
  opacity?: number;
}
/**
 * By the ``alpha`` of ``layer``, or by its ``luma``: how light what it shows is, times its alpha. Hidden in the
 * list it counts all the same; where it does not show in time, there is nothing of it.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Matte".
 */
export interface Matte {
  layer: string;
  by?: "alpha" | "luma";
  inverted?: boolean;
}
/**
 * ``distance`` px in ``direction``, degrees clockwise from rightwards; ``softness`` is a standard deviation.
 *
 * All lengths are px of what throws it. ``spread`` px it is larger all round than that, before it is soft; of what
 * throws it nothing is seen where ``only`` the shadow is.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Shadow".
 */
export interface Shadow {
  id: string;
  on?: boolean;
  kind: "shadow";
  distance?: number;
  direction?: number;
  softness?: number;
  colour?: string | null;
  spread?: number;
  opacity?: number;
  only?: "no" | "yes";
}
/**
 * ``radius`` is the Gaussian's standard deviation in px, as W3C Filter Effects' ``blur()`` has it; ``angle`` is the
 * way it goes where it goes ``along`` one, degrees clockwise from rightwards.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Blur".
 */
export interface Blur {
  id: string;
  on?: boolean;
  kind: "blur";
  radius?: number;
  ways?: "both" | "along";
  angle?: number;
}
/**
 * In turn brightness, contrast, saturation, a turn of hue and inversion, each as W3C Filter Effects' function of
 * that name has it, on encoded sRGB; and then so much of a tint: the colour, as light as what it tints.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Colouring".
 */
export interface Colouring {
  id: string;
  on?: boolean;
  kind: "colour";
  brightness?: number;
  contrast?: number;
  saturation?: number;
  hue?: number;
  invert?: number;
  tinted?: number;
  tint?: string | null;
}
/**
 * Each edge moved in by a share of what it crops, pens included; of a group, of all its members as they lie then,
 * and of a wash, of the frame. ``softness`` is the standard deviation in px of the Gaussian that softens the edges. An
 * edge that is not moved cuts nothing.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Crop".
 */
export interface Crop {
  id: string;
  on?: boolean;
  kind: "crop";
  left?: number;
  top?: number;
  right?: number;
  bottom?: number;
  softness?: number;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "DuplicateScene".
 */
export interface DuplicateScene {
  kind: "duplicate_scene";
  scene: string;
  id?: string;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "RenameScene".
 */
export interface RenameScene {
  kind: "rename_scene";
  scene: string;
  name: string;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "DeleteScene".
 */
export interface DeleteScene {
  kind: "delete_scene";
  scene: string;
}
/**
 * A scene's size, rate, length, background, changed at any time; what is left out stays.
 *
 * ``fit`` says what a new size does to the layers: *keep* leaves them where they are from the top left, *centre*
 * keeps them about the middle, *scale* scales them about it, as far as they fit. A new rate keeps every time in
 * seconds, and so the length. A new length keeps keys and spans, or with ``stretch`` changes them in proportion.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ChangeScene".
 */
export interface ChangeScene {
  kind: "change_scene";
  scene: string;
  name?: string | null;
  width?: number | null;
  height?: number | null;
  fit?: "keep" | "centre" | "scale";
  rate?: FrameRate1 | null;
  frames?: number | null;
  stretch?: boolean;
  background?: string | "none" | null;
  grid?: number | null;
}
/**
 * Frames a second as the fraction ``numerator / denominator``.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "FrameRate".
 */
export interface FrameRate1 {
  numerator?: number;
  denominator?: number;
}
/**
 * The stretch that plays: from ``start`` up to but not at ``end``; neither is the whole scene.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SetPlayRange".
 */
export interface SetPlayRange {
  kind: "set_play_range";
  scene: string;
  start?: number | null;
  end?: number | null;
}
/**
 * All guides of a scene as they are to be, or whether they are locked.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SetGuides".
 */
export interface SetGuides {
  kind: "set_guides";
  scene: string;
  guides?: Guide[] | null;
  locked?: boolean | null;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "AddFont".
 */
export interface AddFont {
  kind: "add_font";
  font: UserFont;
}
/**
 * A font brought in, by its asset's hash. Texts name it ``own-<hash>``.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "UserFont".
 */
export interface UserFont {
  asset: string;
  label: string;
}
/**
 * How scenes that are shown go: which of their moments the layer's start shows, at what rate they go on, and what
 * comes after their end, ``plays`` times or, with ``for_ever``, without an end; and whether their ground shows.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ChangeShown".
 */
export interface ChangeShown {
  scene: string;
  layers: string[];
  kind: "change_shown";
  begins?: number | null;
  rate?: number | null;
  goes_on?: ("once" | "hold" | "repeat" | "alternate") | null;
  plays?: number | null;
  for_ever?: boolean;
  ground?: boolean | null;
}
/**
 * Layers moved into a new scene, which is shown in their place: the picture stays exactly as it is. Groups take
 * along what is in them.
 *
 * Refused by name where it could not stay so: where something of them hangs on what stays behind or the other way
 * round, where they blend with what lies beneath, or something shows between them.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "MakeScene".
 */
export interface MakeScene {
  scene: string;
  layers: string[];
  kind: "make_scene";
  name?: string;
  id?: string;
  layer_id?: string;
}
/**
 * A new layer on top, its pivot at ``at`` in scene px, by default in the middle, scaled by ``scale``.
 *
 * ``place`` says where in time: *whole* shows for the whole scene; the others show from ``time`` for ``length``.
 * *on_top* leaves the rest alone. *insert* moves what starts at ``time`` or later, with its keys, by ``length``, but
 * for what is locked or shows for the whole scene.
 * *overwrite* takes the time from ``among`` (the selected layers; all that are not locked, where none is told):
 * they are trimmed, parted in two, or go where they lie all inside it.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "AddLayer".
 */
export interface AddLayer {
  kind: "add_layer";
  scene: string;
  name: string;
  artwork:
    | Bars
    | Rings
    | Particles
    | Carrier
    | FreePath
    | Picture
    | Logo
    | Rectangle
    | Ellipse
    | Polygon
    | Star
    | Text
    | Wash
    | SceneShown;
  at?: unknown[] | null;
  scale?: number;
  id?: string;
  place?: "whole" | "on_top" | "insert" | "overwrite";
  time?: number;
  length?: number | null;
  among?: string[];
}
/**
 * Keys at a time with what shows there: on some properties of some layers, on what is ``moving`` or was changed of
 * them, or on all that make up the transform; and on ``lanes``, a property of a layer each.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SetKeys".
 */
export interface SetKeys {
  kind: "set_keys";
  scene: string;
  layers?: string[];
  properties?: string[];
  lanes?: Lane[];
  moving?: boolean;
  time: number;
  own?: boolean;
}
/**
 * Values changed but not keyed are let go; the motion shows again.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ClearLoose".
 */
export interface ClearLoose {
  kind: "clear_loose";
  scene: string;
  layers: string[];
}
/**
 * All keys of some properties taken away, and what they follow; the values at a time stay.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ClearMotion".
 */
export interface ClearMotion {
  kind: "clear_motion";
  scene: string;
  layers: string[];
  properties?: string[];
  time: number;
}
/**
 * The present look kept as the end pose: keys at ``end`` with what shows at ``time``, and keys here to change.
 *
 * The keys here are the ones to be given the start; the motion between is straight until eased.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "WorkBackwards".
 */
export interface WorkBackwards {
  kind: "work_backwards";
  scene: string;
  layers: string[];
  properties?: string[];
  time: number;
  end: number;
}
/**
 * Tracks put back to what is told: how what *Keying changes* keyed is taken back at once.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "RestoreKeys".
 */
export interface RestoreKeys {
  kind: "restore_layers";
  scene: string;
  layers: Layer[];
  title?: string;
}
/**
 * What lanes do before their first key or after their last: hold, rest at a value, repeat, alternate, accumulate
 * or continue at the end's speed; so many plays in all, or for ever.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SetBeyond".
 */
export interface SetBeyond {
  scene: string;
  lanes: Lane[];
  kind: "set_beyond";
  side?: "before" | "after" | "both";
  how: "hold" | ("rest" | "repeat" | "alternate" | "accumulate" | "continue");
  count?: number | null;
  part?: number | null;
  again?: boolean;
  rest?: number[];
}
/**
 * What goes on before and after lanes' keys made into ordinary keys, over the scene or between two moments.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "BakeBeyond".
 */
export interface BakeBeyond {
  scene: string;
  lanes: Lane[];
  kind: "bake_beyond";
  start?: number | null;
  end?: number | null;
}
/**
 * Where in its cycle a lane is when the play range begins, as a share of the cycle: its keys are moved in time, by
 * as little as does it; ``step`` gives each further layer so much more, so that they do not move in step.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SetPhase".
 */
export interface SetPhase {
  scene: string;
  lanes: Lane[];
  kind: "set_phase";
  phase?: number;
  step?: number;
  by?: boolean;
}
/**
 * Scenes that came of a file, the first of them shown by the new layer, which moves, grows and runs as one.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "BringScenes".
 */
export interface BringScenes {
  kind: "bring_scenes";
  scene: string;
  name: string;
  artwork:
    | Bars
    | Rings
    | Particles
    | Carrier
    | FreePath
    | Picture
    | Logo
    | Rectangle
    | Ellipse
    | Polygon
    | Star
    | Text
    | Wash
    | SceneShown;
  at?: unknown[] | null;
  scale?: number;
  id?: string;
  place?: "whole" | "on_top" | "insert" | "overwrite";
  time?: number;
  length?: number | null;
  among?: string[];
  scenes: Scene[];
}
/**
 * A scene brought in again after its file changed: ``was`` is what the file had before, ``now`` what it has, with
 * the same ids for what is the same. What was done here is kept; where both changed the same, ``prefer`` says whose
 * stays.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "BringAgain".
 */
export interface BringAgain {
  kind: "bring_again";
  scene: string;
  was: Scene[];
  now: Scene[];
  origin: Origin;
  prefer?: "here" | "file";
}
/**
 * Properties let follow another: ``factor · source(t − lag) + offset``, each ``step`` later than the one before;
 * None is as much again as the first.
 *
 * ``keep`` chooses the offset so that what shows at ``time`` stays; else it is 0. Left out, a position keeps its
 * distance and anything else takes its source's value. ``over`` and ``onto`` tell factor and offset by two ranges, in
 * core units: when the source goes from one to the other, the property does. Keys that a property has lie on top.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "LinkLanes".
 */
export interface LinkLanes {
  kind: "link_lanes";
  scene: string;
  lanes: LaneAsked[];
  to: SourceAsked;
  factor?: number;
  lag?: number;
  step?: number | null;
  keep?: boolean | null;
  over?: unknown[] | null;
  onto?: unknown[] | null;
  held?: boolean;
  time?: number;
}
/**
 * A property of a layer.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "LaneAsked".
 */
export interface LaneAsked {
  layer: string;
  property: string;
}
/**
 * What is to be followed: a property of a layer, or how it moves. ``position_x`` and ``position_y`` are the two of
 * its position; ``axes`` left out are the scene's where either of the two is carried.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SourceAsked".
 */
export interface SourceAsked {
  layer: string;
  what: string;
  axes?: ("own" | "parent" | "scene") | null;
}
/**
 * How properties follow: what is given changes on each, the rest stays. What was typed is ``told`` for a field, in
 * shown units: *factor*, *offset* (0 or 1 of ``component``), *over* and *onto* (their first or second number).
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ChangeLinks".
 */
export interface ChangeLinks {
  kind: "change_links";
  scene: string;
  lanes: LaneAsked[];
  to?: SourceAsked | null;
  factor?: number | null;
  offset?: number[] | null;
  lag?: number | null;
  by_lag?: number | null;
  over?: unknown[] | null;
  onto?: unknown[] | null;
  held?: boolean | null;
  ranged?: boolean | null;
  field?: ("factor" | "offset" | "over" | "onto") | null;
  component?: 0 | 1;
  told?: string | null;
  by?: number | null;
  time?: number;
}
/**
 * Properties that follow nothing any more: they stay at what they show at ``time``, with their own keys about that;
 * or with ``keys`` they move on as they did, by keys.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "CutLinks".
 */
export interface CutLinks {
  kind: "cut_links";
  scene: string;
  lanes: LaneAsked[];
  keys?: boolean;
  time?: number;
}
/**
 * Layers moved by (dx, dy) scene px; constrained to the longer of the two along ``axes``.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "MoveLayers".
 */
export interface MoveLayers {
  scene: string;
  layers: string[];
  time: number;
  keying?: boolean;
  constrain?: boolean;
  kind: "move_layers";
  dx: number;
  dy: number;
  axes?: "own" | "parent" | "scene";
}
/**
 * Layers turned about their pivots by degrees, several turns if the hand went round several times.
 *
 * Constrained, the angle that results is a whole number of 15° steps.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "TurnLayers".
 */
export interface TurnLayers {
  scene: string;
  layers: string[];
  time: number;
  keying?: boolean;
  constrain?: boolean;
  kind: "turn_layers";
  degrees: number;
}
/**
 * A handle taken at ``start`` and dragged to ``to``, in scene px, scaling each layer about its pivot.
 *
 * ``axes`` tells which the handle moves: 1, 0 for one side, 1, 1 for a corner. Linked axes scale together and
 * constrain to whole tenths; free ones go their own ways, and constrained keep their proportion.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ScaleLayers".
 */
export interface ScaleLayers {
  scene: string;
  layers: string[];
  time: number;
  keying?: boolean;
  constrain?: boolean;
  kind: "scale_layers";
  start: unknown[];
  to: unknown[];
  axes?: unknown[];
}
/**
 * The pivot put at a place of the artwork (``own``, layer px; ``each`` for several) or of the scene (``to``).
 *
 * The whole motion goes along, so that the picture at this time stays where it is; no key is added, however the
 * layer is keyed, turned, scaled or carried.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "MovePivot".
 */
export interface MovePivot {
  scene: string;
  layers: string[];
  time: number;
  keying?: boolean;
  constrain?: boolean;
  kind: "move_pivot";
  own?: unknown[] | null;
  each?: unknown[][];
  to?: unknown[] | null;
}
/**
 * Each layer moved by its own (dx, dy) scene px: what aligning and distributing come to.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "MoveEach".
 */
export interface MoveEach {
  kind: "move_each";
  scene: string;
  steps: Step[];
  time: number;
  keying?: boolean;
  verb?: string;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Step".
 */
export interface Step {
  layer: string;
  dx: number;
  dy: number;
}
/**
 * How the scale axes go together.
 *
 * Unlinking keeps the motion; linking takes x's, and y in its present ratio; by area takes x's, and y = 1/x.
 * Unlinking from area keeps it at the keys: between them 1/x has another shape than two handles can give.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "LinkScale".
 */
export interface LinkScale {
  kind: "link_scale";
  scene: string;
  layer: string;
  others?: string[];
  link: "linked" | "free" | "area";
  time: number;
}
/**
 * Pulses on properties at the contacts, peaks or stops of a motion: ordinary keys, laid anew when that changes.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "React".
 */
export interface React {
  kind: "react";
  scene: string;
  lanes: LaneAsked[];
  to: SourceAsked;
  kinds?: ("contact" | "peak" | "stop")[];
  pulse: Pulse;
  points?: number[];
}
/**
 * How properties react: what is given changes on each. What was typed is ``told`` for a ``field``, in shown units:
 * *amount*; *later*, *attack*, *hold* and *release* in frames; *rings*. ``turn`` turns one of what is answered, by its
 * place in the row, off or on.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ChangeReactions".
 */
export interface ChangeReactions {
  kind: "change_reactions";
  scene: string;
  lanes: LaneAsked[];
  kinds?: ("contact" | "peak" | "stop")[] | null;
  turn?: number | null;
  sized?: boolean | null;
  aimed?: boolean | null;
  points?: number[] | null;
  colour?: string | null;
  field?: ("amount" | "later" | "attack" | "hold" | "release" | "rings" | "way") | null;
  told?: string | null;
}
/**
 * Properties that answer nothing any more: with the keys they had before or, with ``keys``, those they have.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "EndReactions".
 */
export interface EndReactions {
  kind: "end_reactions";
  scene: string;
  lanes: LaneAsked[];
  keys?: boolean;
}
/**
 * Layers flattened at each contact of their own motion, their area kept, from the side that hits: the pivot goes to
 * where the strongest does, in the ``boxes`` of their artworks (left, top, right, bottom), where these are given.
 * ``amount`` is the share by which the strongest widens it; times are in flicks.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SquashAtContacts".
 */
export interface SquashAtContacts {
  kind: "squash_at_contacts";
  scene: string;
  layers: string[];
  boxes?: unknown[][];
  amount?: number;
  attack?: number | null;
  release?: number | null;
  time?: number;
}
/**
 * How the rings or particles of layers are born and look, where they have what changes.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ChangeBursts".
 */
export interface ChangeBursts {
  scene: string;
  layers: string[];
  kind: "change_bursts";
  change: BurstChange;
}
/**
 * What of rings or particles changes; a field left out stays. ``source`` and ``shaped`` may be "" for none.
 *
 * Where ``shaped`` is a layer ``of`` another scene, its artwork comes into this one as a hidden layer, ``comes_as``.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "BurstChange".
 */
export interface BurstChange {
  emits?: ("point" | "line" | "place" | "outline") | null;
  source?: string | null;
  shaped?: string | null;
  of?: string | null;
  comes_as?: string | null;
  sides?: number | null;
  seed?: number | null;
  repeats?: number | null;
  ahead?: number | null;
  ease?: string | null;
  strength?: number | null;
}
/**
 * A burst at each contact, peak or stop of another layer's position, where that is then and as strong as it is.
 * They follow that motion, as all that answers one does.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "BurstAt".
 */
export interface BurstAt {
  scene: string;
  layers: string[];
  kind: "burst_at";
  to: string;
  kinds?: ("contact" | "peak" | "stop")[];
}
/**
 * Layers, with what they carry that is selected or in them, so many times in all. Each copy is turned by ``turn``
 * degrees from the one before about a point, the pivot of the first of them at ``time`` or ``centre`` in scene px, and
 * moved by ``dx``, ``dy``. Its motion is ``later`` by so much; what repeats is ``phase`` of a cycle on from the one
 * before. ``linked`` copies share their artwork.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "CopiesOf".
 */
export interface CopiesOf {
  scene: string;
  layers: string[];
  kind: "copies_of";
  often?: number;
  round?: boolean | null;
  turn?: number;
  dx?: number;
  dy?: number;
  centre?: unknown[] | null;
  later?: number;
  phase?: number;
  linked?: boolean;
  time?: number;
}
/**
 * Samples made a property's motion, with few keys within a tolerance; what motion it had is replaced.
 *
 * ``values`` are in shown units, a row a sample: one number, or x and y of a position, which may come in ``scene``
 * px and then are taken back through what carries the layer at each moment.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "LaySamples".
 */
export interface LaySamples {
  scene: string;
  layer: string;
  property: string;
  kind: "lay_samples";
  times: number[];
  values: number[][];
  tolerance: number;
  axes?: "parent" | "scene";
  title?: string;
}
/**
 * A hand recorded, made a position's motion as samples are: read at every frame from ``start`` on, between the
 * moments that were seen, so that keys come to stand on frames.
 *
 * ``spots`` are seconds since it began with x and y in scene px, a row each time it was seen.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "LayRecording".
 */
export interface LayRecording {
  scene: string;
  layer: string;
  property: string;
  kind: "lay_recording";
  spots: unknown[][];
  start: number;
  tolerance: number;
}
/**
 * Keys too many made few within a tolerance, in each lane from the first to the last of those told.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ReduceKeys".
 */
export interface ReduceKeys {
  scene: string;
  keys: KeyRef[];
  kind: "reduce_keys";
  tolerance: number;
}
/**
 * A key is named by its layer, its property and its time.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "KeyRef".
 */
export interface KeyRef {
  layer: string;
  property: string;
  time: number;
}
/**
 * A position's x and y on their own, or combined as a path again; the motion stays within a tolerance of px.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SplitAxes".
 */
export interface SplitAxes {
  kind: "split_axes";
  scene: string;
  layer: string;
  split: boolean;
  tolerance?: number;
}
/**
 * Keys gone. What they shaped between two that stay is kept as near as one segment can, exactly where it was one;
 * without ``keep_shape`` those that stay keep the sides they have.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "DeleteKeys".
 */
export interface DeleteKeys {
  scene: string;
  keys: KeyRef[];
  kind: "delete_keys";
  keep_shape?: boolean;
}
/**
 * An effect put at the end of the list of each layer. A group is painted as one from then on.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "AddEffect".
 */
export interface AddEffect {
  scene: string;
  layers: string[];
  kind: "add_effect";
  effect: Shadow | Blur | Colouring | Crop;
}
/**
 * An effect of a layer switched on or off, moved in the order in which effects treat it, or taken away.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ChangeEffect".
 */
export interface ChangeEffect {
  scene: string;
  layers: string[];
  kind: "change_effect";
  effect: string;
  on?: boolean | null;
  move?: number;
  remove?: boolean;
  choose?: {
    [k: string]: string;
  };
}
/**
 * Groups put together by themselves before they are laid on what is beneath, or their members one by one.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "PaintAsOne".
 */
export interface PaintAsOne {
  scene: string;
  layers: string[];
  kind: "paint_as_one";
  as_one: boolean;
}
/**
 * How layers mix with what is beneath them. A group is painted as one from then on.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "BlendLayers".
 */
export interface BlendLayers {
  scene: string;
  layers: string[];
  kind: "blend_layers";
  blend:
    | "normal"
    | "multiply"
    | "screen"
    | "overlay"
    | "darken"
    | "lighten"
    | "color-dodge"
    | "color-burn"
    | "hard-light"
    | "soft-light"
    | "difference"
    | "exclusion"
    | "hue"
    | "saturation"
    | "color"
    | "luminosity";
}
/**
 * A mask put after the others of a layer, its outline in that layer's px. A group is painted as one then.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "AddMask".
 */
export interface AddMask {
  kind: "add_mask";
  scene: string;
  layer: string;
  mask: Mask;
  in_scene?: boolean;
  time?: number;
}
/**
 * A rectangle or an ellipse put after the other masks of a layer, drawn between two places in the scene.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "DrawMask".
 */
export interface DrawMask {
  kind: "draw_mask";
  scene: string;
  layer: string;
  id: string;
  shape: "rectangle" | "ellipse";
  start: unknown[];
  to: unknown[];
  time?: number;
}
/**
 * A mask renamed, switched on or off, inverted, put together with those before it in another way, filled by
 * another rule, moved in their order, or taken off.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ChangeMask".
 */
export interface ChangeMask {
  kind: "change_mask";
  scene: string;
  layer: string;
  mask: string;
  name?: string | null;
  on?: boolean | null;
  mode?: ("add" | "subtract" | "intersect") | null;
  inverted?: boolean | null;
  rule?: ("nonzero" | "evenodd") | null;
  move?: number;
  remove?: boolean;
}
/**
 * A fill or a stroke that is a gradient from then on, across the ``box`` of its artwork (left, top, right, bottom):
 * from its colour to the same, lighter. None makes it a colour again; another shape keeps ends and stops.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SetGradient".
 */
export interface SetGradient {
  scene: string;
  layer: string;
  of?: "fill" | "stroke";
  kind: "set_gradient";
  shape?: ("linear" | "radial") | null;
  box?: unknown[];
}
/**
 * A stop ``at`` a share of the way, or where that comes nearest to a place in the layer's px, ``near``; without
 * either half-way between the two that are furthest apart. It is of the colour that is there.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "AddStop".
 */
export interface AddStop {
  scene: string;
  layer: string;
  of?: "fill" | "stroke";
  kind: "add_stop";
  at?: number | null;
  near?: unknown[] | null;
  time?: number;
  id?: string;
  colour?: string | null;
}
/**
 * A stop taken away; two at least stay.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "RemoveStop".
 */
export interface RemoveStop {
  scene: string;
  layer: string;
  of?: "fill" | "stroke";
  kind: "remove_stop";
  stop: string;
}
/**
 * From ``time`` on each line is drawn in ``length``, each layer's ``step`` later than the one below it in the
 * list's order, and filled in ``fills`` after that. What had no line has one meanwhile, in the colour of its fill.
 * Contours are drawn all at once, or ``in_turn``. What keys these had before go.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "DrawOn".
 */
export interface DrawOn {
  scene: string;
  layers: string[];
  kind: "draw_on";
  time?: number;
  length?: number;
  fills?: number;
  step?: number;
  in_turn?: boolean;
  ease?: string;
}
/**
 * Keys moved together: by so many flicks, and in their values by ``lift`` in the measure's unit.
 *
 * A position's keys that rest on points keep their height; its pace keys move along the path. Where one would land
 * on a key that stays, ``onto`` says what becomes of that.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "MoveKeys".
 */
export interface MoveKeys {
  scene: string;
  keys: KeyRef[];
  onto?: "beside" | "replace";
  push?: "none" | "lane" | "layer" | "scene";
  kind: "move_keys";
  by?: number;
  lift?: number;
}
/**
 * Keys put on the nearest whole frames. What that changes of the motion is told: the greatest deviation.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "KeysOnFrames".
 */
export interface KeysOnFrames {
  scene: string;
  keys: KeyRef[];
  kind: "keys_on_frames";
}
/**
 * A named ease on segments: those between neighbouring selected keys of a lane.
 *
 * Where only one key of a lane is selected, the segment after it, or before it if it is the last. ``on`` one side
 * leaves the other side of each segment alone. ``as_one`` lays one ease over each lane's whole run.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "EaseKeys".
 */
export interface EaseKeys {
  scene: string;
  keys: KeyRef[];
  kind: "ease_keys";
  ease: string;
  strength?: number;
  on?: "both" | "leaving" | "arriving";
  as_one?: boolean;
  steps?: Steps | null;
}
/**
 * A shape on the selected segments: told as CSS text, or as the knots of an ease of one's own.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "LayEase".
 */
export interface LayEase {
  scene: string;
  keys: KeyRef[];
  kind: "lay_ease";
  text?: string | null;
  knots?: Knot[] | null;
  title?: string;
}
/**
 * A key of a shape: ``x`` of its duration, ``y`` of its change; sides with reaches as ever and rises in ``y``.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Knot".
 */
export interface Knot {
  x: number;
  y: number;
  arriving?: Side | null;
  leaving?: Side | null;
  steps?: Steps | null;
}
/**
 * The shape of a run of keys, or a CSS text, kept in the project under a name; one of that name is replaced.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "KeepEase".
 */
export interface KeepEase {
  kind: "keep_ease";
  name: string;
  scene?: string | null;
  keys?: KeyRef[];
  text?: string | null;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ForgetEase".
 */
export interface ForgetEase {
  kind: "forget_ease";
  name: string;
}
/**
 * A settle or a bounce: between the selected keys, at a time on a lane, or in place of one whose keys are its own.
 *
 * ``keys`` name the way between two keys; without keys it begins at ``time`` on ``layer`` and ``property``, and how
 * far it swings or drops may be ``told`` as it was typed, in the shown unit.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "MakeCraft".
 */
export interface MakeCraft {
  kind: "make_craft";
  scene: string;
  craft: Settle | Bounce;
  keys?: KeyRef[];
  layer?: string | null;
  property?: string;
  time?: number | null;
  told?: string | null;
}
/**
 * A number that a settle or a bounce was made from typed anew: its keys are made again, if no hand changed them.
 *
 * ``field`` is far, often, soon, keeps, height or gravity; ``told`` is in the shown unit, shares in per cent, and
 * may be relative. Gravity says how long a bounce takes.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "TypeCraft".
 */
export interface TypeCraft {
  scene: string;
  keys: KeyRef[];
  kind: "type_craft";
  field: "far" | "often" | "soon" | "keeps" | "height" | "gravity";
  told: string;
}
/**
 * Layers carried by another, or by none; the picture at ``time`` stays as it is. A ring is refused by name.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SetParent".
 */
export interface SetParent {
  scene: string;
  layers: string[];
  kind: "set_parent";
  parent?: string | null;
  time: number;
}
/**
 * Layers put into a new group above the topmost of them, its pivot amid theirs. Nothing moves.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "GroupLayers".
 */
export interface GroupLayers {
  scene: string;
  layers: string[];
  kind: "group_layers";
  id?: string;
  name?: string;
  time: number;
}
/**
 * Groups dissolved: their members stay where they are in the picture at ``time``.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Ungroup".
 */
export interface Ungroup {
  scene: string;
  layers: string[];
  kind: "ungroup";
  time: number;
}
/**
 * Layers put above ``before`` in the list, or at its bottom; groups take along what is in them.
 *
 * With ``regroup`` they also become members of ``group``, or of none, their picture at ``time`` unchanged.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "OrderLayers".
 */
export interface OrderLayers {
  scene: string;
  layers: string[];
  kind: "order_layers";
  before?: string | null;
  regroup?: boolean;
  group?: string | null;
  time?: number;
}
/**
 * A handle dragged to a place in the layer's px, in the ``box`` of its artwork (left, top, right, bottom): what it
 * stands for becomes what it means there.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "DragHandle".
 */
export interface DragHandle {
  kind: "drag_handle";
  scene: string;
  layer: string;
  handle: string;
  to: unknown[];
  box?: unknown[];
  time?: number;
  keying?: boolean;
  share?: number | null;
}
/**
 * Layers that go where their carrier takes them only later, in flicks: with its place, turn and size each, or with
 * ``all`` of it. Nought is at once. Each comes ``step`` later than the one before; None is as much again.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "CarryLater".
 */
export interface CarryLater {
  scene: string;
  layers: string[];
  kind: "carry_later";
  all?: number | null;
  position?: number | null;
  rotation?: number | null;
  scale?: number | null;
  step?: number | null;
}
/**
 * Layers carried each by the one before, in the order told, and each later than that by ``lag``: a tail. The
 * picture at ``time`` stays but for what the lag changes.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ChainLayers".
 */
export interface ChainLayers {
  scene: string;
  layers: string[];
  kind: "chain_layers";
  lag: number;
  time: number;
}
/**
 * Layers that grow longer along the way they go, and thinner across: by ``amount`` at 1 000 px a second, at most
 * ``limit`` times as long, with their speed evened out over ``smooth`` seconds; or with ``on`` false no more.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "StretchLayers".
 */
export interface StretchLayers {
  scene: string;
  layers: string[];
  kind: "stretch_layers";
  on?: boolean;
  amount?: number | null;
  limit?: number | null;
  smooth?: number | null;
}
/**
 * What comes of how layers are carried later, or stretch, made into ordinary keys that do the same.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "LayRelations".
 */
export interface LayRelations {
  scene: string;
  layers: string[];
  kind: "lay_relations";
  what: "later" | "stretch";
}
/**
 * Markers set, on a layer or on the scene. Where one stands already, within half a frame, none is set.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SetMarkers".
 */
export interface SetMarkers {
  kind: "set_markers";
  scene: string;
  layer?: string | null;
  markers: Marker[];
}
/**
 * A row of markers from a tempo, in beats a minute, from one moment to another. The first of each bar has its
 * number and a colour of its own; ``every`` leaves out all others.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "MarkTempo".
 */
export interface MarkTempo {
  kind: "mark_tempo";
  scene: string;
  layer?: string | null;
  start: number;
  end?: number | null;
  tempo: number;
  beats?: number;
  every?: "beat" | "bar";
  count?: number | null;
  id?: string;
}
/**
 * Markers moved by so many flicks, or one put at a time; named, coloured. What is left out stays.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ChangeMarkers".
 */
export interface ChangeMarkers {
  kind: "change_markers";
  scene: string;
  marks: Deftarc_Core_Edit_Markers__Mark[];
  by?: number;
  time?: number | null;
  name?: string | null;
  tag?: ("plum" | "sea" | "pine" | "brick" | "ochre" | "slate") | null;
}
/**
 * A marker, by whose it is: a layer's, or where none is told the scene's.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "deftarc__core__edit__markers__Mark".
 */
export interface Deftarc_Core_Edit_Markers__Mark {
  layer?: string | null;
  id: string;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "DeleteMarkers".
 */
export interface DeleteMarkers {
  kind: "delete_markers";
  scene: string;
  marks: Deftarc_Core_Edit_Markers__Mark[];
}
/**
 * Keys brought to markers: of those of a lane that are nearest to one marker, the nearest goes there and the others
 * stay. Shapes between keys are kept.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "KeysToMarkers".
 */
export interface KeysToMarkers {
  scene: string;
  keys: KeyRef[];
  kind: "keys_to_markers";
}
/**
 * Layers that show through another from then on; None lets them show as they are. What they show through no longer
 * shows itself with ``hide``, and a group is painted as one.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ShowThrough".
 */
export interface ShowThrough {
  scene: string;
  layers: string[];
  kind: "show_through";
  matte?: Matte | null;
  hide?: boolean;
}
/**
 * Layers, with all their keys, or lanes, begun one after the other from where the first of them begins. ``step`` is
 * from one to the next, ``total`` from the first to the last, ``end`` a gap from the end of the one before (below 0
 * they overlap). ``ease`` spaces the steps unevenly.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Stagger".
 */
export interface Stagger {
  layers?: string[];
  lanes?: Lane[];
  by?: "step" | "total" | "end";
  far: number;
  order?: "listed" | "reversed" | "middle" | "ends" | "across" | "down" | "shuffled";
  seed?: number;
  ease?: string;
  strength?: number;
  spans?: boolean;
  kind: "stagger";
  scene: string;
  time?: number;
  begins?: number | null;
}
/**
 * A motion kept in the project under its name; one of that name is replaced, unless it is to be a fresh one.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "KeepMotion".
 */
export interface KeepMotion {
  kind: "keep_motion";
  motion: SavedMotion;
  was?: string | null;
  fresh?: boolean;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SavedMotion".
 */
export interface SavedMotion {
  name: string;
  clip: Clip;
  rest?: "first" | "last";
  dials?: Dial[];
  turns?: "again" | "alternate" | "adding";
  sizes?: number[];
  frame?: number | null;
  about?: string;
}
/**
 * Keys of one or several lanes, times in flicks from the first of them.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Clip".
 */
export interface Clip {
  lanes: CopiedLane[];
  rate?: FrameRate2;
}
/**
 * Some keys of a property of a layer, told by the layer's name.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "CopiedLane".
 */
export interface CopiedLane {
  layer: string;
  of?: number;
  property: string;
  track: NumberTrack | PathTrack | ColourTrack | OutlineTrack;
}
/**
 * Frames a second as the fraction ``numerator / denominator``.
 */
export interface FrameRate2 {
  numerator?: number;
  denominator?: number;
}
/**
 * A number that is asked for: its kind, what it is called, what it is at first and from where to where it goes.
 *
 * *far* is in the shown unit of the first lane it is about, *long* in seconds, *way* in degrees, clockwise.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Dial".
 */
export interface Dial {
  id: string;
  kind: "far" | "long" | "often" | "way";
  label: string;
  value: number;
  low: number;
  high: number;
  lanes?: number[];
}
/**
 * Motions of a file kept in the project. Those that are here stay; others of their names get a number.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "BringMotions".
 */
export interface BringMotions {
  kind: "bring_motions";
  motions: SavedMotion[];
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ForgetMotion".
 */
export interface ForgetMotion {
  kind: "forget_motion";
  name: string;
}
/**
 * A saved motion laid on layers as ordinary keys, from where each is. One of several layers goes onto as many, or
 * several times as many, in the order of the list. ``numbers`` are those it asks for, by their ids; ``sizes`` how
 * large each layer is across its corners, in px of what carries it.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "LayMotion".
 */
export interface LayMotion {
  scene: string;
  kind: "lay_motion";
  motion: SavedMotion;
  layers: string[];
  sizes?: number[];
  time: number;
  numbers?: {
    /**
     * This interface was referenced by `undefined`'s JSON-Schema definition
     * via the `patternProperty` "^[a-z0-9]{1,24}$".
     */
    [k: string]: number;
  };
  how?: LayHow;
}
/**
 * How a saved motion comes to lie on layers.
 */
export interface LayHow {
  rest?: ("first" | "last") | null;
  at?: "time" | "start" | "end";
  size?: "kept" | "layer" | "scene";
  fit?: "keep" | "span" | "range";
  phase?: number;
  step?: number;
  order?: "listed" | "reversed" | "middle" | "ends" | "across" | "down" | "shuffled";
  seed?: number;
  onto?: "mix" | "replace";
}
/**
 * Points, or one handle of a point, moved by (dx, dy) of the layer's px.
 *
 * ``part`` is the point itself or its arriving or leaving handle. The other handle turns along as long as the two
 * lie in one line, unless ``apart``.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "DragPoints".
 */
export interface DragPoints {
  scene: string;
  layer: string;
  mask?: string | null;
  time?: number;
  keying?: boolean;
  kind: "drag_points";
  points: number[];
  part?: "point" | "arriving" | "leaving";
  dx: number;
  dy: number;
  apart?: boolean;
}
/**
 * Points made smooth, with handles along the way between their neighbours, or corners without any.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "RoundPoints".
 */
export interface RoundPoints {
  scene: string;
  layer: string;
  mask?: string | null;
  time?: number;
  keying?: boolean;
  kind: "round_points";
  points: number[];
  smooth: boolean;
}
/**
 * A point put on the way from point ``after`` to the next at ``share`` of it; no shape of any key changes.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "AddPoint".
 */
export interface AddPoint {
  scene: string;
  layer: string;
  mask?: string | null;
  time?: number;
  keying?: boolean;
  kind: "add_point";
  after: number;
  share?: number;
}
/**
 * Points taken out of the path, in every key alike.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "DeletePoints".
 */
export interface DeletePoints {
  scene: string;
  layer: string;
  mask?: string | null;
  time?: number;
  keying?: boolean;
  kind: "delete_points";
  points: number[];
}
/**
 * All contours of a path closed, or opened again.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "CloseContours".
 */
export interface CloseContours {
  scene: string;
  layer: string;
  mask?: string | null;
  time?: number;
  keying?: boolean;
  kind: "close_contours";
  closed: boolean;
}
/**
 * Floating points, or all of them, given keys at the times they are passed; the motion stays as it is.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SetPoints".
 */
export interface SetPoints {
  scene: string;
  layer: string;
  kind: "set_points";
  points?: number[];
}
/**
 * Keys of positions taken away, their points left on the path to float: one segment runs through them.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "FloatKeys".
 */
export interface FloatKeys {
  scene: string;
  keys: KeyRef[];
  kind: "float_keys";
}
/**
 * Keys of positions taken off their points: as pace keys they can be moved along the path.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ReleaseKeys".
 */
export interface ReleaseKeys {
  scene: string;
  keys: KeyRef[];
  kind: "release_keys";
}
/**
 * Keys of a path between the first and the last of those told (or of all) evened out: ``speed`` moves them in time
 * until the speed is one all the way, ``distances`` along the path until the ways between them are equal.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "EvenPace".
 */
export interface EvenPace {
  kind: "even_pace";
  scene: string;
  layer: string;
  times?: number[];
  what?: "speed" | "distances";
}
/**
 * The segment after a key given a length in time, typed as frames, timecode or seconds.
 *
 * With ``keep`` the total stays: the next segment, or for the last one the one before, gives or takes. Without, all
 * later keys of the lane move along.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "TimeSegment".
 */
export interface TimeSegment {
  scene: string;
  layer: string;
  property: string;
  kind: "time_segment";
  time: number;
  told: string;
  keep?: boolean;
}
/**
 * Copied keys put on layers at a time. Each lane goes onto the property it was copied from, or all of one onto
 * ``onto_property``. Keys of one layer go onto each of the layers; of several layers, onto as many, in their order.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "PasteKeys".
 */
export interface PasteKeys {
  scene: string;
  kind: "paste_keys";
  clip: Clip;
  layers: string[];
  onto_property?: string | null;
  time: number;
  how?: PasteHow;
}
/**
 * What becomes of copied keys as they are pasted.
 */
export interface PasteHow {
  relative?: boolean;
  reversed?: boolean;
  mirrored?: boolean;
  often?: number;
  alternate?: boolean;
  shared?: "once" | "twice";
  gap?: number;
  adding?: boolean;
  onto?: "mix" | "replace";
  fit?: "keep" | "span" | "range";
}
/**
 * The shapes between copied keys, without their values or times, laid on ways between other keys in turn.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "PasteEases".
 */
export interface PasteEases {
  kind: "paste_eases";
  scene: string;
  clip: Clip;
  keys: KeyRef[];
}
/**
 * Keys' values v made ``about + (v − about)·factor + more``; a factor of −1 mirrors them about a value.
 *
 * ``about`` is each lane's ``first`` chosen key, the ``middle`` of its chosen values, or a number in its shown unit;
 * ``more`` is in the shown unit. Of a position, x or y or both are changed, and a number is about that axis's value.
 *
 * A mirror image is never cut off by what a property allows: where its first value would lead out of that, it is made
 * about the middle of what the keys span.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ScaleValues".
 */
export interface ScaleValues {
  scene: string;
  keys: KeyRef[];
  kind: "scale_values";
  factor?: number;
  more?: number;
  about?: ("first" | "middle") | number;
  axis?: "both" | "x" | "y";
}
/**
 * Lanes closed over the stretch that loops, or with ``own`` each over its own cycle.
 *
 * ``value`` copies where the start is to the end; ``speed`` gives the end the speed of the start; ``cycle`` stretches
 * what goes on by itself until whole turns fill the stretch; ``auto`` does of these what each lane needs.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "CloseSeam".
 */
export interface CloseSeam {
  scene: string;
  lanes?: Lane[];
  kind: "close_seam";
  how?: "auto" | "value" | "speed" | "cycle";
  own?: boolean;
}
/**
 * The stretch that loops made so long: the play range, or the scene where all of it loops; a scene that is too
 * short for it gets longer. Without a length it is the least after which all that goes on comes round together.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "LoopLength".
 */
export interface LoopLength {
  kind: "loop_length";
  scene: string;
  length?: number | null;
}
/**
 * A scene's shutter opened or shut, and how long it is open and from when on; ``everything`` lets all layers that
 * can be seen smear, or none.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SetShutter".
 */
export interface SetShutter {
  kind: "set_shutter";
  scene: string;
  on?: boolean | null;
  angle?: number | null;
  phase?: number | null;
  everything?: boolean | null;
}
/**
 * Layers that are blurred as they move while the scene's shutter is open, or that are not.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SmearLayers".
 */
export interface SmearLayers {
  scene: string;
  layers: string[];
  kind: "smear_layers";
  smears: boolean;
}
/**
 * One side's handle dragged: to a ``reach`` of its segment, and to a ``rise`` or a ``speed`` a second, in the
 * measure's unit. What is left out stays. On a smooth joint the other side follows, unless it is broken ``apart``.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ShapeSide".
 */
export interface ShapeSide {
  scene: string;
  layer: string;
  property: string;
  kind: "shape_side";
  time: number;
  side: "arriving" | "leaving";
  reach?: number | null;
  rise?: number | null;
  speed?: number | null;
  apart?: boolean;
  together?: boolean;
}
/**
 * A segment's curve taken at a share of its time and dragged by ``lift`` in the measure's unit.
 *
 * Both sides take part, the nearer one by more, so that the curve goes on lying under the hand. On smooth joints
 * the segments beside follow.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "BendSegment".
 */
export interface BendSegment {
  scene: string;
  layer: string;
  property: string;
  kind: "bend_segment";
  time: number;
  share: number;
  lift: number;
}
/**
 * A side's speed or reach typed, on all selected keys that have that side.
 *
 * ``speed`` in the shown unit a second keeps the reach; ``reach`` in per cent, or in frames as ``12f``, keeps the
 * speed. Both may be relative, as any number.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "TypeSide".
 */
export interface TypeSide {
  scene: string;
  keys: KeyRef[];
  kind: "type_side";
  side: "arriving" | "leaving";
  speed?: string | null;
  reach?: string | null;
}
/**
 * How the curve goes through some keys. Automatic joints have tension, continuity and bias, −1 to 1.
 *
 * ``next`` is the one after what the first key has: corner, smooth, automatic, and round again.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ChooseJoint".
 */
export interface ChooseJoint {
  scene: string;
  keys: KeyRef[];
  kind: "choose_joint";
  joint: "corner" | "smooth" | "automatic" | "next";
  automatic?: Automatic | null;
}
/**
 * Sides of keys turned straight or into curves; ``toggle`` does what is not so yet, for all alike.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "BendKeys".
 */
export interface BendKeys {
  scene: string;
  keys: KeyRef[];
  kind: "bend_keys";
  to?: "curve" | "straight" | "toggle";
  on?: "both" | "leaving" | "arriving";
}
/**
 * The speed peak of the segment after a key moved to a fraction of its time.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ShiftPeak".
 */
export interface ShiftPeak {
  scene: string;
  layer: string;
  property: string;
  kind: "shift_peak";
  time: number;
  to: number;
}
/**
 * The selected segments kept within their keys, once: rises are shortened as little as it takes.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "KeepWithin".
 */
export interface KeepWithin {
  scene: string;
  keys: KeyRef[];
  kind: "keep_within";
}
/**
 * How whole curves are made: kept ``within`` their keys, or (what stays above nought) growing ``evenly``.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SetCurve".
 */
export interface SetCurve {
  kind: "set_curve";
  scene: string;
  lanes: Lane[];
  within?: boolean | null;
  evenly?: boolean | null;
}
/**
 * Keys stretched about a moment and a value: times by ``longer``, values by ``taller``.
 *
 * ``on_frames`` lands every key on a whole frame. Keys that would land on each other, or on one that stays, come to
 * stand beside it, unless they are to replace what they cover.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "StretchKeys".
 */
export interface StretchKeys {
  scene: string;
  keys: KeyRef[];
  onto?: "beside" | "replace";
  push?: "none" | "lane" | "layer" | "scene";
  kind: "stretch_keys";
  about: number;
  longer?: number;
  level?: number;
  taller?: number;
  on_frames?: boolean;
}
/**
 * A property of layers that goes from what it is at ``time`` to another value and back, ``often``, each way in
 * ``length``: to a ``colour``, or ``far`` from where it is, in the core unit; None is as far as is easily seen. What
 * keys it had are gone.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ThereAndBack".
 */
export interface ThereAndBack {
  scene: string;
  layers: string[];
  kind: "there_and_back";
  property: string;
  time?: number;
  length?: number;
  often?: number;
  far?: number | null;
  colour?: string;
  ease?: string;
}
/**
 * Bars as wide as the frame that close in from its edges, by a share of it, from ``time`` on.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "CloseBars".
 */
export interface CloseBars {
  kind: "close_bars";
  scene: string;
  id?: string;
  time?: number;
  length?: number;
  far?: number;
  sides?: "above" | "beside" | "round";
  ease?: string;
}
/**
 * Another take of the timing of some layers: it begins as what shows, and shows. Layers that had no takes come to
 * have what shows now as their first.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "NewTake".
 */
export interface NewTake {
  kind: "new_take";
  scene: string;
  layers: string[];
  name?: string | null;
  id?: string;
  set?: string;
  first?: string;
}
/**
 * Another take shows; what showed is kept as it was.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ShowTake".
 */
export interface ShowTake {
  scene: string;
  set: string;
  take: string;
  kind: "show_take";
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "RenameTake".
 */
export interface RenameTake {
  scene: string;
  set: string;
  take: string;
  kind: "rename_take";
  name: string;
}
/**
 * A take deleted. Where it shows, the one before it does; with the last but one the set is no more.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "DeleteTake".
 */
export interface DeleteTake {
  scene: string;
  set: string;
  take: string;
  kind: "delete_take";
}
/**
 * A take brought back beside those there are; it does not show.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "RestoreTake".
 */
export interface RestoreTake {
  kind: "restore_take";
  scene: string;
  set: TakeSet;
  take: string;
}
/**
 * Lanes as they are in one take given to another of its set; ``span`` among the properties is the layer's span.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "CopyTake".
 */
export interface CopyTake {
  kind: "copy_take";
  scene: string;
  set: string;
  source: string;
  target: string;
  lanes: Lane[];
}
/**
 * Moments tied to others, and put where they are to be. One that was tied already is tied anew.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "TieTimings".
 */
export interface TieTimings {
  kind: "tie_timings";
  scene: string;
  ties: TieAsked[];
}
/**
 * ``offset`` is how much later ``what`` is held than ``to``; None is as it stands now.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "TieAsked".
 */
export interface TieAsked {
  what: AnchorAsked;
  to: AnchorAsked;
  offset?: number | null;
  id?: string;
  ids?: unknown[];
}
/**
 * A moment that is to be tied: as an anchor, but a key is told by its time.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "AnchorAsked".
 */
export interface AnchorAsked {
  layer?: string | null;
  of: "start" | "end" | "key" | "marker";
  id?: string | null;
  property?: string | null;
  time?: number | null;
}
/**
 * The distance at which ties hold, or with ``cut`` that they hold no more.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ChangeTies".
 */
export interface ChangeTies {
  kind: "change_ties";
  scene: string;
  ties: string[];
  offset?: number | null;
  cut?: boolean;
}
/**
 * Keys turned round in time within the stretch they fill together: what came last comes first, what arrived
 * leaves. Between them the motion runs backwards.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ReverseKeys".
 */
export interface ReverseKeys {
  scene: string;
  keys: KeyRef[];
  kind: "reverse_keys";
}
/**
 * Each lane's keys moved, as they are, so that their first (or last) stands at one moment.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "AlignKeys".
 */
export interface AlignKeys {
  scene: string;
  keys: KeyRef[];
  kind: "align_keys";
  time?: number | null;
  by?: "first" | "last";
}
/**
 * Keys at even distances between the first and the last of each lane; or, of single keys of several lanes, from
 * lane to lane in their order. On whole frames, unless told otherwise.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SpreadKeys".
 */
export interface SpreadKeys {
  scene: string;
  keys: KeyRef[];
  kind: "spread_keys";
  on_frames?: boolean;
}
/**
 * All keys of a lane as a line of words tells them; what motion it had is replaced. Misread where it is none.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "TypeKeys".
 */
export interface TypeKeys {
  scene: string;
  layer: string;
  property: string;
  kind: "type_keys";
  text: string;
}
/**
 * One number of one property changed; with *Keying changes* (``keying``) it is keyed.
 *
 * ``component`` is 0 or 1 for position and scale: the other axis stays, or follows if linked. One of: ``value`` in
 * core units, the same for all; ``by``, a step in core units from each one's own; ``told``, what was typed, in
 * shown units, where `+=40` goes from each one's own; ``colour``. ``others`` are the layers selected besides; those
 * without the property are left alone.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SetValue".
 */
export interface SetValue {
  kind: "set_value";
  scene: string;
  layer: string;
  others?: string[];
  property: string;
  component?: 0 | 1;
  value?: number | null;
  by?: number | null;
  told?: string | null;
  colour?: string | null;
  time: number;
  keying?: boolean;
  axes?: "own" | "parent" | "scene";
}
/**
 * A key's value typed, and that of the keys ``others``; what has no such number is left alone.
 *
 * ``told`` may be relative, as any number: then each goes from its own. Component 2 of a position is its distance
 * along the path, which a pace key has.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "TypeKey".
 */
export interface TypeKey {
  kind: "type_key";
  scene: string;
  layer: string;
  property: string;
  time: number;
  component?: 0 | 1 | 2;
  told: string;
  others?: KeyRef[];
}
/**
 * A key at a time and a value, as the pointer says: on the curve it changes nothing, off it it bends the motion.
 *
 * On a position it is a pace key, and its value the distance along the path.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "PutKey".
 */
export interface PutKey {
  scene: string;
  layer: string;
  property: string;
  kind: "put_key";
  time: number;
  value?: number | null;
}
/**
 * One layer's numbers at a time given to others: some properties, or all of its transform.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "CopyNumbers".
 */
export interface CopyNumbers {
  kind: "copy_numbers";
  scene: string;
  source: string;
  layers: string[];
  properties?: string[];
  time: number;
  keying?: boolean;
}
/**
 * What a page shows. ``n`` numbers the looks; ``fresh`` asks for everything anew.
 *
 * On the wire ``keys``, and those of the edit, are null where they are the ones that were told last: see SameKeys.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Look".
 */
export interface Look {
  n?: number;
  scene: string;
  frame?: number;
  layers?: string[];
  keys?: KeyRef[];
  focus?: Focus | null;
  folded?: string[] | null;
  opened?: Focus[];
  axis?: AxisAsked | null;
  pair_height?: number;
  pair?: PairAsked;
  window?: Window;
  lane_height?: number;
  filters?: Filters;
  reveal?: string | null;
  unit?: "timecode" | "drop" | "frames" | "seconds";
  axes?: "own" | "parent" | "scene";
  page?: "motion" | "look" | "relations";
  points?: boolean;
  folds?: string[];
  mask?: string | null;
  path_points?: number[];
  path?: boolean;
  segments?: boolean;
  ghost?: GhostAsked | null;
  drawer?: string;
  drawer_text?: string;
  keying_since?: number | null;
  fresh?: boolean;
  light?: boolean;
  edit?:
    | (
        | DeleteLayers
        | ForgetShelf
        | DuplicateLayers
        | Unlink
        | DescribeLayers
        | ChangeArtwork
        | ReplaceArtwork
        | TakeApart
        | MoveSpans
        | TrimSpan
        | SetSpanLength
        | CoverKeys
        | GiveClock
        | FreezeClock
        | BakeClock
        | BendPath
        | JoinPath
        | AddPathPoint
        | SpreadPoints
        | DeletePathPoints
        | ClosePath
        | ReversePath
        | TakePath
        | SlideKey
        | SetRounding
        | RenameProject
        | AddScene
        | DuplicateScene
        | RenameScene
        | DeleteScene
        | ChangeScene
        | SetPlayRange
        | SetGuides
        | AddFont
        | ChangeShown
        | MakeScene
        | AddLayer
        | SetKeys
        | ClearLoose
        | ClearMotion
        | WorkBackwards
        | RestoreKeys
        | SetBeyond
        | BakeBeyond
        | SetPhase
        | BringScenes
        | BringAgain
        | LinkLanes
        | ChangeLinks
        | CutLinks
        | MoveLayers
        | TurnLayers
        | ScaleLayers
        | MovePivot
        | MoveEach
        | LinkScale
        | React
        | ChangeReactions
        | EndReactions
        | SquashAtContacts
        | ChangeBursts
        | BurstAt
        | CopiesOf
        | LaySamples
        | LayRecording
        | ReduceKeys
        | SplitAxes
        | DeleteKeys
        | AddEffect
        | ChangeEffect
        | PaintAsOne
        | BlendLayers
        | AddMask
        | DrawMask
        | ChangeMask
        | SetGradient
        | AddStop
        | RemoveStop
        | DrawOn
        | MoveKeys
        | KeysOnFrames
        | EaseKeys
        | LayEase
        | KeepEase
        | ForgetEase
        | MakeCraft
        | TypeCraft
        | SetParent
        | GroupLayers
        | Ungroup
        | OrderLayers
        | DragHandle
        | CarryLater
        | ChainLayers
        | StretchLayers
        | LayRelations
        | SetMarkers
        | MarkTempo
        | ChangeMarkers
        | DeleteMarkers
        | KeysToMarkers
        | ShowThrough
        | Stagger
        | KeepMotion
        | BringMotions
        | ForgetMotion
        | LayMotion
        | DragPoints
        | RoundPoints
        | AddPoint
        | DeletePoints
        | CloseContours
        | SetPoints
        | FloatKeys
        | ReleaseKeys
        | EvenPace
        | TimeSegment
        | PasteKeys
        | PasteEases
        | ScaleValues
        | CloseSeam
        | LoopLength
        | SetShutter
        | SmearLayers
        | ShapeSide
        | BendSegment
        | TypeSide
        | ChooseJoint
        | BendKeys
        | ShiftPeak
        | KeepWithin
        | SetCurve
        | StretchKeys
        | ThereAndBack
        | CloseBars
        | NewTake
        | ShowTake
        | RenameTake
        | DeleteTake
        | RestoreTake
        | CopyTake
        | TieTimings
        | ChangeTies
        | ReverseKeys
        | AlignKeys
        | SpreadKeys
        | TypeKeys
        | SetValue
        | TypeKey
        | PutKey
        | CopyNumbers
      )
    | null;
  brief?: boolean;
  ahead?: boolean;
  snap?: SnapAsked | null;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Focus".
 */
export interface Focus {
  layer: string;
  property: string;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "AxisAsked".
 */
export interface AxisAsked {
  start: number;
  end: number;
  width: number;
}
/**
 * What the pair shows besides the lane in focus, and how high its axes reach.
 *
 * ``fit`` is what the axes fit to by themselves; None leaves them at ``value`` and ``speed``, low and high in the
 * main curve's shown unit. ``apart`` gives each curve its own scale.
 */
export interface PairAsked {
  shown?: Focus[];
  hidden?: Focus[];
  pinned?: Focus[];
  colours?: Tinted[];
  alone?: Focus | null;
  apart?: boolean;
  fit?: ("all" | "selection" | "range") | null;
  value?: unknown[] | null;
  speed?: unknown[] | null;
}
/**
 * A curve's colour in the pair, by number.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Tinted".
 */
export interface Tinted {
  layer: string;
  property: string;
  colour: number;
}
/**
 * The stretch of the list of lanes that is in view, in px.
 */
export interface Window {
  top?: number;
  height?: number;
}
/**
 * Which lanes are listed. ``keyed`` hides layers without keys, ``selected`` all that is not selected.
 */
export interface Filters {
  keyed?: boolean;
  selected?: boolean;
  text?: string;
}
/**
 * A take that is laid over what shows, as a ghost.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "GhostAsked".
 */
export interface GhostAsked {
  set: string;
  take: string;
}
/**
 * To what a drag on the picture snaps, within scene px; or a drag in time, within flicks.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "SnapAsked".
 */
export interface SnapAsked {
  tolerance?: number;
  grid?: boolean;
  guides?: boolean;
  layers?: boolean;
  frame?: boolean;
  grabbed?: number | null;
  level?: number;
}
/**
 * A project after a change: its revision, what undo and redo would do, and how many steps there are.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "State".
 */
export interface State {
  id: string;
  name: string;
  revision: number;
  undo: string | null;
  redo: string | null;
  steps: number;
  selects?: KeyRef[] | null;
  notes?: ToldNote[];
  went?: Went | null;
  repeated?: boolean;
  unchanged?: boolean;
}
/**
 * A sentence, and where ``offer`` is not empty one edit that would mend what it says.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "ToldNote".
 */
export interface ToldNote {
  text: string;
  offer?: string;
  edit?: EditBase | null;
}
/**
 * What an edit says of itself besides what it does. One with a ``kind`` is registered by that.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "EditBase".
 */
export interface EditBase {}
/**
 * Where an undo or a redo took place: the scene, the frame to go to if it does not show at the page's, what is
 * selected then, and a sentence.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Went".
 */
export interface Went {
  scene: string;
  frame: number | null;
  layers: string[];
  keys: KeyRef[];
  words: string;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "BroughtInLayer".
 */
export interface BroughtInLayer {
  id: string;
  name: string;
  revision: number;
  undo: string | null;
  redo: string | null;
  steps: number;
  selects?: KeyRef[] | null;
  notes?: ToldNote[];
  went?: Went | null;
  repeated?: boolean;
  unchanged?: boolean;
  layer: string;
  missing?: string[];
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "MadeFont".
 */
export interface MadeFont {
  id: string;
  name: string;
  revision: number;
  undo: string | null;
  redo: string | null;
  steps: number;
  selects?: KeyRef[] | null;
  notes?: ToldNote[];
  went?: Went | null;
  repeated?: boolean;
  unchanged?: boolean;
  font: string;
  label: string;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Moment".
 */
export interface Moment {
  frame: number;
  time: number;
  timecode: string;
}
/**
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "RenderState".
 */
export interface RenderState {
  id: string;
  title: string;
  state: string;
  done: number;
  total: number;
  message: string;
  revision?: number;
  rate?: number | null;
  left?: number | null;
}
/**
 * Every refusal: a sentence; after 409 also the newest revision and what changed.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Refused".
 */
export interface Refused {
  detail: string;
  revision?: number | null;
  changes?: string[] | null;
}
/**
 * Which lanes are listed. ``keyed`` hides layers without keys, ``selected`` all that is not selected.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Filters".
 */
export interface Filters1 {
  keyed?: boolean;
  selected?: boolean;
  text?: string;
}
/**
 * How a saved motion comes to lie on layers.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "LayHow".
 */
export interface LayHow1 {
  rest?: ("first" | "last") | null;
  at?: "time" | "start" | "end";
  size?: "kept" | "layer" | "scene";
  fit?: "keep" | "span" | "range";
  phase?: number;
  step?: number;
  order?: "listed" | "reversed" | "middle" | "ends" | "across" | "down" | "shuffled";
  seed?: number;
  onto?: "mix" | "replace";
}
/**
 * What the pair shows besides the lane in focus, and how high its axes reach.
 *
 * ``fit`` is what the axes fit to by themselves; None leaves them at ``value`` and ``speed``, low and high in the
 * main curve's shown unit. ``apart`` gives each curve its own scale.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "PairAsked".
 */
export interface PairAsked1 {
  shown?: Focus[];
  hidden?: Focus[];
  pinned?: Focus[];
  colours?: Tinted[];
  alone?: Focus | null;
  apart?: boolean;
  fit?: ("all" | "selection" | "range") | null;
  value?: unknown[] | null;
  speed?: unknown[] | null;
}
/**
 * What becomes of copied keys as they are pasted.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "PasteHow".
 */
export interface PasteHow1 {
  relative?: boolean;
  reversed?: boolean;
  mirrored?: boolean;
  often?: number;
  alternate?: boolean;
  shared?: "once" | "twice";
  gap?: number;
  adding?: boolean;
  onto?: "mix" | "replace";
  fit?: "keep" | "span" | "range";
}
/**
 * How long light falls in during a frame, as an ``angle`` of 360° for all of it, and by what ``phase`` of that it
 * begins after the frame's moment: −angle / 2 is about it.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Shutter".
 */
export interface Shutter1 {
  on?: boolean;
  angle?: number;
  phase?: number;
}
/**
 * The stretch of the list of lanes that is in view, in px.
 *
 * This interface was referenced by `Told`'s JSON-Schema
 * via the `definition` "Window".
 */
export interface Window1 {
  top?: number;
  height?: number;
}

export type Edit = NonNullable<Told["edit"]>;
