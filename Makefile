# Barodex. Two commands matter: make demo, make test.
SHELL := /bin/bash
.SHELLFLAGS := -o pipefail -c
PYTHON ?= python3
PORT ?= 8470
VENV := .venv
BIN := $(VENV)/bin
DEMO_VAR := $(CURDIR)/var/demo
export PYTHONPATH := src
WEB_SOURCES := $(shell find web/src web/public web/index.html web/vite.config.ts web/words.ts web/lingui.config.ts web/tsconfig.json -type f 2>/dev/null)

.PHONY: demo demo-reset test bench setup check fixtures pictures clean

demo: $(VENV)/run.stamp web/dist/.stamp ## build what is needed, load the demo fleet once, serve it
	@BARODEX_VAR=$(DEMO_VAR) BARODEX_DEMO=1 $(BIN)/python -m barodex migrate -v0
	@BARODEX_VAR=$(DEMO_VAR) BARODEX_DEMO=1 $(BIN)/python -m barodex load_demo
	@echo "Barodex: http://127.0.0.1:$(PORT)   sign in: isla / tarbert-oil-can (lead), or one click. Ctrl-C ends it."
	@BARODEX_VAR=$(DEMO_VAR) BARODEX_DEMO=1 exec $(BIN)/gunicorn --no-control-socket --log-level warning --preload -w 2 --threads 4 -b 127.0.0.1:$(PORT) barodex.config.wsgi

demo-reset: ## forget what was entered in the demo, then serve it afresh
	rm -rf $(DEMO_VAR)
	@$(MAKE) --no-print-directory demo

setup: $(VENV)/dev.stamp web/node_modules/.stamp web/dist/.stamp ## everything that work on the code needs

test: needs setup check ## everything: lint, types, contracts, drift, unit, API, reference and browser tests
	$(BIN)/python tools/test.py

check: $(VENV)/dev.stamp web/node_modules/.stamp ## lint, format, types, import contract, migrations, API and client drift
	$(BIN)/ruff check src tests benchmarks tools
	$(BIN)/ruff format --check src tests benchmarks tools
	$(BIN)/mypy --config-file pyproject.toml
	$(BIN)/lint-imports | tail -4
	$(BIN)/python tools/drift.py
	cd web && npx biome check src && npx tsc --noEmit

bench: setup ## the speed figures, one a line; ends non-zero when one is over
	$(BIN)/python benchmarks/bench.py

api: $(VENV)/dev.stamp web/node_modules/.stamp ## write the API's description, the client's types and the catalogue of the page's words anew
	$(BIN)/python tools/drift.py --write

fixtures: $(VENV)/dev.stamp ## write the JSON that the front-end tests read anew
	WRITE_FIXTURES=1 $(BIN)/pytest -q tests/api/test_fixtures.py

pictures: setup ## the pictures of docs/screenshots
	$(BIN)/python tools/pictures.py

calibration: $(VENV)/dev.stamp ## are the bands honest? each with its limit, against made-up truth; ends non-zero when one is over
	$(BIN)/python tools/calibration.py

mutants: setup ## how many small faults in the core the tests notice, by room (a quarter of an hour)
	$(BIN)/python tools/mutants.py

.PHONY: needs api mutants calibration
needs:
	@tools/needs.sh

$(VENV)/bin/python:
	@tools/needs.sh venv
	$(PYTHON) -m venv $(VENV)

$(VENV)/run.stamp: requirements/run.txt | $(VENV)/bin/python
	@test -f $(VENV)/dev.stamp || $(BIN)/pip install -q --disable-pip-version-check --require-hashes -r requirements/run.txt
	@touch $@

$(VENV)/dev.stamp: requirements/dev.txt | $(VENV)/bin/python
	$(BIN)/pip install -q --disable-pip-version-check --require-hashes -r requirements/dev.txt
	@touch $@

web/node_modules/.stamp: web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

web/dist/.stamp: $(WEB_SOURCES) web/package-lock.json | web/node_modules/.stamp $(VENV)/run.stamp
	cd web && npx vite build --logLevel warn
	@$(BIN)/python -m whitenoise.compress -q web/dist
	@touch $@

clean:
	rm -rf $(VENV) web/node_modules web/dist var
