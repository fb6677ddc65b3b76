#!/usr/bin/env bash
# Installs what is missing of: postgresql chromium columnar, the columnar engine (from Debian's packages).
set -euo pipefail
missing=()
for need in "$@"; do
  case "$need" in
    postgresql) compgen -G '/usr/lib/postgresql/*/bin/pg_ctl' >/dev/null || missing+=(postgresql) ;;
    columnar) command -v clickhouse-server >/dev/null || missing+=(clickhouse-server) ;;
    chromium) command -v chromium >/dev/null || missing+=(chromium) ;;
  esac
done
[ ${#missing[@]} -eq 0 ] && exit 0
echo "Installing ${missing[*]} from Debian's packages …"
as_root=()
[ "$(id -u)" -eq 0 ] || as_root=(sudo)
"${as_root[@]}" apt-get update -qq
"${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
