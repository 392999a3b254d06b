#!/usr/bin/env bash
# Installs what a bare Debian lacks: python's venv always, with no argument also what the browser tests need.
set -euo pipefail
missing=()
python3 -c 'import ensurepip' 2>/dev/null || missing+=(python3-venv)
if [ "${1:-}" != venv ]; then
  command -v chromium >/dev/null || missing+=(chromium)
  ldconfig -p | grep libatomic.so.1 >/dev/null || missing+=(libatomic1)
fi
command -v node >/dev/null || { echo "Barodex needs Node 20 or later: install it first." >&2; exit 1; }
[ ${#missing[@]} -eq 0 ] && exit 0
if [ "$(id -u)" -eq 0 ]; then as_root=(); elif command -v sudo >/dev/null; then as_root=(sudo); else
  echo "Please install as root: apt-get install ${missing[*]}" >&2; exit 1
fi
echo "Installing ${missing[*]} from Debian"
"${as_root[@]}" apt-get update -qq
DEBIAN_FRONTEND=noninteractive "${as_root[@]}" apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
