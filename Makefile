# What there is to do. Everything works from a fresh clone after ./axtren-test.

help: ## this list
	@grep -hE '^[a-z-]+:.*##' $(MAKEFILE_LIST) | sed 's/:.*##/\t/' | expand -t 14

demo: ## start Axtren with the demo yard
	./axtren-up

dev: ## Vite's server in front of the Go one; both follow what is changed
	scripts/dev.sh

test: ## all tests
	./axtren-test

test-core: ## the core's tests, in seconds
	go test ./core/...

e2e: ## the browser tests alone
	go test -count=1 ./e2e/...

bench: ## how fast the engine is
	go test -run AgainstC -count 1 -v ./core/signal | grep ratio
	go test -run '^$$' -bench . -benchmem ./core/...

latency: ## from the lever to the picture, measured in the page
	go run ./e2e/latency

slow: ## a quarter of the speed, a thin line: dozens of functions drawn, the first page
	go run ./e2e/slow

load: ## a hundred live benches at once
	go run ./e2e/load

grow: ## what a thousand models and a long history cost
	go run ./e2e/grow

mutants: ## which single faults in the core its own tests notice
	go run ./scripts/mutants

generate: ## generated code, from api/openapi.yaml
	scripts/generate.sh

lint: ## vet, staticcheck, more linters where they are installed, line lengths, types, lint
	go vet ./... && go tool staticcheck ./... && scripts/long-lines.sh
	if command -v golangci-lint >/dev/null; then golangci-lint run ./...; fi
	cd ui && npm run types && npm run lint

fmt: ## format everything
	gofmt -w cmd core app demo e2e internal scripts && cd ui && npm run format

hooks: ## look at format, vet and types before each commit
	ln -sf ../../scripts/pre-commit .git/hooks/pre-commit

shots: ## renew docs/screenshots from the demo
	go run ./e2e/shots

.PHONY: help demo dev test test-core e2e bench latency slow load grow mutants generate lint fmt hooks shots
