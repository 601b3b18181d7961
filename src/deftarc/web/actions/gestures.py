"""What a hand does that is no action: strokes that mean what is selected, and keys held while it drags."""

GESTURES: dict[str, tuple[tuple[str, str], ...]] = {
    "Keys": (
        ("← → ↑ ↓", "with keys selected: move them by a frame or a unit, with Shift by ten; beside what stands there"),
        ("Ctrl", "while keys are dragged: what they land on is replaced"),
    ),
    "The motion path": (
        ("double click", "a point corner or smooth; the way a new point; a handle back to automatic"),
        ("Shift Alt", "while dragging: level, upright, 45°; a handle apart from the other"),
        ("← → ↑ ↓", "nudge the selected points by 1 px, with Shift by 10"),
    ),
    "Layers": (
        ("← → ↑ ↓", "nudge by 1 px, with Shift by 10"),
        ("Esc", "puts back what is dragged; then drops keys or points, the tool, the layers, one at a time"),
    ),
    "The pair": (
        ("wheel", "zoom time at the pointer; with Shift the values"),
        ("middle button", "pan time and values"),
        ("drag", "on a curve between keys: bends it, both sides, the nearer by more"),
        ("double click", "a key here; on a key straight or curve; on a handle mend it"),
        ("Shift Alt", "while dragging: level or upright; free of snapping, a handle apart"),
    ),
    "Looking": (("Shift F10", "what can be done here, as a right click tells"),),
    "Numbers": (
        ("960/2  +=40  *=1.5", "sums, and changes from what stands there"),
        ("↑ ↓", "by a step; Shift ten times, Alt a tenth as much"),
        ("Alt −", "turn the sign"),
        ("Enter Tab Esc", "keep it and go on working; keep it and go to the next; back to what it was"),
    ),
}
