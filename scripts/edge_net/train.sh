#!/usr/bin/env bash
# SPDX-License-Identifier: GPL-3.0-or-later
# Trains the network for edges in JPEGs anew: draws scenes, looks at them as the key does, and
# writes src/core/cut/edge_weights.inc. Takes about half an hour on two processors; needs build/dev and
# what scripts/setup.sh --tests installs.
set -euo pipefail
cd "$(dirname "$0")/../.."
scenes=$(mktemp -d)
trap 'rm -rf "$scenes"' EXIT
cmake --build build/dev --target zl_edge_samples
for seed in 21 22; do
  /usr/bin/python3 scripts/edge_net/scenes.py "$seed" "${1:-130}" "$scenes/drawn" &
done
wait
build/dev/bin/zl_edge_samples "$scenes/drawn" "$scenes/samples"
/usr/bin/python3 scripts/edge_net/train.py "$scenes/samples" src/core/cut/edge_weights.inc
