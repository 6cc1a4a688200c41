# Crisp Cadence. `make demo` and `make test` set up all they need on a fresh machine.

PY := .venv/bin/python
PORT ?= 8321
export PIP_DISABLE_PIP_VERSION_CHECK = 1
unexport PYTHONDONTWRITEBYTECODE # the tests start the program a hundred times: compile it once

.PHONY: demo test dev bench torture shots docs format setup web types chromium

demo: setup web ## set up everything and serve the demo
	$(PY) -m crisp_cadence.cli demo --port $(PORT)

test: setup web chromium ## lint, types, all tests, in a real browser too
	.venv/bin/ruff check .
	.venv/bin/ruff format --check .
	.venv/bin/mypy
	$(MAKE) --no-print-directory types TYPES=../build/schema.gen.ts
	cmp build/schema.gen.ts web/src/api/schema.gen.ts || { echo "The API has changed: run make types." >&2; exit 1; }
	cd web && npm run --silent check && npx vitest run
	$(PY) -m pytest -n 2 --ignore=tests/ui
	$(PY) -m pytest -n 3 --dist loadfile tests/ui

dev: setup node_modules ## the program and a page that follows every edit
	$(PY) -m crisp_cadence.cli demo --port $(PORT) & pid=$$!; trap "kill $$pid" EXIT; cd web && CRISP_API=http://127.0.0.1:$(PORT) npx vite

bench: setup web chromium ## every measure with its target
	$(PY) tools/bench.py

shots: setup web chromium ## refresh docs/screenshots from the demo data
	$(PY) tools/shots.py

torture: setup ## kills by the hundred, requests by the ten thousand, random tests in full, with free seeds
	@seed=$${TORTURE:-$$($(PY) -c "import random; print(random.randrange(10**6))")}; echo "Random tests, TORTURE=$$seed"; \
	TORTURE=$$seed $(PY) -m pytest -n 2 --hypothesis-seed=$$seed $$(grep -rlE "hypothesis|thorough" tests --include='test_*.py')
	$(PY) tools/torture.py
	$(PY) tests/columns.py
	$(PY) tools/fuzz.py

docs: setup ## refresh docs/numbers.md and the published schema from the core
	$(PY) tools/docs.py

format: setup node_modules ## lay out all sources
	.venv/bin/ruff check --fix .
	.venv/bin/ruff format .
	cd web && npm run --silent format

# ---- what the targets need; each piece is made again only when its inputs change ------------------------------------

setup: .venv/ready

LOCKS = requirements-build.lock requirements.lock requirements-dev.lock

.venv/ready: $(LOCKS) pyproject.toml
	tools/python.sh
	$(PY) -m pip install -q --require-hashes $(LOCKS:%=-r %)
	$(PY) -m pip install -q --no-deps --no-build-isolation -e .
	touch $@

node_modules: web/node_modules/ready

web/node_modules/ready: web/package-lock.json
	tools/node.sh
	cd web && npm ci --no-audit --no-fund --loglevel=error
	touch $@

web: src/crisp_cadence/web/index.html

src/crisp_cadence/web/index.html: web/node_modules/ready $(shell find web/src web/public web/index.html web/vite.config.ts -type f)
	cd web && npx vite build --logLevel warn

TYPES = src/api/schema.gen.ts
types: setup node_modules ## the browser's types from the API's own description
	mkdir -p build
	$(PY) -m crisp_cadence.api.describe build/openapi.json
	cd web && npx openapi-typescript ../build/openapi.json -o $(TYPES)

chromium:
	tools/chromium.sh
