#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Draws what the network for edges in JPEGs is trained on: shapes, lines and letters with drawn
rims, gradients, soft edges and shadows, as straight RGBA of 256 x 256 px with exact coverage.

Usage: scenes.py SEED COUNT FOLDER
"""
import colorsys
import pathlib
import sys

import numpy as np
from PIL import Image, ImageDraw, ImageFont
from scipy import ndimage

SIDE, FINE = 128, 8  # px of a scene, of which four make a picture; samples across a pixel
LARGE = SIDE * FINE
FONT = str(pathlib.Path(__file__).parents[2] / "data/fonts/LeagueSpartan-Bold.otf")


def colour(rng):
    which = rng.random()
    if which < 0.2:
        return np.full(3, float(rng.integers(0, 256)))
    if which < 0.36:  # paper, gloss, lamps
        return np.clip(rng.uniform(215, 255) + rng.normal(0, 4, 3), 0, 255)
    return np.array(colorsys.hsv_to_rgb(rng.random(), rng.random(), rng.random() ** 0.7)) * 255


def shape(rng):
    """Where one shape is, sample by sample."""
    image = Image.new("L", (LARGE, LARGE), 0)
    draw = ImageDraw.Draw(image)
    x, y = rng.uniform(0.25, 0.75, 2) * LARGE
    w, h = rng.uniform(0.08, 0.42, 2) * LARGE
    box = [x - w, y - h, x + w, y + h]
    kind = rng.integers(0, 7)
    if kind == 0:
        draw.ellipse(box, fill=255)
    elif kind == 1:
        draw.rounded_rectangle(box, radius=rng.uniform(0, 0.8) * min(w, h), fill=255)
    elif kind == 2:
        corners = rng.integers(3, 8)
        turns = np.sort(rng.uniform(0, 2 * np.pi, corners))
        reach = rng.uniform(0.4, 1, corners) * max(w, h)
        draw.polygon([(x + r * np.cos(t), y + r * np.sin(t)) for r, t in zip(reach, turns)],
                     fill=255)
    elif kind == 3:
        points = [tuple(rng.uniform(0.1, 0.9, 2) * LARGE) for _ in range(rng.integers(2, 5))]
        draw.line(points, fill=255, width=int(rng.uniform(1, 9) * FINE), joint="curve")
    elif kind == 4:
        draw.arc(box, rng.uniform(0, 360), rng.uniform(0, 360), fill=255,
                 width=int(rng.uniform(1.2, 8) * FINE))
    elif kind == 5:
        font = ImageFont.truetype(FONT, int(rng.uniform(12, 60) * FINE))
        text = "".join(rng.choice(list("ABRSgaek8&%"), rng.integers(1, 4)))
        draw.text((x - w, y - h), text, font=font, fill=255)
    else:
        w = min(w, h)
        draw.rectangle([x - w, y - w, x + w, y + w], fill=255)
    turn = rng.uniform(0, 360) if rng.random() < 0.6 else 0
    return np.array(image.rotate(turn, resample=0, center=(x, y))) > 127


def gradient(rng, one, other):
    turn = rng.uniform(0, 2 * np.pi)
    y, x = np.mgrid[0:LARGE:4, 0:LARGE:4]
    way = (x * np.cos(turn) + y * np.sin(turn)) / LARGE
    way = (way - way.min()) / (np.ptp(way) + 1e-9)
    way = np.clip(way * rng.uniform(1, 2.5) - rng.uniform(0, 0.7), 0, 1)
    way = np.kron(way.astype(np.float32), np.ones((4, 4), np.float32))
    return one + (other - one) * way[..., None]


def means(values):
    """Of the samples of each pixel."""
    parts = values.reshape(SIDE, FINE, SIDE, FINE, *values.shape[2:])
    return parts.mean((1, 3))


def shadow(rng, inside):
    moved = np.roll(means(inside), (rng.integers(-1, 7), rng.integers(-3, 4)), (0, 1))
    soft = ndimage.gaussian_filter(moved, rng.uniform(0.5, 5)) * rng.uniform(0.1, 0.7)
    return np.where(soft < 1 / 255, 0, soft)


def paint(rng, inside, ink):
    """One shape: flat or a gradient, three in five with a rim, some with a bright line in it."""
    own = colour(rng)
    fill = np.broadcast_to(own, ink.shape)
    if rng.random() < 0.6:
        fill = gradient(rng, own, np.clip(own + rng.normal(0, 50, 3), 0, 255))
    ink[inside] = fill[inside]
    if rng.random() >= 0.6:
        return
    depth = ndimage.distance_transform_edt(inside) / FINE
    width = rng.choice([1, 1, 1, 1.5, 2, 3]) if rng.random() < 0.8 else rng.uniform(0.6, 4)
    dark = own * rng.uniform(0.1, 0.75)
    ink[inside & (depth <= width)] = dark if rng.random() < 0.75 else colour(rng)
    if rng.random() < 0.4:
        bright = inside & (depth > width) & (depth <= width + rng.choice([1, 1, 2]))
        ink[bright] = np.clip(own + rng.uniform(0, 1) * (255 - own), 0, 255)


def scene(rng):
    """Alpha 0..1 and premultiplied colour 0..255 of SIDE x SIDE px."""
    ink = np.zeros((LARGE, LARGE, 3), np.float32)
    covered = np.zeros((LARGE, LARGE), bool)
    shade = np.zeros((SIDE, SIDE))
    for _ in range(rng.integers(1, 6)):
        inside = shape(rng)
        if not inside.any():
            continue
        if rng.random() < 0.22:
            shade = 1 - (1 - shade) * (1 - shadow(rng, inside))
        paint(rng, inside, ink)
        covered |= inside
    if not covered.any():
        return scene(rng)
    alpha = means(covered)
    pre = means(ink * covered[..., None])
    if rng.random() < 0.15:  # soft edges, as of a scaled picture
        blur = rng.uniform(0.4, 1.6)
        alpha = ndimage.gaussian_filter(alpha, blur)
        pre = np.stack([ndimage.gaussian_filter(pre[..., c], blur) for c in range(3)], -1)
        pre[alpha < 1 / 255] = 0
        alpha[alpha < 1 / 255] = 0
    return alpha + (1 - alpha) * shade, pre


def main():
    seed, count, folder = int(sys.argv[1]), int(sys.argv[2]), pathlib.Path(sys.argv[3])
    folder.mkdir(parents=True, exist_ok=True)
    rng = np.random.default_rng(seed)
    for number in range(count):
        picture = np.zeros((2 * SIDE, 2 * SIDE, 4), np.uint8)
        for top in (0, SIDE):
            for left in (0, SIDE):
                alpha, pre = scene(rng)
                alpha = np.rint(alpha * 255)
                part = picture[top:top + SIDE, left:left + SIDE]
                straight = pre * 255 / np.maximum(alpha, 1)[..., None]
                part[..., :3] = np.clip(np.rint(straight), 0, 255) * (alpha[..., None] > 0)
                part[..., 3] = alpha
        Image.fromarray(picture).save(folder / f"{seed}-{number:04d}.png")


main()
