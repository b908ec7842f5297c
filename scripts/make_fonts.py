"""Makes the fonts in garnetfin/ui/assets/fonts from Debian's package fonts-inter (SIL Open Font License 1.1).

Tabular figures become the default, so that every renderer has them; outlines become TrueType, which the paper
writer needs; only Latin and the signs the program shows are kept. The family is renamed, so that it never
clashes with an installed Inter. Run: python scripts/make_fonts.py (needs fonttools)
"""

from pathlib import Path

from fontTools.pens.cu2quPen import Cu2QuPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.subset import Options, Subsetter
from fontTools.ttLib import TTFont, newTable

SOURCE = Path("/usr/share/fonts/opentype/inter")
TARGET = Path(__file__).parent.parent / "garnetfin" / "ui" / "assets" / "fonts"
FAMILY = "Garnetfin Sans"
STYLES = {"Regular": "Regular", "Italic": "Italic", "Medium": "Medium", "SemiBold": "SemiBold"}
KEPT = [
    *range(0x20, 0x180),
    0x2009,
    0x2010,
    0x2011,
    0x2012,
    0x2013,
    0x2014,
    0x2018,
    0x2019,
    0x201C,
    0x201D,
    0x201E,
    0x2022,
    0x2026,
    0x202F,
    0x2032,
    0x2033,
    0x20AC,
    0x2190,
    0x2191,
    0x2192,
    0x2193,
    0x2212,
    0x2248,
    0x2260,
    0x2264,
    0x2265,
    0x2300,
    0x2713,
    0x00B2,
    0x00B3,
    0x2070,
    0x0394,
    0x03B5,
    0x03B7,
    0x03C1,
    0x03C4,
    0x03C6,
    0x03B1,
    0x03BB,
]


def tabular(font: TTFont) -> None:
    """Point the digits of the character map at the glyphs that the tnum feature would choose."""
    swap: dict[str, str] = {}
    gsub = font["GSUB"].table
    for record in gsub.FeatureList.FeatureRecord:
        if record.FeatureTag == "tnum":
            for index in record.Feature.LookupListIndex:
                for sub in gsub.LookupList.Lookup[index].SubTable:
                    swap.update(getattr(getattr(sub, "ExtSubTable", sub), "mapping", {}))
    for table in font["cmap"].tables:
        for code, name in list(table.cmap.items()):
            if name in swap:
                table.cmap[code] = swap[name]


def to_truetype(font: TTFont) -> None:
    glyphs, order = font.getGlyphSet(), font.getGlyphOrder()
    made = {}
    for name in order:
        pen = TTGlyphPen(None)
        glyphs[name].draw(Cu2QuPen(pen, max_err=1.0, reverse_direction=True))
        made[name] = pen.glyph()
    font["loca"], font["glyf"] = newTable("loca"), newTable("glyf")
    font["glyf"].glyphOrder, font["glyf"].glyphs = order, made
    maxp = font["maxp"]
    maxp.tableVersion = 0x00010000
    for name in (
        "maxZones",
        "maxTwilightPoints",
        "maxStorage",
        "maxFunctionDefs",
        "maxInstructionDefs",
        "maxStackElements",
        "maxSizeOfInstructions",
        "maxComponentElements",
        "maxPoints",
        "maxContours",
        "maxCompositePoints",
        "maxCompositeContours",
        "maxComponentDepth",
    ):
        setattr(maxp, name, 1 if name == "maxZones" else 0)
    post = font["post"]
    post.formatType, post.extraNames, post.mapping = 2.0, [], {}
    post.glyphOrder = order
    del font["CFF "]
    for name in ("VORG",):
        if name in font:
            del font[name]
    font.sfntVersion = "\000\001\000\000"


def rename(font: TTFont, style: str) -> None:
    names = font["name"]
    for record in list(names.names):
        if record.nameID in (16, 17, 21, 22, 25):
            names.removeNames(nameID=record.nameID)
    for name_id, text in (
        (1, FAMILY if style in ("Regular", "Italic") else f"{FAMILY} {style}"),
        (2, "Italic" if style == "Italic" else "Regular"),
        (3, f"{FAMILY} {style}"),
        (4, f"{FAMILY} {style}"),
        (6, f"{FAMILY.replace(' ', '')}-{style}"),
        (16, FAMILY),
        (17, style),
    ):
        names.setName(text, name_id, 3, 1, 0x409)


def main() -> None:
    TARGET.mkdir(parents=True, exist_ok=True)
    for style, file_style in STYLES.items():
        font = TTFont(SOURCE / f"Inter-{file_style}.otf")
        tabular(font)
        options = Options()
        options.layout_features = ["kern", "mark", "mkmk", "ccmp", "locl"]
        options.name_IDs, options.notdef_outline = ["*"], True
        subsetter = Subsetter(options)
        subsetter.populate(unicodes=KEPT)
        subsetter.subset(font)
        to_truetype(font)
        rename(font, style)
        font.save(TARGET / f"GarnetfinSans-{style}.ttf")


if __name__ == "__main__":
    main()
