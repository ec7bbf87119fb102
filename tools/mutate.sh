#!/usr/bin/env bash
# Changes an operator or a sign of a package of core at a time and runs the tests that stand for it: its own, and those
# of the packages named behind it. A change that no test notices has lived.
#   tools/mutate.sh TOOLS OUT PACKAGE [PACKAGE...]
# It works on a copy of core, so that nothing here is touched and no more than core is copied for each worker.
set -euo pipefail
tools=$(realpath "$1") out=$(realpath -m "$2") of=$3
shift 2
dir=$(mktemp -d)
trap 'rm -rf "$dir"' EXIT
cp -r core go.mod go.sum "$dir"
cd "$dir"
keep=()
for p in "$@"; do keep+=(! -path "core/$p/*"); done
find core -name '*_test.go' "${keep[@]}" -delete # tests that say nothing about it
all=()
[ $# -gt 1 ] && all=(--integration)
"$tools/gremlins" unleash "${all[@]}" --workers 2 --timeout-coefficient 8 --output "$out/$of.json" "./core/$of" | tee "$out/$of.txt" | grep -E "LIVED|TIMED|Killed|efficacy" || true
