# make demo: set up, fill in the demo, serve it.  make test: set up and run everything.

PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
PORT ?= 8017
STAMPS := $(VENV)/.stamps
PAGE := src/pivrel/web/static/index.html
FRONTEND := $(shell find frontend/src frontend/public -type f 2>/dev/null) frontend/index.html frontend/vite.config.ts

TYPES := frontend/src/api/wire.gen.ts

.PHONY: setup dev types format demo serve test bench waits kills frames lint shots clean

setup: $(STAMPS)/python $(PAGE) $(STAMPS)/warm

$(STAMPS)/python: requirements.txt requirements-dev.txt pyproject.toml
	$(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps -r requirements-dev.txt
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps -e .
	mkdir -p $(STAMPS) && touch $@

frontend/node_modules/.package-lock.json: frontend/package.json frontend/package-lock.json
	cd frontend && npm ci --no-audit --no-fund --loglevel=error

$(PAGE): frontend/node_modules/.package-lock.json $(FRONTEND)
	cd frontend && npm run --silent build

# Compiles the kernels once, so that the first model opens as fast as the second.
$(STAMPS)/warm: $(STAMPS)/python $(shell grep -rl numba src/pivrel --include=*.py) docs/example/every.json
	$(BIN)/python -m pivrel.demo.warming
	$(BIN)/pivrel apply docs/example/every.json docs/example/wall.obj -o $(STAMPS)/wall.glb
	touch $@

demo: setup
	$(BIN)/pivrel demo
	$(BIN)/pivrel serve --port $(PORT)

serve: setup
	$(BIN)/pivrel serve --port $(PORT)

# Serves the demo with hot reload of both sides: the page at port 5173, the server behind it.
dev: setup
	$(BIN)/pivrel demo
	trap 'kill 0' EXIT INT TERM; \
	$(BIN)/watchfiles --filter python "$(BIN)/pivrel serve --port 8017" src/pivrel & \
	cd frontend && npm run --silent dev

format: setup
	$(BIN)/ruff check --fix --quiet . && $(BIN)/ruff format --quiet .
	cd frontend && npm run --silent format

test: setup lint
	@{ command -v chromium && command -v chromedriver; } >/dev/null || \
		{ apt-get update -qq && apt-get install -y -qq chromium chromium-driver; }
	cd frontend && npm run --silent test
	$(BIN)/python -m pytest -n 2 --dist worksteal --durations=20

# The wire's types for the front end, from the server's own models.
types: $(STAMPS)/python frontend/node_modules/.package-lock.json
	$(BIN)/python -m pivrel.web.wire.schema | (cd frontend && node types.mjs) > $(TYPES).new
	mv $(TYPES).new $(TYPES)

lint: setup
	$(BIN)/python -m pivrel.web.wire.schema | (cd frontend && node types.mjs) | diff -q - $(TYPES) || \
		{ echo "$(TYPES) is stale: run 'make types'"; exit 1; }
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	cd frontend && npm run --silent lint

bench: setup
	$(BIN)/python -m benchmarks

# How long an edit waits beside each heavy operation on a million triangles.
waits: setup
	$(BIN)/python -m benchmarks.waits

# A hundred kills at random moments of edits, uploads, imports, replacements, bakes and deletes.
kills: setup
	PIVREL_KILLS=100 $(BIN)/python -m pytest -q tests/web/test_killed.py

# How many frames a second the page draws.
frames: setup
	$(BIN)/python -m benchmarks.frames

# Renews docs/screenshots from a fresh demo.
shots: setup
	$(BIN)/python -m tests.browser.shots

clean:
	rm -rf $(VENV) frontend/node_modules src/pivrel/web/static
