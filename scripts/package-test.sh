#!/usr/bin/env bash
# Installs the Debian package in a fresh Debian of its own, upgrades it from the one before, removes
# and purges it, with a shop in it that is worked in between. Wants root, debootstrap, and the
# machine's own way to Debian's packages. What is served in there listens on loopback alone.
set -euo pipefail

[ "$(id -u)" -eq 0 ] || { echo "the package's test wants root"; exit 1; }
command -v debootstrap >/dev/null || DEBIAN_FRONTEND=noninteractive apt-get install -y -qq debootstrap >/dev/null

root=$(mktemp -d /var/tmp/grapnel-package.XXXXXX)
chmod 755 "$root"
server=
done_with() {
  [ -z "$server" ] || kill "$server" 2>/dev/null || true
  wait 2>/dev/null || true
  umount "$root/proc" 2>/dev/null || true
  rm -rf "$root" "$root.before.deb"
}
trap done_with EXIT

say() { echo "== $*"; }
fail() { echo "FAILED: $*"; exit 1; }
inside() { chroot "$root" env -i PATH=/usr/sbin:/usr/bin:/sbin:/bin DEBIAN_FRONTEND=noninteractive HOME=/root LC_ALL=C.UTF-8 "$@"; }

say "packages: this one, and one before it"
before=${GRAPNEL_PACKAGE_BEFORE:-}
if [ -z "$before" ]; then
  GRAPNEL_VERSION=0.0.9 ./scripts/package.sh >/dev/null
  # What is left in dist is this release's alone: the Containerfile takes all that is there.
  before=$root.before.deb
  mv dist/grapnel_0.0.9_*.deb "$before"
fi
./scripts/package.sh >/dev/null
now=$(ls -t dist/grapnel_*.deb | head -1)

say "a fresh Debian"
mirror=$(apt-get indextargets --format '$(REPO_URI)' 'Created-By: Packages' | head -1)
suite=$(. /etc/os-release && echo "$VERSION_CODENAME")
debootstrap --variant=minbase "$suite" "$root" "$mirror" >"$root.log" 2>&1 || { tail -5 "$root.log"; fail debootstrap; }
rm -f "$root.log"
rm -f "$root/etc/apt/sources.list"
cp -r /etc/apt/. "$root/etc/apt/"
mount -t proc proc "$root/proc" 2>/dev/null || true
cp "$before" "$root/root/before.deb"
cp "$now" "$root/root/now.deb"
inside apt-get update -qq

# serves starts what the unit starts, as its account, and waits until it can be worked in.
port=${GRAPNEL_PORT:-18040}
serves() {
  : >"$root/var/log/grapnel.log"
  chroot "$root" runuser -u grapnel -- env -i PATH=/usr/sbin:/usr/bin HOME=/var/lib/grapnel \
    GRAPNEL_DATA=/var/lib/grapnel/shop GRAPNEL_BACKUPS=/var/lib/grapnel/backups \
    /usr/bin/grapnel serve -address "127.0.0.1:$port" -metrics '' >>"$root/var/log/grapnel.log" 2>&1 &
  server=$!
  for _ in $(seq 240); do
    if curl -fsS -o /dev/null "http://127.0.0.1:$port/healthz" 2>/dev/null; then return 0; fi
    kill -0 "$server" 2>/dev/null || { cat "$root/var/log/grapnel.log"; fail "it does not serve"; }
    sleep 0.5
  done
  cat "$root/var/log/grapnel.log"
  fail "it cannot be worked in"
}
stops() {
  pkill -TERM -P "$server" 2>/dev/null || true
  wait "$server" 2>/dev/null || true
  server=
}
asks() { curl -sS -b "$root/jar" -c "$root/jar" -H 'Content-Type: application/json' -H "Origin: http://127.0.0.1:$port" "$@"; }
comes_in() {
  asks -o /dev/null -w '%{http_code}' -d '{"sign_in":"oda","password":"a heron on the quay"}' "http://127.0.0.1:$port/api/sign-in"
}

say "installed"
inside apt-get install -y -qq --no-install-recommends /root/before.deb >/dev/null 2>"$root/var/log/apt.log" || { cat "$root/var/log/apt.log"; fail "it is not installed"; }
[ "$(stat -c '%U %G %a' "$root/var/lib/grapnel" 2>/dev/null)" != "" ] || fail "no folder for the data"
inside stat -c '%U %G %a' /var/lib/grapnel | grep -qx 'grapnel grapnel 750' || fail "the folder for the data is not the account's own"
inside getent passwd grapnel | grep -q nologin || fail "the account can sign in"
inside test -f /usr/share/man/man8/grapnel.8.gz || fail "no manual page"
inside bash -c '. /usr/share/bash-completion/completions/grapnel; COMP_WORDS=(grapnel rest); COMP_CWORD=1; _grapnel; [ "${COMPREPLY[0]}" = restore ]' || fail "the shell completes nothing"
if command -v systemd-analyze >/dev/null; then
  # There is nothing of systemd's own in there that it could be started after.
  said=$(systemd-analyze verify --man=no --root="$root" grapnel.service 2>&1 | grep grapnel | grep -v sysinit.target || true)
  [ -z "$said" ] || fail "the unit: $said"
fi
serves
code=$(grep -o 'code [A-Z2-7]\{8\}' "$root/var/log/grapnel.log" | head -1 | cut -d' ' -f2)
asks -fo /dev/null -d "{\"code\":\"$code\",\"shop_name\":\"Quay\",\"time_zone\":\"UTC\",\"name\":\"Oda Vane\",\"sign_in\":\"oda\",\"password\":\"a heron on the quay\"}" \
  "http://127.0.0.1:$port/api/set-up" || { cat "$root/var/log/grapnel.log"; fail "no shop was set up"; }
stops
echo '# kept by whoever looks after it' >>"$root/etc/grapnel/grapnel.conf"

say "upgraded"
inside apt-get install -y -qq --no-install-recommends -o Dpkg::Options::=--force-confdef /root/now.deb >/dev/null 2>"$root/var/log/apt.log" || { cat "$root/var/log/apt.log"; fail "it is not upgraded"; }
grep -q '# kept by' "$root/etc/grapnel/grapnel.conf" || fail "what was set is lost"
serves
[ "$(comes_in)" = 200 ] || fail "the shop is not there after the upgrade"
stops

say "removed"
inside apt-get remove -y -qq grapnel >/dev/null 2>&1
[ ! -e "$root/usr/bin/grapnel" ] || fail "the program is still there"
[ -d "$root/var/lib/grapnel/shop" ] || fail "the shop went with the program"
[ -f "$root/etc/grapnel/grapnel.conf" ] || fail "what was set went with the program"

say "purged, nobody saying that the data is to go"
inside apt-get purge -y -qq grapnel >/dev/null 2>&1
[ -d "$root/var/lib/grapnel/shop" ] || fail "purged: the shop is gone though nobody said so"
[ ! -e "$root/etc/grapnel" ] || fail "purged: what was set is still there"

say "installed again: the shop is there"
inside apt-get install -y -qq --no-install-recommends /root/now.deb >/dev/null 2>&1
serves
[ "$(comes_in)" = 200 ] || fail "the shop is not there again"
stops

say "purged, and the data with it"
echo 'grapnel grapnel/remove-data boolean true' | inside debconf-set-selections
inside apt-get purge -y -qq grapnel >/dev/null 2>&1
[ ! -e "$root/var/lib/grapnel" ] || fail "purged with its data: it is still there"
! inside getent passwd grapnel >/dev/null || fail "purged with its data: the account is still there"
say "the package is well"
