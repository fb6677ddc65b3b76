#!/usr/bin/env bash
# Compiles the program into bin/lark; on a new machine it tells how far it is.
set -euo pipefail
cd "$(dirname "$0")/.."
if ! go list -deps ./cmd/lark >/dev/null 2>&1; then
  echo "3 of 3: fetching Go modules …"
  go mod download
fi
packages=$(go list -deps ./cmd/lark | wc -l)
go build -v -o bin/lark ./cmd/lark 2>&1 | awk -v all="$packages" '
  /^[a-z0-9._~\/-]+$/i && !/:/ { n++; if (n == 20) { print "3 of 3: compiling (two minutes on a new machine with 2 cores) …"; fflush() }
    if (n % 60 == 0) { print "  " n " of at most " all " packages"; fflush() } ; next }
  { print }'
