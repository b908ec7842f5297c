"""What fittings are made as: how much of the axes they take, how much sheet they need, and what hangs the ducts.

Lengths run from the node where axes meet to the face of the fitting [m], surfaces are developed sheet [m2]. A bend lies
flat where it turns in plan: then a rectangular duct's width lies in the plane of the turn, else its height.

Source: EN 1505, EN 1506 for the shapes; lengths of collars and ties are own defaults.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, hypot, pi, radians, sin, tan

from garnetfin.core.ducts.sizes import Section

COLLAR_M = 0.1  # straight part of a tee, a bullhead or a box beyond its opening
SPIGOT_M = 0.05  # at each end of a round bend
TAP_M, SHOE_M = 0.15, 0.1  # height of a tap above the main: conical, shoe
CONE_M = 0.1  # by how much a conical tap is wider at the main
MITRE_M = 0.05  # of a mitred bend beyond its corner
LEAST_REDUCER_M = 0.25
HALF_REDUCER_DEG, FLAT_REDUCER_DEG = 15.0, 20.0
SMALL_BRANCH = 0.6  # share of the main's area below which a branch is tapped
UPRIGHT_DEG = 75.0
MOST_BEND_DEG = 135.0  # that one bend turns
UNIT_M, DAMPER_M = 0.15, 0.2  # connector at the unit, balancing damper
LAPS = 1.03  # of the sheet, for laps and seams
# Flange frames by greatest side, ties across sides above a metre by pressure, seams along the duct by perimeter.
FLANGES = ((1.0, 0.85), (2.0, 1.30), (float("inf"), 1.90))  # kg/m
TIED_M = 1.0


@dataclass(frozen=True, slots=True)
class Shape:
    """What a fitting takes of the axes at each of its ends [m], and its sheet [m2].

    Of a junction: towards the unit, onward, and along the branch.
    """

    takes_m: tuple[float, ...]
    sheet_m2: float


def in_plane_m(section: Section, flat: bool) -> float:
    """The side of a duct that lies in the plane of a turn [m]: its width where the turn lies in plan."""
    return section.width_m if section.shape == "round" or flat else section.height_m


def bend(section: Section, angle_deg: float, flat: bool = True, mitred: bool = False) -> Shape:
    """A bend, two where one would turn too far; radius 1.5 diameters when round, one side when rectangular."""
    parts = 2 if angle_deg > MOST_BEND_DEG else 1
    half = radians(angle_deg / parts) / 2
    side, around = in_plane_m(section, flat), section.perimeter_m
    if mitred:
        leg = side / 2 * tan(half) + MITRE_M
        return Shape((leg * parts, leg * parts), around * 2 * leg * parts)
    radius = 1.5 * side if section.shape == "round" else side
    leg = radius * tan(half)
    spigots = 2 * SPIGOT_M if section.shape == "round" else 0.0
    return Shape((leg * parts, leg * parts), parts * around * (radius * 2 * half + spigots))


def reducer(one: Section, two: Section, flat_side: bool = False) -> Shape:
    """A transition between two sections, with one side flat or even all round; all of it on the smaller duct."""
    wide, high = abs(one.width_m - two.width_m), abs(one.height_m - two.height_m)
    change = max(wide, high)
    length = change / tan(radians(FLAT_REDUCER_DEG)) if flat_side else change / (2 * tan(radians(HALF_REDUCER_DEG)))
    length = max(LEAST_REDUCER_M, length)
    if one.shape == "round" and two.shape == "round":
        sheet = pi * (one.width_m + two.width_m) / 2 * hypot(length, wide / 2)
    elif one.shape != two.shape:
        sheet = (one.perimeter_m + two.perimeter_m) / 2 * hypot(length, (wide + high) / 4)
    else:
        across, up = (one.width_m + two.width_m) / 2, (one.height_m + two.height_m) / 2
        flanks = 2 * up * hypot(length, wide / 2)
        if flat_side:
            sheet = across * (length + hypot(length, high)) + flanks
        else:
            sheet = 2 * across * hypot(length, high / 2) + flanks
    return Shape((0.0, length), sheet)


def tapped(main: Section, branch: Section, angle_deg: float) -> bool:
    """Whether a branch is put on the main rather than made with it as one piece."""
    return branch.area_m2 < SMALL_BRANCH * main.area_m2 and angle_deg > UPRIGHT_DEG


def tap(main: Section, branch: Section, flat: bool = True, shoe: bool = False) -> Shape:
    """A branch on the side of a main that takes nothing of the main; sheet of a cone or of a shoe."""
    half = in_plane_m(main, flat) / 2
    if shoe:
        height = max(SHOE_M, in_plane_m(branch, flat) / 4)
        return Shape((0.0, 0.0, half + height), branch.perimeter_m * height + branch.height_m * height / 2)
    if branch.shape == "round":
        sheet = pi * (branch.width_m + CONE_M / 2) * hypot(TAP_M, CONE_M / 2)
    else:
        sheet = branch.perimeter_m * TAP_M
    return Shape((0.0, 0.0, half + TAP_M), sheet)


def tee(main: Section, branch: Section, angle_deg: float, flat: bool = True) -> Shape:
    """A tee or wye: what it takes towards the unit, onward and along the branch; a reducer is not in it."""
    turn = radians(min(max(angle_deg, 15.0), 165.0))
    across, wide = in_plane_m(main, flat), in_plane_m(branch, flat)
    half, lean = wide / (2 * sin(turn)), across / (2 * tan(turn))
    up, down = (max(COLLAR_M, half + sign * lean + COLLAR_M) for sign in (-1.0, 1.0))
    leg = across / (2 * sin(turn)) + abs(wide / (2 * tan(turn))) + COLLAR_M
    if main.shape == "round" and branch.shape == "round":
        d, whole = branch.width_m, main.width_m
        ratio = min(d / whole, 1.0) ** 2
        opening = pi * d * d / (4 * sin(turn)) * (1 + ratio / 8)
        # the wall lies on average at D/pi E(ratio) from the axis; the series of E to 1e-3
        wall = whole / pi * (pi / 2) * (1 - ratio / 4 - 3 * ratio**2 / 64 - 5 * ratio**3 / 256) / sin(turn)
        spigots = 2 * SPIGOT_M * main.perimeter_m + SPIGOT_M * branch.perimeter_m
        body = main.perimeter_m * (up + down) - opening + branch.perimeter_m * max(leg - wall, 0.0) + spigots
    else:
        opening = branch.area_m2 / sin(turn)
        wall = across / (2 * sin(turn))
        body = main.perimeter_m * (up + down) - opening + branch.perimeter_m * max(leg - wall, 0.0)
    return Shape((up, down, leg), body)


def bullhead(main: Section, branches: Sequence[Section], flat: bool = True) -> Shape:
    """Two branches that leave to either side and nothing goes on: what the main takes, then each branch."""
    side = max(in_plane_m(b, flat) for b in branches)
    up, out = side / 2 + COLLAR_M, in_plane_m(main, flat) / 2 + COLLAR_M
    around = max(b.perimeter_m for b in branches)
    sheet = main.perimeter_m * COLLAR_M + around * (in_plane_m(main, flat) + 2 * COLLAR_M)
    return Shape((up, *(out for _ in branches)), max(sheet - main.area_m2, 0.0))


def box(main: Section, branches: Sequence[Section]) -> Shape:
    """A box that more than three ducts leave: as wide as the greatest of them with a collar all round."""
    side = max(max(s.width_m, s.height_m) for s in (main, *branches))
    edge, leg = side + 2 * COLLAR_M, side / 2 + COLLAR_M
    openings = sum(s.area_m2 for s in (main, *branches))
    return Shape((leg, *(leg for _ in branches)), max(6 * edge * edge - openings, edge * edge))


def sheet_kg(sheet_m2: float, thickness_m: float, density_kg_m3: float) -> float:
    """Mass of developed sheet with laps [kg]."""
    return sheet_m2 * thickness_m * density_kg_m3 * LAPS


def flange_kg_m(section: Section) -> float:
    """Mass of a flange frame per metre of it [kg/m]; round ducts have none."""
    if section.shape == "round":
        return 0.0
    side = max(section.width_m, section.height_m)
    return next(kg for limit, kg in FLANGES if side <= limit + 1e-9)


def ties(section: Section, length_m: float, static_pa: float) -> int:
    """Ties across the sides above a metre of a rectangular duct."""
    if section.shape == "round":
        return 0
    apart = 0.75 if abs(static_pa) <= 500 else 0.6 if abs(static_pa) <= 1000 else 0.4
    sides = sum(side > TIED_M + 1e-9 for side in (section.width_m, section.height_m))
    return sides * int(length_m / apart)


@dataclass(frozen=True, slots=True)
class Hanger:
    """A support that carries ducts of a shape up to a size [m]: diameter, or half the perimeter of a rectangle."""

    shape: str
    upto_m: float
    spacing_m: float
    rod: str
    rail: str
    capacity_kg: float
    mass_kg: float


def hanger_for(hangers: Sequence[Hanger], outside: Section) -> Hanger:
    """The least row that carries a duct; the greatest where none is large enough.

    outside  the duct with its lining and insulation
    """
    shape = "round" if outside.shape == "round" else "rectangular"
    size = outside.width_m if shape == "round" else outside.width_m + outside.height_m
    rows = sorted((h for h in hangers if h.shape == shape), key=lambda h: h.upto_m)
    return next((h for h in rows if size <= h.upto_m + 1e-9), rows[-1])


def hangers_on(axis_m: float, spacing_m: float) -> int:
    """Hangers of one drawn duct."""
    return max(1, ceil(axis_m / spacing_m - 1e-9))


def wrapped_m2(inside: Section, outside: Section, straight_m: float, sheet_m2: float) -> float:
    """Insulation around straights and fittings [m2], on its outer surface."""
    return outside.perimeter_m * straight_m + sheet_m2 * outside.perimeter_m / inside.perimeter_m


def cap_m2(section: Section) -> float:
    """Sheet of an end cap [m2]."""
    return section.area_m2
