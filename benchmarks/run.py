"""All figures, one line a row: `python benchmarks/run.py`, or with names of rows' files to run only those."""

import sys
from importlib import import_module
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))


def main() -> None:
    for name in sys.argv[1:] or ("core", "paths", "store", "page", "movie"):
        import_module(f"benchmarks.{name}").main()


if __name__ == "__main__":
    main()
