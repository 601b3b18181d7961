"""Playing, and going through time."""

from deftarc.web.actions.action import Action, add

G = "Playing"
SPEED = (("play", "speed"),)
add(
    Action("play", "Play from here", G, (" ",), (("play", "play"),), off="Pause", about="again to pause"),
    Action("play-range", "Play from the range’s start", G, ("Shift+ ",), (("play", "play"),)),
    Action("previous-frame", "One frame back", G, (",",)),
    Action("next-frame", "One frame on", G, (".",)),
    Action("previous-key", "To the key before", G, ("<", "Shift+,")),
    Action("next-key", "To the key after", G, (">", "Shift+.")),
    Action("first-frame", "To the first frame", G, ("Home",)),
    Action("last-frame", "To the last frame", G, ("End",)),
    Action("clock", "Type a time", G, ("#",)),
    Action("range-start", "Play range starts here", G, ("[",), (("ruler", "range"), ("play", "range"))),
    Action("range-end", "Play range ends here", G, ("]",), (("ruler", "range"), ("play", "range")),
           about="this frame is not played"),
    Action("range-all", "Play range is the whole scene", G, ("|",), (("ruler", "range"), ("play", "range"))),
    Action("speed-full", "Play at full speed", G, (), SPEED),
    Action("speed-half", "Play at half speed", G, (), SPEED),
    Action("speed-quarter", "Play at a quarter of the speed", G, (), SPEED),
    Action("loop", "Play over and over", G, ("o",), off="Play once"),
)  # fmt: skip
