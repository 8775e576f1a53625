# make demo   serve the demo shop on 127.0.0.1:8000 (PORT to change)
# make run    serve a shop of one's own on 127.0.0.1
# make test   lint and every test, browser tests included; make quick, a half of them that takes a minute; make thorough, trials at random three times as often
# make bench  what things cost (LONG=1, three times as many trials); make beside ONLY=strips,sheets,layout,commands, beside the commit in tests/reference-commit
# make widths nothing on any page of the demo shop is wider than the window, at four widths, in either unit
# make solids the kernel that reads and writes STEP, an extra of about 70 MB
# make words  every string that is said, where, and what is odd in them (WORDS=--odd: only that)
# make fuzz   whatever may be sent, for SECONDS (60) or ANSWERS, with SEED; make mutants, make stress, make lists, make aged, make siege, make tablets, make doubts, make ways, make same: what else must hold
PYTHON ?= python3.11
VENV := .venv
PY := $(VENV)/bin/python
PORT ?= 8000
export PORT
# What Python has compiled is kept, whatever the machine says: a process starts in two thirds of the time.
unexport PYTHONDONTWRITEBYTECODE
ifdef LISTEN
export DORVAN_LISTEN := $(LISTEN)
endif

.PHONY: run demo demo-fresh solids test thorough quick bench beside shares assets lint browser screenshots fuzz mutants stress lists aged siege tablets doubts ways same words widths

$(VENV)/.run: requirements.txt
	@command -v $(PYTHON) >/dev/null || { echo "Python 3.11 is needed: apt-get install python3.11 python3.11-venv"; exit 1; }
	@test -x $(PY) || $(PYTHON) -m venv $(VENV)
	@$(PY) -m pip install -q --disable-pip-version-check --require-hashes -r requirements.txt
	@touch $@

$(VENV)/.dev: requirements-dev.txt $(VENV)/.run
	@$(PY) -m pip install -q --disable-pip-version-check --require-hashes -r requirements-dev.txt
	@touch $@

solids: $(VENV)/.run
	@$(PY) -m pip install -q --disable-pip-version-check --require-hashes --no-deps -r requirements-solids.txt

$(VENV)/.solids: requirements-solids.txt $(VENV)/.run
	@$(MAKE) --no-print-directory solids && touch $@ || echo "The kernel of solids could not be installed: what needs it is not tested."

run: $(VENV)/.run
	@$(PY) -m dorvan.serve

demo: $(VENV)/.run
	@$(PY) -m dorvan.serve --demo

demo-fresh: $(VENV)/.run
	@rm -rf var/dorvan.sqlite3*
	@$(PY) -m dorvan.serve --demo

browser:
	@sh tests/browser/install.sh

lint: $(VENV)/.dev
	@$(PY) -m ruff check .

test: $(VENV)/.dev $(VENV)/.solids browser lint
	@OPENBLAS_NUM_THREADS=1 DORVAN_WORKERS=0 DORVAN_DATA=$$(mktemp -d) $(PY) -W default::DeprecationWarning manage.py test tests --testrunner tests.runner.Runner --parallel $$(($$(nproc) + 1)) $(TESTS)

thorough: export DORVAN_THOROUGH = 1
thorough: test

quick: $(VENV)/.dev lint
	@DORVAN_WORKERS=0 DORVAN_DATA=$$(mktemp -d) $(PY) -W ignore manage.py test $(QUICK) --testrunner tests.runner.Runner --parallel $$(nproc)

bench: $(VENV)/.dev browser
	@$(if $(LONG),DORVAN_THOROUGH=1 )DORVAN_DATA=$$(mktemp -d) $(PY) -m tests.bench $(if $(ONLY),--only $(ONLY))
ifndef ONLY
	@$(MAKE) --no-print-directory beside
	@DORVAN_DATA=$$(mktemp -d) $(PY) -m tests.edits --against $(or $(AGAINST),$$(cat tests/reference-commit))
endif

beside: $(VENV)/.dev
	@$(PY) -W ignore -m tests.beside $(if $(ONLY),--only $(ONLY)) $(if $(AGAINST),--against $(AGAINST))

QUICK := $(addprefix tests.core.test_,checklist commands fields house joining layout ledger mates paper press proof reached \
	schools sheet site sleeves strip_holes suppliers svg_in) \
	$(addprefix tests.web.test_,day deeds drawings first first_hour floor joining ledger meanwhile outside pins shop sizes staff \
	stockroom tickets ways_that_end)
SECONDS ?= 60
fuzz: $(VENV)/.dev
	@$(PY) -W ignore -m tests.fuzz $(if $(ANSWERS),--answers $(ANSWERS),--seconds $(SECONDS)) $(if $(SEED),--seed $(SEED))

mutants: $(VENV)/.dev
	@$(PY) -m tests.mutants

stress: $(VENV)/.dev
	@$(PY) -m tests.stress $(STRESS)

lists: $(VENV)/.dev
	@$(PY) -W ignore -m tests.lists $(LISTS)

tablets: $(VENV)/.dev browser
	@$(PY) -W ignore -m tests.tablets

siege: $(VENV)/.dev
	@$(PY) -W ignore -m tests.siege

aged: $(VENV)/.dev
	@$(PY) -W ignore -m tests.aged

shares:
	@$(PYTHON) tests/shares.py

screenshots: $(VENV)/.dev browser
	@DORVAN_DATA=$$(mktemp -d) $(PY) -m tests.screenshots

assets:
	@npm install --no-save --no-audit --no-fund && npm run build

widths: $(VENV)/.dev browser
	@$(PY) -W ignore -m tests.widths $(WIDTHS)

words: $(VENV)/.dev
	@$(PY) -m tests.words $(WORDS)

doubts: $(VENV)/.dev
	@DORVAN_DATA=$$(mktemp -d) DJANGO_SETTINGS_MODULE=dorvan.settings $(PY) -W ignore -m tests.doubts $(DOUBTS)

ways: $(VENV)/.dev
	@$(PY) -W ignore -m tests.ways $(WAYS)

same: $(VENV)/.dev
	@$(PY) -W ignore -m tests.same $(SAME)
