#!/usr/bin/env bash
# House rules that a script can see: rooms and their arrows, no Qt in the core, layout, licences,
# words. A tool that is missing is a failure: what was not looked at is not clean.
set -euo pipefail
cd "$(dirname "$0")/.."
python3 scripts/lint.py
command -v clang-format >/dev/null || { echo "lint: clang-format is missing" >&2; exit 1; }
git ls-files -co --exclude-standard '*.cpp' '*.h' | xargs clang-format --dry-run --Werror
