# Heptad's chores. Two of them do all: `make demo` runs it, `make test` tests it.

SHELL := /bin/bash
ADDR ?= 127.0.0.1:7070
DATA ?= data
LOAD ?= build/load
NPM := npm --prefix web
GO_FILES := $(shell git ls-files --cached --others --exclude-standard '*.go' '*.sql' '*.csv' '*.json' go.mod go.sum 2>/dev/null | grep -v '^web/' | grep -v '^docs/')
PAGE_FILES := $(shell git ls-files --cached --others --exclude-standard 'web' 2>/dev/null | grep -v '^web/build/')

.PHONY: demo dev test test-inside test-program test-page quick soak fuzz build page client bench load shots fmt lint lint-inside lint-program lint-page chromium

demo: build ## Run Heptad with demo data
	bin/heptad demo --addr $(ADDR) --data $(DATA)

dev: page ## Run the demo and the page while they are written: both reload
	ADDR=$(ADDR) DATA=$(DATA) scripts/dev

CHANGED := $(shell git status --porcelain 2>/dev/null | sed 's/^...//; s/.* -> //')
CHANGED_GO := $(filter-out internal/core/%,$(sort $(dir $(filter internal/%.go cmd/%.go,$(CHANGED)))))
CHANGED_PAGE := $(patsubst web/%,%,$(wildcard $(filter web/src/%.ts web/src/%.svelte web/src/%.css,$(CHANGED))))

quick: web/node_modules/.installed ## The core, and what has changed: for while one works
	test -z "$$(gofmt -l cmd internal e2e web/embed.go)"
	go vet ./...
	go test -short ./internal/core/... $(addprefix ./,$(CHANGED_GO))
	$(if $(CHANGED_PAGE),cd web && npx prettier --check $(CHANGED_PAGE) && npx eslint $(filter-out %.css,$(CHANGED_PAGE)) && npm run --silent check && npm run --silent test)

test: test-inside test-page test-program ## Run all tests, the browser's too

test-inside: # needs no page, so that it runs while that is built
	go test ./internal/... -parallel 3 -timeout 25m

test-program: build chromium
	go test ./cmd/... ./e2e -parallel 3 -timeout 25m

test-page: web/node_modules/.installed
	$(NPM) run --silent test

soak: build chromium ## The kill test, the rough day and the random lives of requests, whole
	HEPTAD_KILLS=100 go test ./e2e -run TestKilledAnywhere -count=1 -timeout 30m -v
	HEPTAD_ROUGH=3m go test ./e2e -run TestARoughDay -count=1 -timeout 10m -v
	go test ./internal/core/request -run TestRandomLives -count=1 -timeout 30m -v -args -lives 50000

fuzz: ## Every fuzz target for a minute each
	for dir in $$(grep -rl "^func Fuzz" internal --include=*_test.go | xargs -n1 dirname | sort -u); do \
	  for target in $$(grep -ho "^func Fuzz[A-Za-z]*" $$dir/*_test.go | cut -c6-); do \
	    echo "$$dir $$target"; go test ./$$dir -run "^$$" -fuzz "^$$target$$" -fuzztime 60s -parallel 2 || exit 1; \
	  done; \
	done

build: bin/heptad

bin/heptad: $(GO_FILES) web/build/index.html
	go build -o bin/heptad ./cmd/heptad

page: web/build/index.html

web/node_modules/.installed: web/package-lock.json
	$(NPM) ci --no-fund --no-audit
	touch $@

web/build/index.html: web/node_modules/.installed $(PAGE_FILES)
	$(NPM) run build

client: web/node_modules/.installed ## Describe the API and make the page's client anew
	go run ./cmd/heptad openapi > docs/openapi.json
	go run ./cmd/heptad schema > schema/offering-1.json
	go run ./cmd/heptad schema calendar > schema/calendar-1.json
	go run ./cmd/heptad schema rehearsal > schema/rehearsal-1.json
	go run ./cmd/heptad schema rehearsed > schema/rehearsed-1.json
	$(NPM) run client

chromium:
	@command -v chromium-headless-shell >/dev/null || command -v chromium >/dev/null || { \
	  if [ "$$(id -u)" = 0 ] && command -v apt-get >/dev/null; then \
	    apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium-headless-shell; \
	  else \
	    echo "The browser tests need Chromium: install Debian's package 'chromium-headless-shell'." >&2; exit 1; \
	  fi; }

bench: build ## Measure against bare SQLite in the same run
	go test ./internal/... -run "^$$" -bench . -benchtime 1s | grep -v "no test files\|^ok\|^PASS"
	go run ./cmd/load read --data $(LOAD) --requests 1000,10000
	go run ./cmd/load write --data $(LOAD) --requests 1000,10000
	go run ./cmd/load listen --data $(LOAD) --requests 10000
	HEPTAD_BENCH=1 go test ./e2e -run "TestTheFirstLoadIsLight|TestAnAnswerShowsAtOnce|TestMemoryWithManyRequests|TestMeasure|TestTheLargestOffering|TestADeskIsThereSoon" -count=1 -v | grep "first load\|answer shown\|memory with\|measured shown\|painted:"

load: page ## Make installations of 10,000 to a million requests (10 GB, two hours) and measure them beside a floor
	go run ./cmd/load read --data $(LOAD)
	go run ./cmd/load write --data $(LOAD)
	go run ./cmd/load listen --data $(LOAD)

shots: build chromium ## Take the screenshots of docs/screenshots anew
	HEPTAD_SHOTS=$(CURDIR)/docs/screenshots go test ./e2e -run TestScreenshots -count=1 -timeout 5m

fmt: web/node_modules/.installed ## Format everything
	gofmt -w cmd internal e2e web/embed.go
	$(NPM) run format

lint: lint-inside lint-program lint-page ## Look for mistakes

lint-inside: # needs no page, so that it runs while that is built
	test -z "$$(gofmt -l cmd internal e2e web/embed.go)"
	go vet ./internal/...
	go tool staticcheck ./internal/...

lint-program: web/build/index.html lint-inside
	go vet ./cmd/... ./e2e ./web
	go tool staticcheck ./cmd/... ./e2e ./web
	go run ./cmd/heptad openapi | diff -q docs/openapi.json - >/dev/null || { echo "The API has changed: run 'make client'." >&2; exit 1; }

lint-page: web/build/index.html
	$(NPM) run lint
	$(NPM) run baseline
	$(NPM) run check
