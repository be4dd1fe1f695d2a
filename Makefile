# Aestiva: every command works alone on a fresh Debian machine with Python 3.11, and offline once installed.
HOST ?= 127.0.0.1
PORT ?= 8000
PY := .venv/bin/python
export DJANGO_SETTINGS_MODULE ?= aestiva.settings

.PHONY: .browser demo demo-reset demo-data host run test check unit browser measure simulate screenshots backup restore password soak style timing trace audit sources lock clean

.venv/base.done: requirements/base.txt
	sh tools/need.sh python-venv python3-venv
	test -x $(PY) || python3 -m venv .venv
	$(PY) -m pip install -q --require-hashes -r requirements/base.txt
	touch $@

.venv/dev.done: requirements/dev.txt .venv/base.done
	$(PY) -m pip install -q --require-hashes -r requirements/dev.txt
	touch $@

.venv/host.done: requirements/host.txt .venv/base.done
	$(PY) -m pip install -q --require-hashes -r requirements/host.txt
	touch $@

.browser:
	sh tools/need.sh chromium chromium
	sh tools/need.sh chromedriver chromium-driver

demo: .venv/base.done
	AESTIVA_DEMO=1 $(PY) manage.py migrate -v 0
	AESTIVA_DEMO=1 $(PY) manage.py demo
	@echo "The demo is at http://$(HOST):$(PORT)/"
	AESTIVA_DEMO=1 $(PY) -m aestiva.serve $(HOST) $(PORT)

demo-reset: .venv/base.done
	rm -f data/demo.sqlite3 data/demo.sqlite3-wal data/demo.sqlite3-shm
	AESTIVA_DEMO=1 $(PY) manage.py migrate -v 0
	AESTIVA_DEMO=1 $(PY) manage.py demo

demo-data: .venv/base.done
	AESTIVA_DEMO=1 DATABASE_URL=sqlite:///data/demo-data.sqlite3 $(PY) manage.py migrate -v 0
	AESTIVA_DEMO=1 DATABASE_URL=sqlite:///data/demo-data.sqlite3 $(PY) manage.py demo_data
	rm -f data/demo-data.sqlite3*

host: .venv/host.done run

run: .venv/base.done
	$(PY) manage.py migrate -v 0
	@echo "Aestiva is at http://$(HOST):$(PORT)/"
	$(PY) -m aestiva.serve $(HOST) $(PORT)

test: .venv/dev.done .browser
	$(PY) tools/test.py

check: .venv/dev.done
	$(PY) tools/test.py check

unit: .venv/dev.done
	$(PY) tools/test.py unit

browser: .venv/dev.done .browser
	$(PY) tools/test.py browser

measure: .venv/base.done
	$(PY) -m measures.run $(ONLY)

timing: .venv/dev.done
	$(PY) -m tools.timing $(ONLY)

style: .venv/dev.done
	$(PY) tools/style.py

trace: .venv/base.done
	$(PY) tools/trace.py --tap

simulate: .venv/base.done
	$(PY) -m demo.judge.run $(ONLY)

soak: .venv/dev.done
	$(PY) -W ignore -m soak.run $(ONLY)

screenshots: .venv/dev.done .browser
	$(PY) -m e2e.screenshots

password: .venv/base.done
	$(PY) manage.py changepassword "$(WHO)"

backup: .venv/base.done
	$(PY) manage.py backup

restore: .venv/base.done
	$(PY) manage.py restore $(FILE)

audit: .venv/dev.done
	$(PY) tools/audit.py

sources: .venv/base.done
	$(PY) tools/count_sources.py

lock: .venv/dev.done
	for n in base dev host; do .venv/bin/pip-compile -q --generate-hashes --allow-unsafe --strip-extras --no-emit-index-url --no-emit-find-links --no-emit-trusted-host -o requirements/$$n.txt requirements/$$n.in; done

clean:
	rm -rf .venv staticfiles build
