"""The pair spoken to as a hand would: places by frame and value, beads, handles, speeds."""

RATE = 24


class PairHand:
    """The pair of a workbench. Frames are the scene's; values are in the main curve's shown unit."""

    def __init__(self, bench):
        self.bench, self.tab = bench, bench.tab

    @property
    def told(self):
        return self.tab.evaluate("window.deftarc.state.pair")

    def x(self, frame):
        axis = self.tab.evaluate("({ ...window.deftarc.state.axis, flicks: window.deftarc.state.scene.flicks })")
        left = self.tab.locator("svg.pair").bounding_box()["x"]
        return left + (frame * axis["flicks"] - axis["start"]) / (axis["end"] - axis["start"]) * axis["width"]

    def y(self, value, which="value"):
        scale = self.told[which]
        top = self.tab.locator("svg.pair").bounding_box()["y"]
        return top + scale["top"] + scale["height"] * (1 - (value - scale["low"]) / (scale["high"] - scale["low"]))

    def value(self, y, which="value"):
        scale = self.told[which]
        top = self.tab.locator("svg.pair").bounding_box()["y"]
        return scale["low"] + (1 - (y - top - scale["top"]) / scale["height"]) * (scale["high"] - scale["low"])

    def bead(self, name, index, speed=False):
        kind = ".in-speed" if speed else ":not(.in-speed)"
        return self.tab.locator(f'#pair .one[data-property="{name}"] .bead{kind}').nth(index)

    def press_bead(self, name, index, **kinds):
        self.tab.mouse.click(*self.bench.middle(self.bead(name, index)), **kinds)
        self.bench.settle()

    def handle(self, time, side, where="in-value"):
        return self.tab.locator(f'#pair .side-handle.{where}[data-time="{time}"][data-side="{side}"]')

    def drag(self, locator, to=None, by=(0, 0), **how):
        start = self.bench.middle(locator)
        self.bench.drag(start, to or (start[0] + by[0], start[1] + by[1]), **how)


def time_of(frame, rate=RATE):
    return frame * 705_600_000 // rate


__all__ = ["PairHand", "time_of"]
