# make demo   run Hobrix with its demo data     make test   everything CI checks
# make dev    Django and Vite with reload       make bench  ratios against general-purpose libraries
SHELL := /bin/bash
PYTHON ?= python3.11
VENV := .venv
BIN := $(VENV)/bin
HOBRIX_HOME ?= $(CURDIR)/var
export HOBRIX_HOME
export DJANGO_SETTINGS_MODULE ?= hobrix.web.config.settings
# Compiled modules are kept, or every process of the server and of the tests would compile them again.
unexport PYTHONDONTWRITEBYTECODE
# What checks the front end makes much that is soon thrown away.
export NODE_OPTIONS ?= --max-semi-space-size=64
NPM := npm --prefix frontend
# Named here, since there it goes before the environment.
PYTEST_WEB := $(BIN)/pytest --ds=hobrix.web.config.settings_test
SOURCES := $(shell find frontend/src frontend/public -type f 2>/dev/null) src/hobrix/figures/tokens.json \
	frontend/index.html frontend/vite.config.ts

.PHONY: demo demo-reset dev test test-one test-core test-frontend test-web test-browser test-cluster lint lint-python lint-frontend types check-types build bench fuzz soak \
	lock format demo-data screenshots

demo: build
	@$(BIN)/hobrix demo

demo-reset:
	rm -rf "$(HOBRIX_HOME)"
	@$(MAKE) demo

build: $(VENV)/run.stamp frontend/dist/index.html

$(VENV)/run.stamp: requirements/run.txt pyproject.toml
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV) || python3 -m venv $(VENV)
	$(BIN)/pip install --quiet --disable-pip-version-check --require-hashes -r requirements/run.txt
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	touch $@

$(VENV)/dev.stamp: requirements/dev.txt $(VENV)/run.stamp
	$(BIN)/pip install --quiet --disable-pip-version-check --no-compile --require-hashes -r requirements/dev.txt
	touch $@

frontend/node_modules/.package-lock.json: frontend/package-lock.json
	$(NPM) ci --no-audit --no-fund --loglevel=error
	touch $@

frontend/dist/index.html: $(SOURCES) frontend/node_modules/.package-lock.json
	$(NPM) run --silent build -- --logLevel warn
	touch $@

dev: build $(VENV)/dev.stamp
	@$(BIN)/hobrix link --base http://127.0.0.1:5173
	@trap 'kill 0' EXIT; HOBRIX_DEV=1 $(BIN)/python -m django runserver 8000 & \
		$(BIN)/hobrix work & \
		$(NPM) run --silent dev -- --host 127.0.0.1 & wait

# --- tests -------------------------------------------------------------------------------------

# All parts two at a time, the longest first: hardly one keeps both cores busy. What a part says comes when it has
# ended. With CLUSTER=1 also what is counted on a cluster (Java, 0.7 GB, three minutes more).
PARTS := test-browser test-web test-core lint-frontend lint-python test-frontend check-types \
	$(if $(CLUSTER),test-cluster)
test:
	@$(MAKE) --no-print-directory -j2 --output-sync=target $(PARTS)
	@echo "All of it passed."

lint: lint-python lint-frontend

lint-python: $(VENV)/dev.stamp
	$(BIN)/ruff check src tests benchmarks frontend/tests
	$(BIN)/ruff format --check src tests benchmarks frontend/tests
	$(BIN)/mypy
	$(BIN)/lint-imports
	@! grep -nE 'https?://|--find-links|"resolved"' requirements/*.txt frontend/package-lock.json

lint-frontend: frontend/node_modules/.package-lock.json
	$(NPM) run --silent check

# One file or one test, by the runner it belongs to: make test-one T=tests/core/test_odds.py,
# T="tests/web -k access", T=frontend/tests/answer.test.ts
test-one: $(VENV)/dev.stamp
ifneq (,$(findstring .test.ts,$(T)))
	$(NPM) test --silent -- $(T:frontend/%=%)
else
	$(PYTEST_WEB) $(T)
endif

# The core is tested without Django in sight.
test-core: $(VENV)/dev.stamp
	OPENBLAS_NUM_THREADS=1 HYPOTHESIS_PROFILE=steady $(BIN)/pytest -p no:django -W ignore::pytest.PytestConfigWarning tests/core tests/documents -n 2

# Components are mounted on answers that the core gives here and now.
test-frontend: $(VENV)/dev.stamp frontend/node_modules/.package-lock.json
	$(BIN)/python frontend/tests/make_answers.py
	$(NPM) test --silent

test-web: $(VENV)/dev.stamp
	OPENBLAS_NUM_THREADS=1 HOBRIX_FUZZ=3 $(PYTEST_WEB) tests/web tests/fuzz -n 2

# Damaged files and made-up requests, other ones each time: FUZZ of each kind.
FUZZ ?= 250
fuzz: $(VENV)/dev.stamp
	HOBRIX_FUZZ=$(FUZZ) $(PYTEST_WEB) tests/fuzz -n 2

$(VENV)/spark.stamp: requirements/spark.txt $(VENV)/dev.stamp
	$(BIN)/pip install --quiet --disable-pip-version-check --require-hashes -r requirements/spark.txt
	touch $@

# Counting on a cluster: a master and two workers on this machine, which needs Java.
test-cluster: $(VENV)/spark.stamp
	$(PYTEST_WEB) tests/cluster

# Many people, kills, slow clients, long work, a backup under load: figures of one run.
soak: $(VENV)/dev.stamp build
	cd tests && ../$(BIN)/python -m soak $(SOAK)

test-browser: $(VENV)/dev.stamp build
	tests/browser/install-chromium
	$(PYTEST_WEB) tests/browser

types: $(VENV)/dev.stamp frontend/node_modules/.package-lock.json
	$(BIN)/python -m django export_openapi_schema --api hobrix.web.api.api --sorted --indent 1 \
		--output frontend/openapi.json
	$(NPM) run --silent types

# The types the front end uses must be those of the server as it is.
check-types: $(VENV)/dev.stamp frontend/node_modules/.package-lock.json
	@$(BIN)/python -m django export_openapi_schema --api hobrix.web.api.api --sorted --indent 1 \
		--output $(VENV)/openapi.json
	@cd frontend && node_modules/.bin/openapi-typescript ../$(VENV)/openapi.json -o ../$(VENV)/schema.d.ts
	@cmp frontend/openapi.json $(VENV)/openapi.json && cmp frontend/src/api/schema.d.ts $(VENV)/schema.d.ts \
		|| (echo "The API changed: run make types and commit the result." && false)

# --- upkeep ------------------------------------------------------------------------------------

bench: $(VENV)/dev.stamp build
	$(BIN)/python -m benchmarks

format: $(VENV)/dev.stamp
	$(BIN)/ruff check --fix src tests benchmarks frontend/tests
	$(BIN)/ruff format src tests benchmarks frontend/tests
	$(NPM) run --silent format

lock: $(VENV)/dev.stamp
	cd requirements && ../$(BIN)/uv pip compile --quiet --generate-hashes --no-header \
		--python-version 3.11 -o run.txt run.in
	cd requirements && ../$(BIN)/uv pip compile --quiet --generate-hashes --no-header \
		--python-version 3.11 -o dev.txt dev.in
	cd requirements && ../$(BIN)/uv pip compile --quiet --generate-hashes --no-header \
		--python-version 3.11 -o spark.txt spark.in
	cd frontend && npm install --package-lock-only --no-audit
	$(BIN)/python -c "import json, pathlib; p = pathlib.Path('frontend/package-lock.json'); \
		d = json.loads(p.read_text()); [e.pop('funding', None) for e in d['packages'].values()]; \
		p.write_text(json.dumps(d, indent=2, ensure_ascii=False) + '\n')"

demo-data: $(VENV)/run.stamp
	$(BIN)/python -m hobrix.web.demo.generate
	$(BIN)/python -m hobrix.web.demo.outbreak
	$(BIN)/python -m hobrix.web.demo.later

screenshots: $(VENV)/dev.stamp build
	$(BIN)/python tests/browser/screenshots.py
