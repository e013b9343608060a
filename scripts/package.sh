#!/usr/bin/env bash
# Makes the Debian package in dist, from the front end that is built already: the same commit gives
# the same bytes. GRAPNEL_VERSION gives the package another version, for trying upgrades.
set -euo pipefail

export ARCH VERSION SOURCE_DATE_EPOCH
ARCH=$(dpkg --print-architecture)
SOURCE_DATE_EPOCH=${SOURCE_DATE_EPOCH:-$(git log -1 --format=%ct)}
mkdir -p dist

echo "== building the binary"
# Neither where it is built nor when is in it.
CGO_ENABLED=0 go build -trimpath -buildvcs=false -ldflags='-s -w -buildid=' -o dist/grapnel ./cmd/grapnel
VERSION=${GRAPNEL_VERSION:-$(dist/grapnel version | sed 's/^grapnel \([^,]*\),.*/\1/')}
dist/grapnel manual | gzip -9n > dist/grapnel.8.gz
dist/grapnel completion > dist/grapnel.bash
go run ./scripts/sbom -binary dist/grapnel > dist/sbom.json

if [ ! -x bin/nfpm ]; then
  echo "== building the package maker"
  go -C tools/nfpm build -o ../../bin/nfpm github.com/goreleaser/nfpm/v2/cmd/nfpm
fi
bin/nfpm package -f deploy/nfpm.yaml -p deb -t dist/
