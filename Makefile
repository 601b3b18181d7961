# Everything sets itself up: a virtual environment with locked packages, and Chromium for the tests.
PORT ?= 8321
VENV := .venv
BIN := $(VENV)/bin
DEMO_DATA ?= .deftarc/demo

# What Python compiles is kept: tests start many processes.
unexport PYTHONDONTWRITEBYTECODE

.PHONY: setup demo test check check-page check-python check-types coverage lock unit e2e bench campaign screenshots browser types format clean

setup: $(VENV)/.ready

$(VENV)/.ready: requirements.lock requirements-dev.lock pyproject.toml
	test -x $(BIN)/python || python3 -m venv $(VENV)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-compile --require-hashes -r requirements-dev.lock
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	touch $@

demo: setup
	$(BIN)/deftarc serve --demo --port $(PORT) --data $(DEMO_DATA)

test: check unit e2e

# The page's own scripts and styles: how they look, what they import, and whether what they tell Python is what it takes.
# Node comes with the locked packages, so that every machine has the same.
NODE := PATH="$(abspath $(BIN)):$$PATH"
node_modules/.ready: package-lock.json $(VENV)/.ready
	$(NODE) npm ci --no-audit --no-fund --silent
	touch $@

check-page: setup node_modules/.ready
	$(NODE) npm run --silent check
	$(BIN)/python -m tools.page_types --check

types: setup node_modules/.ready
	$(BIN)/python -m tools.page_types

format: setup node_modules/.ready
	$(BIN)/ruff format src tests benchmarks tools
	$(BIN)/ruff check --fix src tests benchmarks tools
	$(NODE) npm run --silent format

check-python: setup
	$(BIN)/ruff check src tests benchmarks tools
	$(BIN)/ruff format --check src tests benchmarks tools
	$(BIN)/lint-imports

check-types: setup
	$(BIN)/mypy

# Side by side, each with its output in one piece.
check: setup node_modules/.ready
	$(MAKE) --no-print-directory -j 2 --output-sync=target check-types check-page check-python

unit: setup node_modules/.ready
	$(BIN)/pytest tests --ignore tests/e2e -n 2 --durations=20

e2e: setup node_modules/.ready browser
	$(BIN)/pytest tests/e2e -n 2 --durations=20

# Debian's Chromium; what is there already is used.
browser:
	@command -v chromium >/dev/null || (apt-get update -qq && apt-get install -y -qq --no-install-recommends chromium)

bench: setup browser
	$(BIN)/python benchmarks/run.py

# Two hours of attacks on what docs/trust.md promises, and a table of what came of them.
campaign: setup
	$(BIN)/python -m tests.campaign.run

screenshots: setup browser
	$(BIN)/python -m tools.screenshots

# What runs, and with it what develops: each with the hashes of all it takes.
COMPILE = $(BIN)/pip-compile --quiet --generate-hashes --strip-extras --no-emit-index-url --no-emit-find-links \
  --no-emit-trusted-host --all-build-deps --allow-unsafe
lock:
	$(BIN)/python -m pip install --quiet pip-tools
	$(COMPILE) -o requirements.lock pyproject.toml
	$(COMPILE) --extra dev -c requirements.lock -o requirements-dev.lock pyproject.toml

# How much of the source the tests that need no browser go through.
coverage: setup
	$(BIN)/coverage run -m pytest tests -m "not e2e" -p no:xdist
	$(BIN)/coverage report --skip-covered --sort=cover | tail -60

clean:
	rm -rf $(VENV) .deftarc build
