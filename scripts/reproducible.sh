#!/usr/bin/env bash
# Builds the package twice, from two clones in folders of their own, and compares every byte.
set -euo pipefail

one=$(mktemp -d) two=$(mktemp -d /var/tmp/a-longer-name.XXXXXX)
trap 'rm -rf "$one" "$two"' EXIT
for place in "$one" "$two"; do
  git clone -q . "$place/grapnel"
  mkdir -p "$place/grapnel/bin"
  # The package maker is no part of what is compared, and takes a minute to build.
  [ ! -x bin/nfpm ] || cp bin/nfpm "$place/grapnel/bin/"
  make -s -C "$place/grapnel" package >/dev/null
done
cmp "$one"/grapnel/dist/grapnel "$two"/grapnel/dist/grapnel
cmp "$one"/grapnel/dist/grapnel_*.deb "$two"/grapnel/dist/grapnel_*.deb
sha256sum "$one"/grapnel/dist/grapnel_*.deb | cut -d' ' -f1
echo "two builds, the same bytes"
