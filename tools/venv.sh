#!/usr/bin/env bash
# Makes .venv with the given Python and the pinned packages, and Noggin itself in place.
set -euo pipefail
python=$1 pins=$2
if ! command -v "$python" >/dev/null; then
  for other in python3 python; do
    if command -v "$other" >/dev/null && "$other" -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11))'; then
      python=$other
      break
    fi
  done
fi
if ! command -v "$python" >/dev/null; then
  echo "Noggin needs Python 3.11 (on Debian: apt-get install python3.11 python3.11-venv)." >&2
  exit 1
fi
if ! "$python" -c 'import ensurepip, venv' 2>/dev/null; then
  echo "This Python cannot make virtual environments (on Debian: apt-get install python3.11-venv)." >&2
  exit 1
fi
[ -x .venv/bin/python ] || "$python" -m venv .venv
.venv/bin/python -m pip install --quiet --disable-pip-version-check -r "$pins"
.venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps --editable .
