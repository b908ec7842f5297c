"""The casing of an air handling unit: its size, the length of its sections in order, mass, floor and filters.

Lengths in m, masses in kg, drops in Pa. Sources: EN 13053 (velocity and recovery classes), ISO 16890 (filters),
EN 16798-3 (specific fan power), EU 1253/2014 (recovery, inner fan power). Methods: The air handling unit.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.equipment.catalogue import CasingSection
from garnetfin.core.errors import InputError

Array = NDArray[np.float64]
RATED_M_S = 2.0  # on the filter face, at which sections lose their rated pressure
BASE_M, CLEAR_ABOVE_M = 0.12, 0.6
ENDS_M, BEHIND_M, LEAST_FRONT_M = 1.6, 0.3, 1.0
LONGEST_PIECE_M = 2.4
COIL_FRAME_M = (0.12, 0.14)  # width and height of the casing around the finned face
COIL_INCLUDED_M = 0.16  # depth of the finned block that its section already holds
COIL_FACE_M_S = 2.5  # on finned faces
VELOCITY_CLASSES = (1.6, 1.8, 2.0, 2.2, 2.5, 2.8, 3.2, 3.6)
FAN_POWER_CLASSES = (500, 750, 1250, 2000, 3000, 4500)
RECOVERY_CLASSES = ((0.75, "H1"), (0.67, "H2"), (0.57, "H3"), (0.47, "H4"), (0.37, "H5"))
LEAST_RATIO, LEAST_RUN_AROUND = 0.73, 0.68
WALLS_DB = np.array([8, 12, 18, 24, 26, 28, 30, 32], float)  # what the walls of a casing take: own estimate


class FilterClass(NamedTuple):
    """Drop [Pa] at 2 m/s, clean and loaded: own estimates; its section."""

    clean_pa: float
    final_pa: float
    section: str


FILTERS = {
    "coarse 60 %": FilterClass(35, 85, "filter_panel"),
    "ePM10 50 %": FilterClass(50, 150, "filter_panel"),
    "ePM2.5 65 %": FilterClass(70, 170, "filter_bag"),
    "ePM1 50 %": FilterClass(80, 180, "filter_bag"),
    "ePM1 80 %": FilterClass(105, 205, "filter_bag"),
}
FILTER_GROWS = 1.3


@dataclass(frozen=True, slots=True)
class Casing:
    """One size: inner width and height, wall, open face of filters, finned face, its sections by kind."""

    size: str
    width_m: float
    height_m: float
    wall_m: float
    filter_face_m2: float
    coil_face_m2: float
    sections: dict[str, CasingSection]

    @property
    def coil_width_m(self) -> float:
        """Of a finned face that fits [m]."""
        return self.width_m - COIL_FRAME_M[0]

    @property
    def coil_height_m(self) -> float:
        """Of a finned face that fits [m]."""
        return self.height_m - COIL_FRAME_M[1]


def casings(rows: Sequence[CasingSection]) -> tuple[Casing, ...]:
    """Sizes of a catalogue, smallest filter face first."""
    by_size: dict[str, list[CasingSection]] = {}
    for row in rows:
        by_size.setdefault(row.size, []).append(row)
    made = [
        Casing(
            size,
            found[0].inner_width_m,
            found[0].inner_height_m,
            found[0].wall_m,
            found[0].filter_face_m2,
            found[0].coil_face_m2,
            {r.section: r for r in found},
        )
        for size, found in by_size.items()
    ]
    return tuple(sorted(made, key=lambda c: (c.filter_face_m2, c.size)))


class SizeRefused(NamedTuple):
    """A size that is too small: where its air is too fast, velocity and limit [m/s]."""

    size: str
    where: str  # filters, coils
    velocity_m_s: float
    limit_m_s: float


def choose_size(
    sizes: Sequence[Casing], supply_m3s: float, exhaust_m3s: float, most_m_s: float
) -> tuple[Casing | None, tuple[SizeRefused, ...]]:
    """(the smallest size whose filters and coils see no more than their velocities, those before it); None where none
    is large enough.

    Raises InputError for flows that are no figures, below 0, or both 0.
    """
    flow = max(supply_m3s, exhaust_m3s)
    if not (supply_m3s >= 0 and exhaust_m3s >= 0 and 0 < flow < math.inf):
        raise InputError("A unit needs air flows of 0 or more, one above 0", where="casing")
    refused = []
    for casing in sizes:
        on_filters, on_coils = flow / casing.filter_face_m2, supply_m3s / casing.coil_face_m2
        if on_filters > most_m_s * (1 + 1e-9):
            refused.append(SizeRefused(casing.size, "filters", on_filters, most_m_s))
        elif on_coils > COIL_FACE_M_S * (1 + 1e-9):
            refused.append(SizeRefused(casing.size, "coils", on_coils, COIL_FACE_M_S))
        else:
            return casing, tuple(refused)
    return None, tuple(refused)


def velocity_class(velocity_m_s: float) -> str:
    """Class V1..V9 of the velocity on the filter face [m/s]. Source: EN 13053."""
    return f"V{next((i for i, most in enumerate(VELOCITY_CLASSES, 1) if velocity_m_s <= most + 1e-9), 9)}"


def fan_power_class(specific_w_m3s: float) -> str:
    """Category SFP 1..7 of W/(m3/s). Source: EN 16798-3."""
    return f"SFP {next((i for i, most in enumerate(FAN_POWER_CLASSES, 1) if specific_w_m3s <= most + 1e-9), 7)}"


def recovery_class(ratio: float, heat_w: float, electric_w: float) -> str:
    """Class H1..H6 of a temperature ratio, less what its fans and drives take. Source: EN 13053."""
    net = ratio * (1 - electric_w / heat_w) if heat_w > 0 else 0.0
    return next((name for least, name in RECOVERY_CLASSES if net >= least - 1e-9), "H6")


def inner_power_limit(flow_m3s: float, ratio: float, run_around: bool) -> float:
    """Most inner specific fan power [W/(m3/s)] of a unit with recovery. Source: EU 1253/2014, annex III (2018)."""
    better = 3000 * (ratio - (LEAST_RUN_AROUND if run_around else LEAST_RATIO))
    return 1100 + better - 300 * flow_m3s / 2 if flow_m3s < 2 else 800 + better


def filter_drop(kind: str, velocity_m_s: ArrayLike) -> tuple[Array, Array]:
    """(clean, loaded) drop [Pa] of a filter class at a velocity on its face. Raises InputError for another class."""
    if kind not in FILTERS:
        raise InputError(f"There is no filter class “{kind}”", remedy="Take one of: " + ", ".join(FILTERS))
    grows = (np.asarray(velocity_m_s, float) / RATED_M_S) ** FILTER_GROWS
    return FILTERS[kind].clean_pa * grows, FILTERS[kind].final_pa * grows


class Section(NamedTuple):
    """A section in the order of its air: its kind in the catalogue, depth of a finned block [m], the part it is."""

    kind: str
    depth_m: float = 0.0
    part_id: str = ""


@dataclass(frozen=True, slots=True)
class Station:
    """Where a section stands: deck, start and length [m] along the unit; gap: room to reach it,
    before it, of both decks together where it stands in both."""

    section: Section
    deck: str  # supply, exhaust, both
    start_m: float
    length_m: float
    gap_m: float


@dataclass(frozen=True, slots=True)
class Layout:
    """A unit laid out: outer size, mass, floor with service space, clear height, pieces, stations."""

    casing: Casing
    arrangement: str
    stations: tuple[Station, ...]
    length_m: float
    width_m: float
    height_m: float
    mass_kg: float
    floor_m2: float
    clear_m: float
    pieces: int


SHARED = ("rotor", "plate")
ARRANGEMENTS = ("stacked", "side by side", "single")


def _length(casing: Casing, section: Section) -> float:
    row = casing.sections[section.kind]
    more = max(0.0, section.depth_m - COIL_INCLUDED_M) if section.kind in ("cooling", "heating", "preheat") else 0.0
    return row.length_m + more


def _gap(casing: Casing, before: Section, after: Section) -> float:
    return max(casing.sections[before.kind].access_down_m, casing.sections[after.kind].access_up_m)


def _run(
    casing: Casing, sections: Sequence[Section], leftwards: bool = False
) -> tuple[list[tuple[Section, float, float, float]], float]:
    """([(section, start, length, gap before)], end) of sections in a row from 0; leftwards: their air comes from the
    end.
    """
    at, found = 0.0, []
    for i, section in enumerate(sections):
        beside = (section, sections[i - 1]) if leftwards else (sections[i - 1], section)
        gap = _gap(casing, *beside) if i else 0.0
        found.append((section, at + gap, _length(casing, section), gap))
        at += gap + _length(casing, section)
    return found, at


def lay_out(
    casing: Casing, supply: Sequence[Section], exhaust: Sequence[Section], arrangement: str = "stacked"
) -> Layout:
    """Sections of both decks on one length; a wheel or plates stand in both at one station.

    supply    in the order of the supply air, exhaust in that of the air that leaves
    Raises InputError for an arrangement that is none, a section the size has not, or no section at all.
    """
    if arrangement not in ARRANGEMENTS:
        raise InputError(
            f"A unit cannot be “{arrangement}”", where="casing", remedy="Take one of: " + ", ".join(ARRANGEMENTS)
        )
    missing = sorted({s.kind for s in (*supply, *exhaust)} - set(casing.sections))
    if missing or not (supply or exhaust):
        raise InputError(
            f"{casing.size} has no section “{missing[0]}”" if missing else "A unit needs a section", where="casing"
        )
    # the exhaust runs against the supply: from left to right it stands in reverse order
    left_to_right = tuple(reversed(exhaust))
    shared_s = next((i for i, s in enumerate(supply) if s.kind in SHARED), None)
    shared_e = next((i for i, s in enumerate(left_to_right) if s.kind in SHARED), None)
    stations: list[Station] = []
    if shared_s is None or shared_e is None:
        ends = []
        for deck, order in (("supply", supply), ("exhaust", left_to_right)):
            row, end = _run(casing, order, deck == "exhaust")
            stations += [Station(s, deck, at, length, gap) for s, at, length, gap in row]
            ends.append(end)
        inner = max(ends)
    else:
        row_s, _ = _run(casing, supply)
        row_e, _ = _run(casing, left_to_right, leftwards=True)
        start = max(row_s[shared_s][1], row_e[shared_e][1])
        for deck, row, at in (("supply", row_s, shared_s), ("exhaust", row_e, shared_e)):
            shift = start - row[at][1]
            for i, (s, begin, length, gap) in enumerate(row):
                if i != at:
                    stations.append(Station(s, deck, begin + shift, length, gap))
        wheel = row_s[shared_s]
        stations.append(Station(wheel[0], "both", start, wheel[2], wheel[3] + row_e[shared_e][3]))
        inner = max(s.start_m + s.length_m for s in stations)
    return _measured(casing, arrangement, tuple(stations), inner)


def _measured(casing: Casing, arrangement: str, stations: tuple[Station, ...], inner_m: float) -> Layout:
    wall = casing.wall_m
    length = inner_m + 2 * wall
    two = len({s.deck for s in stations} - {"both"}) > 1 and arrangement != "single"
    width = (2 * casing.width_m + 3 * wall) if two and arrangement == "side by side" else casing.width_m + 2 * wall
    height = (2 * casing.height_m + 3 * wall) if two and arrangement == "stacked" else casing.height_m + 2 * wall
    height += BASE_M
    access = casing.sections.get("access")
    kg_m = access.mass_kg / access.length_m if access is not None else 0.0
    mass = sum(casing.sections[s.section.kind].mass_kg + kg_m * s.gap_m for s in stations)
    floor = (length + ENDS_M) * (width + max(casing.width_m, LEAST_FRONT_M) + BEHIND_M)
    pieces = max(1, math.ceil(length / LONGEST_PIECE_M - 1e-9))
    return Layout(casing, arrangement, stations, length, width, height, mass, floor, height + CLEAR_ABOVE_M, pieces)
