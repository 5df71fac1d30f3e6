#!/usr/bin/env bash
# Makes sure that Debian's Chromium is there for the browser tests; no tool downloads its own.
set -euo pipefail
[ -x /usr/bin/chromium ] && exit 0
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
  echo "Installing Chromium with apt-get …"
  apt-get update -qq
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium >/dev/null
  [ -x /usr/bin/chromium ] && exit 0
fi
echo "The browser tests need /usr/bin/chromium. On Debian, as root: apt-get install chromium" >&2
exit 1
