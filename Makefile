# Everything a newcomer needs: make demo, make test. Both prepare what is missing first.
PYTHON := .venv/bin/python
READY := .venv/.ready

.PHONY: demo test soak bench shots setup clean

setup: $(READY)

$(READY): requirements.lock pyproject.toml scripts/setup.sh
	@bash scripts/setup.sh
	@touch $(READY)

demo: $(READY)
	@bash scripts/demo.sh

test: $(READY)
	@QT_QPA_PLATFORM=offscreen $(PYTHON) -m tests

# Long watch by chance: make soak MINUTES=30. A case that fails is made short and kept among the tests.
MINUTES := 10
soak: $(READY)
	@QT_QPA_PLATFORM=offscreen $(PYTHON) -m tests.soak $(MINUTES)

bench: $(READY)
	@QT_QPA_PLATFORM=offscreen $(PYTHON) -m benchmarks

shots: $(READY)
	@$(PYTHON) scripts/shots.py docs/screenshots
	@$(PYTHON) scripts/shots.py docs/screenshots dark ducts

clean:
	rm -rf .venv out
