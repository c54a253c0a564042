#!/usr/bin/env bash
# Makes the generated code anew from api/openapi.yaml. With --check it only
# tells whether what is committed is up to date.
set -euo pipefail
cd "$(dirname "$(readlink -f "$0")")/.."
files=(app/contract/contract.gen.go ui/src/api/contract.gen.ts)
before=$(sha256sum "${files[@]}")
go generate ./app/contract
(cd ui && npm run --silent generate >/dev/null)
if [ "${1:-}" = --check ] && [ "$before" != "$(sha256sum "${files[@]}")" ]; then
  echo "axtren: the generated code is not that of api/openapi.yaml; run make generate and commit" >&2
  exit 1
fi
