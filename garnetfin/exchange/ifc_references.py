"""What others draw in an IFC file: ducts, pipes, trays, beams, slabs, ceilings, terminals with their heights, by class
and layer.
"""

from collections import Counter
from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import GarnetfinError
from garnetfin.core.outlines import tidy
from garnetfin.exchange.ifc_shapes import Shapes
from garnetfin.project.draft import Reference
from garnetfin.project.spaces import CEILING, Level, Obstacle

MOST = 5_000
MOST_PARTS = 200  # of one slab cut through its openings; beyond them the rectangle around it
LEAST_M2 = 1e-4
Corners = Sequence[tuple[float, float]]
# Classes that stand in the way of ducts, and what they are called; what derives from one belongs to it.
KINDS = {
    "IfcBeam": "beam",
    "IfcColumn": "column",
    "IfcDuctSegment": "duct",
    "IfcDuctFitting": "duct",
    "IfcPipeSegment": "pipe",
    "IfcPipeFitting": "pipe",
    "IfcCableCarrierSegment": "cable tray",
    "IfcCableCarrierFitting": "cable tray",
    "IfcAirTerminal": "terminal",
    "IfcFlowSegment": "segment",  # IFC2X3 names ducts, pipes and trays by their types alone
    "IfcFlowFitting": "segment",
    "IfcFlowTerminal": "terminal",
    "IfcSlab": "slab",
    "IfcCovering": CEILING,
}
FLAT = ("slab", CEILING)  # as wide as drawn, with their openings; all else as the rectangle around it
OLD_KINDS = {"IfcDuct": "duct", "IfcPipe": "pipe", "IfcCableCarrier": "cable tray"}
OWN = ("Garnetfin_Duct", "Garnetfin_Fitting", "Garnetfin_Terminal")


def references(
    model, shapes: Shapes, levels: list[Level], say: Callable[[float, str], None], note: Callable[..., None]
) -> tuple[Reference, ...]:
    """Things in the way, each with its group (class and layer); what is not taken is told with its count."""
    layers = _layers(model)
    found: list[Reference] = []
    left: Counter[str] = Counter()
    seen: set[int] = set()
    products = [(p, kind) for name, kind in KINDS.items() for p in _of_class(model, name)]
    for i, (product, kind) in enumerate(products):
        if product.id() in seen:
            continue
        seen.add(product.id())
        if len(found) >= MOST:
            left[f"parts of others beyond {MOST}"] += 1
            continue
        if i % 50 == 0:
            say(0.8 + 0.18 * i / len(products), f"part {i + 1} of {len(products)}")
        if _ours(product):
            left["ducts and terminals that this program wrote"] += 1
            continue
        if kind == CEILING and str(getattr(product, "PredefinedType", "")) not in ("CEILING", "None", "NOTDEFINED"):
            left["coverings of floors, walls and parts"] += 1
            continue
        try:
            points, triangles = shapes.mesh(product)
        except Exception:  # the geometry kernel raises anything on a broken shape
            left[f"{_words(product, kind)} without a usable shape"] += 1
            continue
        word = _words(product, kind)
        outlines = _as_drawn(points, triangles) if kind in FLAT else _around(points)
        made = _obstacles(str(product.GlobalId), word, points, outlines, levels)
        if not made:
            left[f"{word} without a usable shape"] += 1
            continue
        layer = layers.get(product.id(), "")
        found += [Reference(group=f"{word}, layer {layer}" if layer else word, obstacle=o) for o in made]
    for words, count in left.items():
        note("left out", f"{count} {words}")
    return tuple(found)


def _of_class(model, name: str) -> list:
    try:
        return list(model.by_type(name))
    except RuntimeError:  # the schema of the file does not have the class
        return []


def _ours(product) -> bool:
    import ifcopenshell.util.element

    try:
        return any(name in OWN for name in ifcopenshell.util.element.get_psets(product, psets_only=True))
    except Exception:  # property sets that refer to nothing
        return False


def _words(product, kind: str) -> str:
    """Kind of a part; a segment of the old schema by its type."""
    if kind != "segment":
        return kind
    import ifcopenshell.util.element

    try:
        made = ifcopenshell.util.element.get_type(product)
    except Exception:  # a type that refers to nothing
        made = None
    name = made.is_a() if made is not None else ""
    return next((word for start, word in OLD_KINDS.items() if name.startswith(start)), "duct or pipe")


def _layers(model) -> dict[int, str]:
    """Name of the layer of a product by its number."""
    by_item: dict[int, str] = {}
    for layer in _of_class(model, "IfcPresentationLayerAssignment"):
        for item in layer.AssignedItems or ():
            by_item[item.id()] = str(layer.Name or "")[:60]
    if not by_item:
        return {}
    found = {}
    for product in _of_class(model, "IfcProduct"):
        shape = getattr(product, "Representation", None)
        for part in shape.Representations if shape is not None else ():
            for item in (part, *part.Items):
                if item.id() in by_item:
                    found[product.id()] = by_item[item.id()]
    return found


def _around(points: NDArray) -> list[Corners]:
    """The smallest rectangle around a part in plan; none where it is nothing."""
    from shapely import MultiPoint

    if len(points) < 3 or not np.isfinite(points).all():
        return []
    around = MultiPoint(points[:, :2]).minimum_rotated_rectangle
    return [list(around.exterior.coords)] if around.geom_type == "Polygon" and around.area > LEAST_M2 else []


def _as_drawn(points: NDArray, triangles: NDArray) -> list[Corners]:
    """What a body covers in plan, cut through its openings: outlines without holes."""
    from shapely import Polygon, box, polygons, unary_union

    if len(points) < 3 or not len(triangles) or not np.isfinite(points).all():
        return []
    flat = polygons(points[triangles][:, :, :2])
    covered = unary_union([t for t in flat if t.area > 1e-9]).buffer(0).simplify(0.005)
    todo = list(getattr(covered, "geoms", [covered]))
    whole: list[Corners] = []
    while todo:
        part: Polygon = todo.pop()
        if part.geom_type != "Polygon" or part.area < LEAST_M2:
            continue
        holes = [h for h in part.interiors if Polygon(h).area > LEAST_M2]
        if not holes:
            whole.append(list(part.exterior.coords))
            continue
        x0, y0, x1, y1 = part.bounds
        middle = Polygon(holes[0]).centroid.x
        for half in (box(x0, y0, middle, y1), box(middle, y0, x1, y1)):
            cut = part.intersection(half)
            todo += list(getattr(cut, "geoms", [cut]))
        if len(todo) + len(whole) > MOST_PARTS:
            return _around(points)
    return whole


def _obstacles(key: str, kind: str, points: NDArray, outlines: list[Corners], levels: list[Level]) -> list[Obstacle]:
    """Of the level on which their middle lies, from their lowest to their highest point."""
    if not outlines or not levels:
        return []
    low, high = float(points[:, 2].min()), float(points[:, 2].max())
    if high - low < 1e-3:
        return []
    middle = (low + high) / 2
    under = [x for x in levels if x.elevation_m <= middle]
    level = max(under, key=lambda x: x.elevation_m) if under else levels[0]
    try:
        return [
            Obstacle(
                id=f"{key}-{i}" if i else key,
                kind=kind,
                level_id=level.id,
                outline=tuple((round(x, 4), round(y, 4)) for x, y in tidy(outline)),
                bottom_m=round(low - level.elevation_m, 4),
                top_m=round(high - level.elevation_m, 4),
            )
            for i, outline in enumerate(outlines)
        ]
    except GarnetfinError:
        return []
