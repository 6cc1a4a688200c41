#!/bin/sh
# Makes the virtual environment with a Python of 3.11 or newer; Debian's own Python brings venv as a package of its own.
set -e
for python in python3.11 python3.12 python3.13 python3; do
  if command -v "$python" >/dev/null && "$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))'; then
    "$python" -m venv .venv 2>/dev/null || { apt-get update -qq && apt-get install -y -qq --no-install-recommends python3-venv && "$python" -m venv .venv; }
    exit 0
  fi
done
echo "Python 3.11 or newer is needed." >&2
exit 1
