#!/usr/bin/env bash
# Which changed lines no test would see: internal/mutants/list.go, all of it or the files that hold a word.
set -euo pipefail
cd "$(dirname "$0")/.."
export GOFLAGS="${GOFLAGS:--tags=nomsgpack,arrow_json_stdlib}"
go build -o bin/mutants ./internal/mutants
if [ -z "${LARK_TEST_POSTGRES:-}" ]; then # of the rooms that need a database
  database=$(mktemp -d)
  chmod 755 "$database"
  go build -o bin/testdb ./internal/test/testdb
  bin/testdb start "$database/postgres"
  trap 'bin/testdb stop "$database/postgres"; rm -rf "$database"' EXIT
  export LARK_TEST_POSTGRES="$database/postgres"
fi
bin/mutants "$@"
