"""Makes the static font for labels out of the variable one that ships; run once, with fonttools and brotli at hand.

Its licence (SIL Open Font License) stands beside it; no name in it is reserved.
"""

from pathlib import Path

from fontTools.merge import Merger
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer

FONTS = Path(__file__).parents[2] / "aestiva/frame/static/vendor/fonts"
WEIGHT = 560

parts = []
for part in ("latin", "latin-ext"):
    font = TTFont(FONTS / f"atkinson-hyperlegible-next-{part}-wght-normal.woff2")
    font.flavor = None
    font = instancer.instantiateVariableFont(font, {"wght": WEIGHT})
    for table in ("GSUB", "GPOS", "GDEF", "STAT"):
        if table in font:
            del font[table]
    parts.append(f"/tmp/{part}.ttf")
    font.save(parts[-1])
Merger().merge(parts).save(FONTS / "atkinson-hyperlegible-next-static.ttf")
