#!/usr/bin/env bash
# Installs what is missing (apt and npm only) and builds what is out of date. usage: prepare.sh core|run|test
# Two may run at once: one waits for the other.
set -euo pipefail
root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$root"
level=$1

need_node() {
  # By exit status: what node prints depends on colour settings.
  command -v node >/dev/null && node -e 'process.exit(Number(process.versions.node.split(".")[0]) >= 20 ? 0 : 1)' && return
  echo "zaddle: Node.js 20 or newer is needed." >&2
  exit 1
}

# Debian packages that this level needs and this machine lacks.
missing_packages() {
  [ "$level" = core ] && return
  command -v dcraw_emu >/dev/null || echo libraw-bin
  command -v heif-convert >/dev/null || echo libheif-examples
  ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 || echo postgresql
  if [ "$level" = test ]; then
    command -v chromium >/dev/null || echo chromium
    command -v ip >/dev/null || [ -x /usr/sbin/ip ] || echo iproute2
    [ -d /usr/share/fonts/truetype/liberation ] || echo fonts-liberation
  fi
}

install_packages() {
  local missing
  missing=$(missing_packages)
  [ -z "$missing" ] && return
  if [ "$(id -u)" != 0 ]; then
    echo "zaddle: please install these Debian packages first: sudo apt-get install" $missing >&2
    exit 1
  fi
  mkdir -p /etc/postgresql-common
  # We run a cluster of our own; Debian's default one would only take the port.
  grep -qs create_main_cluster /etc/postgresql-common/createcluster.conf || echo 'create_main_cluster = false' >> /etc/postgresql-common/createcluster.conf
  apt-get -o DPkg::Lock::Timeout=300 update -qq >&2
  # shellcheck disable=SC2086
  DEBIAN_FRONTEND=noninteractive apt-get -o DPkg::Lock::Timeout=300 install -y -qq --no-install-recommends $missing >&2 9>&-
}

# Whether any of the sources is newer than the product.
stale() {
  local product=$1
  shift
  [ ! -e "$product" ] || [ -n "$(find "$@" -newer "$product" -type f -print -quit)" ]
}

need_node
exec 9>"$root/.prepare.lock"
flock 9
install_packages
if stale node_modules/.installed package-lock.json; then
  npm ci --no-audit --no-fund --loglevel=error >&2 9>&-
  touch node_modules/.installed
fi
stale kernels/build/rays.wasm kernels/assembly kernels/package.json && npm run --silent build:kernels >&2 9>&-
if [ "$level" != core ]; then
  stale web/dist/index.html web/src web/index.html web/vite.config.ts core/src document/src kernels/build/kernels.wasm && npm run --silent build:web >&2 9>&-
fi
exit 0
