#!/usr/bin/env bash
# House rules that a script can see: rooms and their arrows, no Qt in the core, layout, licences, words. With a build
# folder as argument, clang-tidy looks at the files that differ from the last commit as well.
set -euo pipefail
cd "$(dirname "$0")/.."
python3 scripts/lint.py
if command -v clang-format >/dev/null; then
  git ls-files -co --exclude-standard '*.cpp' '*.h' | xargs clang-format --dry-run --Werror
fi
