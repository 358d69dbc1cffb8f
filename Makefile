# make demo: set up, fill in the demo, serve it.  make test: set up and run everything.

PYTHON ?= python3
BIN := .venv/bin
PORT ?= 8017
TYPES := frontend/src/api/wire.gen.ts
# The tests' browser, and what draws in it without a graphics card.
BROWSER := chromium chromium-driver libegl1 libgl1-mesa-dri

# Python keeps what it has compiled, whatever this machine is told: each of the many processes of a run would do it anew.
export PYTHONDONTWRITEBYTECODE =

.PHONY: setup setup-tests dev types format demo serve test check soak mutants bench waits frames lint shots wheel pins
.PHONY: third-party audit outdated clean

# What is made already, and from what is there now, takes no time.
setup:
	@$(PYTHON) tools/set_up.py

setup-tests:
	@$(PYTHON) tools/set_up.py --tests

demo: setup
	$(BIN)/pivrel demo
	$(BIN)/pivrel serve --port $(PORT)

serve: setup
	$(BIN)/pivrel serve --port $(PORT)

# Serves the demo with hot reload of both sides: the page at port 5173, the server behind it.
dev: setup-tests
	$(BIN)/pivrel demo
	trap 'kill 0' EXIT INT TERM; \
	$(BIN)/watchfiles --filter python "$(BIN)/pivrel serve --port 8017" src/pivrel & \
	cd frontend && npm run --silent dev

format: setup-tests
	$(BIN)/ruff check --fix --quiet . && $(BIN)/ruff format --quiet .
	cd frontend && npm run --silent format

# Everything, as CI does it.
test: setup-tests
	@dpkg -s $(BROWSER) >/dev/null 2>&1 || { apt-get update -qq && apt-get install -y -qq $(BROWSER); }
	@$(BIN)/python -m tools.everything

# For daily work: lint, types, and the tests of what differs from the newest commit that landed.
check: setup-tests
	@$(BIN)/python -m tools.check

# Everything at full length, in parts; stopped and begun again, it goes on where it was.
soak: setup-tests
	@$(BIN)/python -m tools.soak

# One-line faults, and whether a test finds each of them.
mutants: setup-tests
	@$(BIN)/python -m tools.mutants

lint: setup-tests
	@$(BIN)/python -m tools.lint

# The wire's types for the front end, from the server's own models, and the recipe's schema as it is published.
types: setup-tests
	$(BIN)/python -m pivrel.web.wire.schema | (cd frontend && node types.mjs) > $(TYPES).new
	mv $(TYPES).new $(TYPES)
	$(BIN)/pivrel schema > docs/recipe.schema.json

bench: setup-tests
	$(BIN)/python -m benchmarks

# How long an edit waits beside each heavy operation on a million triangles.
waits: setup-tests
	$(BIN)/python -m benchmarks.waits

# How many frames a second the page draws.
frames: setup-tests
	$(BIN)/python -m benchmarks.frames

# Renews docs/screenshots from a fresh demo.
shots: setup-tests
	$(BIN)/python -m tests.browser.shots

# One file to install from, with the page inside: dist/pivrel-*.whl.
wheel: setup
	@$(BIN)/python -m tools.wheel

# The pinned versions, from the ranges of pyproject.toml; what fits stays. NEWEST=1 takes the newest of everything.
pins: setup
	$(BIN)/python -m tools.pins $(if $(NEWEST),--newest)

# docs/third-party.md, from what is installed.
third-party: setup-tests
	$(BIN)/python -m tools.third_party

# Known flaws of what is pinned, where a database of them answers.
audit: setup
	@$(BIN)/python -m tools.audit

# What there is in newer versions.
outdated: setup
	@echo "Python, within the ranges of pyproject.toml:"
	@$(BIN)/python -m tools.pins --told
	@echo "The page:"
	@cd frontend && npm outdated || true

clean:
	rm -rf .venv dist frontend/node_modules src/pivrel/web/static
