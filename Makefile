# Two commands do everything: make demo, make test. Each installs what is missing first.
.PHONY: demo test setup lint console clean-demo bench

PYTHON := .venv/bin/python

demo: setup console
	$(PYTHON) -m plumrake demo up

test: setup lint console
	$(PYTHON) -m pytest

setup:
	@scripts/setup.sh

lint:
	@echo "== lint, types, import direction"
	.venv/bin/ruff check .
	.venv/bin/mypy
	.venv/bin/lint-imports --no-cache
	$(PYTHON) scripts/make_sync_client.py --check

console: setup
	@scripts/build_console.sh

bench: setup
	$(PYTHON) -m bench

clean-demo:
	rm -rf var/demo /var/tmp/plumrake/database
