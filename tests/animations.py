"""Lottie animations as others write them, small and of this world."""

import json

STILL = {"a": {"k": [0, 0]}, "s": {"k": [100, 100]}, "r": {"k": 0}, "o": {"k": 100}}


def box(name, size, colour, number, at, turns=None, **more):
    """A layer with a filled box, which may turn there and back over 50 frames."""
    shapes = [{"ty": "rc", "p": {"k": [0, 0]}, "s": {"k": size}, "r": {"k": 6}},
              {"ty": "fl", "c": {"k": colour}, "o": {"k": 100}}]  # fmt: skip
    moved = {**STILL, "p": {"k": at}}
    if turns is not None:
        eased = {"o": {"x": [0.4], "y": [0]}, "i": {"x": [0.6], "y": [1]}}
        moved["r"] = {"a": 1, "k": [{"t": 0, "s": [-turns], **eased}, {"t": 25, "s": [turns], **eased},
                                    {"t": 50, "s": [-turns]}]}  # fmt: skip
    return {"ty": 4, "nm": name, "ind": number, "ip": 0, "op": 50, "ks": moved, "shapes": shapes, **more}


def buoy(turns=20, width=120, above=(), at=(200, 220), **fields):
    """A buoy that rocks, with a lamp on it; ``above`` are layers over it."""
    return {
        "v": "5.7.0", "nm": "Buoy", "fr": 25, "ip": 0, "op": 50, "w": 400, "h": 320,
        "layers": [
            *above,
            box("Lamp", [40, 40], [1, 0.8, 0.3], 1, [0, -90], parent=2),
            box("Buoy", [width, 140], [0.76, 0.38, 0.11], 2, list(at), turns),
        ],
        **fields,
    }  # fmt: skip


def told(animation):
    return json.dumps(animation).encode()
