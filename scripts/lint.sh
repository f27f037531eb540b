#!/usr/bin/env bash
# House rules that a script can see: rooms and their arrows, no Qt in the core, layout, licences,
# words. A tool that is missing is a failure: what was not looked at is not clean.
set -euo pipefail
cd "$(dirname "$0")/.."
python3 scripts/lint.py
command -v clang-format >/dev/null || { echo "lint: clang-format is missing" >&2; exit 1; }
git ls-files -co --exclude-standard '*.cpp' '*.h' | xargs clang-format --dry-run --Werror
# Which mutex guards what (src/core/base/guarded.h).
command -v clang++ >/dev/null || { echo "lint: clang++ is missing" >&2; exit 1; }
read -ra libraries < <(pkg-config --cflags pangocairo pangoft2 fontconfig harfbuzz vips Qt6Core)
for file in src/core/base/crew.cpp src/core/render/ink_store.cpp src/core/lettering/fonts.cpp \
  src/app/work/jobs.cpp; do
  clang++ -std=c++20 -fPIC -fsyntax-only -Wthread-safety -Werror=thread-safety -Isrc/core -Isrc/app \
    -DQT_NO_KEYWORDS "${libraries[@]}" "$file"
done
