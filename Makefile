# make start · make test · make quick · make check · make bench: a fresh Debian 12 with Go and Node needs nothing else.
.PHONY: start test quick check mutants bench trust build web types kernel gallery fonts licences package package-test clean

# Left out of what is compiled: a wire format of gin and a JSON package of arrow that
# nothing here uses. All commands share it, so that nothing is compiled twice.
export GOFLAGS := -tags=nomsgpack,arrow_json_stdlib

start: build
	@./bin/lark start

build: web
	@scripts/compile.sh

# The front end is built again only when its sources changed.
web: web/dist/index.html

WEB_SOURCES := $(shell find web/src web/index.html web/*.ts web/package-lock.json -type f 2>/dev/null)

web/node_modules/.installed: web/package-lock.json
	@scripts/needs.sh postgresql
	@echo "1 of 3: fetching the front end's packages from npm (about half a minute) …"
	@cd web && npm install --no-save --no-audit --no-fund --loglevel=error
	@touch $@

web/dist/index.html: web/node_modules/.installed $(WEB_SOURCES)
	@echo "2 of 3: building the front end (some seconds) …"
	@cd web && npm run --silent build
	@touch $@

test: web
	@scripts/needs.sh postgresql chromium
	@scripts/needs.sh columnar || echo "the columnar engine cannot be installed: its client is tried against recorded answers alone"
	@scripts/test.sh

# The core and all units: for the hand that works.
quick: web/node_modules/.installed
	@scripts/quick.sh

# Form, lint, and known holes in what is linked; part of make test.
check: web/node_modules/.installed
	@scripts/check.sh

# Changes lines one by one and tells which changes no test sees (half an hour).
mutants:
	@scripts/mutants.sh

bench: build
	@scripts/needs.sh postgresql chromium
	@scripts/bench.sh

# Tries the verdicts on many tables of noise, and of stories that are built in.
trust:
	@scripts/trust.sh

# Gathers the fonts of drawings anew from their packages.
fonts:
	@rm -rf /tmp/lark-fonts && mkdir -p /tmp/lark-fonts && cd /tmp/lark-fonts && npm install --silent --no-save @fontsource/hanken-grotesk @fontsource/literata @fontsource/noto-sans @fontsource/noto-sans-hebrew @fontsource/noto-sans-arabic @fontsource/noto-sans-jp
	@cd /tmp/lark-fonts && node $(CURDIR)/core/draw/fonts/gather.mjs

# Writes docs/openapi.json from the routes and the front end's types from that.
types:
	@go run ./cmd/lark openapi > docs/openapi.json
	@go run ./cmd/lark openapi --chart > docs/chart.schema.json
	@cd web && npm run --silent types

# Makes dist/copper-lark_….deb for Debian 12 and later.
package: build
	@scripts/package.sh

# Installs it in a root of its own, starts, upgrades and removes it; needs root.
package-test: build
	@scripts/package-test.sh

# Writes THIRD-PARTY.md from what is linked and bundled.
licences:
	@go run ./internal/licences

# Draws the examples into docs/gallery.
gallery:
	@go run ./internal/gallery

# Compiles the kernel that paints points into web/src/painter/dots/kernel.gen.ts.
kernel: web/node_modules/.installed
	@cd web && node scripts/kernel.mjs

clean:
	rm -rf bin web/node_modules web/dist/assets web/dist/index.html
