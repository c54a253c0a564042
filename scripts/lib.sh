# What axtren-up and axtren-test share. Sourced from the project's folder.

go_least=1.26
node_least=20.19

say() { printf '%s\n' "$*"; }
step() { say "[$1/$steps] $2"; }
fail() { say "axtren: $*" >&2; exit 1; }

# older A B: version A is older than B.
older() { [ "$1" != "$2" ] && [ "$(printf '%s\n%s\n' "$1" "$2" | sort -V | head -n 1)" = "$1" ]; }

need_go() {
  command -v go >/dev/null || PATH=$PATH:/usr/local/go/bin
  command -v go >/dev/null || fail "Go is missing; install Go $go_least or newer and put it on the PATH"
  local version
  version=$(GOTOOLCHAIN=local go env GOVERSION) && version=${version#go}
  older "$version" "$go_least" && fail "Go $version is too old; install Go $go_least or newer"
  export GOTOOLCHAIN=local
}

need_node() {
  command -v node >/dev/null || fail "Node is missing; install Node $node_least or newer with npm"
  command -v npm >/dev/null || fail "npm is missing; install it beside Node"
  local version
  version=$(node --version) && version=${version#v}
  older "$version" "$node_least" && fail "Node $version is too old; install Node $node_least or newer"
  return 0
}

# as_root COMMAND...: runs it as root, by sudo where we are not.
as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"; return; fi
  command -v sudo >/dev/null || fail "this needs root or sudo: $*"
  sudo "$@"
}

apt_updated=
# install PACKAGE...: installs Debian packages that are missing.
install() {
  local missing=()
  for package in "$@"; do
    dpkg-query -W -f '${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} = 0 ] && return
  command -v apt-get >/dev/null || fail "missing: ${missing[*]}; this is no Debian, so install them by hand"
  say "      installing ${missing[*]} (a minute or so)"
  if [ -z "$apt_updated" ]; then
    as_root apt-get update -qq >/dev/null || fail "apt-get update failed; is the network there?"
    apt_updated=yes
  fi
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "${missing[@]}" >/dev/null ||
    fail "apt-get cannot install ${missing[*]}; its own words are above"
}

need_postgresql() {
  if [ -z "$(ls -d /usr/lib/postgresql/*/bin/initdb 2>/dev/null)" ] || { [ "$(id -u)" = 0 ] && ! id postgres >/dev/null 2>&1; }; then
    # Debian would start a cluster of its own; ours is private.
    as_root mkdir -p /etc/postgresql-common/createcluster.d
    echo 'create_main_cluster = false' | as_root tee /etc/postgresql-common/createcluster.d/axtren.conf >/dev/null
    install postgresql
  fi
}

need_chromium() {
  [ -x /usr/bin/chromium ] || install chromium
  [ -x /usr/bin/chromium ] || fail "chromium cannot be had; install Debian's package chromium"
}

# pdftotext reads our paper back.
need_poppler() {
  command -v pdftotext >/dev/null || install poppler-utils
  command -v pdftotext >/dev/null || fail "pdftotext cannot be had; install Debian's package poppler-utils"
}

# cbc solves whole problems of the plan another way.
need_cbc() {
  command -v cbc >/dev/null || install coinor-cbc
  command -v cbc >/dev/null || fail "cbc cannot be had; install Debian's package coinor-cbc"
}

# spin checks what the search for claims says another way.
need_spin() {
  command -v spin >/dev/null || install spin
  command -v spin >/dev/null || fail "spin cannot be had; install Debian's package spin"
}

# The race detector is linked by the C compiler.
need_gcc() {
  command -v gcc >/dev/null || install gcc libc6-dev
  command -v gcc >/dev/null || fail "gcc cannot be had; install Debian's packages gcc and libc6-dev"
}

fetch_modules() { go mod download || fail "the Go modules cannot be had; is the network there?"; }

# Packages are fetched anew only where package-lock.json has changed.
fetch_packages() {
  local have=ui/node_modules/.axtren-lock
  cmp -s ui/package-lock.json "$have" && return
  (cd ui && npm ci --no-audit --no-fund --no-update-notifier --loglevel=error) || fail "the Node packages cannot be had; is the network there?"
  cp ui/package-lock.json "$have"
}

# The pages are built anew only where their sources have changed.
build_pages() {
  local stamp=app/web/dist/.sources now
  now=$(find ui -path ui/node_modules -prune -o -type f -print0 | LC_ALL=C sort -z | xargs -0 sha256sum | sha256sum)
  [ -f app/web/dist/index.html ] && [ "$(cat "$stamp" 2>/dev/null)" = "$now" ] && return
  rm -rf app/web/dist/assets app/web/dist/index.html
  (cd ui && npm run --silent build -- --logLevel warn) || fail "the pages do not build"
  echo "$now" >"$stamp"
}

build_program() { go build -o bin/axtren ./cmd/axtren || fail "the program does not build"; }
