"""A plan as SVG in millimetres of the sheet, one group a layer."""

import re
from xml.sax.saxutils import escape, quoteattr

from garnetfin.report.blocks import Figure
from garnetfin.report.to_pdf import COLOURS

POINT_MM = 25.4 / 72


def to_svg(figure: Figure, title: str, scale: int = 100) -> bytes:
    """The drawing 1:scale; `title` is its name for readers and assistive programs."""
    x0, y0, x1, y1 = figure.box
    k = 1000 / scale
    width, height = (x1 - x0) * k, (y1 - y0) * k

    def at(p: tuple[float, float]) -> str:
        return f"{(p[0] - x0) * k:.3f},{(y1 - p[1]) * k:.3f}"

    layers: dict[str, list[str]] = {}
    for shape in figure.shapes:
        style = (
            f'fill="{COLOURS[shape.fill] if shape.fill and shape.closed else "none"}" '
            f'stroke="{COLOURS[shape.stroke] if shape.stroke else "none"}" '
            f'stroke-width="{shape.width * POINT_MM:.3f}"' + (' stroke-dasharray="1.1 0.7"' if shape.dashed else "")
        )
        layers.setdefault(shape.layer, []).append(
            f'<{"polygon" if shape.closed else "polyline"} points="{" ".join(map(at, shape.points))}" {style}/>'
        )
    anchors = {"left": "start", "centre": "middle", "right": "end"}
    for label in figure.labels:
        x, y = at(label.at).split(",")
        size = label.size * POINT_MM
        turned = f' transform="rotate({-label.turned_deg:.2f} {x} {y})"' if label.turned_deg else ""
        layers.setdefault(label.layer, []).append(
            f'<text x="{x}" y="{y}" dy="{size * 0.35:.3f}" font-size="{size:.3f}" fill="{COLOURS[label.colour]}" '
            f'text-anchor="{anchors[label.side]}"{turned}>{escape(label.text)}</text>'
        )
    body = "\n".join(
        f"<g id={quoteattr(_id(name))} aria-label={quoteattr(name or 'drawing')}>\n" + "\n".join(parts) + "\n</g>"
        for name, parts in layers.items()
    )
    return (
        f'<?xml version="1.0" encoding="UTF-8"?>\n<svg xmlns="http://www.w3.org/2000/svg" width="{width:.3f}mm" '
        f'height="{height:.3f}mm" '
        f'viewBox="0 0 {width:.3f} {height:.3f}" font-family="Inter, '
        f'sans-serif">\n<title>{escape(title)}</title>\n{body}\n</svg>\n'
    ).encode()


def _id(layer: str) -> str:
    """A layer's name as XML wants the name of a thing: no blanks, a letter first."""
    name = re.sub(r"[^\w.-]+", "-", layer).strip("-") or "drawing"
    return name if name[0].isalpha() else f"layer-{name}"
