# `make demo` and `make test` are all that one needs; both set up what is missing.
ifndef PYTHON # the system's own where it is 3.11: it was a third faster than one that was compiled on the machine
PYTHON := $(shell for each in /usr/bin/python3.11 python3.11 python3; do \
  "$$each" -c 'import sys, ensurepip; sys.exit(sys.version_info[:2] != (3, 11))' 2>/dev/null && echo "$$each" && exit; \
  done; echo python3)
endif
MAKEFLAGS += -j3 # what is installed, compiled and linted does not wait for each other
PORT ?= 8000
VENV := .venv
BIN := $(VENV)/bin
DEMO_HOME ?= $(HOME)/.zonatome/demo
TEST_WORKERS ?= 2
APART := sh tests/apart.sh
PYTEST := $(APART) $(BIN)/python -m pytest -n $(TEST_WORKERS) --dist loadfile --no-loadscope-reorder --durations=20

# Where Python is told to keep nothing compiled, each of the many processes of the tests would compile the house anew.
unexport PYTHONDONTWRITEBYTECODE

.PHONY: help demo start backup restore sample test test-core test-slow lint store locks map chromium clean
.DEFAULT_GOAL := help

help: ## what there is to make
	@grep -hE '^[a-z-]+:.*##' $(MAKEFILE_LIST) | sed -E 's/^([a-z-]+):.*## */\1|/' | awk -F'|' '{printf "  make %-10s %s\n", $$1, $$2}'

$(VENV)/.runs: requirements.lock
	@$(PYTHON) -c 'import sys; v = sys.version_info[:2]; sys.exit(0 if v == (3, 11) else "Zonatome needs Python 3.11, this is %d.%d; say make PYTHON=python3.11" % v)'
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-compile -r requirements.lock
	touch $@

$(VENV)/.compiled: $(VENV)/.runs $(wildcard zonatome/core/lay/kernel/*.py) zonatome/core/lay/precompile.py
	@echo "Compiling the search for lays, once: about a minute."
	$(BIN)/python -m zonatome.core.lay.prepare
	touch $@

$(VENV)/.tests: requirements-dev.lock $(VENV)/.runs
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-compile -r requirements-dev.lock
	touch $@

demo: $(VENV)/.runs ## the application with the sample workroom
	@ZONATOME_HOME="$(DEMO_HOME)" $(BIN)/python -W ignore::UserWarning manage.py serve --port $(PORT) --sample$(if $(LAN), --lan)

backup: $(VENV)/.runs ## the whole workroom in one file: make backup FILE=copy.zip
	@$(BIN)/python -W ignore::UserWarning manage.py backup $(FILE)

restore: $(VENV)/.runs ## a copy in the place of the workroom: make restore FILE=copy.zip
	@$(BIN)/python -W ignore::UserWarning manage.py restore "$(FILE)"

sample: $(VENV)/.compiled ## work out the sample workroom anew and write it as it is shipped
	@home=$$(mktemp -d); ZONATOME_HOME=$$home $(BIN)/python -W ignore::UserWarning manage.py make_sample; rm -rf $$home

start: $(VENV)/.runs ## the application with your own workroom, empty at first
	@$(BIN)/python -W ignore::UserWarning manage.py serve --port $(PORT)$(if $(LAN), --lan)

chromium: ## Debian's Chromium for the browser tests
	@command -v chromium-headless-shell >/dev/null || command -v chromium >/dev/null || sh tests/install-chromium.sh

lint: $(VENV)/.tests ## ruff, mypy, the walls between the rooms, templates
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/lint-imports
	$(BIN)/djlint zonatome/web --lint --quiet
	$(BIN)/mypy

# Each test file once and kept compiled, so that those that run them side by side need not all; again where one changed.
$(VENV)/.read: $(VENV)/.tests $(shell find tests -name '*.py')
	$(APART) $(BIN)/python -m pytest --collect-only -qq >$(VENV)/read.log 2>&1 || { cat $(VENV)/read.log; exit 1; }
	touch $@

store: $(VENV)/.tests # the migrations against the models, Django's own checks
	$(APART) $(BIN)/python manage.py makemigrations --check --dry-run
	$(APART) $(BIN)/python manage.py check

ifdef FILE
test: $(VENV)/.tests $(VENV)/.compiled
	$(PYTEST) $(FILE)
else
test: $(VENV)/.tests $(VENV)/.compiled chromium lint store $(VENV)/.read ## everything that must pass; FILE=tests/core/lay runs that alone
	$(PYTEST)
endif

test-core: $(VENV)/.tests $(VENV)/.compiled ## the rules alone
	$(PYTEST) tests/core zonatome/core

test-slow: $(VENV)/.tests $(VENV)/.compiled ## once a night: the compiled search as plain Python, five times the examples
	NUMBA_DISABLE_JIT=1 $(PYTEST) -m kernel tests/core/lay
	ZONATOME_EXAMPLES=5 $(PYTEST) tests/core

map: $(VENV)/.tests ## docs/map.svg: the rooms and arrows as they are
	$(BIN)/python -m bench.map

clean: ## everything that was set up and compiled
	rm -rf $(VENV) zonatome/core/lay/kernel/__pycache__ .pytest_cache .mypy_cache .ruff_cache .hypothesis
