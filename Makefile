# Everything starts from two commands: make demo, make test.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
STAMP := $(VENV)/.installed

.PHONY: demo test lint bench matrix soak screenshots gallery start schema system clean

$(STAMP): requirements.lock pyproject.toml
	@sh tools/system_packages.sh
	$(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -r requirements.lock
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	@touch $(STAMP)

system:
	@sh tools/system_packages.sh

# The window with the demo project; without a display, a virtual one and pictures.
demo: $(STAMP) system
	@if [ -n "$$DISPLAY$$WAYLAND_DISPLAY" ]; then \
	    $(BIN)/jadeite --demo; \
	else \
	    echo "No display here: starting Jadeite on a virtual one and walking the stations."; \
	    sh tools/walk.sh $(BIN) build/demo && echo "A picture of each station is under build/demo/."; \
	fi

test: $(STAMP) system lint
	$(BIN)/python -m pytest -n 2 --dist worksteal tests

lint: $(STAMP)
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports --no-logo || $(BIN)/lint-imports

# Speed and memory, medians; not part of the tests.
bench: $(STAMP) system
	$(BIN)/python -m pytest benchmarks --benchmark-only --benchmark-columns=median,min,rounds -p no:xdist
	$(BIN)/python benchmarks/whole_program.py
	$(BIN)/python -m benchmarks.window_hold
	$(BIN)/python -m benchmarks.nesting

# What every family makes of ordinary things at its defaults, as a table.
matrix: $(STAMP)
	$(BIN)/python -m tests.matrix

# Longer searches than the tests have time for.
soak: $(STAMP)
	HYPOTHESIS_PROFILE=soak $(BIN)/python -m pytest -n 2 --dist worksteal tests -m "soak or not soak" \
	    -rP -vv --durations=40

# The pictures of the README, from the demo project.
screenshots: $(STAMP) system
	sh tools/walk.sh $(BIN) build/screenshots
	cp build/screenshots/*.png docs/screenshots/

# Every shape with its options and a small picture, from the registry.
gallery: $(STAMP) system
	QT_QPA_PLATFORM=offscreen $(BIN)/python tools/gallery.py docs

# The examples of an empty start, with their pictures.
start: $(STAMP) system
	QT_QPA_PLATFORM=offscreen $(BIN)/python tools/start_pictures.py examples src/jadeite/assets/examples

# The JSON schema of the project file.
schema: $(STAMP)
	$(BIN)/python -c "import json; from jadeite.core.formats import project_schema as s; print(json.dumps(s(), indent=1))" > docs/project.schema.json

clean:
	rm -rf build $(VENV)
