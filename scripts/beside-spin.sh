#!/usr/bin/env bash
# Prints how many states a second the search for a claim visits, and the verifier that spin generates for the
# same rules on the same machine, and the ratio of both.
set -euo pipefail
cd "$(dirname "$(readlink -f "$0")")/.."
source scripts/lib.sh
need_go
need_gcc
need_spin
AXTREN_BESIDE_SPIN=1 go test -count=1 -v -run TestSpeedBesideSpin ./core/proof | grep -E '^(states|ratio)'
