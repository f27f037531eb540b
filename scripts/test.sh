#!/usr/bin/env bash
# Installs, builds, runs every test (those of the window too), lints. Ends with ctest's count.
set -euo pipefail
cd "$(dirname "$0")/.."
bash scripts/setup.sh --tests
preset=${1:-dev}
cmake --preset "$preset"
cmake --build --preset "$preset"
bash scripts/lint.sh
# Real pictures out of Debian packages, in a cache; docs/truth.md tells how far each goal is met.
if [[ "$preset" == dev ]]; then
  bash scripts/corpus.sh "${ZL_CORPUS:-${XDG_CACHE_HOME:-$HOME/.cache}/zinc-ledge/corpus}"
  ctest --preset truth -j"$(nproc)" >build/truth.log 2>&1 || { tail -n 60 build/truth.log; exit 1; }
  grep '^.*| ' build/truth.log | sed 's/^[0-9]*: //'
fi
exec ctest --preset "$preset"
