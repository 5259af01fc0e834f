# Omphalos: everything that is done to it.
#   make demo    builds, makes a workspace with invented data, prints the sign-in, serves
#   make test    installs what the tests need, then runs every check
SHELL := /bin/bash
.DEFAULT_GOAL := demo
GO ?= go
WORKSPACE ?= workspace/demo/omphalos.db
LISTEN ?= 127.0.0.1:8642

# A new machine does not compile a format of Gin's that nothing here speaks, nor what debuggers
# of C read of SQLite.
export GOFLAGS ?= -tags=nomsgpack
export CGO_CFLAGS ?= -O2 -g0

.PHONY: demo dev build test check format tools assets assets-unchanged bench bench-million fuzz load crash attack agree lighthouse shots

build:
	$(GO) build -o bin/omphalos ./cmd/omphalos

# make demo REMAKE=1 throws the data away and begins anew.
demo: build
	./bin/omphalos demo --workspace $(WORKSPACE) --listen $(LISTEN) $(if $(REMAKE),--remake)

# make dev serves the demo from the sources: a template, a style or a script that is saved is
# seen within a second, and the page loads again by itself. Go is built once, at the start.
dev: tools build
	@node web/assets/build.mjs --watch & watching=$$!; trap "kill $$watching" EXIT; \
	./bin/omphalos demo --workspace workspace/dev/omphalos.db --listen $(LISTEN) --sources .

# The tests need Chromium, and axe-core beside the built assets.
tools:
	@command -v npm >/dev/null || { echo "Node.js (22 or later) with npm is missing: install it, then run make again."; exit 1; }
	@command -v chromium >/dev/null || { command -v apt-get >/dev/null && test "$$(id -u)" = 0; } || \
	  { echo "Chromium is missing. Install it so that 'chromium' is on the PATH; here is no apt, or no root, to do it for you."; exit 1; }
	@command -v chromium >/dev/null || (apt-get update -qq && apt-get install -y -qq --no-install-recommends chromium >/dev/null)
	@test -f node_modules/.package-lock.json -a node_modules/.package-lock.json -nt package-lock.json || npm ci --no-audit --no-fund --loglevel=error

check: tools
	npm run --silent check
	test -z "$$(gofmt -l core store interchange outbox web cmd 2>/dev/null | tee /dev/stderr)"
	$(GO) vet ./...
	$(GO) tool staticcheck ./...

# Templates, styles and scripts are laid out by prettier, Go by gofmt.
format: tools
	npm run --silent format
	gofmt -w core store interchange outbox web cmd

assets: tools
	node web/assets/build.mjs

assets-unchanged: assets
	git diff --exit-code --stat -- web/assets/dist

# The race detector watches the rooms where goroutines meet. go vet has been run by check.
RACED = ./core/odds/... ./core/program/... ./core/scorecard/... ./interchange/table/... ./store/... ./outbox/... ./cmd/...
test: tools assets-unchanged check
	CGO_CFLAGS='-O1 -g0' $(GO) test -race -short -vet=off $(RACED)
	$(GO) test -vet=off ./core/... ./interchange/...
	$(GO) test -vet=off ./core/odds -run '$(PROVEN)' -rapid.checks=$(or $(QUIZZES),2000)
	$(GO) test -vet=off ./cmd/omphalos -run '^TestHostileDocuments$$'
	$(GO) test -vet=off -timeout 25m -parallel 4 ./web/...

# Odds against a walk over every passage, and against respondents at random. make test
# QUIZZES=20000 takes more of them.
PROVEN = ^(TestOddsAreThoseOfEveryPassage|TestNobodyGetsToWhatIsOutOfReach|TestWitnessesGetThere)$$

bench:
	$(GO) test -run '^$$' -bench . -benchmem ./...

# What is asked of a million responses, beside the same of 64.
RESPONSES ?= 1000000
bench-million: build
	@rm -rf .cache/million && mkdir -p .cache/million
	./bin/omphalos demo --only-make --responses 128 --workspace .cache/million/few.db
	time ./bin/omphalos demo --only-make --responses $(RESPONSES) --workspace .cache/million/many.db
	$(GO) test ./store -run '^$$' -bench '^BenchmarkResponses$$' -few $(CURDIR)/.cache/million/few.db -million $(CURDIR)/.cache/million/many.db
	$(GO) test ./store/slice -run '^$$' -bench '^BenchmarkOut$$' -benchtime 1x -million $(CURDIR)/.cache/million/many.db
	$(GO) test ./web -run '^$$' -bench '^BenchmarkMillion$$' -few $(CURDIR)/.cache/million/few.db -million $(CURDIR)/.cache/million/many.db

# How many pages and finished passages there are under a rush of visitors, beside bare
# handlers, and while ten thousand deliveries wait for a slow receiver, on loopback and for a minute or so.
load:
	$(GO) test ./cmd/omphalos -run '^TestLoad' -count 1 -v -load $(or $(EACH),5s)

# The server is killed 50 times while passages are finished, and while it sends; nothing
# acknowledged is lost, and all that is due arrives.
crash:
	$(GO) test ./cmd/omphalos -run '^TestKilled' -count 1 -v -kills $(or $(KILLS),50)

# What costs much is asked for as fast as can be, of a server of its own on loopback, while a
# respondent takes a quiz beside it: memory, and how long the respondent waits.
attack:
	$(GO) test ./cmd/omphalos -run '^TestAttack$$' -count 1 -v -attack $(or $(EACH),10s)

# Edits of every kind are made at random against a slow server, and what the sheet shows is
# compared with a fresh load.
agree:
	$(GO) test ./web -run '^TestTheSheetShowsWhatIsKept$$' -count 1 -timeout 30m -agree $(or $(FOR),2m)

FUZZTIME ?= 2m
fuzz:
	@grep -roE 'func Fuzz[A-Za-z]+' --include='*_test.go' core interchange outbox store web cmd | sed 's/:func / /' | while read file target; do \
	  echo "$$file $$target"; $(GO) test -run '^$$' -fuzz "^$$target$$" -fuzztime $(FUZZTIME) -fuzzminimizetime 10x ./$$(dirname $$file) || exit 1; done

# Every page of every made look, as on a phone with a slow line. make lighthouse LOOKS=salon
# takes those of one.
LIGHTHOUSE ?= lighthouse@13.5.0
lighthouse: tools
	@mkdir -p .cache/lighthouse
	@test -d .cache/lighthouse/node_modules/lighthouse || npm install --prefix .cache/lighthouse --no-audit --no-fund --loglevel=error $(LIGHTHOUSE)
	$(GO) test ./web -run '^TestLighthouse$$' -count 1 -v -timeout 30m -lighthouse $(CURDIR)/.cache/lighthouse -looks '$(LOOKS)' | grep -v INFO

# Pictures of the main views, of a demo made for them.
shots: tools build
	@rm -rf .cache/shots && mkdir -p .cache/shots
	@./bin/omphalos demo --workspace .cache/shots/omphalos.db --listen 127.0.0.1:8643 >/dev/null 2>&1 & pid=$$!; sleep 2; \
	$(GO) test ./web -run '^TestShots$$' -count 1 -shots $(CURDIR)/docs/screenshots -shots-of http://127.0.0.1:8643; status=$$?; kill $$pid; exit $$status
