#!/usr/bin/env python3
"""Makes the interface's faces "Zinc Sans" out of the Inter faces (SIL OFL 1.1).

    make-zinc-sans.py DIRECTORY-WITH-INTER-OTF DIRECTORY-TO-WRITE

Two changes: the tabular figures become the default ones (Qt 6.4 cannot ask for an OpenType feature), and only the
Latin, Greek and sign ranges that the interface uses are kept. A changed font carries another name, as its licence asks.
"""
import sys
from fontTools import subset
from fontTools.ttLib import TTFont

RANGES = [(0x20, 0x7E), (0xA0, 0x24F), (0x391, 0x3C9), (0x2010, 0x203A), (0x20AC, 0x20AC), (0x2190, 0x2193),
          (0x2212, 0x2212), (0x2248, 0x2248), (0x2260, 0x2265), (0x25B2, 0x25CF)]
source, target = sys.argv[1:3]
for style, weight in (("Regular", 400), ("Medium", 500), ("SemiBold", 600)):
    font = TTFont(f"{source}/Inter-{style}.otf")
    tabular = {}
    for record in font["GSUB"].table.FeatureList.FeatureRecord:
        if record.FeatureTag == "tnum":
            for index in record.Feature.LookupListIndex:
                for table in font["GSUB"].table.LookupList.Lookup[index].SubTable:
                    tabular.update(getattr(table, "ExtSubTable", table).mapping)
    for table in font["cmap"].tables:
        for code, glyph in list(table.cmap.items()):
            table.cmap[code] = tabular.get(glyph, glyph)
    options = subset.Options()
    options.layout_features = ["kern", "mark", "mkmk", "ccmp"]
    options.name_IDs = [0, 1, 2, 3, 4, 5, 6, 13, 14]
    options.hinting = False
    subsetter = subset.Subsetter(options)
    subsetter.populate(unicodes=[c for a, b in RANGES for c in range(a, b + 1)])
    subsetter.subset(font)
    family = "Zinc Sans" if style == "Regular" else f"Zinc Sans {style}"
    names = font["name"]
    for record in list(names.names):
        if record.nameID in (16, 17, 21, 22):
            names.removeNames(record.nameID)
    for identity, text in ((1, family), (2, "Regular"), (3, f"ZincSans-{style}"), (4, family), (6, f"ZincSans-{style}"),
                           (16, "Zinc Sans"), (17, style)):
        names.setName(text, identity, 3, 1, 0x409)
        names.setName(text, identity, 1, 0, 0)
    top = font["CFF "].cff
    top.fontNames[0] = f"ZincSans-{style}"
    top.topDictIndex[0].FamilyName = "Zinc Sans"
    top.topDictIndex[0].FullName = family
    font["OS/2"].usWeightClass = weight
    font.save(f"{target}/ZincSans-{style}.otf")
