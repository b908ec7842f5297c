"""Wings of a level: rooms that touch and whose walls run alike, each with the direction of its own axes.

Source: own method; the fourth power of a wall's direction is the same for all walls of a right-angled room.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot, pi
from typing import Any

import numpy as np
from numpy.typing import NDArray

Point = tuple[float, float]
Outline = tuple[Point, ...]
TOUCH_M = 0.6  # rooms closer than this belong together
ALIKE = np.radians(5.0)  # and their axes may differ by this
LEAST_STRAIGHT = 0.5  # share of walls that must agree, else an outline has no axes of its own
UNTURNED = np.radians(0.1)  # a drawing is not more exact


@dataclass(frozen=True, slots=True)
class Wing:
    """Rooms by number, and by how much their axes are turned against the sheet [rad], 0 to pi/2."""

    axis: float
    rooms: tuple[int, ...]


def direction(outline: Outline) -> tuple[complex, float]:
    """(sum of length x e^(4 i angle) over the walls, length of all walls [m]) of one outline."""
    corners = np.array([complex(x, y) for x, y in outline])
    walls = np.roll(corners, -1) - corners
    length = np.abs(walls)
    walls, length = walls[length > 1e-9], length[length > 1e-9]
    return complex(np.sum(length * (walls / length) ** 4)), float(length.sum())


def axis(towards: complex) -> float:
    """The turn of the axes [rad], 0 to pi/2, from a sum of directions; 0 where it is less than drawings are exact."""
    turned = float(np.angle(towards)) / 4.0 % (pi / 2)
    return 0.0 if min(turned, pi / 2 - turned) < UNTURNED else turned


def between(a: float, b: float) -> float:
    """The angle between two axes [rad], 0 to pi/4."""
    turned = abs(a - b) % (pi / 2)
    return min(turned, pi / 2 - turned)


def wings(rooms: Sequence[Outline], corridors: Sequence[Outline] = ()) -> tuple[Wing, ...]:
    """Rooms gathered into wings, the largest by length of walls first.

    An outline without straight walls takes the axes of what it touches; where none has any, those of the longest
    corridor's long side hold, else those of the sheet.
    """
    import shapely

    if not rooms:
        return ()
    found = [direction(outline) for outline in rooms]
    has_axes = [abs(z) >= LEAST_STRAIGHT * length for z, length in found]
    if not any(has_axes):
        return (Wing(_along_corridor(corridors), tuple(range(len(rooms)))),)
    shapes = shapely.polygons([shapely.linearrings(outline) for outline in rooms])
    a, b = shapely.STRtree(shapes).query(shapes, predicate="dwithin", distance=TOUCH_M)
    pairs = [(int(i), int(j)) for i, j in zip(a, b) if i < j]
    group = _Groups(len(rooms))
    for i, j in pairs:
        if has_axes[i] and has_axes[j] and between(axis(found[i][0]), axis(found[j][0])) < ALIKE:
            group.join(i, j)
    alone = {i for i, own in enumerate(has_axes) if not own}
    while alone:  # outlines without axes go to a neighbour that has a wing, one ring after the other
        ring: dict[int, int] = {}
        for i, j in pairs:
            for loose, held in ((i, j), (j, i)):
                if loose in alone and held not in alone:
                    ring.setdefault(loose, held)
        for loose, held in (ring or {i: has_axes.index(True) for i in alone}).items():
            group.join(loose, held)
            alone.discard(loose)
    made = []
    for members in group.all():
        towards = sum((found[i][0] for i in members if has_axes[i]), 0j)
        made.append((sum(found[i][1] for i in members), Wing(axis(towards), tuple(members))))
    return tuple(wing for _, wing in sorted(made, key=lambda row: (-row[0], row[1].rooms)))


def turned(outline: Sequence[Point], by: float) -> Outline:
    """Points turned about the sheet's origin by an angle [rad]."""
    if not by:
        return tuple(outline)
    xy = turned_xy(np.asarray(outline, float), by)
    return tuple((float(x), float(y)) for x, y in xy)


def turned_xy(xy: NDArray[Any], by: float) -> NDArray[Any]:
    """Points (n, 2) turned about the sheet's origin by an angle [rad]."""
    cos, sin = np.cos(by), np.sin(by)
    found: NDArray[np.float64] = xy @ np.array([[cos, sin], [-sin, cos]])
    return found


def _along_corridor(corridors: Sequence[Outline]) -> float:
    sides = [
        (hypot(x1 - x0, y1 - y0), complex(x1 - x0, y1 - y0))
        for outline in corridors
        for (x0, y0), (x1, y1) in zip(outline, outline[1:] + outline[:1])
    ]
    longest = max(sides, default=(0.0, 1 + 0j), key=lambda side: side[0])
    return axis(longest[1] ** 4)


class _Groups:
    """Numbers that belong together."""

    def __init__(self, count: int) -> None:
        self._first = list(range(count))

    def _of(self, i: int) -> int:
        while self._first[i] != i:
            i = self._first[i]
        return i

    def join(self, i: int, j: int) -> None:
        a, b = sorted((self._of(i), self._of(j)))
        self._first[b] = a

    def all(self) -> list[list[int]]:
        made: dict[int, list[int]] = {}
        for i in range(len(self._first)):
            made.setdefault(self._of(i), []).append(i)
        return list(made.values())
