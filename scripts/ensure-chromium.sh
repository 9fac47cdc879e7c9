#!/usr/bin/env bash
# The browser tests and screenshots drive Debian's Chromium.
set -euo pipefail
command -v chromium >/dev/null && exit 0
if command -v apt-get >/dev/null && [ "$(id -u)" = 0 ]; then
  echo "Installing Chromium for the browser tests…"
  apt-get update -qq
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium >/dev/null
elif command -v apt-get >/dev/null && sudo -n true 2>/dev/null; then
  sudo apt-get update -qq
  sudo DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium >/dev/null
fi
command -v chromium >/dev/null || {
  echo "Chromium is missing and may not be installed from here. Run: sudo apt-get install chromium" >&2
  exit 1
}
