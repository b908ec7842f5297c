"""Catalogues of equipment: what a row is made of, with units and limits, and how a table of words becomes rows.

A field carries its heading in files, the factor to SI and what is accepted; shipped catalogues and those of an office
are read by the same lines. Source: own arrangement; the sample data that ships is invented.
"""

import itertools
import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, fields
from functools import lru_cache
from typing import Any, TypeVar, cast

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.tables import read_rows
from garnetfin.core.texts import shortened

Bands = tuple[float, ...]
BANDS = (63, 125, 250, 500, 1000, 2000, 4000, 8000)
TERMS = ("1", "w", "w2", "a", "a2", "wa")  # of a second-order polynomial, in columns such as cap_1, cap_w, cap_w2
MOST_ROWS = 5000  # of one catalogue
R = TypeVar("R")


def number(heading: str, factor: float = 1.0, low: float = 0.0, high: float = 1e6, empty: float | None = 0.0) -> Any:
    """A figure of a row: heading in the file, factor to SI, what is accepted there.

    empty   what an empty cell stands for; None where it may not be empty
    """
    return field(metadata={"heading": heading, "factor": factor, "low": low, "high": high, "empty": empty})


def needed(heading: str, factor: float = 1.0, low: float = 1e-9, high: float = 1e6) -> Any:
    """A figure without which a row is none."""
    return number(heading, factor, low, high, None)


def columns(heading: str, ends: tuple[Any, ...]) -> Any:
    """Figures in columns such as discharge_63 [dB], or cap_w2."""
    return field(metadata={"heading": heading, "ends": ends})


def words(heading: str, accepted: tuple[str, ...] = ()) -> Any:
    """Words of a row; one of `accepted` where there are such."""
    return field(metadata={"heading": heading, "accepted": accepted})


@dataclass(frozen=True, slots=True)
class BoxModel:
    """A flow box: flows [m3/s], drops [Pa], heat passed at the reference flows [W/K], sound power [dB]."""

    model: str = words("model")
    kind: str = words("kind", ("vav", "cav"))
    inlet_m: float = needed("inlet_mm", 1e-3, 20, 3000)
    inlet_m2: float = needed("inlet_m2", 1, 1e-4, 10)
    flow_min_m3s: float = number("flow_min_L_s", 1e-3)
    flow_max_m3s: float = needed("flow_max_L_s", 1e-3)
    reference_m3s: float = needed("reference_L_s", 1e-3)
    open_drop_pa: float = needed("open_drop_Pa", 1, 1e-3, 5000)
    coil_rows: float = number("coil_rows", 1, 0, 12)
    coil_drop_pa: float = number("coil_drop_Pa", 1, 0, 5000)
    coil_drop_exponent: float = number("coil_drop_exponent", 1, 0, 3)
    coil_ua_air: float = number("coil_ua_air_W_K")
    coil_air_exponent: float = number("coil_air_exponent", 1, 0, 1.5)
    coil_ua_water: float = number("coil_ua_water_W_K")
    coil_water_kg_s: float = number("coil_water_L_s")
    coil_water_exponent: float = number("coil_water_exponent", 1, 0, 1.5)
    coil_water_pa: float = number("coil_water_drop_kPa", 1e3)
    discharge_db: tuple[float, ...] = columns("discharge", BANDS)
    radiated_db: tuple[float, ...] = columns("radiated", BANDS)
    flow_db: float = number("flow_dB", 1, 0, 150)
    pressure_db: float = number("pressure_dB", 1, 0, 150)
    outlet_width_m: float = number("outlet_width_mm", 1e-3)
    outlet_height_m: float = number("outlet_height_mm", 1e-3)
    length_m: float = number("length_mm", 1e-3)
    mass_kg: float = number("mass_kg")

    def __post_init__(self) -> None:
        if self.flow_min_m3s >= self.flow_max_m3s:
            raise InputError("The least flow is not below the greatest", where=f"flow box {self.model}")
        if self.coil_rows and min(self.coil_ua_air, self.coil_ua_water, self.coil_water_kg_s) <= 0:
            raise InputError(
                "A coil needs what it passes at its air and water flow",
                where=f"flow box {self.model}",
                remedy="Fill coil_ua_air_W_K, coil_ua_water_W_K and coil_water_L_s",
            )


@dataclass(frozen=True, slots=True)
class CoilSeries:
    """Finned tubes of one geometry: lengths [m], heat passed [W/m2K] and drop [Pa] of a row at 2.5 m/s on the face."""

    series: str = words("series")
    use: str = words("use")
    tube_outer_m: float = needed("tube_outer_mm", 1e-3)
    tube_inner_m: float = needed("tube_inner_mm", 1e-3)
    tube_pitch_m: float = needed("tube_pitch_mm", 1e-3)
    row_pitch_m: float = needed("row_pitch_mm", 1e-3)
    fin_pitch_m: float = needed("fin_pitch_mm", 1e-3)
    rows_from: float = needed("rows_from", 1, 1, 20)
    rows_to: float = needed("rows_to", 1, 1, 20)
    outside_m2_m2: float = needed("outside_m2_m2_row")
    inside_m2_m2: float = needed("inside_m2_m2_row")
    air_w_m2k: float = needed("h_air_W_m2K")
    air_exponent: float = needed("h_air_exponent", 1, 0.01, 1.5)
    wet_factor: float = needed("wet_h_factor", 1, 0.3, 2)
    drop_pa: float = needed("dp_dry_Pa_row")
    drop_exponent: float = needed("dp_exponent", 1, 0.5, 3)
    wet_drop_factor: float = needed("dp_wet_factor", 1, 0.5, 5)
    frame_m: float = number("frame_m")
    face_m_s: float = needed("face_velocity_max_m_s", 1, 0.1, 20)
    water_low_m_s: float = number("water_velocity_min_m_s", 1, 0, 10)
    water_high_m_s: float = needed("water_velocity_max_m_s", 1, 0.01, 10)
    mass_kg_m2: float = number("mass_kg_m2_row")


UNIT_KINDS = ("fan_coil", "beam", "radiator", "convector", "floor", "ceiling", "electric", "direct")


@dataclass(frozen=True, slots=True)
class UnitModel:
    """A unit in a room at one step of its fan; heat in W at the figures of its rating, flows in m3/s and kg/s."""

    model: str = words("model")
    kind: str = words("kind", UNIT_KINDS)
    description: str = words("description")
    pipes: float = number("pipes", 1, 0, 4)
    step: str = words("step")
    air_m3s: float = number("air_L_s", 1e-3)
    fan_w: float = number("fan_W")
    sound_dba: float = number("sound_power_dBA", 1, -50, 150)
    cool_total_w: float = number("cool_total_W")
    cool_sensible_w: float = number("cool_sensible_W")
    cool_water_kg_s: float = number("cool_water_L_s")
    cool_drop_pa: float = number("cool_drop_kPa", 1e3)
    heat_w: float = number("heat_W")
    heat_water_kg_s: float = number("heat_water_L_s")
    heat_drop_pa: float = number("heat_drop_kPa", 1e3)
    heat_exponent: float = number("heat_exponent", 1, 0, 3)
    radiant_share: float = number("radiant_share", 1, 0, 1)
    primary_low_m3s: float = number("primary_min_L_s", 1e-3)
    primary_high_m3s: float = number("primary_max_L_s", 1e-3)
    primary_ref_m3s: float = number("primary_ref_L_s", 1e-3)
    primary_ref_pa: float = number("primary_ref_Pa")
    beam_w: float = number("beam_W")
    beam_exponent: float = number("beam_exponent", 1, 0, 3)
    beam_primary_exponent: float = number("beam_primary_exponent", 1, 0, 3)
    beam_water_exponent: float = number("beam_water_exponent", 1, 0, 3)
    resistance_m2k_w: float = number("resistance_m2K_W")
    surface_low_c: float = number("surface_low_C", 1, -50, 100)
    surface_high_c: float = number("surface_high_C", 1, -50, 100)
    input_w: float = number("input_W")
    length_m: float = number("length_m")
    height_m: float = number("height_m")
    depth_m: float = number("depth_m")
    mass_kg: float = number("mass_kg")

    def __post_init__(self) -> None:
        asks = {
            "fan_coil": ("air_m3s", "cool_total_w", "cool_sensible_w", "cool_water_kg_s"),
            "beam": ("beam_w", "beam_exponent", "primary_ref_m3s", "cool_water_kg_s", "length_m"),
            "radiator": ("heat_w", "heat_exponent"),
            "convector": ("heat_w", "heat_exponent"),
            "floor": ("resistance_m2k_w",),
            "ceiling": ("resistance_m2k_w",),
            "electric": ("heat_w",),
            "direct": ("air_m3s", "cool_total_w", "cool_sensible_w"),
        }[self.kind]
        for name in asks:
            if getattr(self, name) <= 0:
                raise InputError(
                    f"{heading_of(UnitModel, name)} must be above 0 for a {self.kind}", where=f"room unit {self.model}"
                )
        if self.kind in ("fan_coil", "direct") and self.cool_sensible_w > self.cool_total_w:
            raise InputError("The sensible duty is above the total", where=f"room unit {self.model}")

    @property
    def row(self) -> str:
        """Its name among rows: models with steps have one row each."""
        return f"{self.model} {self.step}" if self.step else self.model


SECTIONS = (
    "damper",
    "mixing",
    "filter_panel",
    "filter_bag",
    "rotor",
    "plate",
    "runaround",
    "preheat",
    "cooling",
    "heating",
    "humidifier_steam",
    "humidifier_spray",
    "fan",
    "silencer",
    "access",
)


@dataclass(frozen=True, slots=True)
class CasingSection:
    """One section of a size of casing: lengths [m], mass [kg], drop [Pa] at 2 m/s on the filter face."""

    size: str = words("size")
    inner_width_m: float = needed("inner_width_m")
    inner_height_m: float = needed("inner_height_m")
    wall_m: float = number("wall_m")
    filter_face_m2: float = needed("filter_face_m2")
    coil_face_m2: float = needed("coil_face_m2")
    section: str = words("section", SECTIONS)
    length_m: float = needed("length_m")
    access_up_m: float = number("access_up_m")
    access_down_m: float = number("access_down_m")
    mass_kg: float = number("mass_kg")
    drop_pa: float = number("drop_Pa")
    attenuation_db: tuple[float, ...] = columns("att", BANDS)


MACHINE_KINDS = ("chiller_air", "chiller_water", "heat_pump_air", "dx_condensing", "boiler")


@dataclass(frozen=True, slots=True)
class MachineModel:
    """A chiller, heat pump, condensing unit or boiler: capacity [W], factors as polynomials of w and a [degC]."""

    model: str = words("model")
    kind: str = words("kind", MACHINE_KINDS)
    nominal_w: float = needed("nominal_kW", 1e3)
    nominal_cop: float = needed("nominal_cop", 1, 0.05, 30)
    capacity: tuple[float, ...] = columns("cap", TERMS)
    input: tuple[float, ...] = columns("input", TERMS)
    part_0: float = number("part_0", 1, -5, 5)
    part_1: float = number("part_1", 1, -5, 5)
    part_2: float = number("part_2", 1, -5, 5)
    least_part: float = number("least_part", 1, 0, 0.99)
    water_low_c: float = number("water_low_C", 1, -60, 150)
    water_high_c: float = number("water_high_C", 1, -60, 150)
    ambient_low_c: float = number("ambient_low_C", 1, -60, 150)
    ambient_high_c: float = number("ambient_high_C", 1, -60, 150)
    water_drop_pa: float = number("water_drop_kPa", 1e3)
    sound_dba: float = number("sound_power_dBA", 1, -50, 150)
    length_m: float = number("length_m")
    width_m: float = number("width_m")
    height_m: float = number("height_m")
    service_m: float = number("service_m")
    mass_kg: float = number("mass_kg")


@dataclass(frozen=True, slots=True)
class Splitter:
    """A set of splitters for the silencer section of a unit; own noise grows with the velocity on its face."""

    model: str = words("model")
    kind: str = words("kind", ("splitter",))
    thickness_m: float = needed("thickness_mm", 1e-3)
    gap_m: float = needed("gap_mm", 1e-3)
    length_m: float = needed("length_m")
    free_share: float = needed("free_share", 1, 0.01, 1)
    k_face: float = needed("k_face", 1, 1e-3, 1000)
    loss_db: tuple[float, ...] = columns("il", BANDS)
    noise_db: float = number("noise_dB", 1, -60, 150)
    noise_slope: float = number("noise_slope", 1, 0, 120)
    mass_kg_m2: float = number("mass_kg_m2")


INLINE_KINDS = (
    "fire damper",
    "smoke damper",
    "volume damper",
    "attenuator",
    "heater",
    "filter",
    "measuring cross",
    "flexible connector",
    "access door",
)
INLINE_LAWS = ("k", "power", "curve", "setting")
MOST_POINTS = 50


@dataclass(frozen=True, slots=True)
class InlineModel:
    """A part that stands in the run of a duct: size and length [m], loss in air of 1.2 kg/m3 by one of four laws,
    straight length [hydraulic diameters] it wants before and behind it, velocities on its face [m/s], minutes of fire
    resistance, sound power of its own at a velocity on its face, insertion loss by band [dB].

    points   flow [m3/s]:loss [Pa] of a curve, one behind the other with semicolons
    """

    model: str = words("model")
    kind: str = words("kind", INLINE_KINDS)
    shape: str = words("shape", ("round", "rectangular", "any"))
    width_m: float = needed("width_mm", 1e-3)
    height_m: float = needed("height_mm", 1e-3)
    length_m: float = number("length_mm", 1e-3, 0, 10_000)
    law: str = words("law", INLINE_LAWS)
    free_m2: float = number("free_area_m2", 1, 0, 50)
    k_free: float = number("k_free", 1, 0, 1000)
    rated_m3s: float = number("rated_m3s", 1, 0, 1000)
    rated_pa: float = number("rated_pa", 1, 0, 5000)
    exponent: float = number("exponent", 1, 0, 2.2)
    points: str = words("points_m3s_pa")
    before_d: float = number("before_d", 1, 0, 50)
    behind_d: float = number("after_d", 1, 0, 50)
    least_m_s: float = number("least_m_s", 1, 0, 100)
    most_m_s: float = number("most_m_s", 1, 0, 100)
    fire_min: float = number("fire_min", 1, 0, 480)
    smoke: float = number("smoke", 1, 0, 1)
    mass_kg: float = number("mass_kg")
    sound_db: float = number("sound_db", 1, -60, 150)
    sound_at_m_s: float = number("sound_at_m_s", 1, 0, 100)
    sound_slope: float = number("sound_slope", 1, 0, 120)
    loss_db: tuple[float, ...] = columns("il", BANDS)

    def __post_init__(self) -> None:
        where = f"part {self.model}"
        asks = {"k": ("free_m2",), "setting": ("free_m2",), "power": ("rated_m3s", "rated_pa", "exponent")}
        for name in asks.get(self.law, ()) if self.length_m > 0 else ():
            if getattr(self, name) <= 0:
                raise InputError(
                    f"{heading_of(InlineModel, name)} must be above 0 where the law is {self.law}", where=where
                )
        if self.law == "power" and self.exponent < 1:
            raise InputError(f"exponent must lie between 1 and 2.2, got {self.exponent:g}", where=where)
        if self.law == "curve" or self.points:
            loss_points(self.points, where)

    @property
    def face_m2(self) -> float:
        """Area of its connection [m2]."""
        return math.pi * self.width_m**2 / 4 if self.shape == "round" else self.width_m * self.height_m


def loss_points(text: str, where: str) -> tuple[tuple[float, float], ...]:
    """Points (m3/s, Pa) of a curve as it stands in a file. Raises InputError where they are none, or do not rise."""
    try:
        found = tuple((float(a), float(b)) for a, b in (cell.split(":") for cell in text.split(";") if cell.strip()))
    except ValueError:
        raise InputError(
            f"points_m3s_pa cannot be read: “{shortened(text)}”", where=where, remedy="Write 0.1:12;0.2:40"
        ) from None
    steps = itertools.pairwise(found)
    sound = all(math.isfinite(v) and v > 0 for p in found for v in p)
    if not (2 <= len(found) <= MOST_POINTS and sound and all(a[0] < b[0] and a[1] < b[1] for a, b in steps)):
        raise InputError(
            f"points_m3s_pa needs 2 to {MOST_POINTS} points above 0 that rise in flow and loss", where=where
        )
    return found


# What is chosen from, by the name of its sheet: row, shipped file, what a row is known by.
SHEETS: dict[str, tuple[type[Any], str, tuple[str, ...]]] = {
    "boxes": (BoxModel, "boxes_sample.csv", ("model",)),
    "room_units": (UnitModel, "room_units_sample.csv", ("model", "step")),
    "coils": (CoilSeries, "coils_sample.csv", ("series",)),
    "casings": (CasingSection, "casings_sample.csv", ("size", "section")),
    "machines": (MachineModel, "plant_sample.csv", ("model",)),
    "attenuators": (Splitter, "attenuators_sample.csv", ("model",)),
    "inline": (InlineModel, "inline_sample.csv", ("model",)),
}


def heading_of(kind: type[Any], name: str) -> str:
    """Heading in files of a field of a row."""
    return str(next(f.metadata["heading"] for f in fields(kind) if f.name == name))


def headings(kind: type[Any]) -> tuple[str, ...]:
    """Headings of a kind of row, in their order."""
    found: list[str] = []
    for f in fields(kind):
        meta = f.metadata
        ends = meta.get("ends", ())
        found += [f"{meta['heading']}_{end}" for end in ends] or [meta["heading"]]
    return tuple(found)


def _figure(cell: str, meta: Mapping[str, Any], heading: str, where: str) -> float:
    if not cell.strip():
        if meta.get("empty", 0.0) is None:
            raise InputError(f"{heading} is empty", where=where, remedy="Fill in a figure")
        return float(meta.get("empty", 0.0))
    try:
        value = float(cell.replace(",", "."))
    except ValueError:
        raise InputError(f"{heading} is no figure: “{shortened(cell)}”", where=where, remedy="Give a figure") from None
    low, high = meta.get("low", -1e6), meta.get("high", 1e6)
    if not (low <= value <= high and math.isfinite(value)):
        raise InputError(f"{heading} must lie between {low:g} and {high:g}, got {value:g}", where=where)
    return value * float(meta.get("factor", 1.0))


def one_row(kind: type[R], cells: Mapping[str, str], where: str) -> R:
    """A row of words as a row of figures in SI.

    Raises InputError that names the heading, what stands there and what is accepted.
    """
    made: dict[str, Any] = {}
    for f in fields(cast(Any, kind)):
        meta, heading = f.metadata, f.metadata["heading"]
        ends = meta.get("ends", ())
        if ends:
            made[f.name] = tuple(
                _figure(cells.get(f"{heading}_{e}") or "", meta, f"{heading}_{e}", where) for e in ends
            )
        elif "accepted" in meta:
            word = (cells.get(heading) or "").strip()
            if meta["accepted"] and word not in meta["accepted"]:
                raise InputError(
                    f"{heading} cannot be “{shortened(word)}”",
                    where=where,
                    remedy="Take one of: " + ", ".join(meta["accepted"]),
                )
            made[f.name] = word
        else:
            made[f.name] = _figure(cells.get(heading) or "", meta, heading, where)
    return kind(**made)


def name_of(row: Any) -> str:
    """What a row is known by among its like."""
    keys = next(keys for kind, _, keys in SHEETS.values() if isinstance(row, kind))
    return " ".join(part for key in keys if (part := str(getattr(row, key))))


def rows_of(sheet: str, table: Iterable[Mapping[str, str]]) -> tuple[Any, ...]:
    """All rows of a sheet.

    Raises InputError at the first that cannot be, and where two have one name.
    """
    kind, _, keys = SHEETS[sheet]
    found: dict[str, Any] = {}
    for i, cells in enumerate(table):
        where = " ".join(str(cells.get(heading_of(kind, k)) or "").strip() for k in keys).strip() or f"row {i + 1}"
        row = one_row(kind, cells, where)
        if not name_of(row):
            raise InputError("A row has no name", where=f"row {i + 1}", remedy="Fill " + heading_of(kind, keys[0]))
        if name_of(row) in found:
            raise InputError(f"“{name_of(row)}” stands there twice", where=f"row {i + 1}")
        found[name_of(row)] = row
    return tuple(found.values())


@lru_cache(maxsize=8)
def shipped(sheet: str) -> tuple[Any, ...]:
    """Rows of the sample catalogue that ships."""
    return rows_of(sheet, read_rows(SHEETS[sheet][1]))


def stacked(rows: Sequence[Any], name: str) -> NDArray[np.float64]:
    """One figure of all rows [m, W, Pa … as its field says]: (rows,), or (rows, 8) of bands [dB]."""
    return np.array([getattr(r, name) for r in rows], float)
