#!/usr/bin/env bash
# The core and all units, for the hand that works: under a minute when what did not change is cached.
set -euo pipefail
cd "$(dirname "$0")/.."
export GOFLAGS="${GOFLAGS:--tags=nomsgpack,arrow_json_stdlib}"
go vet ./core/... ./app ./files
go test ./core/... ./files/... ./internal/imports ./internal/admission ./internal/cache
go test -short ./app
cd web
npx tsc --noEmit -p .
npx playwright test --config playwright.units.config.ts --reporter dot
