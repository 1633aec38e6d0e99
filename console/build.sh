#!/usr/bin/env bash
# Puts the console into dist/: what is shipped where it is of these sources, else built anew; nothing changed, nothing is done.
# build.sh usable: says nothing, and ends with 0 where no npm is needed.   CONSOLE_BUILD=1: build whatever is shipped.
set -euo pipefail
cd "$(dirname "$0")"
hash_of() { find "$@" -type f -print0 | LC_ALL=C sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1; }
deps=$(hash_of package.json package-lock.json .npmrc)
all=$(hash_of package.json package-lock.json .npmrc index.html collect.html vite.config.ts svelte.config.js tsconfig.json src build.sh)
shipped() { [ "$(cat shipped/stamp 2>/dev/null)" = "$all" ]; }
if [ "${1:-}" = usable ]; then shipped; exit; fi
if [ -z "${CONSOLE_BUILD:-}" ] || [ -d node_modules ]; then
  [ -f dist/index.html ] && [ "$(cat dist.stamp 2>/dev/null)" = "$all" ] && { echo "console unchanged"; exit 0; }
fi
rm -rf target/classes/web
if [ -z "${CONSOLE_BUILD:-}" ] && shipped; then
  rm -rf dist
  cp -r shipped dist
  rm dist/stamp
else
  [ "$(cat node_modules/.stamp 2>/dev/null)" = "$deps" ] || { npm ci --no-audit --no-fund; echo "$deps" >node_modules/.stamp; }
  npm run check
  npm run build
  if ! shipped; then # to be committed with the sources
    rm -rf shipped
    cp -r dist shipped
    echo "$all" >shipped/stamp
  fi
fi
echo "$all" >dist.stamp
