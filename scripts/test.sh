#!/usr/bin/env bash
# Everything that must hold: lint, types, unit, server, browser. usage: test.sh [unit|server|browser]
set -euo pipefail
part=${1:-all}
run() { echo "== $*"; "$@"; }
case "$part" in
  unit) run npx vitest run --project unit ;;
  server) run npx vitest run --project server ;;
  browser) run npx playwright test -c e2e/playwright.config.ts ;;
  all)
    run npx eslint .
    run npx depcruise --config .dependency-cruiser.cjs core/src document/src server/src web/src rig/src
    run npx knip --no-config-hints
    run npx tsc -p tsconfig.json --noEmit
    # Tests of the server wait more than they work: they run beside the others, and are told after them.
    told=$(mktemp -d)
    card=$(mktemp -d)
    trap 'rm -rf "$told" "$card"' EXIT
    npx vitest run --project server >"$told/server" 2>&1 &
    beside=$!
    failed=0
    run npx vitest run --project unit 2>&1 | tee "$told/unit" || failed=1
    # The card that browser tests drop, while the others are still at it.
    run ./zaddle camera demo --size 1500 --shots sitting-room,kitchen --out "$card/card" || failed=1
    echo "== npx vitest run --project server"
    wait "$beside" || failed=1
    cat "$told/server"
    if [ "$failed" != 0 ]; then
      # Once more at the very end: between thousands of lines nobody finds what failed.
      echo "== failed:"
      grep -hE 'FAIL |AssertionError' "$told/unit" "$told/server" | cut -c1-400 | tail -n 80
      exit 1
    fi
    export ZADDLE_TEST_CARD=$card/card
    run npx playwright test -c e2e/playwright.config.ts ;;
  *) echo "usage: ./zaddle test [unit|server|browser]" >&2; exit 2 ;;
esac
