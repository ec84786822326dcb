# The two commands: make demo, and make test. Everything else serves them.

GO  ?= go
BIN := bin/uvent
WEB := web/node_modules/.package-lock.json
FRONT := web/dist/index.html

# Nothing here needs C, nor its headers; but the race detector does.
export CGO_ENABLED := 0

.PHONY: sentences demo dev test proofs race mutate build generate generated lint lint-more bench bench-match fuzz attack dependencies clean needs-server needs-papers needs-browser screenshots

# Builds, then runs PostgreSQL, the outside and Uvent with demo data.
# FRESH=1 begins the demo world anew.
demo: needs-server needs-papers build
	@exec $(BIN) demo $(if $(FRESH),--fresh)

# The demo and the front end, each taking up what is saved.
dev: needs-server needs-papers
	@exec tools/dev

# All that is tried at every change, beside one PostgreSQL. Much of it waits for something, so more
# runs at once than there are cores. The browser runs when all else has: pages that wait for a busy
# machine are looked at over and over, which makes it busier. lint has vetted it.
TRY := $(GO) test -vet=off -ldflags='-s -w' -parallel 8 -timeout 30m
test: needs-server needs-papers needs-browser build lint
	$(BESIDE) sh -c "$(TRY) -p 4 ./httpapi ./outside $$($(GO) list ./... | grep -v '^uvent/e2e$$' | tr '\n' ' '); all=\$$?; $(TRY) ./e2e && exit \$$all"

# What is told in part fails all the same where a test does.
proofs attack: SHELL := /bin/bash
proofs attack: .SHELLFLAGS := -o pipefail -c

# What takes longer: killing the program, calibration, rounds of hundreds. PROOFS is their size in
# per cent, PROOFS_SEED what they draw by; each tells what it came to.
PROOFS ?= 100
PROOFS_SEED ?= 1
proofs: needs-server needs-papers needs-browser build
	PROOFS=$(PROOFS) PROOFS_SEED=$(PROOFS_SEED) $(BESIDE) $(GO) test -tags proofs -count=1 -v -timeout 80m -run '$(PROVES)' ./e2e ./outside ./core/record/match ./core/rule/fit ./core/reckon/looking ./core/reckon/source | grep -vE '^=== |^    --- PASS'

PROVES := ^(TestKilledAtRandom|TestKilledAtAnyPointNothingIsLostOrDoneTwice|TestARoundOfThreeHundredIsKilledTwice|TestAnImportOfThousandsIsKilledTwice|TestOneDigestADayWhicheverServerIsKilled|TestTwoMonthsOfTheDemoReplay|TestTheForecastIsCalibrated|TestLabelledPairs|TestReadingBackManyTimes|TestTheScheduleInManyWorlds|TestSourcesInManyWorlds|TestAttack)$$
BESIDE := UVENT_PROGRAM=$(BIN) $(GO) run ./store/storetest/beside

build: $(BIN)

# Go's own cache decides what has to be compiled again.
$(BIN): $(FRONT) FORCE
	@$(GO) build -o $(BIN) ./cmd/uvent

.PHONY: FORCE
FORCE:

$(WEB): web/package.json web/package-lock.json
	cd web && npm ci --no-audit --no-fund --ignore-scripts
	@touch $(WEB)

$(FRONT): $(WEB) $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts web/tsconfig.json
	cd web && npm run --silent build

lint: $(WEB)
	@test -z "$$(gofmt -l $$(git ls-files '*.go'))" || { echo "gofmt would change:"; gofmt -l $$(git ls-files '*.go'); exit 1; }
	$(GO) vet ./...
	$(GO) vet -tags proofs ./e2e ./outside ./core/rule/fit ./core/reckon/looking ./core/reckon/source
	cd web && npm run --silent lint

# What takes longer to ask, and tools of our own to ask it with.
lint-more: bin/golangci-lint
	bin/golangci-lint run ./...
	@bin/golangci-lint fmt --diff >/dev/null || { echo "bin/golangci-lint fmt would change something:"; bin/golangci-lint fmt --diff; exit 1; }

bin/golangci-lint: tools/go.mod
	cd tools && $(GO) build -o ../$@ github.com/golangci/golangci-lint/v2/cmd/golangci-lint

bin/gremlins: tools/go.mod
	cd tools && $(GO) build -o ../$@ github.com/go-gremlins/gremlins/cmd/gremlins

# Changes the core in small ways, one at a time, and tells how many of the changes its tests notice.
MUTATE ?= ./core/record/match ./core/listing ./core/rule ./core/reckon
mutate: bin/gremlins
	@tools/mutants/run $(MUTATE)

# With the race detector; but for what only reckons, and for what measures memory, of which it takes more.
race: needs-server needs-papers
	@./.ci/needs /usr/include/zlib.h zlib1g-dev
	CGO_ENABLED=1 $(BESIDE) $(GO) test -race -parallel 4 -timeout 30m -skip "^(TestLabelledPairs|TestTheIndexMissesLittle|TestWhatIsRefused)$$" ./core/... ./desk/ledger ./desk/listings ./desk/rounds ./desk/clockwork

# Generated code is that of its sources.
generated: generate
	@git diff --exit-code --stat -- store/db httpapi/api web/src/api || { echo "Generated code was stale; it is made anew. Commit it."; exit 1; }

# Lists the labelled pairs of businesses that are judged wrongly, with the reasons.
bench-match:
	$(GO) test -count=1 -v -run '^TestLabelledPairs$$' ./core/record/match -mistakes

# BENCHTIME="-benchtime=1x -short" measures once, and leaves out what takes minutes.
bench: needs-server needs-papers build
	$(BESIDE) $(GO) test -timeout 60m -run '^$$' -bench . -benchmem $(BENCHTIME) ./core/fact/hours/... ./core/rule/fit ./core/record/match ./core/reckon/forecast ./desk/... ./e2e

# What we build on is what it was, and nothing known is wrong with it: where a copy of the Go vulnerability database is at
# hand, as GOVULNDB=file:///path says; it is asked for nowhere else.
dependencies:
	$(GO) mod verify
	@if [ "$(GOVULNDB)" ]; then $(GO) run golang.org/x/vuln/cmd/govulncheck@v1.1.4 -db "$(GOVULNDB)" ./...; \
	else echo "Known vulnerabilities were not looked for: GOVULNDB names no copy of their database."; fi

# Sends a program that runs what is made to break it, and tells what was tried and what held.
attack: needs-server needs-papers needs-browser build
	PROOFS=$(PROOFS) PROOFS_SEED=$(PROOFS_SEED) $(BESIDE) $(GO) test -tags proofs -count=1 -v -timeout 30m -run '$(ATTACKS)' $(ATTACKED) | grep -vE '^=== |^ *--- PASS|no tests to run'

ATTACKS := ^(TestAttack|TestWhoMayDoWhat|TestWithoutASessionNothingIsTold|TestNoOtherSiteCanMakeABrowserAct|TestTheGate|TestOverTLS|TestStreamsEndWithTheSession|TestNothingLeadsInside|TestPDFsThatTakeAMachine|TestHostileTextsAreNotRead|TestBackupsThatAreHostile|TestHeadsOfTheLog|TestTheLoginOwnsNothing|TestTriesAtOnceAreCountedBeforeTheyAreMade|TestASecondFactor)$$
ATTACKED := ./e2e ./httpapi ./reach ./desk/files ./desk/people ./desk/clockwork ./core/rule/rulebook ./store

# Longer than a test run can afford.
fuzz:
	@tools/fuzz $(FUZZ_SECONDS)
FUZZ_SECONDS ?= 60

# Writes docs/sentences.md anew: all that the program says, to be read at one go.
sentences: $(WEB)
	$(GO) test -run '^TestAllThatIsSaidStandsInTheCatalogue$$' . -update

# Takes the pictures in docs/screenshots anew, from a fresh demo.
screenshots: needs-server needs-papers needs-browser build
	$(GO) run ./e2e/screenshots -program $(BIN) -out docs/screenshots

# Makes the generated code anew: the queries, the server's interface and the
# front end's types. Its results are committed, so that nothing else needs it.
generate: $(WEB)
	cd store && $(GO) run github.com/sqlc-dev/sqlc/cmd/sqlc@v1.31.1 generate
	cd httpapi && $(GO) run github.com/oapi-codegen/oapi-codegen/v2/cmd/oapi-codegen@v2.8.2 -config oapi-codegen.yaml openapi.yaml
	cd web && npx openapi-typescript ../httpapi/openapi.yaml -o src/api/schema.gen.ts

needs-server:
	@./.ci/needs /usr/lib/postgresql/*/bin/postgres postgresql

# What reads papers, and looks at videos.
needs-papers:
	@./.ci/needs /usr/bin/pdftotext poppler-utils
	@./.ci/needs /usr/bin/ffmpeg ffmpeg

needs-browser:
	@./.ci/needs /usr/bin/chromium-headless-shell chromium-headless-shell || { [ -e /usr/bin/chromium ] && echo "chromium is taken, which is slower."; }

clean:
	rm -rf bin web/dist web/node_modules
