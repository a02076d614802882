# Two commands do everything: make demo, make test. Each installs what is missing first.
.PHONY: demo demo-wordpress test setup lint console vscode clean-demo bench soak

PYTHON := .venv/bin/python
# Compiled modules are kept: services and commands are started a hundred times by the tests.
unexport PYTHONDONTWRITEBYTECODE

demo: setup console
	$(PYTHON) -m plumrake demo up

demo-wordpress: setup console
	$(PYTHON) -m plumrake demo wordpress

test: setup
	@$(MAKE) -j2 --no-print-directory --output-sync=target lint console
	$(PYTHON) -m pytest -n 2 --dist loadfile --no-loadscope-reorder

setup:
	@scripts/setup.sh

lint: setup
	@echo "== lint, types, import direction"
	.venv/bin/ruff check .
	.venv/bin/ruff format --check -q .
	.venv/bin/sqlfluff lint -q --processes 2 src/plumrake/records
	.venv/bin/mypy
	.venv/bin/lint-imports --no-cache
	$(PYTHON) scripts/make_sync_client.py --check
	$(PYTHON) scripts/make_terms.py --check
	$(PYTHON) scripts/make_policy_pages.py --check
	$(PYTHON) scripts/make_coverage_page.py --check
	$(PYTHON) scripts/make_lenses_page.py --check

console: setup
	@scripts/build_console.sh

vscode: setup
	$(PYTHON) scripts/build_vscode.py

bench: setup
	$(PYTHON) -m bench

# Mixed use with kills for so many minutes; what CI runs at night.
MINUTES ?= 10
soak: setup
	$(PYTHON) -m bench.soak $(MINUTES)

clean-demo:
	rm -rf var/demo var/demo-wordpress /var/tmp/plumrake/database /var/tmp/plumrake/garden-database /var/tmp/plumrake/garden-wordpress
