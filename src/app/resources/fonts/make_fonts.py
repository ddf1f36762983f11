#!/usr/bin/env python3
"""Makes the type that Noctis ships from Debian's Inter (packages fonts-inter and fonttools).

Figures are always tabular, which Qt 6.4 can't ask a font for; only the letters of European languages
are kept; the family is named Noctis Sans, as the Open Font License wishes of changed fonts.
"""
import pathlib
import subprocess
import sys

from fontTools.ttLib import TTFont

SOURCE = pathlib.Path("/usr/share/fonts/opentype/inter")
HERE = pathlib.Path(__file__).parent
UNICODES = "U+0020-024F,U+02C6-02DC,U+0370-03FF,U+2000-206F,U+20A0-20BF,U+2190-2199,U+2200-22FF,U+00B0"

for weight in ("Regular", "Medium", "SemiBold"):
    target = HERE / f"NoctisSans-{weight}.otf"
    font = TTFont(SOURCE / f"Inter-{weight}.otf")
    names = set(font.getGlyphOrder())
    tabular = {}
    for feature in font["GSUB"].table.FeatureList.FeatureRecord:
        if feature.FeatureTag == "tnum":
            for index in feature.Feature.LookupListIndex:
                for sub in font["GSUB"].table.LookupList.Lookup[index].SubTable:
                    sub = getattr(sub, "ExtSubTable", sub)
                    tabular.update(getattr(sub, "mapping", {}))
    for table in font["cmap"].tables:
        for code, glyph in list(table.cmap.items()):
            if 0x30 <= code <= 0x39 and tabular.get(glyph) in names:
                table.cmap[code] = tabular[glyph]
    for record in font["name"].names:
        text = record.toUnicode()
        if "Inter" in text and record.nameID in (1, 3, 4, 6, 16):
            record.string = text.replace("Inter", "NoctisSans" if record.nameID == 6 else "Noctis Sans")
    cff = font["CFF "].cff
    cff.fontNames[0] = cff.fontNames[0].replace("Inter", "NoctisSans")
    whole = target.with_suffix(".whole.otf")
    font.save(whole)
    subprocess.run([sys.executable, "-m", "fontTools.subset", whole, f"--unicodes={UNICODES}",
                    "--layout-features=kern,mark,ccmp,calt", "--name-IDs=*", f"--output-file={target}"], check=True)
    whole.unlink()
