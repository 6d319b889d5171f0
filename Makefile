# Two targets do everything on a fresh machine with Go, a C compiler, Node and
# make: demo and test.

DATA ?= data/demo
WEB := $(shell find web/src web/public -type f -not -name '*.d.ts') web/index.html web/vite.config.ts web/package-lock.json
GO := $(shell find cmd core internal web -name '*.go' -not -path '*/node_modules/*') $(shell find core internal -name '*.sql' -o -name '*.ttf' -o -name '*.icc') go.mod go.sum

.PHONY: demo demo-reset build test vetted tested-rooms proof bench lint clean

demo: build
	./bin/dorvet demo --data $(DATA)

demo-reset:
	rm -rf $(DATA)

build: bin/dorvet

bin/dorvet: web/dist/index.html $(GO)
	go build -o $@ ./cmd/dorvet

web/dist/index.html: web/node_modules/.installed web/src/api/schema.d.ts $(WEB)
	cd web && npm run --silent build

# The types of the pages come from the contract that the server prints.
web/src/api/schema.d.ts: web/openapi.json web/node_modules/.installed
	cd web && npm run --silent types

# Written again only when it says something else: a change in Go alone does not rebuild the pages.
web/openapi.json: web/.openapi ;
web/.openapi: $(GO)
	go run ./cmd/dorvet openapi > web/openapi.new
	cmp -s web/openapi.new web/openapi.json || cp web/openapi.new web/openapi.json
	rm web/openapi.new && touch $@

web/node_modules/.installed: web/package-lock.json
	cd web && npm ci --silent --no-fund --no-audit
	touch $@

# All tests have copies of one demo firm, and drive one program.
TESTED := DORVET_DEMO=$(CURDIR)/data/tested DORVET_PROGRAM=$(CURDIR)/bin/dorvet
data/tested/dorvet.db: bin/dorvet
	rm -rf data/tested
	./bin/dorvet demo --make-only --data data/tested

# Debian's Chromium drives the real pages; poppler reads the documents back. The code is vetted while the registry is waited for, and the
# rooms that need no pages are tested while those are built.
test:
	./.ci/packages
	$(MAKE) --no-print-directory --jobs 2 web/node_modules/.installed vetted
	$(MAKE) --no-print-directory --jobs 2 data/tested/dorvet.db tested-rooms
	cd web && npm run --silent lint
	$(TESTED) go test -short -vet=off ./internal/demo ./cmd/... .
	$(TESTED) go test -short -vet=off -count=1 -parallel 3 -timeout 30m ./e2e

vetted:
	go vet ./...

tested-rooms:
	go test -short -vet=off $$(go list ./core/... ./internal/... | grep -v internal/demo)

# The long forms of the tests: millions of cases.
proof: build
	./.ci/packages
	go test -count=1 -timeout 60m ./...
	go test -run '^$$' -fuzz FuzzSplit -fuzztime 2m ./core/money
	go test -run '^$$' -fuzz FuzzDatesThatWereReadAreReadAgain -fuzztime 1m ./core/day
	go test -run '^$$' -fuzz FuzzReadingNeverBreaks -fuzztime 2m -fuzzminimizetime 20x ./internal/documents/einvoice
	go test -run '^$$' -fuzz FuzzTextNeverBreaksAField -fuzztime 1m -fuzzminimizetime 20x ./internal/documents/billingfile

bench:
	go test -run '^$$' -bench . ./core/... ./internal/...

# The review and billing runs over 150,000 and 1,500,000 time entries, beside the bare
# statements; every reading of the contract, and issuing with documents, at the size of a
# firm. The first time it makes the loads: fifteen minutes, ten gigabytes.
.PHONY: bench-load
bench-load:
	mkdir -p data/load
	DORVET_LOAD=$(CURDIR)/data/load go test -run '^$$' -bench . -benchtime 3x -timeout 60m ./internal/demo
	DORVET_LOAD=$(CURDIR)/data/load go test -run '^$$' -bench Readings -benchtime 20x -timeout 60m ./cmd/dorvet
	DORVET_LOAD=$(CURDIR)/data/load go test -run '^$$' -bench 'Issuing|Everybody' -benchtime 1x -timeout 60m ./cmd/dorvet

# Beside what the tests ask for: long lines, functions and files, and what nothing uses.
lint:
	go vet ./...
	go tool staticcheck ./...
	go tool revive -config revive.toml ./core/... ./internal/... ./cmd/... ./e2e .
	go tool deadcode -test ./...
	cd web && npm run lint

clean:
	rm -rf bin web/dist/assets web/dist/index.html web/.openapi web/openapi.json web/src/api/schema.d.ts

# The pictures of the README, from the demo data.
.PHONY: screenshots
screenshots: build
	DORVET_PICTURES=$(CURDIR)/docs/screenshots go test -count=1 ./e2e -run TestPictures
