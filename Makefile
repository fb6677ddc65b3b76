# make start · make test · make bench: a fresh Debian 12 with Go and Node needs nothing else.
.PHONY: start test bench build web types fuzz clean

start: build
	@./bin/lark start

build: web
	@go build -o bin/lark ./cmd/lark

# The front end is built again only when its sources changed.
web: web/dist/index.html

WEB_SOURCES := $(shell find web/src web/index.html web/*.ts web/package-lock.json -type f 2>/dev/null)

web/node_modules/.installed: web/package-lock.json
	@scripts/needs.sh postgresql
	@cd web && npm install --no-save --no-audit --no-fund --loglevel=error
	@touch $@

web/dist/index.html: web/node_modules/.installed $(WEB_SOURCES)
	@cd web && npm run --silent build
	@touch $@

test: web
	@scripts/needs.sh postgresql chromium
	@scripts/test.sh

bench: build
	@scripts/bench.sh

# Writes docs/openapi.json from the routes and the front end's types from that.
types:
	@go run ./cmd/lark openapi > docs/openapi.json
	@cd web && npm run --silent types

clean:
	rm -rf bin web/node_modules web/dist/assets web/dist/index.html
