#!/usr/bin/env bash
# What a reader of the code would stumble over: form, suspicious constructs, known holes in what is linked.
set -euo pipefail
cd "$(dirname "$0")/.."
export GOFLAGS="${GOFLAGS:--tags=nomsgpack,arrow_json_stdlib}"
unformatted=$(gofmt -l $(git ls-files -co --exclude-standard '*.go'))
[ -z "$unformatted" ] || { echo "gofmt is due for:"; echo "$unformatted"; exit 1; }
go vet ./...
# All of its checks but those that judge how comments and names begin: these are ours to say.
go tool staticcheck -checks 'all,-ST1000,-ST1003,-ST1005,-ST1016,-ST1020,-ST1021,-ST1022,-QF*' ./...
if curl --silent --fail --max-time 5 --output /dev/null https://vuln.go.dev/index/modules.json; then
  go tool govulncheck ./...
else
  echo "govulncheck is left out: its data cannot be reached from here"
fi
cd web
npx eslint src test ./*.ts ../e2e/*.ts
npx prettier --config ../.prettierrc.json --ignore-path ../.prettierignore --log-level warn --check 'src/**/*.{ts,tsx}' 'test/**/*.ts' '*.{ts,js}' '../e2e/*.ts'
cd ..
long=$(awk 'length > 140 { n++ } END { print n+0 }' $(git ls-files '*.go'))
[ "$long" -le 155 ] || { echo "$long lines of Go are longer than 140 characters, more than the 155 whose texts and tags cannot be broken: break them"; exit 1; }
export REDOCLY_TELEMETRY=off REDOCLY_SUPPRESS_UPDATE_NOTICE=true
lint() { web/node_modules/.bin/redocly lint --config web/redocly.yaml "$1"; }
lint docs/openapi.json >/dev/null 2>&1 || lint docs/openapi.json
