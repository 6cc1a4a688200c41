#!/bin/sh
# The page is built with Node 20.19 or newer.
if command -v node >/dev/null && node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)'; then
  exit 0
fi
echo "Node 20.19 or newer is needed to build the page; install it and run make again." >&2
exit 1
