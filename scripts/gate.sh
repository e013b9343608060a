#!/usr/bin/env bash
# What takes longer than a test run may: each part by itself, all of them, and at the end what failed.
# Its name alone runs one: scripts/gate.sh back
set -uo pipefail

measure() { go run ./scripts/reliability "$@"; }

# part NAME COMMAND...
parts=()
part() { parts+=("$1"); eval "run_$1() { ${*:2}; }"; }
part kills 'measure kills -what server && measure kills -what private && measure kills -what own'
part starts measure starts
part back measure back
part both measure both
part badinput measure badinput
part disk 'measure disk && measure disk -slow 10s'
part load 'measure load -warm 0s -for 60s && measure load -people 300 -warm 0s -for 60s && measure load -people 32 -think 0s -warm 0s -for 60s'
part soak measure soak
part race make -s race
part package ./scripts/package-test.sh
part reproducible ./scripts/reproducible.sh
part versions './scripts/versions.sh'

failed=()
for name in "${parts[@]}"; do
  [ $# -eq 0 ] || [ "$1" = "$name" ] || continue
  began=$(date +%s)
  echo "== $name"
  "run_$name" || failed+=("$name")
  echo "== $name: $(($(date +%s) - began)) s"
done
[ "${#failed[@]}" -eq 0 ] || { echo "failed: ${failed[*]}"; exit 1; }
echo "the gate is passed"
