#!/usr/bin/env python3
"""House rules that a script can see: the core's rooms and their arrows, no Qt in the core, licences, words of the table.

Run from anywhere: prints one line a finding; exit 1 when there is one.
"""
import pathlib
import re
import subprocess
import sys

TOP = pathlib.Path(__file__).resolve().parent.parent
# Which rooms a room may use, itself and base/ aside. ARCHITECTURE.md draws it; arrows only point down this list.
ROOMS = {
    "base": [],
    "words": ["base"],
    "raster": ["base"],
    "colour": ["raster"],
    "picture": ["raster", "colour"],
    "brief": ["base"],
    "encode": ["picture", "brief"],
    "kit": ["base", "brief"],
    "edit": ["kit"],
    "store": ["edit"],
    "lettering": ["raster", "kit"],
    "bar": ["raster", "kit"],
    "tone": ["colour", "kit"],
    "cut": ["colour", "kit", "picture"],
    "finish": ["raster", "kit"],
    "render": ["picture", "kit", "lettering", "bar", "cut", "tone", "finish"],
    "video": ["picture"],
    "links": ["kit"],
    "readings": ["render", "encode", "brief", "words", "links"],
    "measure": ["readings", "film"],
    "mend": ["measure", "edit"],
    "layout": ["mend"],
    "release": ["measure", "encode", "links"],
    "rehearsal": ["release", "brief"],
    "film": ["video", "encode", "edit"],
    "report": ["rehearsal", "readings", "links"],
    "stamp": ["readings", "store", "encode", "render"],
}
PARTS = {"vips_part.h": ["picture", "encode"], "pango_part.h": ["lettering", "rehearsal"], "cairo_part.h": ["raster", "lettering", "bar", "rehearsal"]}  # adapters of libraries

# Which of the window's other rooms each may use: no view knows another, only the shell knows all.
VIEW = ["work", "widgets", "look"]
WINDOW = {
    "look": [],
    "widgets": ["look"],
    "work": [],
    "make": VIEW,
    "film": VIEW,
    "gauge": VIEW,
    "rehearse": VIEW,
    "release": VIEW,
    "stamping": VIEW,
    "ask": VIEW,
    "shell": ["make", "film", "gauge", "rehearse", "release", "stamping", "ask"] + VIEW,
}

found = []


def reachable(room):
    seen, todo = set(), [room]
    while todo:
        for other in ROOMS[todo.pop()]:
            if other not in seen:
                seen.add(other)
                todo.append(other)
    return seen | {room, "base"}


def check_core(path, text):
    room = path.relative_to(TOP / "src/core").parts[0]
    if room not in ROOMS:
        return found.append(f"{path}: the room {room}/ is not in scripts/lint.py and ARCHITECTURE.md")
    allowed = reachable(room)
    for number, line in enumerate(text.split("\n"), 1):
        quoted = re.match(r'\s*#\s*include\s*"([^"/]+)/([^"]+)"', line)
        if quoted and quoted[1] in ROOMS and quoted[1] not in allowed:
            found.append(f"{path}:{number}: {room}/ may not use {quoted[1]}/")
        if quoted and quoted[2] in PARTS and room not in PARTS[quoted[2]]:
            found.append(f"{path}:{number}: {quoted[2]} is for {', '.join(PARTS[quoted[2]])} only")
        if re.match(r"\s*#\s*include\s*<(Q[A-Z]|Qt)", line):
            found.append(f"{path}:{number}: the core knows no Qt")
        if re.match(r"\s*#\s*include\s*<(vips|pango|cairo|zip)", line) and "_part" not in path.name and path.name not in ("kit_file.cpp", "fonts.cpp"):
            found.append(f"{path}:{number}: a library is used through its adapter")


def check_window(path, text):
    room = path.relative_to(TOP / "src/app").parts[0]
    if room in ("main.cpp", "CMakeLists.txt"):
        return
    if room not in WINDOW:
        return found.append(f"{path}: the room {room}/ is not in scripts/lint.py, ARCHITECTURE.md")
    for number, line in enumerate(text.split("\n"), 1):
        quoted = re.match(r'\s*#\s*include\s*"([^"/]+)/([^"]+)"', line)
        if not quoted:
            if re.match(r'\s*#\s*include\s*"', line):
                found.append(f"{path}:{number}: a header is named with its room")
            continue
        other = quoted[1]
        core = (TOP / "src/core" / other / quoted[2]).exists()
        if other in WINDOW and not core and other != room and other not in WINDOW[room]:
            found.append(f"{path}:{number}: {room}/ may not use {other}/")
        if room == "look" and core and other != "base":
            found.append(f"{path}:{number}: look/ knows nothing of the core but base/")


def check_words():
    """Every message id that is said has its row in words/, and every row is said somewhere."""
    table = set(re.findall(r'\{"([a-z-]+\.[a-z0-9./-]+)",\s*"', (TOP / "src/core/words/words.cpp").read_text()))
    said = set()
    for path in (TOP / "src").rglob("*.cpp"):
        if path.name != "words.cpp":
            said |= set(re.findall(r'"([a-z-]+\.[a-z0-9-]+)"', path.read_text()))
    groups = {row.split(".")[0] for row in table}
    for word in sorted(said):
        if word.split(".")[0] in groups and word not in table and not word.endswith((".json", ".png", ".svg", ".qss")):
            found.append(f"src/core/words/words.cpp: no sentence for {word}")
    for row in sorted(table):
        if row.split(".")[0] not in ("reading", "verdict", "mend", "word", "finish", "tone") and row not in said:
            found.append(f"src/core/words/words.cpp: {row} is never said")


def check_width(name, text):
    """Lines of code and documents stay within 100 columns; a table's row may not be broken."""
    for number, line in enumerate(text.split("\n"), 1):
        if len(line) > 100 and not (name.endswith(".md") and line.startswith("|")):
            found.append(f"{name}:{number}: over 100 columns")


def check_lengths(name, text):
    """A function that no longer fits a screen is two. Found by its braces in the first column."""
    start = None
    for number, line in enumerate(text.split("\n"), 1):
        opens = line.endswith("{") and (re.match(r"[A-Za-z_]", line) or re.match(r"(    : |      \w)", line))
        if start is None and opens and not re.search(r"^(namespace|struct|class|enum)| = \{$|\(\{$", line):
            start = number
        if line in ("}", "};") and start is not None:
            if number - start > 60:
                found.append(f"{name}:{start}: a function of over 60 lines")
            start = None


def main():
    listing = ["git", "-C", TOP, "ls-files", "-co", "--exclude-standard"]
    names = subprocess.run(listing, capture_output=True, text=True, check=True).stdout.split("\n")
    for name in names:
        path = TOP / name
        if path.suffix in (".cpp", ".h", ".md") and path.is_file():
            check_width(name, path.read_text())
        if path.suffix not in (".cpp", ".h") or not path.is_file():
            continue
        text = path.read_text()
        if not text.startswith("// SPDX-License-Identifier: GPL-3.0-or-later\n"):
            found.append(f"{name}:1: the licence line is missing")
        if text.count("\n") > 600:
            found.append(f"{name}: over 600 lines; split it")
        if path.suffix == ".h" and "#pragma once" not in text:
            found.append(f"{name}: #pragma once is missing")
        if name.startswith("src/") and path.suffix == ".cpp":
            check_lengths(name, text)
        if name.startswith("src/core/"):
            check_core(path, text)
        if name.startswith("src/app/"):
            check_window(path, text)
        if name.startswith("src/cli/") and re.search(r"#\s*include\s*<Q", text):
            found.append(f"{name}: the command line knows no Qt")
    check_words()
    for line in found:
        print(line.replace(f"{TOP}/", ""))
    print(f"lint: {len(found)} findings")
    return 1 if found else 0


sys.exit(main())
