#!/usr/bin/env bash
# Reports are set as PDF with Pango. Without it all else works, so a failure here is only said.
set -euo pipefail
packages=(libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0)
have() { ldconfig -p 2>/dev/null | grep -q "$1"; }
have libpangoft2-1.0.so.0 && have libharfbuzz-subset.so.0 && exit 0
if command -v apt-get >/dev/null && [ "$(id -u)" = 0 ]; then
  echo "Installing Pango for reports as PDF…"
  { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "${packages[@]}"; } >/dev/null || true
elif command -v apt-get >/dev/null && sudo -n true 2>/dev/null; then
  { sudo apt-get update -qq && sudo DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "${packages[@]}"; } >/dev/null || true
fi
have libpangoft2-1.0.so.0 || echo "Pango is missing; reports as PDF will not work until: sudo apt-get install ${packages[*]}" >&2
