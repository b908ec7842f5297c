"""What others draw in an IFC file: ducts, pipes, trays, beams, terminals as obstacles with heights, by class and
layer.
"""

from collections import Counter
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import GarnetfinError
from garnetfin.core.outlines import tidy
from garnetfin.exchange.ifc_shapes import Shapes
from garnetfin.project.draft import Reference
from garnetfin.project.spaces import Level, Obstacle

MOST = 5_000
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
}
OLD_KINDS = {"IfcDuct": "duct", "IfcPipe": "pipe", "IfcCableCarrier": "cable tray"}
# Classes that bound a storey rather than stand in it.
LEFT_OUT = {"IfcSlab": "slabs", "IfcCovering": "ceilings and coverings"}
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
        try:
            points, _ = shapes.mesh(product)
        except Exception:  # the geometry kernel raises anything on a broken shape
            left[f"{_words(product, kind)} without a usable shape"] += 1
            continue
        made = _obstacle(str(product.GlobalId), _words(product, kind), points, levels)
        if made is None:
            left[f"{_words(product, kind)} without a usable shape"] += 1
            continue
        layer = layers.get(product.id(), "")
        found.append(Reference(group=f"{made.kind}, layer {layer}" if layer else made.kind, obstacle=made))
    for name, words in LEFT_OUT.items():
        count = len(_of_class(model, name))
        if count:
            left[words] += count
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


def _obstacle(key: str, kind: str, points: NDArray, levels: list[Level]) -> Obstacle | None:
    """The smallest rectangle around a part in plan, from its lowest to its highest point; None where it is nothing."""
    if not len(points) or not np.isfinite(points).all() or not levels:
        return None
    from shapely import MultiPoint

    low, high = float(points[:, 2].min()), float(points[:, 2].max())
    around = MultiPoint(points[:, :2]).minimum_rotated_rectangle
    if around.geom_type != "Polygon" or around.area < 1e-4 or high - low < 1e-3:
        return None
    middle = (low + high) / 2
    under = [x for x in levels if x.elevation_m <= middle]
    level = max(under, key=lambda x: x.elevation_m) if under else levels[0]
    try:
        return Obstacle(
            id=key,
            kind=kind,
            level_id=level.id,
            outline=tuple((round(x, 4), round(y, 4)) for x, y in tidy(list(around.exterior.coords))),
            bottom_m=round(low - level.elevation_m, 4),
            top_m=round(high - level.elevation_m, 4),
        )
    except GarnetfinError:
        return None
