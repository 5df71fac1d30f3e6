# Two commands do everything on a fresh machine: `make demo` and `make test`.

PYTHON ?= python3.11
PORT ?= 8750
DATABASE ?= var/noggin.sqlite3
BIN := .venv/bin

# What is compiled is kept, whatever the machine says: it is a quarter of what starting a program costs.
export PYTHONDONTWRITEBYTECODE =

.PHONY: demo demo-reset setup setup-dev test lint check format schema screenshots book-pictures benchmark mutants pins clean

demo: setup
	$(BIN)/noggin demo --database $(DATABASE)
	$(BIN)/noggin serve --database $(DATABASE) --port $(PORT)

demo-reset: setup
	$(BIN)/noggin demo --database $(DATABASE) --reset

setup: .venv/.ready

setup-dev: .venv/.ready-dev

.venv/.ready: requirements.txt pyproject.toml tools/venv.sh
	tools/venv.sh $(PYTHON) requirements.txt
	touch $@

.venv/.ready-dev: requirements-dev.txt .venv/.ready
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -r requirements-dev.txt
	touch $@

# Types, templates and dead names are checked beside the tests, by the same workers.
test: lint
	tools/chromium.sh
	tools/nginx.sh
	$(BIN)/python -m tests

lint: setup-dev
	$(BIN)/ruff format --check .
	$(BIN)/ruff check .

check: lint
	$(BIN)/mypy
	$(BIN)/djlint --check --lint noggin/web/templates
	$(BIN)/python -m tools.dead_names

format: setup-dev
	$(BIN)/ruff check --fix .
	$(BIN)/ruff format .
	$(BIN)/djlint --quiet --reformat noggin/web/templates

schema: setup
	$(BIN)/python -m tools.schema

screenshots: setup-dev
	tools/chromium.sh
	$(BIN)/python -m tools.screenshots

book-pictures: setup-dev
	tools/chromium.sh
	$(BIN)/python -m tools.book_pictures

benchmark: setup-dev
	tools/chromium.sh
	$(BIN)/python -m benchmarks.plan
	$(BIN)/python -m benchmarks.reach
	$(BIN)/python -m benchmarks.strip
	$(BIN)/python -m benchmarks.pops
	$(BIN)/python -m benchmarks.bench
	$(BIN)/python -m benchmarks.lists
	$(BIN)/python -m benchmarks.durable
	$(BIN)/python -m benchmarks.hands
	$(BIN)/python -m benchmarks.at_the_spot 100
	$(BIN)/python -m benchmarks.pops_bound
	$(BIN)/python -m benchmarks.hundredth
	$(BIN)/python -m benchmarks.proofs
	$(BIN)/python -m benchmarks.frames
	$(BIN)/python -m benchmarks.pocket

mutants: setup-dev
	$(BIN)/python -m tools.mutate

pins: setup-dev
	tools/pins.sh

clean:
	rm -rf .venv build *.egg-info
