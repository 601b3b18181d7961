"""A fragment that is drawn anew at each move of a hand, told without those of its lines that stay.

A line that is one whole element is left out, with a blank in its place, where the page has the same line there; the
page leaves what it has there alone (``renew.js``). Only answers to what is tried do so: all others are told whole.
"""

#: Stands for a line that the page has.
SAME = '<g same=""/>'


def is_whole(line: str) -> bool:
    """Whether a line is one element, from its start to its end: groups are the only ones that may go over lines."""
    return line.startswith("<") and line.count("<g") == line.count("</g>") and not line.startswith("</")


def changed_lines(now: str, before: str | None) -> str:
    """``now`` without the lines that are the same in what was told ``before``; whole where they have other lines."""
    if before is None:
        return now
    lines, old = now.split("\n"), before.split("\n")
    if len(lines) != len(old):
        return now
    return "\n".join(
        SAME if line == was and len(line) > len(SAME) and is_whole(line) else line
        for line, was in zip(lines, old, strict=True)
    )


def filled(told: str, before: str) -> str:
    """The whole again of what ``changed_lines`` told: what a page makes of it."""
    if SAME not in told:
        return told
    pairs = zip(told.split("\n"), before.split("\n"), strict=True)
    return "\n".join(was if line == SAME else line for line, was in pairs)
