# Two commands: `make demo` starts the app with demo data, `make test` passes all tests. Both set up what is missing.
PY := .venv/bin/python
# Where set-up puts a Node of its own if the machine has none.
# Which data `make up` opens: each workspace has its own; rules can be shared between them.
WORKSPACE ?= own
export PATH := $(CURDIR)/.venv/node:$(PATH)
help:
	@echo "make demo         start the app with the demo world; PORT=8421 for another port"
	@echo "make up           start it with data of your own; WORKSPACE=name for another workspace"
	@echo "make test         pass all tests (make nightly: a longer look)"
	@echo "make check        lint, types, layers, formats"
	@echo "make bench        speed and memory beside peers"
	@echo "make screenshots  the pictures of the README"
	@echo "make api          OpenAPI files and the typed client"
	@echo "make backup FILE=/path/to/yardstick.tar, make restore FILE=..."

.PHONY: help nightly backup restore demo up test check bench screenshots api setup setup-test

demo: setup
	@$(PY) scripts/start.py demo

up: setup
	@$(PY) scripts/start.py $(WORKSPACE)

# One file with everything that cannot be made anew. Both take FILE=/path/to/yardstick.tar.
backup: setup
	@$(PY) scripts/backup.py "$(FILE)"

restore: setup
	@$(PY) scripts/backup.py --restore "$(FILE)"

setup:
	@scripts/setup.sh

setup-test:
	@scripts/setup.sh test

test: setup-test
	@cd frontend && npx vitest run --reporter=dot
	@# The slowest files first, so that neither worker is left alone with them at the end.
	@$(PY) -m pytest -n 2 --dist loadfile --no-loadscope-reorder tests/start tests/screens tests

# Many more of the tests that cut work off, and a longer look by the property tests.
nightly: setup-test
	@YARDSTICK_CUTS=100 YARDSTICK_SHAPES=14 YARDSTICK_ENDLESS=1048576 YARDSTICK_EXAMPLES=150 HYPOTHESIS_PROFILE=deep $(PY) -m pytest -n 2 --dist load tests/proof tests/properties tests/stations/test_export_shapes.py tests/core/test_endless_texts.py tests/core/test_hostile_files.py tests/outside tests/web/test_whole_api.py tests/web/test_large_loads.py tests/web/test_typed_fields.py tests/screens/test_looks.py

check: setup-test
	@$(PY) -m ruff check . && $(PY) -m ruff format --check .
	@$(PY) -m mypy
	@$(PY) -m mypy --config-file tests/mypy.ini
	@.venv/bin/lint-imports
	@$(PY) scripts/write_openapi.py --check
	@cd frontend && npx eslint . && npx vue-tsc --noEmit && npx prettier --check --log-level warn .

bench: setup-test
	@$(PY) bench/run.py

screenshots: setup-test
	@$(PY) scripts/screenshots.py

api: setup-test
	@$(PY) scripts/write_openapi.py
	@cd frontend && npm run --silent api
