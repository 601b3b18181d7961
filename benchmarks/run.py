"""All figures, one line a row: `python benchmarks/run.py`, or with names of rows' files to run only those."""

import sys
from importlib import import_module
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from benchmarks.figures import pace


def main() -> None:
    for name in sys.argv[1:] or ("core", "paths", "store", "page", "looks", "movie", "delivery"):
        before = pace()
        import_module(f"benchmarks.{name}").main()
        print(f"      pace of the machine: fixed work took {before:.2f} ms before this, {pace():.2f} after", flush=True)


if __name__ == "__main__":
    main()
