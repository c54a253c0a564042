#!/usr/bin/env bash
# The Go server on a port of its own, Vite's server in front of it.
set -euo pipefail
cd "$(dirname "$(readlink -f "$0")")/.."
port=8438
go build -o bin/axtren ./cmd/axtren
bin/axtren demo --port "$port" --data "${AXTREN_DATA:-/tmp/axtren-dev}" &
trap 'kill -INT $! 2>/dev/null; wait' EXIT
cd ui && AXTREN_URL="http://127.0.0.1:$port" npm run dev
