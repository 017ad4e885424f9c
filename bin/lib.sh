# Shared by the commands in bin/: set up what is missing, say what is done, stop with a clear message.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
ROOT=$PWD
PY=$ROOT/.venv/bin/python
export OPENBLAS_NUM_THREADS=1
# Compiled once, not at every start of a process: a start takes half as long.
unset PYTHONDONTWRITEBYTECODE
export PYTHONPYCACHEPREFIX="$ROOT/.stamps/pycache"

say() { printf '== %s\n' "$*"; }
die() { printf '\n!! %s\n' "$*" >&2; exit 1; }
# Runs quietly; shows the output only when it fails.
quietly() {
  local log; log=$(mktemp)
  if ! "$@" >"$log" 2>&1; then tail -n 40 "$log" >&2; rm -f "$log"; return 1; fi
  rm -f "$log"
}

need_tools() {
  command -v python3 >/dev/null || die "python3 is needed (3.11 or newer)."
  python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' || die "Python 3.11 or newer is needed; this is $(python3 --version)."
  command -v node >/dev/null || die "node is needed (20.19 or newer)."
  command -v npm >/dev/null || die "npm is needed."
}

# need_python run|dev
need_python() {
  local lock=requirements/$1.txt stamp=.stamps/python want
  want=$(cat requirements/run.txt "$lock" | sha256sum | cut -c1-16)-$(python3 -c 'import sys; print(sys.version)' | sha256sum | cut -c1-8)
  mkdir -p .stamps
  if [ -x "$PY" ] && [ -f "$stamp" ]; then
    grep -qx "dev $want" "$stamp" && return
    grep -qx "$1 $want" "$stamp" && return
    # The larger set holds the smaller one.
    [ "$1" = run ] && grep -qx "dev $(cat requirements/run.txt requirements/dev.txt | sha256sum | cut -c1-16)-${want#*-}" "$stamp" && return
  fi
  say "Python packages ($1): about a minute the first time"
  if [ ! -x "$PY" ]; then
    quietly python3 -m venv .venv || { quietly apt-get install -y --no-install-recommends python3-venv && quietly python3 -m venv .venv; } ||
      die "A virtual environment could not be made. On Debian: apt-get install python3-venv"
  fi
  # One small package of the development set comes as source only.
  quietly "$PY" -m pip install --isolated --disable-pip-version-check -q --require-hashes --only-binary :all: --no-binary autograd-gamma -r "$lock" ||
    die "The Python packages could not be installed; the lines above say why."
  echo "$1 $want" >"$stamp"
}

need_node_modules() {
  local want; want=$(sha256sum ui/package-lock.json | cut -c1-16)
  mkdir -p .stamps
  [ -d ui/node_modules ] && [ "$(cat .stamps/node 2>/dev/null)" = "$want" ] && return
  say "Front-end packages: about twenty seconds the first time"
  quietly npm --prefix ui ci --no-audit --no-fund || die "The front-end packages could not be installed; the lines above say why."
  echo "$want" >.stamps/node
}

need_front_end() {
  local want
  want=$(find ui -path ui/node_modules -prune -o -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -c1-16)
  [ -f roundstone/web/static/index.html ] && [ "$(cat .stamps/front 2>/dev/null)" = "$want" ] && return
  need_node_modules
  say "Building the front end"
  quietly npm --prefix ui run -s build || die "The front end could not be built; the lines above say why."
  echo "$want" >.stamps/front
}

need_chromium() {
  [ -x /usr/bin/chromium-headless-shell ] || [ -x /usr/bin/chromium ] && return
  say "Chromium for the browser tests (Debian's package)"
  [ "$(id -u)" = 0 ] || die "Chromium is missing. Install it as root: apt-get install chromium"
  quietly apt-get update || die "Chromium could not be installed; the lines above say why."
  # Beside it the one without a window, where this Debian has it.
  quietly apt-get install -y --no-install-recommends chromium chromium-headless-shell ||
    quietly apt-get install -y --no-install-recommends chromium ||
    die "Chromium could not be installed; the lines above say why."
}
