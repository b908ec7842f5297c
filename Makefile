# Everything a newcomer needs: make demo, make test. Both prepare what is missing first.
PYTHON := .venv/bin/python
READY := .venv/.ready

.PHONY: demo test bench shots setup clean

setup: $(READY)

$(READY): requirements.lock pyproject.toml scripts/setup.sh
	@bash scripts/setup.sh
	@touch $(READY)

demo: $(READY)
	@bash scripts/demo.sh

test: $(READY)
	@QT_QPA_PLATFORM=offscreen $(PYTHON) -m tests

bench: $(READY)
	@QT_QPA_PLATFORM=offscreen $(PYTHON) -m benchmarks

shots: $(READY)
	@$(PYTHON) scripts/shots.py docs/screenshots
	@$(PYTHON) scripts/shots.py docs/screenshots dark ducts

clean:
	rm -rf .venv out
