SHELL := /bin/bash
.SHELLFLAGS := -euo pipefail -c
.DEFAULT_GOAL := help

# nomsgpack leaves out a codec of gin's that is never used and costs a third of the build.
export GOFLAGS := -buildvcs=false -tags=nomsgpack

WASM := web/src/wasm/core.wasm
WASM_CALC := web/src/wasm/calc.wasm
WASM_LAB := web/src/wasm/lab.wasm
EXEC := web/src/wasm/wasm_exec.js
NPM := web/node_modules/.package-lock.json
DIST := web/dist/index.html
GO_FILES := $(shell find cmd core internal web -name '*.go' -not -path '*/node_modules/*')
TOOLS := tools/bin
HAND_WRITTEN := $(filter-out %.gen.go internal/store/db.go internal/store/models.go internal/store/queries.sql.go internal/store/copyfrom.go,$(GO_FILES))
GENERATED := internal/store/db.go internal/store/models.go internal/store/queries.sql.go internal/store/copyfrom.go internal/httpapi/api.gen.go web/src/api/schema.d.ts web/src/kit/units.gen.ts docs/procedure.schema.json $(wildcard core/procedure/families/*.json)

apt = { if [ "$$(id -u)" = 0 ]; then s=; elif command -v sudo >/dev/null; then s=sudo; else \
	echo "Missing: $(1). Install it as root: apt-get install $(1)" >&2; exit 1; fi; \
	echo "installing $(1)"; $$s apt-get -qq -o DPkg::Lock::Timeout=600 update >/dev/null; \
	$$s env DEBIAN_FRONTEND=noninteractive apt-get -o DPkg::Lock::Timeout=600 -qq -y --no-install-recommends install $(1) >/dev/null; }

.PHONY: help
help: ## this list
	@grep -hE '^[a-z-]+:.*##' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 14

.PHONY: deps deps-test
deps:
	@for p in go node npm; do command -v $$p >/dev/null || { echo "Missing: $$p. Install Go 1.26 or newer and Node 20.19 or newer first." >&2; exit 1; }; done
	@ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 || [ -n "$${DYNACOR_PG_BIN:-}" ] || $(call apt,postgresql)
deps-test: deps
	@command -v chromium >/dev/null || $(call apt,chromium)
	@command -v pdftotext >/dev/null || $(call apt,poppler-utils)

$(NPM): web/package.json web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

$(EXEC): $(shell go env GOROOT)/lib/wasm/wasm_exec.js
	@mkdir -p $(@D) && cp $< $@

# What a device loads is a twelfth smaller when calls are inlined only where most of the time is spent: in the runtime,
# in the solvers of the Lab and the shift. Judging an event takes longer by that, about a quarter under Node.
PLAIN := fmt time strconv strings bytes slices maps errors path os io io/fs sync sort reflect encoding/json \
	encoding/base64 syscall/... unicode/... internal/... dynacor/cmd/wasm $(addprefix dynacor/core/,run plan tool \
	quantity measure preload procedure working authority fastener calc walk layout sequence training pressure)
WASM_FLAGS := -trimpath $(foreach p,$(PLAIN),-gcflags=$(p)=-l) -ldflags="-s -w"
WASM_BUILD := GOOS=js GOARCH=wasm go build $(WASM_FLAGS)

$(WASM): $(filter core/% cmd/wasm/%,$(GO_FILES)) $(wildcard core/procedure/families/* core/procedure/routines/*.json) go.mod
	$(WASM_BUILD) -o $@ ./cmd/wasm

$(WASM_CALC): $(filter core/% cmd/wasmcalc/%,$(GO_FILES)) go.mod
	$(WASM_BUILD) -o $@ ./cmd/wasmcalc

$(WASM_LAB): $(filter core/% cmd/wasmlab/%,$(GO_FILES)) go.mod
	$(WASM_BUILD) -o $@ ./cmd/wasmlab

# The second verifier is offered for download beside the pages.
web/public/verify-record.mjs: tools/verify-record.mjs
	cp $< $@

$(DIST): $(NPM) $(EXEC) $(WASM) $(WASM_CALC) $(WASM_LAB) web/public/verify-record.mjs $(shell find web/src web/public -type f -not -name '*.wasm') web/index.html web/standin.html web/vite.config.ts
	cd web && npm run -s build && npm run -s compress

bin/dynacor: $(DIST) $(GO_FILES) $(wildcard internal/store/migrations/* internal/demo/*.csv core/procedure/families/* core/procedure/routines/* internal/report/fonts/*) go.mod go.sum
	go build -ldflags="-s -w" -o $@ ./cmd/dynacor

.PHONY: build demo demo-reset
build: deps bin/dynacor ## build bin/dynacor
demo: build ## install what is missing, build, and serve the demo site
	@exec ./bin/dynacor demo
demo-reset: ## throw the demo's database away and start over
	@if [ -f .dynacor/pg/postmaster.pid ] && kill -0 "$$(head -1 .dynacor/pg/postmaster.pid)" 2>/dev/null; then echo "The demo is running. Stop it first (Ctrl C in its window)." >&2; exit 1; fi
	rm -rf .dynacor
	@$(MAKE) --no-print-directory demo

$(TOOLS)/.done: tools/go.mod tools/go.sum
	@mkdir -p $(TOOLS)
	CGO_ENABLED=0 go build -modfile=tools/go.mod -o $(TOOLS)/ github.com/sqlc-dev/sqlc/cmd/sqlc github.com/oapi-codegen/oapi-codegen/v2/cmd/oapi-codegen honnef.co/go/tools/cmd/staticcheck github.com/fzipp/gocyclo/cmd/gocyclo github.com/golangci/golines
	@touch $@
$(TOOLS)/gremlins: tools/go.mod tools/go.sum
	CGO_ENABLED=0 go build -modfile=tools/go.mod -o $@ github.com/go-gremlins/gremlins/cmd/gremlins

.PHONY: gen gen-check
gen: $(NPM) $(TOOLS)/.done ## generate code from the contract, the queries and the procedures
	go run ./internal/procedures/make core/procedure/families docs/procedure.schema.json
	go run ./internal/units/make web/src/kit/units.gen.ts
	$(TOOLS)/sqlc generate
	$(TOOLS)/oapi-codegen -config api/oapi-codegen.yaml api/openapi.yaml
	cd web && npm run -s gen >/dev/null
gen-check: $(NPM) $(TOOLS)/.done ## fail when generated code is stale
	@before="$$(cat $(GENERATED) | sha256sum)"; $(MAKE) --no-print-directory gen >/dev/null; \
	after="$$(cat $(GENERATED) | sha256sum)"; \
	[ "$$before" = "$$after" ] || { echo "Generated code was stale. It is made anew now: look at it and commit it." >&2; exit 1; }

.PHONY: check test bench mutate race soak screenshots
check: bin/.checked-go bin/.checked-web ## format, vet, static analysis, types, lint: of what changed since they last held

bin/.checked-go: $(TOOLS)/.done $(GO_FILES) $(wildcard e2e/*.go docs/*.go) go.mod go.sum Makefile staticcheck.conf
	@mkdir -p bin
	@bad="$$(gofmt -l cmd core internal web/*.go e2e docs)"; [ -z "$$bad" ] || { echo "Not formatted: $$bad" >&2; exit 1; }
	go vet ./...
	$(TOOLS)/staticcheck ./...
	GOOS=js GOARCH=wasm go vet ./core/... ./cmd/wasm ./cmd/wasmcalc ./cmd/wasmlab
	@bad="$$($(TOOLS)/golines -l -m 120 -t 4 --no-reformat-tags $(filter-out %_test.go,$(HAND_WRITTEN)))"; [ -z "$$bad" ] || { echo "Lines over 120 columns: $$bad" >&2; exit 1; }
	@bad="$$($(TOOLS)/gocyclo -over 25 $(HAND_WRITTEN))" || { echo "Too many ways through a function: $$bad" >&2; exit 1; }
	@many="$$({ $(TOOLS)/gocyclo -over 15 $(HAND_WRITTEN) || true; } | wc -l)"; all="$$({ $(TOOLS)/gocyclo -over 0 $(HAND_WRITTEN) || true; } | wc -l)"; \
	[ $$((many * 40)) -le "$$all" ] || { echo "$$many of $$all functions are over 15 in cyclomatic complexity; 2.5 % at most" >&2; exit 1; }
	@long="$$(wc -l $(HAND_WRITTEN) $(wildcard e2e/*.go docs/*.go) | awk '$$1 > 400 && $$2 != "total" { print $$2 }')"; [ -z "$$long" ] || { echo "Files over 400 lines: $$long" >&2; exit 1; }
	@touch $@

bin/.checked-web: $(NPM) $(EXEC) $(WASM) $(WASM_CALC) $(WASM_LAB) $(shell find web/src web/lint -type f -not -name '*.wasm') $(wildcard web/*.ts web/*.json web/*.html)
	@mkdir -p bin
	cd web && npm run -s typecheck && npm run -s lint && npm run -s knip
	@touch $@

# What waits for the network, and what one core does alone (the best compression), goes beside what takes both.
test: ## install what is missing and run every test
	@$(MAKE) --no-print-directory -j3 --output-sync=target deps-test $(NPM) $(TOOLS)/.done
	@$(MAKE) --no-print-directory gen-check
	@$(MAKE) --no-print-directory -j2 --output-sync=target $(DIST) bin/.checked-web
	@$(MAKE) --no-print-directory check bin/dynacor
	cd web && npm run -s test
	go build -o bin/withpg ./cmd/withpg
	go build -o bin/testsum ./cmd/testsum
	set -o pipefail; ./bin/withpg go test -vet=off -p 4 -json ./cmd/... ./web/... ./internal/... ./docs/... ./core/... > bin/unit.json || true
	rm -rf e2e/out/failed
	set -o pipefail; ./bin/withpg go test -vet=off -json -timeout 30m -parallel 3 ./e2e/... > bin/e2e.json || true
	@./bin/testsum -kept e2e/out/failed bin/unit.json bin/e2e.json

bench: build ## measure speed, each against a yardstick in the same run, and write docs/performance.md
	go build -o bin/withpg ./cmd/withpg
	./bin/withpg go test -run '^$$' -p 1 -bench . -benchtime 2s ./core/... ./internal/... | tee bin/bench.txt
	GOOS=js GOARCH=wasm go test -c $(WASM_FLAGS) -o bin/run.wasm ./core/run
	@# the way a device runs it; Go's runner takes no more than a little of the environment
	env -i PATH="$$PATH" "$$(go env GOROOT)/lib/wasm/go_js_wasm_exec" bin/run.wasm -test.run '^$$' -test.bench Apply -test.benchtime 2s \
	  | sed 's/^BenchmarkApply/BenchmarkApplyAsWebAssembly/' | tee -a bin/bench.txt
	go run ./internal/performance/make bin/bench.txt web/dist docs/performance.md

MUTATED := measure tool plan run
mutate: $(TOOLS)/gremlins ## change core an operator at a time and see whether its tests notice: hours
	mkdir -p bin/mutants
	for p in $(MUTATED); do tools/mutate.sh $(TOOLS) bin/mutants $$p; done
	go run ./cmd/mutants docs/mutants.md $(MUTATED:%=bin/mutants/%.json)

race: deps ## send every test of the server through the race detector: about ten minutes
	go build -o bin/withpg ./cmd/withpg
	./bin/withpg go test -race -count=1 -timeout 60m ./internal/...

soak: build deps-test race ## the long form of what test does short: 300 rounds of kills, a full disk, ten minutes of hostile requests, 20 000 runs led astray, 10 000 altered files
	go build -o bin/withpg ./cmd/withpg
	DYNACOR_SOAK=300 go test -count=1 -timeout 90m -v -run 'TestSoak' ./e2e/...
	DYNACOR_FUZZ=10 ./bin/withpg go test -count=1 -timeout 30m -v -run TestEveryRouteAnswersWhateverIsSent ./internal/httpapi/...
	DYNACOR_STREAMS=20000 go test -count=1 -timeout 60m -v -run TestEveryStateHasAWayOut ./core/run
	DYNACOR_MUTATIONS=10000 go test -count=1 -timeout 30m -v -run TestSecondVerifierAgrees ./docs/...
	go test -run '^$$' -fuzz FuzzVerifyNeverPanicsNorAccepts -fuzztime 2m ./core/record
	go test -run '^$$' -fuzz FuzzReadNeverPanics -fuzztime 2m ./internal/procedures

screenshots: build deps-test ## refresh docs/screenshots from the demo site
	go build -o bin/withpg ./cmd/withpg
	DYNACOR_SCREENSHOTS=1 ./bin/withpg go test -count=1 -run TestScreenshots ./e2e/...
