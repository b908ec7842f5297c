"""A plan on its sheet: the drawing to scale, below it the title block with office, facts, legend, scale bar and
north.
"""

import io

from garnetfin.report.blocks import Figure, Plan

MM = 72 / 25.4
BLOCK_MM = 34.0  # height of the title block
MOST_PIXELS = 20_000_000  # of a logo
BAR_M = (1, 2, 5, 10, 20, 50, 100)  # lengths a scale bar may have


def fitting_scale(figure: Figure, width_mm: float, height_mm: float, scales: tuple[int, ...], wanted: int = 0) -> int:
    """1:n at which a figure fits: the one wanted if it does, else the largest of `scales`, else the smallest whole
    hundred.
    """
    x0, y0, x1, y1 = figure.box
    need = max((x1 - x0) * 1000 / width_mm, (y1 - y0) * 1000 / height_mm)
    if wanted and wanted >= need:
        return wanted
    return next((n for n in scales if n >= need), int(-(-need // 100)) * 100)


def read_logo(data: bytes):
    """The office's logo for a page;

    None for none, for one that cannot be read, and for one of more than MOST_PIXELS.
    """
    if not data:
        return None
    from PIL import Image
    from reportlab.lib.utils import ImageReader

    try:
        with Image.open(io.BytesIO(data)) as picture:
            if picture.width * picture.height > MOST_PIXELS:
                return None
            picture.load()
        return ImageReader(io.BytesIO(data))
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        return None


def draw_plan(canvas, plan: Plan, look, width: float, height: float, colours: dict[str, str], scale: int) -> int:
    """Draw it 1:scale on a canvas of reportlab, width and height in points; the scale."""
    block = BLOCK_MM * MM
    x0, y0, x1, y1 = plan.figure.box
    k = 1000 / scale * MM
    left, low = (width - (x1 - x0) * k) / 2, block + (height - block - (y1 - y0) * k) / 2

    def at(p: tuple[float, float]) -> tuple[float, float]:
        return left + (p[0] - x0) * k, low + (p[1] - y0) * k

    for shape in plan.figure.shapes:
        path = canvas.beginPath()
        path.moveTo(*at(shape.points[0]))
        for p in shape.points[1:]:
            path.lineTo(*at(p))
        if shape.closed:
            path.close()
        if shape.stroke:
            canvas.setStrokeColor(colours[shape.stroke])
            canvas.setLineWidth(shape.width)
        if shape.fill:
            canvas.setFillColor(colours[shape.fill])
        canvas.setDash([3, 2] if shape.dashed else [])
        canvas.drawPath(path, stroke=int(bool(shape.stroke)), fill=int(bool(shape.fill) and shape.closed))
    canvas.setDash([])
    for label in plan.figure.labels:
        x, y = at(label.at)
        canvas.saveState()
        canvas.translate(x, y)
        canvas.rotate(label.turned_deg)
        canvas.setFont("Garnetfin", label.size)
        canvas.setFillColor(colours[label.colour])
        {"left": canvas.drawString, "centre": canvas.drawCentredString, "right": canvas.drawRightString}[label.side](
            0, -label.size * 0.35, label.text
        )
        canvas.restoreState()
    _title_block(canvas, plan, look, width, block, colours, scale)
    canvas.setStrokeColor(colours["ink"])
    canvas.setLineWidth(0.8)
    canvas.rect(0, 0, width, height)
    return scale


def _title_block(canvas, plan: Plan, look, width: float, high: float, colours: dict[str, str], scale: int) -> None:
    def say(x: float, y: float, text: str, size: float = 8, bold: bool = False, colour: str = "ink") -> None:
        canvas.setFont("Garnetfin-Bold" if bold else "Garnetfin", size)
        canvas.setFillColor(colours[colour])
        canvas.drawString(x, y, text)

    canvas.setStrokeColor(colours["ink"])
    canvas.setLineWidth(0.6)
    canvas.line(0, high, width, high)
    edges = [width * share for share in (0.0, 0.22, 0.62, 0.80)]
    for x in edges[1:]:
        canvas.line(x, 0, x, high)
    # Office.
    y = high - 14
    image = read_logo(look.logo)
    if image is not None:  # one that cannot be read is said on the cover
        w, h = image.getSize()
        fit = min((edges[1] - 16) / w, 30 / h)
        canvas.drawImage(image, 8, high - 8 - h * fit, w * fit, h * fit, mask="auto")
        y = high - 20 - h * fit
    say(8, y, look.company, 9, True)
    for i, line in enumerate(look.lines[:3]):
        say(8, y - 11 * (i + 1), line, 7, colour="faint")
    # Facts in two columns.
    facts = [f for f in plan.facts if f[1]] + [
        ("Scale", f"1:{scale} on {look.plans}"),
        ("Issue", look.foot.rpartition("issue ")[2] if "issue " in look.foot else ""),
    ]
    facts = [f for f in facts if f[1]]
    half = -(-len(facts) // 2)
    for i, (name, value) in enumerate(facts):
        x, y = edges[1] + 8 + (i // half) * (edges[2] - edges[1]) / 2, high - 14 - (i % half) * 17
        say(x, y, name, 6.5, colour="faint")
        say(x, y - 8.5, value, 8.5, True)
    # Legend.
    for i, (words, stroke, fill) in enumerate(plan.legend):
        y = high - 18 - i * 15
        canvas.setStrokeColor(colours[stroke])
        canvas.setFillColor(colours[fill])
        canvas.rect(edges[2] + 8, y - 1, 22, 8, fill=1)
        say(edges[2] + 36, y, words, 8)
    canvas.setStrokeColor(colours["garnet"])
    canvas.setDash([3, 2])
    y = high - 18 - len(plan.legend) * 15
    canvas.line(edges[2] + 8, y + 3, edges[2] + 30, y + 3)
    canvas.setDash([])
    say(edges[2] + 36, y, "Index run", 8)
    _north(canvas, edges[3] + 24, high / 2 + 8, plan.north_deg, colours)
    _bar(canvas, edges[3] + 56, high / 2 - 6, width - edges[3] - 72, scale, colours)


def _north(canvas, x: float, y: float, north_deg: float, colours: dict[str, str]) -> None:
    canvas.saveState()
    canvas.translate(x, y)
    canvas.rotate(-north_deg)
    canvas.setStrokeColor(colours["ink"])
    canvas.setFillColor(colours["ink"])
    path = canvas.beginPath()
    for i, p in enumerate(((0, 16), (6, -12), (0, -6), (-6, -12))):
        (path.lineTo if i else path.moveTo)(*p)
    path.close()
    canvas.drawPath(path, stroke=1, fill=0)
    half = canvas.beginPath()
    for i, p in enumerate(((0, 16), (6, -12), (0, -6))):
        (half.lineTo if i else half.moveTo)(*p)
    half.close()
    canvas.drawPath(half, stroke=1, fill=1)
    canvas.setFont("Garnetfin-Bold", 8)
    canvas.drawCentredString(0, 19, "N")
    canvas.restoreState()


def _bar(canvas, x: float, y: float, room: float, scale: int, colours: dict[str, str]) -> None:
    length = max((b for b in BAR_M if b * 1000 / scale * MM <= room), default=BAR_M[0])
    step = length * 1000 / scale * MM / 5
    canvas.setStrokeColor(colours["ink"])
    canvas.setLineWidth(0.5)
    for i in range(5):
        canvas.setFillColor(colours["ink" if i % 2 == 0 else "sheet"])
        canvas.rect(x + i * step, y, step, 5, fill=1)
    canvas.setFillColor(colours["ink"])
    canvas.setFont("Garnetfin", 7)
    canvas.drawCentredString(x, y + 9, "0")
    canvas.drawCentredString(x + 5 * step, y + 9, f"{length} m")
