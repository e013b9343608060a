#!/usr/bin/env bash
# Runs every test and ends with one line of totals.
set -uo pipefail

failed=0
log=$(mktemp)
trap 'rm -f "$log"' EXIT

echo "== lint"
make --no-print-directory lint || failed=1

echo "== tests without a browser"
# Four packages at once: many wait for a database of their own more than they work.
go test -json -p 4 ./core/... ./app/... ./cmd/... ./scripts/... >>"$log" || failed=1
echo "== tests in the browser"
go test -json -timeout 20m ./e2e/... >>"$log" || failed=1

# What a failing test printed, and a line a package.
go run ./scripts/totals <"$log" || failed=1
exit "$failed"
