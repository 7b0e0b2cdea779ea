# Vocanta. `make start` and `make test` are all a newcomer needs.
PY := .venv/bin/python
HOST := 127.0.0.1
PORT := 8000
export OPENBLAS_NUM_THREADS := 1
export PYTHONPATH := src
MANAGE := $(PY) -W ignore -m vocanta.server.manage
WEB_SOURCES := $(shell find web/src web/index.html web/vite.config.ts web/tsconfig.json -type f 2>/dev/null)

.PHONY: start build install develop test quick soak check bench shots types reference mutants fuzz clean

start: install build
	@exec $(MANAGE) serve --host $(HOST) --port $(PORT)

# Compiled ahead, so that commands and helper processes begin at once wherever Python is told to write nothing.
install: .venv/.installed web/node_modules/.installed
	@$(PY) -m compileall -q src

.venv/.installed: requirements.lock
	@test -x $(PY) || python3 -m venv .venv
	@$(PY) -m pip install --quiet --disable-pip-version-check -r requirements.lock
	@touch $@

develop: install .venv/.developing

.venv/.developing: .venv/.installed requirements-dev.lock
	@$(PY) -m pip install --quiet --disable-pip-version-check -r requirements.lock -r requirements-dev.lock
	@touch $@

web/node_modules/.installed: web/package-lock.json
	@cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

build: web/dist/index.html

web/dist/index.html: web/node_modules/.installed $(WEB_SOURCES)
	@cd web && npx vite build --logLevel warn

test: develop build
	@scripts/need-browser
	@$(PY) -W error -m scripts.run_tests

quick: develop
	@$(PY) -W error -m scripts.run_tests quick

soak: develop
	@VOCANTA_SOAK=1 $(PY) -W error -m scripts.run_tests quick

check: develop
	@.venv/bin/ruff check src tests scripts
	@.venv/bin/mypy
	@.venv/bin/lint-imports
	@$(MANAGE) makemigrations --check --dry-run
	@scripts/check-types
	@cd web && npx vue-tsc --noEmit && npx eslint --max-warnings 0 src

types: develop
	@scripts/check-types write

reference: install
	@$(PY) -m scripts.reference

mutants: install
	@$(PY) -m scripts.mutants

.venv-fuzz/.installed:
	@test -x .venv-fuzz/bin/python || python3 -m venv .venv-fuzz
	@.venv-fuzz/bin/python -m pip install --quiet --disable-pip-version-check schemathesis==4.32.5
	@touch $@

fuzz: develop build .venv-fuzz/.installed
	@$(PY) -m scripts.fuzz

bench: develop build
	@scripts/need-browser
	@$(PY) -m scripts.bench

shots: develop build
	@scripts/need-browser
	@$(PY) -m scripts.shots

clean:
	rm -rf .venv web/node_modules web/dist
