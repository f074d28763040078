# Everything a newcomer needs. Python packages go into .venv, packages of the front end into web/node_modules.
PYTHON ?= python3
PORT ?= 8460
BIN := .venv/bin
RUNTIME := .venv/.runtime
TOOLS := .venv/.tools
PAGES := web/dist/index.html
WEB := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/package-lock.json web/vite.config.ts

.PHONY: help demo dev test soak check format types bench shots wheel clean

help: ## this list
	@grep -E '^[a-z]+:.*##' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 10

demo: $(RUNTIME) $(PAGES) ## serve with the demo designs at http://127.0.0.1:8460, or at PORT=...
	@$(BIN)/wander demo --port $(PORT)

dev: $(TOOLS) web/node_modules/.package-lock.json ## server and front end, both reloading; open http://127.0.0.1:5173
	$(BIN)/wander demo & server=$$!; trap "kill $$server" EXIT; cd web && npx vite

test: $(TOOLS) $(PAGES) /usr/bin/chromium ## all tests, by two at once: those of the floor one after the other, and so those of the board
	$(BIN)/pytest -n 2 --dist loadscope tests

soak: $(TOOLS) $(PAGES) ## the long versions of kills, fuzz and random designs, by two at once: up to an hour
	WANDER_SOAK=1 $(BIN)/pytest -n 2 --dist worksteal --timeout 3600 tests/core/document tests/core/drawing/test_arrangements.py tests/core/design/test_late_references.py tests/core/design/test_late_work.py tests/core/design/test_late_references_of_sweeps.py tests/core/shaping/test_random_sweeps.py tests/core/design/test_laws_in_documents.py \
		tests/core/shaping/test_invariance.py tests/core/shaping/test_ties.py tests/core/shaping/test_rings.py tests/core/steps/test_halves.py \
		tests/core/solids/test_integrals.py tests/core/solids/test_random_bodies.py tests/core/solids/test_blending.py tests/app/test_guard.py tests/app/test_listener.py tests/app/test_bodies.py tests/app/test_crashes.py tests/app/test_published_interface.py

check: $(TOOLS) web/node_modules/.package-lock.json ## format, lint, types, import rules, generated types
	$(BIN)/ruff format --check src tests bench
	$(BIN)/ruff check src tests bench
	$(BIN)/mypy
	$(BIN)/lint-imports
	$(MAKE) build/openapi.json
	cd web && npx openapi-typescript ../build/openapi.json -o ../build/schema.d.ts > /dev/null && cmp ../build/schema.d.ts src/api/schema.d.ts || (echo "web/src/api/schema.d.ts is out of date: make types"; exit 1)
	cd web && npm run --silent check

format: $(TOOLS) web/node_modules/.package-lock.json ## format both languages
	$(BIN)/ruff format src tests bench
	$(BIN)/ruff check --fix src tests bench
	cd web && npm run --silent format

types: $(TOOLS) web/node_modules/.package-lock.json ## the front end's types from the server's interface
	$(MAKE) build/openapi.json
	cd web && npm run --silent types

bench: $(TOOLS) $(PAGES) /usr/bin/chromium ## the table of speeds and sizes
	$(BIN)/python -m bench

shots: $(TOOLS) $(PAGES) /usr/bin/chromium ## the pictures of the README
	$(BIN)/python -m bench.shots

wheel: .venv/bin/python $(PAGES) ## one file that installs pages and samples too, and runs without Node: build/wander-*.whl
	rm -rf build/wheel build/*.whl
	mkdir -p build/wheel
	cp -r pyproject.toml README.md LICENSE src build/wheel
	cp -r web/dist build/wheel/src/wander/pages
	cp -r samples build/wheel/src/wander/samples
	$(BIN)/python -m pip wheel --quiet --disable-pip-version-check --no-deps --wheel-dir build build/wheel

clean: ## remove everything that was installed or built
	rm -rf .venv build web/node_modules web/dist

.venv/bin/python:
	$(PYTHON) -m venv .venv

$(RUNTIME): requirements.lock pyproject.toml | .venv/bin/python
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements.lock
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps --editable .
	@touch $@

$(TOOLS): requirements-dev.lock $(RUNTIME)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements-dev.lock
	@touch $@

web/node_modules/.package-lock.json: web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

$(PAGES): web/node_modules/.package-lock.json $(WEB)
	cd web && npx vite build --logLevel warn

.PHONY: build/openapi.json
build/openapi.json:
	@mkdir -p build
	@$(BIN)/wander openapi > $@

/usr/bin/chromium:
	apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium > /dev/null
