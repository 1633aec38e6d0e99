#!/usr/bin/env bash
# Builds the console into dist/; nothing changed, nothing is done.
set -euo pipefail
cd "$(dirname "$0")"
hash_of() { { node -v; find "$@" -type f -print0 | LC_ALL=C sort -z | xargs -0 sha256sum; } | sha256sum | cut -d' ' -f1; }
deps=$(hash_of package.json package-lock.json .npmrc)
all=$(hash_of package.json package-lock.json .npmrc index.html collect.html vite.config.ts svelte.config.js tsconfig.json src build.sh)
[ -f dist/index.html ] && [ "$(cat dist.stamp 2>/dev/null)" = "$all" ] && { echo "console unchanged"; exit 0; }
[ "$(cat node_modules/.stamp 2>/dev/null)" = "$deps" ] || { npm ci --no-audit --no-fund; echo "$deps" >node_modules/.stamp; }
npm run check
npm run build
rm -rf target/classes/web
echo "$all" >dist.stamp
