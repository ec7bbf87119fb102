#!/usr/bin/env bash
# Changes an operator or a sign of a package of core at a time and runs the tests of that package. A change that no test
# notices has lived.
#   tools/mutate.sh TOOLS OUT PACKAGE
# It works on a copy of core, so that nothing here is touched and no more than core is copied for each worker.
set -euo pipefail
tools=$(realpath "$1") out=$(realpath -m "$2") of=$3
rm -f "$out/$of.json" # a report of before would be taken for this one
dir=$(mktemp -d)
trap 'rm -rf "$dir"' EXIT
cp -r core go.mod go.sum "$dir"
cd "$dir"
export GOFLAGS="${GOFLAGS:-} -vet=off"
"$tools/gremlins" unleash --workers 2 --timeout-coefficient 8 --output "$out/$of.json" "./core/$of" | tee "$out/$of.txt" | grep -E "LIVED|TIMED|Killed|efficacy" || true
