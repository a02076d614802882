#!/bin/sh
# Makes the console's types from the API, checks them and builds it; nothing is done when nothing changed.
set -eu
cd "$(dirname "$0")/.."
PATH="$PWD/.venv/bin:$PATH"
mark=$(find console/src console/public console/*.json console/*.ts console/index.html src/plumrake/service src/plumrake/models src/plumrake/core/policy.py src/plumrake/core/gate_rules.py -type f \
  ! -path '*/service/console/*' ! -name schema.d.ts ! -name openapi.json ! -name '*.pyc' -exec sha256sum {} + | sort | sha256sum)
built=src/plumrake/service/console/.mark
if [ -f "$built" ] && [ "$(cat "$built")" = "$mark" ]; then exit 0; fi
echo "== checking and building the console"
.venv/bin/python scripts/dump_openapi.py console/openapi.json
cd console
npm run -s types >/dev/null
npm run -s check
npm run -s lint
npm run -s test
npm run -s build -- --logLevel warn
echo "$mark" > "../$built"
