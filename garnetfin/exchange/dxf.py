"""DXF drawings as lines by layer: curves flattened, blocks resolved, bounded in number and depth."""

import itertools
import logging
import math
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path

from garnetfin.core.errors import FileError
from garnetfin.exchange.results import Drawing, Layer

ACCEPTED = "DXF of release 12 or later, as text or binary, is accepted"
MOST_LINES = 300_000
MOST_ENTITIES = 1_500_000
MOST_LAYERS = 400
DEEPEST = 8
LARGE_BYTES = 25 * 2**20
# $INSUNITS -> metres per unit
UNITS = {1: 0.0254, 2: 0.3048, 4: 0.001, 5: 0.01, 6: 1.0, 8: 2.54e-8, 10: 0.9144, 14: 0.1}
DRAWN = {"LINE", "LWPOLYLINE", "POLYLINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE", "SOLID", "3DFACE", "MLINE"}


def read_dxf(path: Path, say: Callable[[float, str], None] = lambda share, words: None) -> Drawing:
    """Lines of the model space. Raises FileError for what is no DXF or holds nothing to draw."""
    import ezdxf
    from ezdxf import recover

    with path.open("rb") as file:
        head = file.read(4096)
    if b"SECTION" not in head and not head.startswith(b"AutoCAD Binary DXF"):
        raise FileError(f"{path.name} is not a DXF drawing", remedy=ACCEPTED)
    say(0.05, "reading the drawing")
    logging.getLogger("ezdxf").setLevel(logging.CRITICAL)  # what it mends is counted and said below
    notes: list[str] = []
    if path.stat().st_size > LARGE_BYTES:
        found = _stream(path, notes, say)
        if found is not None:
            return found
    try:
        # Damaged drawings are mended where that can be done, and what was mended is said.
        document, auditor = recover.readfile(str(path))
    except (ezdxf.DXFError, OSError) as error:
        raise FileError(
            f"{path.name} is damaged or not a DXF drawing", where=str(error)[:80], remedy=ACCEPTED
        ) from error
    if auditor.fixes or auditor.errors:
        notes.append(f"{len(auditor.fixes) + len(auditor.errors)} faults in the drawing were mended or left out")
    say(0.5, "collecting lines")
    return _collect(path.name, document, notes, say)


def _stream(path: Path, notes: list[str], say: Callable[[float, str], None]) -> Drawing | None:
    """A large drawing read entity by entity, which costs neither memory nor minutes. None when it cannot be read so."""
    import ezdxf
    from ezdxf.addons import iterdxf

    try:
        with path.open("rb") as file:
            notes.append("a large drawing: what lies in blocks is left out")
            found = (
                (e, str(e.dxf.get("layer", "0"))[:120]) for e in iterdxf.single_pass_modelspace(file, sorted(DRAWN))
            )
            return _gather(path.name, found, UNITS.get(_units_of(path), 0.0), frozenset(), notes, say)
    except (ezdxf.DXFError, OSError, ValueError, EOFError):
        notes.clear()
        return None


def _units_of(path: Path) -> int:
    """$INSUNITS from the first part of a DXF text; 0 when it is not there."""
    with path.open("rb") as file:
        parts = file.read(200_000).split(b"$INSUNITS", 1)
    values = parts[1].split(None, 2)[:2] if len(parts) == 2 else []
    return int(values[1]) if len(values) == 2 and values[0] == b"70" and values[1].isdigit() else 0


def _collect(name: str, document, notes: list[str], say: Callable[[float, str], None]) -> Drawing:
    unit = UNITS.get(int(document.header.get("$INSUNITS", 0) or 0), 0.0)
    hidden = frozenset(x.dxf.name for x in document.layers if x.is_off() or x.is_frozen())
    return _gather(name, _entities(document.modelspace(), "0", 0), unit, hidden, notes, say)


def _gather(
    name: str,
    entities: Iterable,
    unit: float,
    hidden: frozenset[str],
    notes: list[str],
    say: Callable[[float, str], None],
) -> Drawing:
    """Lines of (entity, layer) by layer, up to the bounds."""
    lines: dict[str, list[float]] = {}
    count = skipped = seen = 0
    for entity, layer in entities:
        seen += 1
        if seen > MOST_ENTITIES:
            notes.append(f"read up to {MOST_ENTITIES} entities")
            break
        if layer not in lines and len(lines) >= MOST_LAYERS:
            layer = "others"
        into = lines.setdefault(layer, [])
        for points in _points(entity):
            for (x0, y0), (x1, y1) in itertools.pairwise(points):
                # Readers let non-finite coordinates through; a line that is none is left out.
                if not all(math.isfinite(v) and abs(v) < 1e9 for v in (x0, y0, x1, y1)):
                    skipped += 1
                elif (x0, y0) != (x1, y1):
                    into += (round(x0, 5), round(y0, 5), round(x1, 5), round(y1, 5))
                    count += 1
        if seen % 20_000 == 0:
            say(0.5 + 0.4 * min(1.0, count / MOST_LINES), f"{count} lines")
        if count >= MOST_LINES:
            notes.append(f"trimmed to the first {MOST_LINES} lines")
            break
    if skipped:
        notes.append(f"{skipped} lines without a place were left out")
    if not count:
        raise FileError(f"{name} holds no lines to draw", remedy="Export the model space with its lines; " + ACCEPTED)
    if not unit:
        notes.append("the drawing names no unit")
    return Drawing(
        name=name,
        unit_m=unit,
        notes=tuple(notes),
        layers=tuple(Layer(name=k, lines=tuple(v), on=k not in hidden) for k, v in sorted(lines.items()) if v),
    )


def _entities(space, outer: str, depth: int) -> Iterator:
    """(entity, layer) with blocks resolved, down to a bounded depth; a block that cannot be resolved is left out.

    What a block has on layer 0 lies on the layer the block is put on.
    """
    for entity in space:
        layer = str(entity.dxf.get("layer", "0"))[:120]
        layer = outer if layer == "0" and depth else layer
        if entity.dxftype() != "INSERT":
            if entity.dxftype() in DRAWN:
                yield entity, layer
        elif depth < DEEPEST:
            try:
                yield from _entities(entity.virtual_entities(), layer, depth + 1)
            except (ValueError, ArithmeticError, KeyError, AttributeError, TypeError):
                continue


def _points(entity) -> list[list[tuple[float, float]]]:
    """Flat point lists of an entity; curves within a hundredth of their size."""
    from ezdxf import path as paths

    kind = entity.dxftype()
    try:
        if kind == "LINE":
            a, b = entity.dxf.start, entity.dxf.end
            return [[(a.x, a.y), (b.x, b.y)]]
        if kind in ("SOLID", "3DFACE"):
            corners = [(v.x, v.y) for v in entity.wcs_vertices(close=True)]
            return [corners]
        if kind == "MLINE":
            return [p for part in entity.virtual_entities() for p in _points(part)]
        path = paths.make_path(entity)
        box = max(abs(path.end.x), abs(path.end.y), 1.0)
        radius = float(entity.dxf.radius) if kind in ("ARC", "CIRCLE") else 0.0
        reach = radius or max(path.start.distance(path.end), 1e-9 * box)
        return [[(v.x, v.y) for v in path.flattening(max(reach / 100, 1e-9), segments=4)]]
    except Exception:  # a broken entity may raise anything inside the library; it is left out like one without a place
        return []
