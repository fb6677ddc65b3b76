#!/usr/bin/env bash
# Everything that must hold before a change lands.
set -euo pipefail
root=$(cd "$(dirname "$0")/.." && pwd)
cd "$root"
export GOFLAGS="${GOFLAGS:--tags=nomsgpack,arrow_json_stdlib}"
scripts/check.sh
# One throw-away PostgreSQL serves all packages.
database=$(mktemp -d)
chmod 755 "$database"
go build -o bin/testdb ./internal/test/testdb
go build -o bin/provider ./internal/test/provider/run
bin/testdb start "$database/postgres"
trap '"$root/bin/testdb" stop "$database/postgres"; rm -rf "$database"' EXIT
export LARK_TEST_POSTGRES="$database/postgres"
go test -timeout 30m ./core/... ./files/... ./demo/... ./source/... ./internal/... ./cmd/...
go test -timeout 30m -race ./app ./store ./server ./core/parallel ./internal/admission ./internal/cache
go run ./cmd/lark openapi | diff -q - docs/openapi.json >/dev/null || { echo "docs/openapi.json is not what the routes say: run make types"; exit 1; }
scripts/compile.sh
cd web
npx playwright test --config playwright.units.config.ts
npx playwright test --config playwright.config.ts
