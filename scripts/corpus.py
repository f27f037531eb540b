#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Makes the pictures of the truth tests out of unpacked Debian packages (scripts/corpus.sh calls it).

icons/FAMILY/NAME.png   150 x 150 px, straight alpha, as a corner mark would be made of them
large/FAMILY/NAME.png   the same at 256 x 256 px, to be laid on grounds and cut out again
photos/NAME.png         at most 1280 x 720 px, without loss
grounds/NAME-SCALE-X-Y.png    320 x 320 px of a photograph where it is nearly flat: sky, wall, water out of focus
faces/NAME.png, faces.json   a face somewhere on a photograph, and its box
The choice depends on nothing but the files' names, so it is the same on every machine.
"""
import hashlib, json, pathlib, subprocess, sys
import numpy as np
from PIL import Image, ImageOps

top = pathlib.Path(sys.argv[1])
unpacked = top / "unpacked"
EACH = 90  # icons of a family


def order(path):
    return hashlib.sha256(path.stem.encode()).hexdigest()


def drawn(path, size):
    """The picture fitted into a square of `size` px, in its middle."""
    if path.suffix == ".svg":
        made = subprocess.run(["rsvg-convert", "-w", str(size), "-h", str(size), "-a", str(path)], capture_output=True, timeout=20)
        if made.returncode != 0:
            return None
        import io
        picture = Image.open(io.BytesIO(made.stdout)).convert("RGBA")
    else:
        picture = Image.open(path).convert("RGBA")
        if picture.width != size or picture.height != size:
            scale = size / max(picture.size)
            picture = picture.resize([max(1, round(v * scale)) for v in picture.size], Image.LANCZOS)
    out = Image.new("RGBA", (size, size), (0, 0, 0, 0))
    out.paste(picture, ((size - picture.width) // 2, (size - picture.height) // 2))
    return out


def is_mark(picture):
    """Something that can be a mark: partly clear, partly solid, and not all but empty."""
    alpha = np.asarray(picture)[..., 3]
    return (alpha > 250).mean() > 0.03 and (alpha < 5).mean() > 0.05


families = {
    "tango": ("tango-icon-theme", "**/scalable/**/*.svg"),
    "adwaita": ("adwaita-icon-theme", "**/512x512/**/*.png"),
    "gnome": ("gnome-icon-theme", "**/256x256/**/*.png"),
    "mate": ("mate-icon-theme", "**/256x256/**/*.png"),
    "elementary": ("elementary-xfce-icon-theme", "**/128/*.png"),
    "clipart": ("openclipart-svg", "**/*.svg"),
}
for family, (package, pattern) in families.items():
    found = [p for p in (unpacked / package).glob(pattern) if p.is_file() and not p.is_symlink() and "symbolic" not in str(p)]
    seen, kept = set(), 0
    for path in sorted(found, key=lambda p: (order(p), str(p))):
        if kept >= EACH or path.stem in seen:
            continue
        try:
            small, large = drawn(path, 150), drawn(path, 256)
        except Exception:
            continue
        if small is None or large is None or not is_mark(small) or not is_mark(large):
            continue
        seen.add(path.stem)
        kept += 1
        for kind, picture in (("icons", small), ("large", large)):
            folder = top / kind / family
            folder.mkdir(parents=True, exist_ok=True)
            picture.save(folder / f"{path.stem}.png")
    print(f"{family}: {kept} icons")

# Photographs: none of their packages' drawings, patterns and logos.
science = pathlib.Path("/usr/lib/python3/dist-packages/skimage/data")
photos = [science / n for n in ["astronaut.png", "brick.png", "chelsea.png", "coffee.png", "coins.png", "grass.png", "gravel.png",
                                "hubble_deep_field.jpg", "ihc.png", "moon.png", "motorcycle_left.png", "retina.jpg", "rocket.jpg", "camera.png"]]
photos += sorted((unpacked / "mate-backgrounds").glob("**/nature/*.jpg"))
photos += [p for p in sorted((unpacked / "gnome-backgrounds").glob("**/*.webp")) if p.stem in {"wood-l", "wood-d"}]
(top / "photos").mkdir(parents=True, exist_ok=True)
made = {}
for path in photos:
    if not path.exists():
        continue
    whole = ImageOps.exif_transpose(Image.open(path)).convert("RGB")
    parts = [("", (0.0, 0.0, 1.0, 1.0))]
    if min(whole.size) >= 900:  # a large one gives further pictures
        parts += [("-left", (0.0, 0.1, 0.55, 0.8)), ("-right", (0.4, 0.3, 1.0, 1.0))]
    for name, (x0, y0, x1, y1) in parts:
        part = whole.crop([round(x0 * whole.width), round(y0 * whole.height), round(x1 * whole.width), round(y1 * whole.height)])
        part.thumbnail((1280, 720), Image.LANCZOS)
        part.save(top / "photos" / f"{path.stem}{name}.png")
        made[path.stem + name] = part
print(f"{len(made)} photographs")

# Nearly flat grounds: 98 % of their pixels within 8 code values of a quadratic over the square, nearly all within 16, its ends at most
# 60 apart, and a grain of half a code value or more, as every camera leaves it. No more than six of a photograph, at its own size and half.
SQUARE, MOST = 320, 6
across = np.linspace(-1, 1, SQUARE)
u, v = np.meshgrid(across, across)
terms = np.stack([np.ones_like(u), u, v, u * u, u * v, v * v], -1).reshape(-1, 6)
solve = np.linalg.pinv(terms[::7])
(top / "grounds").mkdir(exist_ok=True)
count = 0
wide = sorted((unpacked / "mate-backgrounds").glob("**/nature/*.jpg"))
wide += [p for p in sorted((unpacked / "lomiri-wallpapers-16.04").glob("**/*_by_*.jpg")) if not p.stem.startswith(("analogpattern", "umang"))]
wide += [p for p in sorted((unpacked / "lxqt-themes").glob("**/*.jpg")) if p.stem in {"Butterfly-Kenneth-Wimer", "after-the-rain", "fog", "this-is-not-windows"}]
for path in wide:
    whole = ImageOps.exif_transpose(Image.open(path)).convert("RGB")
    name = path.stem.replace("_", "-").split("-by-")[0].replace("-", "")
    flat = []
    for scale in (1, 2):
        seen = whole if scale == 1 else whole.resize((whole.width // 2, whole.height // 2), Image.LANCZOS)
        for y in range(0, seen.height - SQUARE + 1, SQUARE):
            for x in range(0, seen.width - SQUARE + 1, SQUARE):
                square = seen.crop((x, y, x + SQUARE, y + SQUARE))
                part = np.asarray(square, float).reshape(-1, 3)
                drift = terms @ (solve @ part[::7])
                off = np.abs(part - drift).max(1)
                drift -= drift.mean(0)
                near, far = np.percentile(off, [98, 99.9])
                if near <= 8 and far <= 16 and drift.max() - drift.min() <= 60 and np.median(off) >= 0.6:
                    flat.append((f"{name}-{scale}-{x}-{y}", square))
    for place, square in sorted(flat, key=lambda one: hashlib.sha256(one[0].encode()).hexdigest())[:MOST]:
        square.save(top / "grounds" / f"{place}.png")
        count += 1
print(f"{count} nearly flat grounds")

# One face, a portrait that is free to use, laid on other photographs: upright, wide, near a border, small and large.
face_of = Image.open(science / "astronaut.png").convert("RGB")
head = (150, 0, 300, 190)  # from the hair to the chin, as looked at
(top / "faces").mkdir(exist_ok=True)
boxes = {}


def keep(name, picture, box):
    picture.save(top / "faces" / f"{name}.png")
    boxes[name] = box


def portrait(name, width, height, left, upper, mirrored=False):
    """The portrait itself, cropped."""
    picture = face_of.crop((left, upper, left + width, upper + height))
    box = [head[0] - left, max(0, head[1] - upper), head[2] - left, head[3] - upper]
    if mirrored:
        picture = ImageOps.mirror(picture)
        box[0], box[2] = width - box[2], width - box[0]
    keep(name, picture, box)


portrait("portrait", 512, 512, 0, 0)
portrait("portrait-tall", 330, 512, 60, 0)
portrait("portrait-tall-mirrored", 300, 512, 100, 0, True)
portrait("portrait-wide", 512, 300, 0, 0)
grounds = [n for n in ["Garden", "Wood", "Storm", "Dune", "YellowFlower", "TwoWings", "rocket", "coffee", "RainDrops", "GreenMeadow"] if n in made]
places = [(0.05, 0.3, 0.5), (0.7, 0.05, 0.45), (0.4, 0.45, 0.55), (0.75, 0.5, 0.4), (0.02, 0.02, 0.6), (0.3, 0.2, 0.7), (0.6, 0.3, 0.35),
          (0.1, 0.55, 0.4), (0.5, 0.1, 0.5), (0.35, 0.35, 0.3)]
for i, (name, (x, y, part)) in enumerate(zip(grounds, places)):
    ground = made[name].resize((960, 640) if i % 3 else (640, 900), Image.LANCZOS)
    # Head and shoulders with a soft rim.
    cut = face_of.crop((90, 0, 400, 400))
    size = round(part * min(ground.size))
    scale = size / cut.height
    cut = cut.resize((round(cut.width * scale), size), Image.LANCZOS)
    mask = np.ones((cut.height, cut.width))
    rim = max(2, size // 12)
    for k in range(rim):
        v = (k + 1) / (rim + 1)
        mask[:, k] = np.minimum(mask[:, k], v)
        mask[:, -1 - k] = np.minimum(mask[:, -1 - k], v)
        mask[-1 - k, :] = np.minimum(mask[-1 - k, :], v)
    at = (min(round(x * ground.width), ground.width - cut.width), min(round(y * ground.height), ground.height - cut.height))
    ground.paste(cut, at, Image.fromarray((mask * 255).astype(np.uint8)))
    box = [round(at[0] + (head[0] - 90) * scale), at[1], round(at[0] + (head[2] - 90) * scale), round(at[1] + head[3] * scale)]
    keep(f"on-{name}", ground, box)
(top / "faces.json").write_text(json.dumps(boxes, indent=1))
print(f"{len(boxes)} pictures with a face")
