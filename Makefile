# Grapnel. `make demo` shows it, `make test` proves it; both install what is
# missing on a fresh Debian machine and are quick the second time.

SHELL := /bin/bash
.SHELLFLAGS := -eu -o pipefail -c
.DEFAULT_GOAL := help

BIN := bin/grapnel
DIST := app/web/dist/index.html
DEVICE := web/device/core.wasm
DEVICE_SOURCES := $(shell find core app/record app/device cmd/grapnel-device cmd/grapnel-rules -name '*.go' -not -name '*_test.go' 2>/dev/null) go.mod go.sum
WEB_SOURCES := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts web/package-lock.json
GO_SOURCES := $(shell find core app cmd -name '*.go' -o -name '*.sql' 2>/dev/null) go.mod go.sum

## build: the one binary, with the front end in it
.PHONY: build
build: $(BIN)

$(BIN): $(GO_SOURCES) $(DIST)
	@echo "== building $(BIN)"
	go build -o $@ ./cmd/grapnel

# The core for the browser is served packed; the file it is packed from is not shipped.
$(DIST): web/node_modules/.installed $(WEB_SOURCES) $(DEVICE)
	@echo "== building the front end"
	cd web && npm run --silent build
	gzip -9n app/web/dist/assets/*.wasm

# Inlined calls are kept where the time goes, the weighing of causes; everywhere else they
# would only make the file larger that a phone has to fetch.
SMALL := $(foreach p,std grapnel/app/... grapnel/core/bench grapnel/core/reading grapnel/core/trail grapnel/core/evidence grapnel/core/drawing grapnel/core/field grapnel/core/wording grapnel/core/safety grapnel/core/school grapnel/core/battery grapnel/core/problem,-gcflags=$(p)=-l)

$(DEVICE): $(DEVICE_SOURCES)
	@echo "== building the core for the browser"
	@mkdir -p $(@D)
	rules=$$(go run ./cmd/grapnel-rules) && GOOS=js GOARCH=wasm go build $(SMALL) -trimpath -buildvcs=false -ldflags="-s -w -X main.rules=$$rules" -o $@ ./cmd/grapnel-device
	cp "$$(go env GOROOT)/lib/wasm/wasm_exec.js" $(@D)/

web/node_modules/.installed: web/package-lock.json
	@echo "== installing the front end's packages"
	cd web && npm ci --no-audit --no-fund
	@touch $@

## system: install MariaDB and Chromium where they are missing
.PHONY: system
system:
	@./scripts/system.sh

## demo: show an invented workshop (FRESH=1 starts it anew)
.PHONY: demo
demo: system build
	$(BIN) demo $(if $(FRESH),-fresh)

## serve: serve your own workshop
.PHONY: serve
serve: system build
	$(BIN) serve

## test: everything, the browser included; ends with one line of totals
.PHONY: test
test: system build
	@./scripts/test.sh

## lint: go vet, staticcheck, gofmt, tsc, eslint, prettier
.PHONY: lint
lint: web/node_modules/.installed
	@$(MAKE) --no-print-directory -j 2 lint-go lint-web

.PHONY: lint-go lint-web
lint-go:
	go vet ./...
	go tool staticcheck ./...
	@unformatted=$$(gofmt -l app cmd core e2e); if [ -n "$$unformatted" ]; then echo "gofmt: $$unformatted"; exit 1; fi

lint-web: web/node_modules/.installed
	cd web && npm run --silent types && npm run --silent lint

## race: the tests of what serves under Go's race detector (wants a C compiler; some minutes)
.PHONY: race
race: system build
	CGO_ENABLED=1 go test -race -p 2 -skip 'TestKilledUpgrades' ./app/... ./cmd/...

## bench: how fast it is
.PHONY: bench
bench: system build
	go test -p 1 -run '^$$' -bench . -benchmem ./core/... ./app/... ./e2e/...

## screenshots: refresh docs/screenshots from the demo workshop
.PHONY: screenshots
screenshots: system build
	go run ./e2e/screenshots

## api: regenerate the API's description and the front end's types
.PHONY: api
api: web/node_modules/.installed
	go run ./app/web/openapi > web/src/api/gen/openapi.json
	cd web && npm run --silent api

## formats: make docs/formats anew from the Go types
.PHONY: formats
formats:
	go run ./app/formats/write docs/formats

## reading-line: regenerate docs/reading-line.md from the parser's tables
.PHONY: reading-line
reading-line:
	go run ./cmd/grapnel reading-line > docs/reading-line.md

## package: the Debian package, in dist
.PHONY: package
package: build
	@./scripts/package.sh

## gate: what takes longer than a test run may: kills, the way back, a soak and more (two hours)
.PHONY: gate
gate: system build
	@./scripts/gate.sh

## study: measure whether the verdict holds, and write docs/study.md
.PHONY: study
study: build
	$(BIN) study -cases 10000 -seed 1 -page docs

## queries: regenerate the database queries (builds sqlc: some minutes)
.PHONY: queries
queries:
	go -C tools/sqlc build -o ../../bin/sqlc github.com/sqlc-dev/sqlc/cmd/sqlc
	bin/sqlc generate -f app/store/sqlc.yaml

## dev: the Go server and Vite with reload, at http://localhost:5173
.PHONY: dev
dev: system build
	@trap 'kill 0' EXIT; $(BIN) demo & cd web && npm run --silent dev

## help: these targets
.PHONY: help
help:
	@sed -n 's/^## /  make /p' Makefile
