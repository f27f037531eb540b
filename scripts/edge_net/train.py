#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Trains the network for edges in JPEGs: two hidden layers, absolute error, Adam (Kingma and Ba
2015), a rate that falls as half a cosine. Writes its weights in 4096ths.

Usage: train.py SAMPLES WEIGHTS.inc [EPOCHS]
"""
import pathlib
import sys

import numpy as np

HIDDEN = (32, 16)
BATCH = 512
SOLID = 1.6  # how much more an error counts where ink is solid: it is seen in the middle of ink
CLOSE = 0.02  # an error below this counts by its square


def layers_of(inputs):
    rng = np.random.default_rng(0)
    sizes = (inputs, *HIDDEN, 1)
    pairs = list(zip(sizes, sizes[1:]))
    weights = [rng.normal(0, np.sqrt(2 / a), (a, b)).astype(np.float32) for a, b in pairs]
    weights[-1] *= 0.3
    return weights, [np.zeros(b, np.float32) for _, b in pairs]


def forward(weights, added, seen):
    values = [seen]
    for i, (w, b) in enumerate(zip(weights, added)):
        value = values[-1] @ w + b
        values.append(np.maximum(value, 0) if i + 1 < len(weights) else value)
    return values


def slopes(weights, added, seen, alpha):
    """Of the loss, for all weights; and the mean absolute error."""
    values = forward(weights, added, seen)
    said = values[-1][:, 0] + seen[:, -1]  # what the pixel's own colour tells, put right
    off = said - alpha
    # What is said is clamped: beyond either end it is right.
    off[(said > 1) & (alpha >= 1) | (said < 0) & (alpha <= 0)] = 0
    weighed = np.clip(off / CLOSE, -1, 1) * np.where(alpha >= 1, SOLID, 1)
    back = (weighed / len(alpha))[:, None].astype(np.float32)
    by_weight, by_added = [], []
    for i in reversed(range(len(weights))):
        by_weight.insert(0, values[i].T @ back)
        by_added.insert(0, back.sum(0))
        if i:
            back = (back @ weights[i].T) * (values[i] > 0)
    return by_weight + by_added, np.abs(np.clip(said, 0, 1) - alpha).mean()


def train(seen, alpha, epochs, rate=2e-3):
    weights, added = layers_of(seen.shape[1])
    all_of_them = weights + added
    mean = [np.zeros_like(p) for p in all_of_them]
    square = [np.zeros_like(p) for p in all_of_them]
    rng = np.random.default_rng(1)
    batches = len(seen) // BATCH
    step = 0
    for epoch in range(epochs):
        order = rng.permutation(len(seen))
        error = 0
        for i in range(batches):
            chosen = order[i * BATCH:(i + 1) * BATCH]
            by, off = slopes(weights, added, seen[chosen].astype(np.float32), alpha[chosen])
            error += off / batches
            step += 1
            now = rate * 0.5 * (1 + np.cos(np.pi * step / (epochs * batches)))
            for p, m, v, slope in zip(all_of_them, mean, square, by):
                m += 0.1 * (slope - m)
                v += 0.001 * (slope * slope - v)
                p -= now * (m / (1 - 0.9 ** step)) / (np.sqrt(v / (1 - 0.999 ** step)) + 1e-8)
        print(f"epoch {epoch}: mean error {error:.4f}", flush=True)
    return weights, added


def main():
    raw = np.memmap(sys.argv[1], np.float32, "r").reshape(-1, 3 * 7 * 7 + 3)
    seen, alpha = raw[:, :-1].astype(np.float16), np.array(raw[:, -1])
    print(f"{len(alpha)} samples")
    weights, added = train(seen, alpha, int(sys.argv[3]) if len(sys.argv) > 3 else 14)
    numbers = np.concatenate([np.concatenate([w.ravel(), b]) for w, b in zip(weights, added)])
    numbers = np.clip(np.rint(numbers * 4096), -32768, 32767).astype(int)
    lines, line = [], ""
    for number in numbers:
        if len(line) + len(f"{number}, ") > 100:
            lines.append(line.rstrip())
            line = ""
        line += f"{number}, "
    pathlib.Path(sys.argv[2]).write_text("\n".join([*lines, line.rstrip()]) + "\n")


main()
