"""The casing of an air handling unit: its size, its sections in the order of the air, and the limits it keeps."""

from collections.abc import Mapping
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from garnetfin.core import noise
from garnetfin.core.equipment import casings as core
from garnetfin.core.equipment.casings import Casing, Section
from garnetfin.core.errors import InputError
from garnetfin.engine.equipment import tags
from garnetfin.engine.equipment.catalogues import rows as catalogue
from garnetfin.engine.equipment.records import CoilRecord, Refused, UnitRecord
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import Figure, assumption, resolve
from garnetfin.engine.results import DuctResult, FanResult, Missing, TrainResult
from garnetfin.engine.stages.noise import fan_bands
from garnetfin.project.equipment import UnitChoice
from garnetfin.project.lookup import find
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

SECTION_OF = {
    "intake": "damper",
    "relief": "damper",
    "filter": "filter_bag",
    "recovery": "rotor",
    "mixing": "mixing",
    "preheat": "preheat",
    "precool": "cooling",
    "cooling": "cooling",
    "heating": "heating",
    "supply_fan": "fan",
    "return_fan": "fan",
    "exhaust_fan": "fan",
    "attenuator": "silencer",
}
COILS = ("preheat", "precool", "cooling", "heating")


class Sized(NamedTuple):
    """The casing of a unit before its coils are chosen; air at its fullest [m3/s]."""

    casing: Casing | None
    supply_m3s: float
    exhaust_m3s: float
    velocity: Figure
    pinned: bool
    refused: tuple[Refused, ...]


def choice_of(project: Project, system_id: str) -> UnitChoice:
    """What is fixed of a unit."""
    found: UnitChoice | None = find(project.units, system_id)
    return found if found is not None else _by_rule(system_id)


@lru_cache(maxsize=1024)
def _by_rule(system_id: str) -> UnitChoice:
    """A unit of which nothing is fixed; the same one each time."""
    return UnitChoice(id=system_id)


def fullest(train: TrainResult) -> tuple[float, float]:
    """(supply, exhaust) air of a unit at its greatest hours [m3/s at standard density]."""
    density = train.pressure_pa / 101325.0 * 1.2
    ids = [p.id for p in train.parts]
    rooms = next((i for i, p in enumerate(train.parts) if p.kind == "rooms"), len(ids))
    supply = max((float(train.solved.nodes[i].m.max()) for i in ids[: max(rooms - 2, 1)]), default=0.0)
    supply = max(supply, float(train.solved.handler_kg_s.max()))
    return supply / density, float(train.solved.return_kg_s.max()) / density


def size(project: Project, system: AirSystem, train: TrainResult) -> Sized:
    """The smallest casing whose filters and coils are slow enough, or the one that is pinned."""
    choice, book = choice_of(project, system.id), project.book
    velocity = resolve(choice.velocity_m_s, assumption(book, "unit_m_s").figure, "office standards, filters of units")
    sizes = core.casings(catalogue(book, "casings"))
    supply, exhaust = fullest(train)
    pin = next((c for c in sizes if c.size == choice.size), None) if choice.size else None
    by_rule, small = core.choose_size(sizes, supply, exhaust, velocity.figure)
    refused = tuple(
        Refused(r.size, f"too fast on its {r.where}", r.velocity_m_s, r.limit_m_s, "velocity") for r in small
    )
    return Sized(pin or by_rule, supply, exhaust, velocity, pin is not None, refused)


def sections(train: TrainResult, coils: Mapping[str, CoilRecord]) -> tuple[tuple[Section, ...], tuple[Section, ...]]:
    """(supply, exhaust) sections, each in the order of its air; a filter stands before the recovery of the exhaust."""
    at = next((i for i, p in enumerate(train.parts) if p.kind == "rooms"), len(train.parts))
    depth = _depths(coils)
    supply = []
    for part in train.parts[:at]:
        if part.kind == "duct":
            break  # what stands behind the duct is no section of the unit
        if part.kind == "humidifier":
            supply.append(Section(f"humidifier_{part.choice or 'steam'}", 0.0, part.id))
        elif part.kind in SECTION_OF:
            supply.append(Section(SECTION_OF[part.kind], depth.get(part.id, 0.0), part.id))
    behind = [p for p in train.parts[at + 1 :] if p.kind in SECTION_OF]
    exhaust = [Section(SECTION_OF[p.kind], 0.0, p.id) for p in behind]
    wheel = next((s for s in supply if s.kind in core.SHARED), None)
    if wheel is not None and exhaust:
        ends = next((i for i, p in enumerate(behind) if p.kind in ("exhaust_fan", "relief")), len(exhaust))
        exhaust = [Section("filter_panel"), *exhaust[:ends], wheel, *exhaust[ends:]]
    return tuple(supply), tuple(exhaust)


def _depths(coils: Mapping[str, CoilRecord]) -> dict[str, float]:
    """Depths [m] of its coils along the air, by part: all that a unit reads of them."""
    return {c.part_id: c.chosen.built.depth_m for c in coils.values() if c.chosen is not None}


def unit(
    project: Project,
    system: AirSystem,
    train: TrainResult,
    sized: Sized,
    coils: Mapping[str, CoilRecord],
    fans: Mapping[str, FanResult | Missing],
    outside: DuctResult | Missing,
    memo: Memo,
) -> UnitRecord:
    """The unit's sheet of a system that treats air."""
    known = {way: f for way, f in fans.items() if isinstance(f, FanResult)}
    choice = choice_of(project, system.id)
    place = tags.of_unit(project, system.id)
    deep = _depths(coils)
    row = key(system, choice, place, train, outside, sized.casing and sized.casing.size, *known.values(), *deep.items())
    sheet: UnitRecord = memo.one(
        "unit sheet", row, lambda: _compute(system, choice, place, train, sized, coils, known, outside)
    )
    return sheet


def _compute(
    system: AirSystem,
    choice: UnitChoice,
    place: str,
    train: TrainResult,
    sized: Sized,
    coils: Mapping[str, CoilRecord],
    fans: Mapping[str, FanResult],
    outside: DuctResult | Missing,
) -> UnitRecord:
    layout = None
    refused = sized.refused
    if sized.casing is not None:
        try:
            layout = core.lay_out(sized.casing, *sections(train, coils), choice.arrangement)
        except InputError as error:
            refused = (*refused, Refused(sized.casing.size, str(error)))
    electric = sum(f.point.electric_w for f in fans.values() if f.point is not None)
    supply = sized.supply_m3s
    specific = electric / supply if supply > 0 and electric > 0 else float("nan")
    face = max(supply, sized.exhaust_m3s) / sized.casing.filter_face_m2 if sized.casing else float("nan")
    ratio, won = _recovery(train)
    inner_w = _inner(system, train, fans)
    into_duct, through_walls = _sound(layout, fans.get("supply"))
    return UnitRecord(
        system.id,
        choice.tag or place,
        system.name,
        supply,
        sized.exhaust_m3s,
        outside.runs.fan_pa if isinstance(outside, DuctResult) else float("nan"),
        sized.velocity,
        face,
        core.velocity_class(face) if sized.casing else "",
        layout,
        sized.pinned,
        electric,
        specific,
        core.fan_power_class(specific) if specific == specific else "",
        ratio,
        core.recovery_class(ratio, won, inner_w) if ratio == ratio else "",
        inner_w / supply if supply > 0 else float("nan"),
        core.inner_power_limit(supply, ratio, False) if ratio == ratio else float("nan"),
        into_duct,
        through_walls,
        refused,
    )


def _recovery(train: TrainResult) -> tuple[float, float]:
    """(temperature ratio of its recovery, heat it wins on the winter design day [W]); NaN without one."""
    part = next((p for p in train.parts if p.kind == "recovery"), None)
    if part is None:
        return float("nan"), 0.0
    return part.get("sensible", 0.75), max(train.heating.heat_w(part.id), 0.0)


def _inner(system: AirSystem, train: TrainResult, fans: Mapping[str, FanResult]) -> float:
    """Electricity [W] that filters and recovery cost on both sides."""
    titles = {p.title for p in system.parts if p.kind in ("filter", "recovery")}
    recovery = next((p for p in train.parts if p.kind == "recovery"), None)
    taken = 0.0
    for way, fan in fans.items():
        if fan.point is None or fan.point.flow_m3s <= 0 or fan.point.pressure_pa <= 0:
            continue
        inner = sum(pa for title, pa in fan.part_pa if title in titles) if way == "supply" else 0.0
        if way == "return" and recovery is not None:
            inner = recovery.get("exhaust_pa")
        taken += fan.point.electric_w * min(1.0, inner / fan.point.pressure_pa)
    return taken


def _sound(layout: core.Layout | None, fan: FanResult | None) -> tuple[float, float]:
    """Sound power [dB(A)] of the supply fan behind the sections after it, and through the casing's walls."""
    if layout is None or fan is None or fan.point is None:
        return float("nan"), float("nan")
    bands = fan_bands(fan)
    at = next((s.start_m for s in layout.stations if s.section.kind == "fan" and s.deck == "supply"), None)
    behind = [s for s in layout.stations if at is not None and s.deck == "supply" and s.start_m > at]
    lost = sum(
        (
            np.array(layout.casing.sections[s.section.kind].attenuation_db)
            for s in behind
            if s.section.kind != "silencer"
        ),
        np.zeros(8),
    )
    walls = bands - core.WALLS_DB
    return float(noise.weighted(bands - lost)), float(noise.weighted(walls))
