# Installs what is missing; quick when nothing is. Sourced by ./start, ./test, ./shots and ./bench.

APP_PACKAGES="postgresql redis-server nginx-light libegl1 libgl1 libfontconfig1 fonts-noto-color-emoji fonts-noto-cjk fonts-dejavu-core"
TEST_PACKAGES="chromium chromium-driver"

as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }

need_packages() {
  local missing=()
  for name in "$@"; do
    dpkg-query -W -f='${Status}' "$name" 2>/dev/null | grep -q "install ok installed" || missing+=("$name")
  done
  [ ${#missing[@]} = 0 ] && return
  echo "Installing ${missing[*]} …"
  # The servers are started by this program, on its own ports: none may start by itself on installation.
  local policy=/usr/sbin/policy-rc.d made=no
  if [ ! -e $policy ]; then printf '#!/bin/sh\nexit 101\n' | as_root tee $policy >/dev/null; as_root chmod +x $policy; made=yes; fi
  as_root apt-get update -qq
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
  if [ $made = yes ]; then as_root rm -f $policy; fi
}

need_python() {
  # $1: a lock file. Installs it into .venv when it changed since the last time.
  local stamp=".venv/.$(basename "$1").sum" sum
  sum=$(cat "$1" pyproject.toml | sha256sum)
  if [ ! -x .venv/bin/python ]; then
    python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Python 3.11 or newer is needed."; exit 1; }
    python3 -c 'import ensurepip, venv' 2>/dev/null || need_packages python3-venv
    python3 -m venv .venv
  fi
  [ "$(cat "$stamp" 2>/dev/null)" = "$sum" ] && return
  echo "Installing Python packages …"
  .venv/bin/pip install -q --disable-pip-version-check -r "$1" 2> >(grep -v "^WARNING" >&2)
  .venv/bin/pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e . 2> >(grep -v "^WARNING" >&2)
  echo "$sum" > "$stamp"
}

need_node() {
  # What checks styles, scripts and templates. Only ./test uses it; the program itself needs none of it.
  local stamp="node_modules/.sum" sum
  command -v npm >/dev/null || need_packages nodejs npm
  sum=$(sha256sum package-lock.json)
  [ "$(cat "$stamp" 2>/dev/null)" = "$sum" ] && return
  echo "Installing the checkers of styles and scripts …"
  npm ci --silent --no-progress
  echo "$sum" > "$stamp"
}
