#!/usr/bin/env bash
# Everything that must hold before a change lands.
set -euo pipefail
cd "$(dirname "$0")/.."
unformatted=$(gofmt -l $(git ls-files '*.go'))
[ -z "$unformatted" ] || { echo "gofmt is due for:"; echo "$unformatted"; exit 1; }
go vet ./...
go test ./...
go run ./cmd/lark openapi | diff -q - docs/openapi.json >/dev/null || { echo "docs/openapi.json is not what the routes say: run make types"; exit 1; }
go build -o bin/lark ./cmd/lark
cd web
npx playwright test --config playwright.units.config.ts
npx playwright test --config playwright.config.ts
