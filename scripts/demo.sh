#!/usr/bin/env bash
# Installs, builds and starts Zinc Ledge with the demo kit.
#   scripts/demo.sh               opens the window
#   scripts/demo.sh --shots DIR   writes one PNG per main view into DIR and ends
set -euo pipefail
here=$(pwd)
cd "$(dirname "$0")/.."
shots=""
case "${1:-}" in
  "") ;;
  --shots)
    [[ -n "${2:-}" ]] || { echo "demo.sh: --shots wants a folder" >&2; exit 2; }
    shots=$(cd "$here" && realpath -m "$2") ;;
  *) echo "usage: demo.sh [--shots DIR]" >&2; exit 2 ;;
esac

bash scripts/setup.sh
cmake --preset demo >/dev/null
cmake --build --preset demo

program=build/demo/bin/zinc-ledge
arguments=(--demo build/demo/kit)
if [[ -n "$shots" ]]; then
  # Pictures of the demo kit as it is made, not as somebody left it.
  rm -rf build/demo/shots-kit
  arguments=(--demo build/demo/shots-kit --shots "$shots")
fi
if [[ -z "${DISPLAY:-}${WAYLAND_DISPLAY:-}" ]]; then
  echo "No display here: running under Xvfb, a display that nobody sees."
  exec xvfb-run -a -s "-screen 0 1280x800x24" "$program" "${arguments[@]}"
fi
exec "$program" "${arguments[@]}"
