"""Reference data that ships with the program: room uses, profiles, materials, glazings, catalogues."""

import csv
import re
import tomllib
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files
from typing import Any

import numpy as np

from garnetfin.core.ducts.pieces import Hanger
from garnetfin.core.errors import InputError


def _text(name: str) -> str:
    return files("garnetfin.core").joinpath("data", name).read_text(encoding="utf-8")


def read_rows(name: str) -> list[dict[str, str]]:
    """Rows of a shipped CSV file; lines that start with # are remarks."""
    return list(csv.DictReader(line for line in _text(name).splitlines() if not line.startswith("#")))


@lru_cache(maxsize=1)
def fitting_tables() -> dict[str, dict[Any, Any]]:
    """The fittings catalogue, by fitting id."""
    return {entry["id"]: entry for entry in tomllib.loads(_text("fittings.toml"))["fitting"]}


@lru_cache(maxsize=512)
def fitting_words(name: str) -> str:
    """What a fitting is called: by its entry, legs that run on and what the program adds itself in plain words."""
    first, _, more = name.partition(",")
    entry = fitting_tables().get(first)
    words = str(entry["name"]) if entry is not None else first.replace("-", " ").capitalize()
    return f"{words},{more}" if more else words


@dataclass(frozen=True, slots=True)
class RoomUse:
    """Design values of one use of a room; W/m2, W per person, degC, m3/s."""

    id: str
    name: str
    people_m2: float
    sensible_w: float
    latent_w: float
    people_radiant: float
    lights_w_m2: float
    lights_radiant: float
    equipment_w_m2: float
    equipment_radiant: float
    heating_c: float
    cooling_c: float
    profile: str
    air_person_m3s: float
    air_area_m3s_m2: float
    source: str
    source_air: str
    extract_m3s_m2: float = 0.0
    extract_fixture_m3s: float = 0.0
    source_extract: str = ""
    rate_person_m3s: float = 0.0  # people-and-area procedure
    rate_area_m3s_m2: float = 0.0
    source_rate: str = ""


def _extract(words: str) -> tuple[float, float]:
    """Extract of a use from the words of its row: per floor [m3/s m2] and per fixture [m3/s]."""
    area, fixture = re.search(r"([\d.]+) l/s m2", words), re.search(r"([\d.]+) l/s per fixture", words)
    return (float(area[1]) / 1000 if area else 0.0), (float(fixture[1]) / 1000 if fixture else 0.0)


@lru_cache(maxsize=1)
def room_uses() -> dict[str, RoomUse]:
    """Room uses by id, in the order of the file."""
    return {
        r["id"]: RoomUse(
            r["id"],
            r["name"],
            float(r["people_per_100m2"]) / 100,
            float(r["sensible_W_person"]),
            float(r["latent_W_person"]),
            float(r["people_radiant_fraction"]),
            float(r["lighting_W_m2"]),
            float(r["lighting_radiant_fraction"]),
            float(r["equipment_W_m2"]),
            float(r["equipment_radiant_fraction"]),
            float(r["heat_set_C"]),
            float(r["cool_set_C"]),
            r["profile"],
            float(r["en_person_l_s"]) / 1000,
            float(r["en_area_l_s_m2"]) / 1000,
            r["source_people"],
            r["source_air_en"],
            *_extract(r["exhaust"]),
            r["source_exhaust"],
            float(r["pa_person_l_s"].strip() or 0) / 1000,
            float(r["pa_area_l_s_m2"].strip() or 0) / 1000,
            r["source_air_people_area"],
        )
        for r in read_rows("room_uses.csv")
    }


def room_use(use_id: str) -> RoomUse:
    """A use by its id. Raises InputError for one that is not in the office standards."""
    try:
        return room_uses()[use_id]
    except KeyError:
        raise InputError(
            f"Room use “{use_id}” is not in the office standards", remedy="Choose one of: " + ", ".join(room_uses())
        ) from None


@lru_cache(maxsize=1)
def ventilation_categories() -> dict[str, dict[str, float]]:
    """Rates by category: person [m3/s], and very low, low, not low polluting buildings [m3/s m2];

    EN 16798-1 annex B.
    """
    columns = {
        "person": "person_l_s",
        "very low": "very_low_polluting_l_s_m2",
        "low": "low_polluting_l_s_m2",
        "not low": "not_low_polluting_l_s_m2",
    }
    return {
        r["category"]: {k: float(r[c]) / 1000 for k, c in columns.items()}
        for r in read_rows("ventilation_categories.csv")
    }


@lru_cache(maxsize=1)
def profiles() -> dict[str, np.ndarray]:
    """Hourly shares of use (24,) by id."""
    found = {}
    for row in read_rows("profiles.csv"):
        values = np.array([float(row[f"h{h:02d}"]) for h in range(24)])
        values.flags.writeable = False
        found[row["id"]] = values
    return found


@dataclass(frozen=True, slots=True)
class Material:
    id: str
    name: str
    conductivity_w_mk: float
    density_kg_m3: float
    specific_heat_j_kgk: float
    source: str


@lru_cache(maxsize=1)
def materials() -> dict[str, Material]:
    """The library, by material id; sources stand in the file."""
    return {
        r["id"]: Material(
            r["id"],
            r["name"],
            float(r["conductivity_W_mK"]),
            float(r["density_kg_m3"]),
            float(r["specific_heat_J_kgK"]),
            r["source"],
        )
        for r in read_rows("materials.csv")
    }


@dataclass(frozen=True, slots=True, eq=False)
class TerminalModel:
    """Catalogue points of one terminal, flow rising; total pressure includes the exit loss; throws to 0.50 and 0.25
    m/s.
    """

    model: str
    kind: str
    description: str
    use: str  # supply or return
    neck_m2: float
    effective_m2: float
    neck_m: float
    flow_m3s: np.ndarray
    pressure_pa: np.ndarray
    throw_050_m: np.ndarray
    throw_025_m: np.ndarray
    sound_db: np.ndarray  # sound power, dB(A)
    nc: np.ndarray  # with a room effect of 10 dB

    @property
    def air(self) -> tuple[str, ...]:
        """What air it suits."""
        return ("supply",) if self.use == "supply" else ("return", "extract")


@lru_cache(maxsize=1)
def terminal_models() -> dict[str, TerminalModel]:
    """The sample of terminals that ships with the program, by model."""
    rows: dict[str, list[dict[str, str]]] = {}
    for row in read_rows("terminals_sample.csv"):
        rows.setdefault(row["model"], []).append(row)

    def column(rs: list[dict[str, str]], name: str, factor: float = 1.0) -> np.ndarray:
        return np.array([float(r[name]) * factor for r in rs])

    return {
        name: TerminalModel(
            name,
            rs[0]["kind"],
            rs[0]["description"],
            rs[0]["use"],
            float(rs[0]["neck_area_m2"]),
            float(rs[0]["effective_area_m2"]),
            float(rs[0]["size_mm"]) / 1000,
            column(rs, "flow_L_s", 1e-3),
            column(rs, "pressure_drop_Pa"),
            column(rs, "throw_050_m"),
            column(rs, "throw_025_m"),
            column(rs, "sound_power_dBA"),
            column(rs, "nc"),
        )
        for name, rs in rows.items()
    }


@dataclass(frozen=True, slots=True, eq=False)
class FanModel:
    """Catalogue points of one fan at speed_rpm and density_kg_m3, flow rising."""

    fan_id: str
    kind: str
    wheel_m: float
    outlet_m2: float
    speed_rpm: float
    min_rpm: float
    max_rpm: float
    density_kg_m3: float
    motor_w: float
    flow_m3s: np.ndarray
    total_pa: np.ndarray
    shaft_w: np.ndarray
    sound_db: np.ndarray
    stalled: np.ndarray


@lru_cache(maxsize=1)
def fan_models() -> dict[str, FanModel]:
    """The sample of fans that ships with the program, by fan id."""
    rows: dict[str, list[dict[str, str]]] = {}
    for row in read_rows("fans_sample.csv"):
        rows.setdefault(row["fan_id"], []).append(row)

    def column(rs: list[dict[str, str]], key: str) -> np.ndarray:
        return np.array([float(r[key]) for r in rs])

    return {
        name: FanModel(
            name,
            rs[0]["type"],
            float(rs[0]["wheel_diameter_m"]),
            float(rs[0]["outlet_area_m2"]),
            float(rs[0]["speed_rpm"]),
            float(rs[0]["min_speed_rpm"]),
            float(rs[0]["max_speed_rpm"]),
            float(rs[0]["density_kg_m3"]),
            float(rs[0]["motor_kw"]) * 1000,
            column(rs, "flow_m3_s"),
            column(rs, "total_pressure_pa"),
            column(rs, "shaft_power_w"),
            column(rs, "sound_power_db"),
            np.array([r["region"] == "stall" for r in rs]),
        )
        for name, rs in rows.items()
    }


@dataclass(frozen=True, slots=True)
class Place:
    """An invented place that ships; months: dry bulb, coincident wet bulb, range, wet range, beam and sky clearness."""

    id: str
    name: str
    latitude_deg: float
    longitude_deg: float
    altitude_m: float
    utc_offset_h: float
    winter_c: float
    annual_mean_c: float
    months: tuple[tuple[float, ...], ...]


MONTH_COLUMNS = ("dry_bulb_c", "wet_bulb_c", "range_k", "wet_range_k", "tau_b", "tau_d")


@lru_cache(maxsize=1)
def hangers() -> tuple[Hanger, ...]:
    """Supports by shape and size; defaults of our own, to be checked against the fixing's data."""
    return tuple(
        Hanger(
            r["shape"],
            float(r["upto_mm"]) / 1000,
            float(r["spacing_m"]),
            r["rod_mm"],
            r["rail"],
            float(r["capacity_kg"]),
            float(r["mass_kg"]),
        )
        for r in read_rows("hangers.csv")
    )


@lru_cache(maxsize=1)
def places() -> dict[str, Place]:
    """Invented places by id, in the order of the file."""
    rows: dict[str, list[dict[str, str]]] = {}
    for row in read_rows("places.csv"):
        rows.setdefault(row["id"], []).append(row)
    return {
        key: Place(
            key,
            rs[0]["name"],
            *(
                float(rs[0][c])
                for c in ("latitude_deg", "longitude_deg", "altitude_m", "utc_offset_h", "winter_c", "annual_mean_c")
            ),
            tuple(tuple(float(r[c]) for c in MONTH_COLUMNS) for r in rs),
        )
        for key, rs in rows.items()
    }


@lru_cache(maxsize=1)
def people_heat() -> dict[str, tuple[float, float, float]]:
    """Sensible and latent heat [W] of a person and the radiant share, by activity."""
    return {
        r["activity"]: (float(r["sensible_W"]), float(r["latent_W"]), float(r["radiant_fraction_low_air_speed"]))
        for r in read_rows("people_heat.csv")
    }


@dataclass(frozen=True, slots=True)
class GlassType:
    """A glass of the library; U in its middle, g and tau at normal incidence."""

    id: str
    name: str
    panes: int
    u_w_m2k: float
    g: float
    tau_e: float
    rho_e: float
    angle_class: float
    diffuse_ratio: float
    source: str


@lru_cache(maxsize=1)
def glass_types() -> dict[str, GlassType]:
    """Glass of the library, by id; sources stand in the file."""
    return {
        r["id"]: GlassType(
            r["id"],
            r["name"],
            int(r["panes"]),
            float(r["U_centre_W_m2K"]),
            float(r["g_normal"]),
            float(r["solar_transmittance"]),
            float(r["solar_reflectance"]),
            float(r["angle_q"]),
            float(r["g_diffuse_ratio"]),
            r["source"],
        )
        for r in read_rows("glazings.csv")
    }


@lru_cache(maxsize=1)
def _air_gaps() -> np.ndarray:
    return np.array(
        [
            [float(r[c]) for c in ("thickness_mm", "R_up_m2K_W", "R_horizontal_m2K_W", "R_down_m2K_W")]
            for r in read_rows("air_gaps.csv")
        ]
    )


def air_gap_resistance(thickness_m: float, flow: str = "horizontal") -> float:
    """Of an unventilated air layer [m2K/W] for heat flow up, horizontal or down (ISO 6946), linear between the rows."""
    table = _air_gaps()
    return float(np.interp(thickness_m * 1000, table[:, 0], table[:, {"up": 1, "horizontal": 2, "down": 3}[flow]]))


@lru_cache(maxsize=1)
def vapour_factors() -> dict[str, float]:
    """Water vapour resistance factor of the library's materials [-]."""
    return {r["id"]: float(r["mu"]) for r in read_rows("vapour.csv")}
