# Installs what is missing, and only that: sourced by ./run and ./test, from the project's folder.

# Compiled modules are kept, also where the environment says otherwise: every start would compile them anew, a second or more each.
export PYTHONDONTWRITEBYTECODE=

fail() {
  echo "Nimble Quote can't start: $1" >&2
  exit 1
}

# Debian packages, each as "program:package" or "file:package"; asks for root only where one is missing.
need_packages() {
  local missing=() pair
  for pair in "$@"; do
    [ -e "${pair%%:*}" ] || command -v "${pair%%:*}" >/dev/null 2>&1 || compgen -G "/usr/lib/postgresql/*/bin/${pair%%:*}" >/dev/null || missing+=("${pair##*:}")
  done
  [ ${#missing[@]} -eq 0 ] && return
  local root=()
  if [ "$(id -u)" -ne 0 ]; then
    command -v sudo >/dev/null 2>&1 || fail "${missing[*]} must be installed, which needs root: run it as root once, or: apt-get install ${missing[*]}"
    root=(sudo)
  fi
  command -v apt-get >/dev/null 2>&1 || fail "${missing[*]} must be installed, and this is no Debian system."
  echo "Installing ${missing[*]} …"
  "${root[@]}" apt-get update -qq || fail "the package lists could not be read: is there a network?"
  # The server is started by us on a port of its own, not by the package.
  DEBIAN_FRONTEND=noninteractive "${root[@]}" apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null ||
    fail "${missing[*]} could not be installed: see above."
}

# The Python environment; "$1" is "" to run, "test" to test as well.
need_python() {
  local sum
  sum=$(cat pyproject.toml constraints.txt | sha256sum)
  [ "$(cat .venv/.made-test 2>/dev/null)" = "$sum" ] && return
  [ -z "$1" ] && [ "$(cat .venv/.made-run 2>/dev/null)" = "$sum" ] && return
  command -v python3.11 >/dev/null 2>&1 || fail "Python 3.11 is not installed."
  python3.11 -c 'import ensurepip, venv' 2>/dev/null || need_packages "python3.11-venv-is-missing:python3.11-venv"
  echo "Installing the Python packages …"
  [ -x .venv/bin/python ] || python3.11 -m venv .venv
  .venv/bin/pip install -q --disable-pip-version-check -c constraints.txt -e ".[recogniser,meaning${1:+,$1}]" 2>&1 | { grep -v '^WARNING: Location' || true; }
  [ "${PIPESTATUS[0]}" -eq 0 ] || fail "the Python packages could not be installed: see above."
  echo "$sum" >".venv/.made-${1:-run}"
}

# What the build of the front end is made from: its own files, and those of the package, any of which its types may come from.
web_sum() {
  { find web/src web/static -type f ! -path '*/api/schema.d.ts' ! -path '*/api/openapi.json' -print0
    find nimble_quote -name '*.py' ! -path '*/generator/*' -print0
    printf '%s\0' web/*.ts web/*.js web/package-lock.json; } | sort -z | xargs -0 sha256sum | sha256sum
}

# The packages and the build of the front end. Its API types are made from the server's own description.
need_web() {
  local sum
  command -v node >/dev/null 2>&1 || fail "Node.js is not installed."
  [ "$(node -p 'process.versions.node.split(".")[0]')" -ge 20 ] || fail "Node.js 20 is needed, not $(node --version)."
  sum=$(sha256sum web/package-lock.json)
  if [ "$(cat web/node_modules/.made 2>/dev/null)" != "$sum" ]; then
    echo "Installing the front end's packages …"
    (cd web && npm ci --silent --no-audit --no-fund --ignore-scripts) || fail "the front end's packages could not be installed: see above."
    echo "$sum" >web/node_modules/.made
  fi
  # Faces for every script, from the packages.
  .venv/bin/python -m nimble_quote.lettering.shipped web/node_modules web/static/fonts || fail "the faces could not be made ready: see above."
  sum=$(web_sum)
  [ "$(cat web/build/.made 2>/dev/null)" = "$sum" ] && return
  echo "Building the front end …"
  .venv/bin/nimble-quote openapi >web/src/api/openapi.json || fail "the API could not be described: see above."
  (cd web && npm run --silent types >/dev/null && npm run --silent build >/dev/null 2>build.log) || { cat web/build.log >&2; fail "the front end could not be built: see above."; }
  rm -f web/build.log
  echo "$sum" >web/build/.made
}
