#!/usr/bin/env bash
# The browser tests and screenshots drive Debian's Chromium: its package without a window, which is quicker, or
# the whole of it.
set -euo pipefail
cd "$(dirname "$0")/.."
tried=.stamps/chromium
have() { command -v "$1" >/dev/null; }
as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo -n "$@"; fi; }
have chromium-headless-shell && exit 0
have chromium && [ -e "$tried" ] && exit 0
if have apt-get && as_root true 2>/dev/null; then
  echo "Installing Chromium for the browser tests…"
  as_root apt-get update -qq
  for package in chromium-headless-shell chromium; do
    as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "$package" >/dev/null && break
  done
fi
mkdir -p .stamps && touch "$tried"
have chromium-headless-shell || have chromium || {
  echo "Chromium is missing and may not be installed from here. Run: sudo apt-get install chromium" >&2
  exit 1
}
