#!/usr/bin/env bash
# The Go server on a port of its own, built again when its code changes; Vite's server in
# front of it.
set -euo pipefail
cd "$(dirname "$(readlink -f "$0")")/.."
port=8438
export AXTREN_URL="http://127.0.0.1:$port"

serve() {
  bin/axtren demo --port "$port" --data "${AXTREN_DATA:-/tmp/axtren-dev}" &
  server=$!
}

# changed tells whether any of the code is newer than what was built last.
changed() {
  [ -n "$(find cmd core app demo api go.mod -type f -newer "$1" -not -path '*/dist/*' -print -quit)" ]
}

watch() {
  local tried
  tried=$(mktemp)
  trap 'kill -INT "$server" 2>/dev/null; wait "$server" 2>/dev/null; rm -f "$tried"; exit 0' TERM
  go build -o bin/axtren ./cmd/axtren
  serve
  while sleep 1; do
    if changed "$tried"; then
      touch "$tried"
      if go build -o bin/axtren ./cmd/axtren; then
        kill -INT "$server" 2>/dev/null && wait "$server" || true
        serve
      fi
    fi
  done
}

watch &
watcher=$!
trap 'kill "$watcher" 2>/dev/null; wait' EXIT
cd ui && npm run dev
