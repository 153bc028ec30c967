# Two commands: `make demo` and `make test`. Everything else is a part of them, or `make bench` and `make screenshots`.
PORT ?= 8000
PY := .venv/bin/python
export ROGATUM_DATA ?= $(CURDIR)/var
CHROMIUM := /usr/bin/chromium

.PHONY: habits dialects lint fuzz soak audit demo test bench serve check core-test web-test browser-test front-test clean-demo screenshots openapi corpus

demo: .stamps/app .stamps/frontend
	@$(PY) -m rogatum.web migrate -v 0
	@$(PY) -m rogatum.demo
	@echo
	@echo "  Rogatum is at http://127.0.0.1:$(PORT)"
	@echo "  Accounts: mara / soil-and-water (Soil Science 110) and tobin / auger-and-rope (Field Methods 210)"
	@echo "  Ctrl+C stops it; 'make clean-demo' resets it."
	@echo
	@ROGATUM_DEMO=1 $(PY) -m rogatum.web serve --port $(PORT)

clean-demo:
	rm -rf var

.venv/bin/python:
	python3 -m venv .venv

.stamps/app: .venv/bin/python requirements/app.txt pyproject.toml
	$(PY) -m pip install --quiet --disable-pip-version-check -r requirements/app.txt
	$(PY) -m pip install --quiet --disable-pip-version-check --no-deps -e .
	@mkdir -p .stamps && touch $@

.stamps/dev: .stamps/app requirements/dev.txt
	$(PY) -m pip install --quiet --disable-pip-version-check -r requirements/dev.txt
	@mkdir -p .stamps && touch $@

.stamps/npm: frontend/package.json frontend/package-lock.json
	cd frontend && npm ci --no-audit --no-fund --loglevel=error
	@mkdir -p .stamps && touch $@

FRONT := $(shell find frontend/src frontend/public -type f -not -name schema.ts 2>/dev/null) frontend/openapi.json frontend/index.html frontend/vite.config.ts
.stamps/frontend: .stamps/app .stamps/npm $(FRONT)
	cd frontend && npm run --silent build -- --logLevel warn
	$(PY) -m whitenoise.compress --quiet frontend/dist
	@mkdir -p .stamps && touch $@

# Debian's Chromium drives the browser tests; it is installed where that is allowed, else the way is shown.
.stamps/chromium:
	@if [ ! -x $(CHROMIUM) ]; then \
	  if [ "$$(id -u)" = 0 ] && command -v apt-get >/dev/null; then \
	    apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium >/dev/null; \
	  else echo "The browser tests need Debian's Chromium: sudo apt-get install chromium"; exit 1; fi; fi
	@mkdir -p .stamps && touch $@

# The machine has two cores: what needs one goes beside what needs the other (tests/conftest.py shares the tests out).
test: .stamps/dev .stamps/frontend .stamps/chromium
	$(MAKE) --no-print-directory --output-sync -j2 front-test lint
	$(PY) -m pytest -n 2 --dist loadscope

lint: .stamps/dev
	.venv/bin/ruff check .
	.venv/bin/ruff format --check .
	.venv/bin/mypy
	.venv/bin/lint-imports

front-test: .stamps/npm
	cd frontend && npm run --silent check

core-test: .stamps/dev
	$(PY) -m pytest tests/core

browser-test: .stamps/dev .stamps/frontend .stamps/chromium
	$(PY) -m pytest tests/browser

bench: .stamps/dev
	$(PY) -m benchmarks

# Damaged files of every kind that is read: 5,000 of each, another seed each day; 20,000 requests; and properties on examples not
# tried before.
fuzz: .stamps/dev
	FUZZ_REQUESTS=20000 FUZZ_SEED=$(shell date +%Y%m%d) $(PY) -m pytest -n 2 tests/web/test_fuzz_paths.py
	$(PY) -m tests.fuzz.run --mutants 5000 --seed $(shell date +%Y%m%d)
	$(PY) -m pytest -n 2 --hypothesis-profile fresh tests/core

# Thirty people for half an hour, two of them in one course, with kills; what was done is counted against what is there, and the
# longest lock on writing is told.
MINUTES ?= 30
soak: .stamps/dev
	$(PY) -m tests.soak --people 30 --minutes $(MINUTES)

# Licences and known holes of what the program is made of.
audit: .stamps/dev .stamps/npm
	$(PY) -m pip install --quiet --disable-pip-version-check -r requirements/audit.txt
	$(PY) -m docs.audit

# Documents in people's habits, made anew from a seed, and what of them is read rightly; the tools lie beside this checkout.
HABITS := ../shared/corpus/habits
SEED ?= 1
COUNT ?= 200
habits: .stamps/dev
	@rm -rf .habits && $(PY) $(HABITS)/make.py --seed $(SEED) --count $(COUNT) --out .habits
	@$(PY) $(HABITS)/tally.py .habits --failures .habits/wrong.txt -- $(dir $(PY))rogatum read || true

# Interchange files in the dialects that the standards allow, in the same way.
DIALECTS := ../shared/corpus/dialects
dialects: .stamps/dev
	@rm -rf .dialects && $(PY) $(DIALECTS)/make.py --seed $(SEED) --count $(COUNT) --out .dialects
	@$(PY) $(DIALECTS)/tally.py .dialects --failures .dialects/wrong.txt -- $(dir $(PY))rogatum read || true

# The API's schema, which the build of the front end makes its types of.
openapi: .stamps/dev
	$(PY) -m rogatum.web openapi frontend/openapi.json

screenshots: .stamps/dev
	$(PY) docs/screenshots/make.py http://127.0.0.1:$(PORT)
