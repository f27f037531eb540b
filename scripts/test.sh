#!/usr/bin/env bash
# Installs, builds, runs every test (those of the window too), lints. Ends with ctest's count.
set -euo pipefail
cd "$(dirname "$0")/.."
bash scripts/setup.sh --tests
preset=${1:-dev}
cmake --preset "$preset"
cmake --build --preset "$preset"
bash scripts/lint.sh "build/$preset"
exec ctest --preset "$preset"
