"""Animations of open packages of the npm registry, read here and compared with a page's player, ten frames each.

    python -m tests.campaign.lotties [how many of each]

Fetches them into a folder of its own; nothing of it is kept. Those with formulas, which are not worked out here, are
named and not counted.
"""

import json
import subprocess
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import sync_playwright

from deftarc.formats.materials import Materials
from deftarc.formats.read.lottie.reader import read_lottie
from deftarc.paint.output import Job
from tests.e2e.playing import apart, painted
from tests.lottie_players import in_page
from tests.running import chromium

#: Animated icons, and what a player is tried with: long scenes of older years, with compositions, mattes, masks and
#: texts. All under the MIT licence.
PACKAGES = {"react-useanimations@2.10.0": "*/lib/*/*.json", "lottie-web@5.13.0": "lottie-web/test/animations/*.json"}
#: Of 255 on the mean; px of the larger side.
MOST, SIDE = 3.0, 300


def compared(page, data):
    """By how much of 255 the worst of ten frames differs on the mean, and what is not carried."""
    found, told = read_lottie(data), json.loads(data)
    kept = {each.hash: each.data for each in found.assets}
    scene = found.project.scenes[0]
    job = Job(scene, Materials(kept.__getitem__), found.project.by_id)
    factor = SIDE / max(scene.width, scene.height)
    first, count = int(told["ip"]), told["op"] - told["ip"]
    frames = sorted({int(count * k / 10) for k in range(10)})
    size = (round(scene.width * factor), round(scene.height * factor))
    rate = float(scene.rate.numerator / scene.rate.denominator) / told["fr"]
    worst = 0.0
    # Its player counts from where it begins.
    for frame, seen in in_page(page, told, size, frames):
        row = min(scene.frames - 1, round(frame * rate))
        worst = max(worst, apart(painted(job, row, factor), seen)[0])
    return worst, found.notes, first


def main():
    most = int(sys.argv[1]) if len(sys.argv) > 1 else 30
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        subprocess.run(
            ["npm", "install", "--silent", "--ignore-scripts", "--no-audit", "--prefix", folder, *PACKAGES], check=True
        )
        files = [
            file for where in PACKAGES.values() for file in sorted(Path(folder).glob(f"node_modules/{where}"))[:most]
        ]
        browser = chromium(play)
        page = browser.new_page()
        over = []
        for file in files:
            worst, notes, _ = compared(page, file.read_bytes())
            said = f"  ({' '.join(notes)})" if notes else ""
            print(f"{worst:7.2f}  {file.stem}{said}", flush=True)
            if worst > MOST and not notes:
                over.append(file.stem)
        browser.close()
    print(f"{len(files)} animations; more than {MOST} of 255 off, though all is carried: {', '.join(over) or 'none'}")
    return bool(over)


if __name__ == "__main__":
    sys.exit(main())
