# Bathyform: `make demo` serves the demo workshop, `make test` proves the work.

BIN := bin/bathyform
WEB := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/package-lock.json web/vite.config.ts web/tsconfig.json

.PHONY: demo demo-reset build test test-go test-web laws bench bench-page fuzz soak generate setup shots

demo: setup build
	@exec $(BIN) demo

demo-reset: setup build
	@exec $(BIN) demo --afresh

build: web/dist/index.html
	go build -o $(BIN) ./cmd/bathyform

web/node_modules/.package-lock.json: web/package-lock.json web/package.json
	cd web && npm ci --no-audit --no-fund
	@touch $@

web/dist/index.html: web/node_modules/.package-lock.json $(WEB)
	cd web && npm run --silent build

# What Debian has to bring: a database, a browser and a mesh checker for the tests.
setup:
	@sh scripts/setup.sh

test: setup test-web build test-go

test-web: web/node_modules/.package-lock.json
	cd web && npm run --silent api:check && npm run --silent typecheck && npm run --silent lint && npm run --silent test

# What takes longest begins first. The browser tests come last and alone: beside the others they only wait.
test-go:
	go vet ./...
	go test -vet=off -timeout 20m ./internal/api ./core/bench ./cmd/... ./core/pieces $$(go list ./... | grep -v /e2e)
	go test -vet=off -timeout 20m -parallel 2 ./e2e/...

# That nothing which is read takes longer than it grows, which is timed, so best on a quiet machine; and what takes long.
laws: setup
	LAWS=1 go test -tags laws ./core/... -run 'Grows|GangsOfSix' -count 1 -v

bench:
	go test -run xxx -bench . -benchmem ./core/... ./internal/api

# How long the page takes in headless Chromium, with all of it drawn in software.
bench-page: setup build
	go run ./e2e/pagebench

# Every parser and the whole way of odd meshes, each for FUZZ; what it breaks
# on is kept in testdata beside it. Then odd requests to every operation.
FUZZ := 75s
fuzz:
	@grep -rl "^func Fuzz" --include=*_test.go core internal cmd | while read file; do \
		for target in $$(sed -n 's/^func \(Fuzz[A-Za-z0-9]*\)(.*/\1/p' $$file); do \
			go test ./$$(dirname $$file) -run '^$$' -fuzz "^$$target$$" -fuzztime $(FUZZ) -fuzzminimizetime 10x || exit 1; \
		done; \
	done
	ODD_MESHES=40 go test ./core/bench -run '^TestOddMeshes' -count 1 -timeout 30m
	BOUNDARY_TRIES=100 go test ./internal/api -run '^TestNothingThatIsSent' -count 1

# Twenty people in a shop of 2,000 moulds, while server and database are killed in turn.
soak: setup build
	go run ./e2e/soak

# After a change of api/openapi.yaml.
generate: web/node_modules/.package-lock.json
	go generate ./...
	cd web && npm run --silent api

# With the demo running: the pictures in docs/screenshots.
shots:
	go run ./e2e/shots
