# Noon Shade. `make demo` and `make test` do all the set-up themselves.
SHELL := /bin/bash
PORT ?= 8620
DATA ?= demo-data
PY := .venv/bin/python
# Python and npm packages come at the same time; tests share two processors by themselves.
MAKEFLAGS += -j2
FRONT := frontend/package.json frontend/vite.config.ts frontend/tsconfig.json frontend/index.html \
         $(shell find frontend/src frontend/public -type f -not -name schema.ts 2>/dev/null)

.PHONY: setup demo serve test test-front thorough fuzz kill lint lint-back lint-front .warm .chromium build wheel docs schemas bench screenshots dev clean help

help: ## This list
	@grep -hE '^[a-z]+:.*##' $(MAKEFILE_LIST) | sed 's/:.*## /\t/' | expand -t 14

setup: .stamps/ready .stamps/dev ## All the set-up of a checkout; starts nothing

demo: .stamps/ready ## The application with the demo room (PORT=8620 DATA=demo-data)
	@$(PY) -m noonshade serve --demo --port $(PORT) --data "$(DATA)"

serve: .stamps/ready ## The application with your own data in ./data (PORT=8620)
	@$(PY) -m noonshade serve --port $(PORT)

build: .stamps/front ## Build the front end

test: .stamps/ready .stamps/dev lint .warm test-front .chromium ## Everything: lint, types, contracts, drift, all tests
	OPENBLAS_NUM_THREADS=1 $(PY) -m pytest

test-front: .stamps/front
	cd frontend && npm run --silent test

# Compiles all kernels once, so that no test waits for it.
.warm: .stamps/ready
	@$(PY) -m noonshade draw noonshade/demo/collared-lizard.json -o .stamps/drawn.svg
	@$(PY) -m noonshade day noonshade/demo/collared-lizard.json > .stamps/day.csv

.chromium: .stamps/python
	@scripts/ensure-chromium.sh

thorough: .stamps/ready .stamps/dev .chromium ## All tests, with more plans, seeds and themes (before a release)
	OPENBLAS_NUM_THREADS=1 $(PY) -m pytest -m ""

fuzz: .stamps/ready .stamps/dev ## 10,000 damaged files and more generated requests
	NOONSHADE_MUTATIONS=10000 NOONSHADE_EXAMPLES=25 $(PY) -m pytest tests/formats/test_mutations.py tests/web/test_contract.py

kill: .stamps/ready .stamps/dev ## Kills a program 200 times while it stores
	NOONSHADE_KILLS=200 $(PY) -m pytest tests/test_kill.py

lint: lint-back lint-front ## Lint, format, types, import contract, drift of generated files

lint-back: .stamps/dev
	.venv/bin/ruff check .
	.venv/bin/ruff format --check .
	.venv/bin/mypy
	.venv/bin/lint-imports
	$(PY) scripts/check_docstrings.py
	$(PY) scripts/write_schemas.py --check

lint-front: .stamps/front
	cd frontend && npm run --silent lint && npm run --silent types

wheel: .stamps/front .stamps/dev ## A package that installs and runs without a checkout, in dist/
	rm -rf build dist
	$(PY) -m build --outdir dist .

docs: .stamps/dev ## The documentation site, in site/
	NO_MKDOCS_2_WARNING=1 .venv/bin/mkdocs build --strict --quiet

schemas: .stamps/dev ## Write OpenAPI, JSON Schema and the front end's copies of shared tables from the code
	$(PY) scripts/write_schemas.py

bench: .stamps/ready .stamps/dev .chromium ## Times of an evaluation, the first page and a drag, as a table (PART=light core proof plausible served)
	@$(PY) -u scripts/bench.py $(PART)

screenshots: .stamps/ready .stamps/dev .chromium ## Make the pictures in docs/screenshots anew
	@$(PY) scripts/screenshots.py

dev: .stamps/ready ## Back end and hot-reloading front end together (PORT=8620)
	@trap 'kill 0' EXIT; $(PY) -m noonshade serve --demo --port $(PORT) --data "$(DATA)" & \
	  cd frontend && NOONSHADE_BACKEND=http://127.0.0.1:$(PORT) npm run dev

clean: ## Remove everything that was installed or built (your data stays)
	rm -rf build dist site
	rm -rf .venv .stamps frontend/node_modules noonshade/web/static *.egg-info
	find . -name __pycache__ -not -path './.git/*' -prune -exec rm -rf {} +
	rm -rf .mypy_cache .ruff_cache .hypothesis .import_linter_cache

.stamps/python: requirements.txt pyproject.toml scripts/setup-python.sh scripts/ensure-pango.sh
	@mkdir -p .stamps
	@scripts/ensure-pango.sh
	@scripts/setup-python.sh requirements.txt
	@touch $@

.stamps/dev: .stamps/python requirements-dev.txt
	@scripts/setup-python.sh requirements-dev.txt
	@touch $@

# Not `npm ci`: where the registry lacks another platform's optional binaries, they are missing from the
# lock file and it refuses. This installs exactly what the lock file says and leaves it alone.
.stamps/node: frontend/package-lock.json
	@mkdir -p .stamps
	@command -v npm > /dev/null || { echo "Node.js with npm is needed to build the front end: apt-get install nodejs npm" >&2; exit 1; }
	@echo "npm packages into frontend/node_modules…"
	@cd frontend && npm install --no-save --no-audit --no-fund --loglevel=error
	@touch $@

.stamps/front: .stamps/node $(FRONT)
	@echo "Building the front end…"
	@cd frontend && npm run --silent build > ../.stamps/build.log 2>&1 || { cat ../.stamps/build.log >&2; exit 1; }
	@touch $@

# Compiles the inner loops once, so that the first picture does not wait for them.
.stamps/kernel: .stamps/python noonshade/core/compiled.py noonshade/core/constants.py \
                $(wildcard noonshade/core/light/kernel/*.py noonshade/core/heat/*.py noonshade/core/moisture/*.py)
	@echo "Compiling the inner loops…"
	@$(PY) -m noonshade evaluate noonshade/demo/collared-lizard.json > /dev/null
	@touch $@

.stamps/ready: .stamps/python .stamps/front .stamps/kernel
	@touch $@
