PORT ?= 8000

.PHONY: demo demo-reset test benchmarks fuzz
demo: ; @PORT=$(PORT) scripts/demo
demo-reset: ; @PORT=$(PORT) scripts/demo --reset
test: ; @scripts/test
benchmarks: ; @scripts/benchmarks
fuzz: ; @scripts/fuzz
