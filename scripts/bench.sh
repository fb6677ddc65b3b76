#!/usr/bin/env bash
# Measures and keeps the last run in docs/benchmarks.md.
set -euo pipefail
cd "$(dirname "$0")/.."
go run ./internal/bench > docs/benchmarks.md.new
node e2e/bench/press.mjs >> docs/benchmarks.md.new # in headless Chromium, against the real program
mv docs/benchmarks.md.new docs/benchmarks.md
