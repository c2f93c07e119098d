# The one door: setup, demo, serve, test, check, bench, screenshots.
# A stamp in .setup/ tells what is done; nothing is redone that did not change.
PYTHON ?= python3
PORT ?= 8000
BIN := .venv/bin
INSTALL = $(BIN)/python -m pip install --quiet --no-deps --no-compile
LOCK = $(BIN)/pip-compile --quiet --strip-extras --allow-unsafe --generate-hashes --no-emit-index-url \
	--no-emit-find-links --no-emit-trusted-host
DOCUMENT := src/lowfold/api/openapi.json
PAGE_SOURCES := $(shell find web/src web/public -type f 2>/dev/null) web/index.html \
	web/package.json web/vite.config.ts web/svelte.config.js web/tsconfig.json

export PIP_DISABLE_PIP_VERSION_CHECK := 1
# What is compiled once is kept, whatever the surroundings say.
export PYTHONDONTWRITEBYTECODE :=

.PHONY: setup ready demo serve test check lint types schema bench screenshots refute fuzz endure mutants lock clean

setup: .setup/python .setup/page

# What runs and the page are made beside each other: a clean clone waits for the longer of the two.
ready:
	@$(MAKE) --no-print-directory -j2 --output-sync=target .setup/run .setup/page

demo: ready
	@LOWFOLD_PORT=$(PORT) $(if $(DATA),LOWFOLD_DATA="$(DATA)") exec $(BIN)/lowfold serve --demo

serve: ready
	@LOWFOLD_PORT=$(PORT) $(if $(DATA),LOWFOLD_DATA="$(DATA)") exec $(BIN)/lowfold serve

test: setup .setup/chromium
	cd web && npm test --silent
	$(BIN)/pytest

check: lint types schema

lint: .setup/python .setup/npm
	$(BIN)/ruff format --check .
	$(BIN)/ruff check .
	cd web && npm run --silent lint

types: .setup/python .setup/npm
	$(BIN)/mypy
	cd web && npm run --silent types

# The page's types and what the API says of itself are generated; this fails where they are old. Files that are
# right are left alone, so that the page is not built again for them.
schema: .setup/python .setup/npm
	$(BIN)/lowfold openapi > .setup/openapi.json
	cd web && npm run --silent schema -- ../.setup/openapi.json -o ../.setup/schema.gen.ts
	cmp -s .setup/openapi.json $(DOCUMENT) || cp .setup/openapi.json $(DOCUMENT)
	cmp -s .setup/schema.gen.ts web/src/api/schema.gen.ts || cp .setup/schema.gen.ts web/src/api/
	git diff --exit-code -- $(DOCUMENT) web/src/api/schema.gen.ts

bench: setup .setup/chromium
	$(BIN)/python -m bench
	$(BIN)/python -m bench.served
	$(BIN)/python -m bench.kept
	$(BIN)/python -m bench.page
	$(BIN)/python -m bench.diagnosis

screenshots: setup .setup/chromium
	$(BIN)/python -m scripts.screenshots

# Every law with twenty times the cases, from a seed of its own, which is printed: some minutes.
refute: setup
	@seed=$(or $(SEED),$$(shuf -i 1-999999999 -n 1)); echo "make refute SEED=$$seed"; \
	LOWFOLD_REFUTE=$(or $(TIMES),20) LOWFOLD_SEED=$$seed \
		$(BIN)/pytest -m "hypothesis or law" --hypothesis-seed=$$seed --timeout 1800

# Every operation with many made-up requests, and saving under kills: minutes, not for each change.
fuzz: .setup/python
	LOWFOLD_FUZZ=$(or $(EXAMPLES),60) $(BIN)/pytest -n 0 tests/api/test_fuzz.py

endure: .setup/python
	$(BIN)/python -m scripts.endure

mutants: .setup/python
	$(BIN)/python -m scripts.mutants

# What runs, and what it is developed with beside that: exact versions, each with its digests.
lock: .setup/python
	$(LOCK) --extra build -o requirements.lock pyproject.toml
	$(LOCK) --extra build --extra dev -c requirements.lock -o requirements-dev.lock pyproject.toml

clean:
	rm -rf .setup .venv web/node_modules src/lowfold/web

.setup/run: requirements.lock pyproject.toml
	@mkdir -p .setup
	test -x $(BIN)/python || $(PYTHON) -m venv .venv
	$(INSTALL) --require-hashes -r requirements.lock
	$(INSTALL) --no-build-isolation -e .
	@touch $@

.setup/python: .setup/run requirements-dev.lock
	$(INSTALL) --require-hashes -r requirements-dev.lock
	@touch $@

.setup/npm: web/package-lock.json web/package.json
	@mkdir -p .setup
	cd web && npm ci --no-fund --no-audit --loglevel=error
	@touch $@

.setup/page: .setup/npm $(PAGE_SOURCES)
	cd web && npm run --silent build -- --logLevel warn
	@touch $@

.setup/chromium:
	@mkdir -p .setup
	command -v chromium >/dev/null || (apt-get update -qq && apt-get install -y -qq chromium)
	@touch $@
