#!/usr/bin/env bash
# Make .venv and install a pinned list of packages into it.
set -euo pipefail
cd "$(dirname "$0")/.."
list=$1

python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null || {
  echo "Python 3.11 or newer is needed as python3." >&2
  exit 1
}
echo "Python packages of $list into .venv…"
if [ ! -x .venv/bin/pip ]; then
  rm -rf .venv
  if ! python3 -c 'import ensurepip' 2>/dev/null; then
    if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
      apt-get update -qq && apt-get install -y -qq python3-venv
    else
      echo "Python's venv module is missing. Install it first: sudo apt-get install python3-venv" >&2
      exit 1
    fi
  fi
  python3 -m venv .venv
fi
.venv/bin/pip install --quiet --disable-pip-version-check -r "$list"
# The package is used where it stands.
pwd > "$(.venv/bin/python -c 'import sysconfig; print(sysconfig.get_path("purelib"))')/noonshade.pth"
