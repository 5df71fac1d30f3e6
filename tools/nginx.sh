#!/usr/bin/env bash
# Puts Debian's nginx there, where it may, for the test of the proxy that docs/network.md describes; without it
# that one test is skipped.
set -euo pipefail
[ -x /usr/sbin/nginx ] && exit 0
[ "$(id -u)" = 0 ] && command -v apt-get >/dev/null || exit 0
echo "Installing nginx with apt-get …"
apt-get update -qq || exit 0
# Started by nobody: the test starts its own.
printf '#!/bin/sh\nexit 101\n' > /tmp/noggin-policy && chmod +x /tmp/noggin-policy
kept=""
if [ ! -e /usr/sbin/policy-rc.d ]; then cp /tmp/noggin-policy /usr/sbin/policy-rc.d; kept=ours; fi
DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends nginx-light openssl >/dev/null 2>&1 || true
if [ "$kept" = ours ]; then rm -f /usr/sbin/policy-rc.d; fi
exit 0
