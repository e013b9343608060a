#!/usr/bin/env bash
# Known weaknesses of what the binary is made of, where GOVULNDB names a copy of the Go project's
# database of them (file:///...); else a table of versions with their age. Nobody is asked for the
# database itself: a machine that builds releases need not reach it.
set -euo pipefail

if [ -n "${GOVULNDB:-}" ]; then
  exec go run golang.org/x/vuln/cmd/govulncheck@latest -db "$GOVULNDB" -mode binary bin/grapnel
fi
echo "GOVULNDB names no database of weaknesses. Versions, with their age:"
go run ./scripts/sbom -ages
