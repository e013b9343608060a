#!/usr/bin/env bash
# Installs what Grapnel needs from Debian where it is missing, and says so.
# mariadb-server-core brings the server alone: no service is started.
set -euo pipefail

missing=()
command -v mariadbd >/dev/null || [ -x /usr/sbin/mariadbd ] || missing+=(mariadb-server-core)
command -v my_print_defaults >/dev/null || missing+=(mariadb-client-core)
# mariadb-dump, for the backups
command -v mariadb-dump >/dev/null || missing+=(mariadb-client)
command -v chromium-headless-shell >/dev/null || missing+=(chromium-headless-shell)

as_root=()
if [ "$(id -u)" -ne 0 ]; then as_root=(sudo); fi

if [ "${#missing[@]}" -gt 0 ]; then
  echo "== installing ${missing[*]} from Debian"
  "${as_root[@]}" apt-get update -qq
  DEBIAN_FRONTEND=noninteractive "${as_root[@]}" apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
fi

for tool in go node npm; do
  command -v "$tool" >/dev/null || { echo "Grapnel needs $tool: Go 1.26 or later, Node 20 or later"; exit 1; }
done

# As root the database runs under an account of its own.
if [ "$(id -u)" -eq 0 ] && ! id mysql >/dev/null 2>&1; then
  echo "== adding the account the database runs under"
  useradd --system --home-dir /nonexistent --no-create-home --shell /usr/sbin/nologin mysql
fi
