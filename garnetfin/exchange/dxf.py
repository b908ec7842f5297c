"""DXF drawings as lines by layer: curves flattened, blocks resolved, bounded in number and depth."""

import itertools
import logging
import math
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path

from garnetfin.core.errors import FileError
from garnetfin.exchange.results import Drawing, Layer, Words

ACCEPTED = "DXF of release 12 or later, as text or binary, is accepted"
BINARY = b"AutoCAD Binary DXF"  # with which the format begins by its specification
MOST_LINES = 300_000
MOST_ENTITIES = 1_500_000
MOST_LAYERS = 400
DEEPEST = 8
LARGE_BYTES = 25 * 2**20
# $INSUNITS -> metres per unit
UNITS = {1: 0.0254, 2: 0.3048, 4: 0.001, 5: 0.01, 6: 1.0, 8: 2.54e-8, 10: 0.9144, 14: 0.1}
DRAWN = {"LINE", "LWPOLYLINE", "POLYLINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE", "SOLID", "3DFACE", "MLINE", "HATCH"}
TEXTS = {"TEXT", "MTEXT", "ATTRIB"}
INSIDE = {"INSERT", "DIMENSION"}  # made of others
MOST_INSERTS = 60_000  # that are taken apart
MOST_TEXTS, LONGEST_TEXT = 20_000, 200
MOST_HATCH_LINES = 2_000  # of one hatch
CURVE_SHARE = 0.01  # of its size that a curve may be off


def read_dxf(path: Path, say: Callable[[float, str], None] = lambda share, words: None) -> Drawing:
    """Lines of the model space. Raises FileError for what is no DXF or holds nothing to draw."""
    import ezdxf

    with path.open("rb") as file:
        head = file.read(4096)
    if b"SECTION" not in head and not head.startswith(BINARY):
        raise FileError(f"{path.name} is not a DXF drawing", remedy=ACCEPTED)
    say(0.05, "reading the drawing")
    logging.getLogger("ezdxf").setLevel(logging.CRITICAL)  # what it mends is counted and said below
    notes: list[str] = []
    if path.stat().st_size > LARGE_BYTES:
        found = _stream(path, notes, say)
        if found is not None:
            return found
    try:
        document, auditor = _whole(path, head.startswith(BINARY))
    except (ezdxf.DXFError, OSError) as error:
        raise FileError(
            f"{path.name} is damaged or not a DXF drawing", where=str(error)[:80], remedy=ACCEPTED
        ) from error
    if auditor.fixes or auditor.errors:
        notes.append(f"{len(auditor.fixes) + len(auditor.errors)} faults in the drawing were mended or left out")
    say(0.5, "collecting lines")
    return _collect(path.name, document, notes, say)


def _whole(path: Path, binary: bool):
    """(drawing, what was mended in it). A drawing that is as it should be is read in a third of the time; a damaged one
    is mended where that can be done.
    """
    import ezdxf
    from ezdxf import recover

    try:
        document = ezdxf.readfile(str(path))
        return document, document.audit()
    except (ezdxf.DXFError, UnicodeError, ValueError, LookupError):
        if binary:
            raise
        return recover.readfile(str(path))


def _stream(path: Path, notes: list[str], say: Callable[[float, str], None]) -> Drawing | None:
    """A large drawing read entity by entity, which costs neither memory nor minutes. None when it cannot be read so."""
    import ezdxf
    from ezdxf.addons import iterdxf

    try:
        with path.open("rb") as file:
            notes.append("a large drawing: what lies in blocks is left out")
            found = (
                (e, str(e.dxf.get("layer", "0"))[:120])
                for e in iterdxf.single_pass_modelspace(file, sorted(DRAWN | TEXTS))
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
    walk = _Walk(document)
    drawing = _gather(name, walk.entities(document.modelspace(), "0", 0), unit, hidden, notes, say, walk.told)
    return drawing


def _gather(
    name: str,
    entities: Iterable,
    unit: float,
    hidden: frozenset[str],
    notes: list[str],
    say: Callable[[float, str], None],
    told: Callable[[], list[str]] = list,
) -> Drawing:
    """Lines and texts of (entity, layer) by layer, up to the bounds; `told` says what was left out on the way."""
    lines: dict[str, list[float]] = {}
    texts: list[Words] = []
    count = skipped = seen = 0
    for entity, layer in entities:
        seen += 1
        if seen > MOST_ENTITIES:
            notes.append(f"read up to {MOST_ENTITIES} entities")
            break
        if layer not in lines and len(lines) >= MOST_LAYERS:
            layer = "others"
        if entity.dxftype() in TEXTS:
            words = _words(entity, layer) if len(texts) < MOST_TEXTS else None
            texts += [words] if words is not None else []
            continue
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
    notes += told()
    if len(texts) >= MOST_TEXTS:
        notes.append(f"trimmed to the first {MOST_TEXTS} texts")
    if not unit:
        notes.append("the drawing names no unit")
    return Drawing(
        name=name,
        unit_m=unit,
        notes=tuple(notes),
        layers=tuple(Layer(name=k, lines=tuple(v), on=k not in hidden) for k, v in sorted(lines.items()) if v),
        texts=tuple(texts),
    )


class _Walk:
    """Goes through a drawing with its blocks, counting what it opens and what it leaves out."""

    def __init__(self, document) -> None:
        self.document = document
        self.inserts = 0
        self.left: Counter[str] = Counter()
        self.references: set[str] = set()

    def told(self) -> list[str]:
        """What was left out, with counts."""
        said = []
        if self.references:
            names = ", ".join(sorted(self.references)[:4])
            said.append(f"{len(self.references)} references to other drawings left out: {names}")
        if self.inserts > MOST_INSERTS:
            said.append(f"blocks read up to {MOST_INSERTS} times")
        if self.left:
            kinds = ", ".join(f"{n} {kind.lower()}" for kind, n in self.left.most_common(5))
            said.append(f"left out: {kinds}")
        return said

    def entities(self, space, outer: str, depth: int) -> Iterator:
        """(entity, layer) with blocks and dimensions resolved, down to a bounded depth and number; one that cannot be
        resolved is left out. What a block has on layer 0 lies on the layer the block is put on.
        """
        for entity in space:
            layer = str(entity.dxf.get("layer", "0"))[:120]
            layer = outer if layer == "0" and depth else layer
            kind = entity.dxftype()
            if kind in INSIDE:
                yield from self._inside(entity, layer, depth)
            elif kind in DRAWN or kind in TEXTS:
                yield entity, layer
            elif kind != "POINT":  # of dimensions, and nothing to draw
                self.left[kind] += 1

    def _inside(self, entity, layer: str, depth: int) -> Iterator:
        if self._reference(entity) or depth >= DEEPEST:
            return
        copies = 1
        if entity.dxftype() == "INSERT":
            copies = max(1, int(entity.dxf.get("row_count", 1))) * max(1, int(entity.dxf.get("column_count", 1)))
        self.inserts += min(copies, MOST_INSERTS + 1)
        if self.inserts > MOST_INSERTS:
            return
        try:
            if entity.dxftype() == "INSERT":
                yield from ((a, layer) for a in entity.attribs)
                for one in entity.multi_insert() if copies > 1 else (entity,):
                    yield from self.entities(one.virtual_entities(), layer, depth + 1)
            else:
                yield from self.entities(entity.virtual_entities(), layer, depth + 1)
        except (ValueError, ArithmeticError, KeyError, AttributeError, TypeError):
            self.left[entity.dxftype()] += 1

    def _reference(self, entity) -> bool:
        """Whether an insert stands for another file."""
        if entity.dxftype() != "INSERT":
            return False
        name = str(entity.dxf.get("name", ""))
        block = self.document.blocks.get(name) if name else None
        if block is not None and (block.block.is_xref or block.block.is_xref_overlay):
            self.references.add(name[:60])
            return True
        return False


def _words(entity, layer: str) -> Words | None:
    """A text with its place; None for one without words or place."""
    try:
        if entity.dxftype() == "MTEXT":
            said, height = " ".join(entity.plain_text().split()), float(entity.dxf.get("char_height", 0.0))
        else:
            said, height = " ".join(str(entity.dxf.get("text", "")).split()), float(entity.dxf.get("height", 0.0))
            if entity.dxftype() == "ATTRIB" and entity.is_invisible:
                return None
        aligned = entity.dxftype() != "MTEXT" and entity.dxf.get("halign", 0) and entity.dxf.hasattr("align_point")
        at = entity.dxf.align_point if aligned else entity.dxf.insert
        place = (float(at.x), float(at.y), height)
    except (AttributeError, TypeError, ValueError):
        return None
    if not said or not all(math.isfinite(v) and abs(v) < 1e9 for v in place):
        return None
    return Words(x=round(place[0], 5), y=round(place[1], 5), height=height, words=said[:LONGEST_TEXT], layer=layer)


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
        if kind == "HATCH":
            return _hatch(entity)
        return [_flat(paths.make_path(entity))]
    except Exception:  # a broken entity may raise anything inside the library; it is left out like one without a place
        return []


def _flat(path) -> list[tuple[float, float]]:
    """A path as points; curves within a share of its size, which a closed path has as well as an open one."""
    corners = list(path.control_vertices())
    size = max(
        max(v.x for v in corners) - min(v.x for v in corners), max(v.y for v in corners) - min(v.y for v in corners)
    )
    # far from the origin figures are no more exact than this
    least = 1e-9 * max(max(abs(v.x), abs(v.y)) for v in corners)
    return [(v.x, v.y) for v in path.flattening(max(size * CURVE_SHARE, least, 1e-9), segments=4)]


def _hatch(entity) -> list[list[tuple[float, float]]]:
    """The edges of a hatch, without its pattern."""
    from ezdxf import path as paths

    found, count = [], 0
    for path in paths.from_hatch(entity):
        points = _flat(path)
        count += len(points)
        if count > MOST_HATCH_LINES:
            break
        found.append(points)
    return found
