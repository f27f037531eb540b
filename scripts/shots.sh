#!/usr/bin/env bash
# Refreshes docs/screenshots/ from the demo kit, 1280x800.
set -euo pipefail
cd "$(dirname "$0")/.."
exec env -u DISPLAY -u WAYLAND_DISPLAY bash scripts/demo.sh --shots docs/screenshots
