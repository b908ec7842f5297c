"""A plan as DXF in millimetres of the building, one layer for each kind of thing and for each air of each system, with
its colour and weight; symbols as blocks (ezdxf).
"""

import io

from garnetfin.report.blocks import Figure
from garnetfin.report.to_pdf import COLOURS

MM = 1000.0
STYLE, FONT = "Garnetfin", "arial.ttf"  # the pen letters of old have no ø, × or ²
POINT_MM = 25.4 / 72
FORBIDDEN = str.maketrans({c: " " for c in '<>/\\":;?*|=`,'})
CENTIMM = {0.2: 18, 0.25: 25, 0.35: 25, 0.4: 25, 0.5: 35, 0.6: 35}  # points of a line to the steps a DXF knows


def layer_name(name: str) -> str:
    """As a DXF accepts it."""
    return name.translate(FORBIDDEN).strip()[:250] or "drawing"


def to_dxf(figure: Figure, scale: int = 100) -> bytes:
    """DXF R2010. Words stand as high as they are printed 1:scale; fills are left to whoever opens it."""
    import ezdxf
    from ezdxf.colors import rgb2int
    from ezdxf.enums import TextEntityAlignment

    drawing = ezdxf.new("R2010", setup=("linetypes",))
    drawing.header["$INSUNITS"] = 4
    drawing.header["$MEASUREMENT"] = 1
    drawing.styles.add(STYLE, font=FONT)
    space = drawing.modelspace()
    sides = {
        "left": TextEntityAlignment.MIDDLE_LEFT,
        "centre": TextEntityAlignment.MIDDLE_CENTER,
        "right": TextEntityAlignment.MIDDLE_RIGHT,
    }

    def layer(name: str, colour: str) -> str:
        name = layer_name(name)
        if name not in drawing.layers:
            made = drawing.layers.add(name)
            made.dxf.true_color = rgb2int(tuple(int(COLOURS[colour][i : i + 2], 16) for i in (1, 3, 5)))
        return name

    weights: dict[str, int] = {}
    symbols: dict[str, set[tuple[float, float]]] = {}  # places of each symbol
    drawn: dict[str, tuple[float, float]] = {}  # the place by which a symbol's lines are taken
    for shape in figure.shapes:
        on: dict[str, object] = {"layer": layer(shape.layer, shape.stroke or "faint")}
        weight = CENTIMM.get(shape.width, 25)
        if weights.setdefault(str(on["layer"]), weight) != weight:
            on["lineweight"] = weight
        if shape.dashed:
            on |= {"linetype": "DASHED", "ltscale": MM / 4}
        if not shape.block:
            points = [(x * MM, y * MM) for x, y in shape.points]
            space.add_lwpolyline(points, close=shape.closed, dxfattribs=on)
            continue
        name = layer_name(shape.block)
        if name not in drawn:
            drawing.blocks.new(name)
            drawn[name] = shape.at
        if drawn[name] == shape.at:
            points = [((x - shape.at[0]) * MM, (y - shape.at[1]) * MM) for x, y in shape.points]
            # on layer 0 a line of a block takes colour and weight of where it is put
            drawing.blocks[name].add_lwpolyline(points, close=shape.closed, dxfattribs={"layer": "0"})
        if shape.at not in symbols.setdefault(name, set()):
            symbols[name].add(shape.at)
            space.add_blockref(name, (shape.at[0] * MM, shape.at[1] * MM), dxfattribs={"layer": on["layer"]})
    for name, weight in weights.items():
        drawing.layers.get(name).dxf.lineweight = weight
    for label in figure.labels:
        x, y = label.at
        text = space.add_text(
            label.text,
            height=label.size * 0.72 * POINT_MM * scale,
            dxfattribs={"layer": layer(label.layer, label.colour), "rotation": label.turned_deg, "style": STYLE},
        )
        text.set_placement((x * MM, y * MM), align=sides[label.side])
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode("utf-8", "surrogateescape")
