# Sourced by ./start and ./check: Node's version, dependencies from the lock file, a current build.
if ! command -v node >/dev/null; then echo "Node.js 20.19 or newer is needed (see .nvmrc)." >&2; exit 1; fi
if ! node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)'; then
  echo "Node.js 20.19 or newer is needed; this is $(node --version)." >&2; exit 1
fi
# One sum over the contents decides, so that a fresh checkout and a changed file are told apart without timestamps.
sum_of() { cat "$@" | sha256sum | cut -d' ' -f1; }
lock_sum=$(sum_of package-lock.json package.json)
if [ "$(cat node_modules/.patient-hook-lock 2>/dev/null)" != "$lock_sum" ]; then
  echo "Installing dependencies from the lock file (the database driver is compiled, which takes about two minutes)…"
  npm ci --no-audit --no-fund --loglevel=error
  echo "$lock_sum" > node_modules/.patient-hook-lock
fi
source_sum=$(find packages -path '*/node_modules' -prune -o -path '*/dist' -prune -o -type f -print0 | sort -z | xargs -0 cat package-lock.json tsconfig.base.json | sha256sum | cut -d' ' -f1)
if [ "$(cat packages/web/dist/.built-from 2>/dev/null)" != "$source_sum" ] || [ ! -f packages/cli/dist/main.js ]; then
  echo "Building…"
  npm run --silent build:node
  npm run --silent build:web
  echo "$source_sum" > packages/web/dist/.built-from
fi
