# Shared by scripts/demo and scripts/test: install what is missing, build. Sourced, not run.
set -euo pipefail
project=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$project"
export LC_ALL=C.UTF-8

say() { printf '== %s\n' "$*"; }

# Installs the packages of scripts/packages.txt that are not there yet; those after "# test" only if told "with tests".
install_packages() {
  local last='/^# test/q'
  [ "${1:-}" = "with tests" ] && last=
  local missing=() package
  while read -r package; do
    dpkg-query -W -f='${db:Status-Status}' "$package" 2>/dev/null | grep -qx installed || missing+=("$package")
  done < <(sed "$last" scripts/packages.txt | grep -v '^#')
  # Any Node.js will do, a packaged one or not.
  command -v npm >/dev/null || missing+=(nodejs npm)
  if [ ${#missing[@]} -eq 0 ]; then
    say "packages: all installed"
    return
  fi
  local as_root=()
  if [ "$(id -u)" -ne 0 ]; then
    command -v sudo >/dev/null || { say "packages missing: ${missing[*]}; run this as root, or install sudo"; exit 3; }
    as_root=(sudo)
  fi
  say "packages: installing ${missing[*]}"
  "${as_root[@]}" apt-get update -qq
  "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
}

# Installs what package-lock.json names, unless it is there already.
install_npm_packages() {
  if cmp -s package-lock.json node_modules/.stasis-lock; then
    say "npm packages: all installed"
    return
  fi
  say "npm packages: installing"
  npm ci --ignore-scripts --no-audit --no-fund --loglevel=error >/dev/null
  cp package-lock.json node_modules/.stasis-lock
}

# build PRESET TARGET...
build() {
  local preset=$1
  shift
  say "building (${preset}; the first time takes a few minutes)"
  cmake --preset "$preset" >/dev/null
  cmake --build --preset "$preset" --target "$@" -- --quiet
}
