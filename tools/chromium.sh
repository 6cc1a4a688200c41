#!/bin/sh
# The browser of the tests: Chromium from Debian's packages.
set -e
if [ ! -x /usr/bin/chromium ]; then
  sudo=""
  [ "$(id -u)" = 0 ] || sudo=sudo
  $sudo apt-get update -qq
  $sudo apt-get install -y -qq --no-install-recommends chromium >/dev/null
fi
