# What one does every day. `make help` says it in words.
PYTHON := .venv/bin/python
DATABASE = DATABASE_URL=$$(bin/pg start)
TEST = $(DATABASE) DJANGO_SETTINGS_MODULE=opengate.settings.test

.PHONY: help check test run pictures bench format

help: ## this list
	@grep -E '^[a-z]+:.*##' $(MAKEFILE_LIST) | sed -E 's/^([a-z]+):.*## /\1\t/' | expand -t 12

check: ## every check that needs no test: style, templates, types, import contracts (about 20 s)
	bin/check

test: ## the same set-up, every check, every test; `make test of=tests.web.test_bench` runs some
	./test $(of)

run: ## serve the demo
	./start

pictures: ## draw docs/screenshots/ again from a demo that ./start serves; `make pictures at=http://127.0.0.1:8000`
	$(PYTHON) tools/pictures.py $(or $(at),http://127.0.0.1:8000)

bench: ## every benchmark that needs no server, one after the other; fails at the end when a figure missed
	missed=; for each in core way_through bench_edit stove tables mutations; do echo "== $$each"; \
	$(TEST) $(PYTHON) benchmarks/$$each.py --check || missed="$$missed $$each"; done; test -z "$$missed" || { echo "missed:$$missed"; exit 1; }

format: ## put code and templates in order
	$(PYTHON) -m ruff check --fix .
	$(PYTHON) -m ruff format .
	$(PYTHON) -m djlint --reformat --quiet $$(git ls-files '*.html')
