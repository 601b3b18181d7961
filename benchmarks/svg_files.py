"""Real SVG files of open icon, flag and illustration sets beside Chromium: `python benchmarks/run.py svg_files`.

The sets come from the npm registry at each first run, into .deftarc/svg-sets, and are never committed. A file counts as
off where more than 1 % of its pixels differ by more than 32; one that is off and says nothing of it is untold. Beside
that stands, for those that are off, how far they still are where both paint four times as large and are brought down:
what is left then is the reading of the file, what is gone was the two painters' antialiasing.
"""

import random
import subprocess
import tarfile
from pathlib import Path

import numpy as np
from playwright.sync_api import sync_playwright
from tests.running import chromium
from tests.svg_pictures import chromiums, here

from benchmarks.figures import told
from deftarc.core.base.errors import Refusal

SETS = {
    "flag-icons@7.5.0": ("package/flags/4x3/", 110),
    "devicon@2.17.0": ("package/icons/", 110),
    "lucide-static@1.62.0": ("package/icons/", 40),
    "openmoji@17.0.0": ("package/color/svg/", 60),
}
FOLDER = Path(".deftarc/svg-sets")
SIDE, TIMES = 256, 4


def files(package: str, within: str, count: int) -> list[tuple[str, str]]:
    """Some files of a package, the same each time: (name, text)."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    packed = FOLDER / (package.replace("/", "-").replace("@", "-").strip("-") + ".tgz")
    if not packed.exists():
        name = subprocess.run(
            ["npm", "pack", "--silent", package], cwd=FOLDER, check=True, capture_output=True, text=True
        ).stdout.split()[-1]
        (FOLDER / name).rename(packed)
    with tarfile.open(packed) as archive:
        names = sorted(m.name for m in archive.getmembers() if m.name.startswith(within) and m.name.endswith(".svg"))
        chosen = random.Random(300).sample(names, min(count, len(names)))
        return [(name, archive.extractfile(name).read().decode("utf-8", "replace")) for name in chosen]


def brought_down(pixels: np.ndarray) -> np.ndarray:
    return pixels.reshape(SIDE, TIMES, SIDE, TIMES, 3).mean(axis=(1, 3))


def share_off(ours: np.ndarray, theirs: np.ndarray) -> float:
    return float((abs(ours - theirs).max(axis=-1) > 32).mean())


def main() -> None:
    off, untold, refused, seen = [], [], [], 0
    with sync_playwright() as play:
        browser = chromium(play)
        page = browser.new_page(viewport={"width": SIDE, "height": SIDE})
        large = browser.new_page(viewport={"width": SIDE * TIMES, "height": SIDE * TIMES})
        for package, (within, count) in SETS.items():
            for name, text in files(package, within, count):
                seen += 1
                try:
                    ours, logo = here(text, SIDE)
                except Refusal as refusal:
                    refused.append(f"{name}: {refusal}")
                    continue
                share = share_off(ours, chromiums(page, text, SIDE))
                if share > 0.01:
                    ours, theirs = here(text, SIDE * TIMES)[0], chromiums(large, text, SIDE * TIMES)
                    left = share_off(brought_down(ours), brought_down(theirs))
                    what = f"{package} {name.rsplit('/', 1)[-1]} {'; '.join(logo.notes)}"
                    off.append(f"{share:.1%}, without antialiasing {left:.1%}: {what}")
                    if not logo.notes:
                        untold.append(name)
        browser.close()
    told("SVG files off from Chromium's picture", f"{len(off)} of {seen}", "≤ 1 %", len(off) <= 0.01 * seen)
    told("of those not told by name", str(len(untold)), "0", not untold)
    told("SVG files refused", str(len(refused)), "0", not refused)
    for line in (*off, *refused):
        print("   ", line)
