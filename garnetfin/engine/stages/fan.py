"""Fan: what it has to lift, which of the catalogue can, and where it runs."""

from functools import lru_cache

import numpy as np

from garnetfin.core.ducts.balance import component_loss
from garnetfin.core.ducts.friction import duct_gradient
from garnetfin.core.fans.curve import Curve
from garnetfin.core.fans.duty import duty, operating_flow, operating_points
from garnetfin.core.fans.effect import outlet_effect
from garnetfin.core.fans.ranking import Candidate, drive_efficiency, rank
from garnetfin.core.tables import FanModel, fan_models
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import assumption, part_figure
from garnetfin.engine.results import AirResult, DuctResult, FanLines, FanResult, Lack, Missing
from garnetfin.engine.stages.duct_make import made_arrays
from garnetfin.project.book import Book
from garnetfin.project.catalogue import OwnFan
from garnetfin.project.lookup import Same
from garnetfin.project.parts import KINDS, Part
from garnetfin.project.systems import AirSystem
from garnetfin.project.values import Pinned, Rule

DUCT_EXPONENT = 1.9  # of ducts that are not looked at one by one


def fan_table(book: Book) -> dict[str, FanModel]:
    """All fans by name; the office's own stand before those that ship."""
    return {**fan_models(), **_own(Same(book.fans))} if book.fans else fan_models()


@lru_cache(maxsize=16)
def _own(fans: Same) -> dict[str, FanModel]:
    return {f.id: _model(f) for f in fans.item}


def _model(f: OwnFan) -> FanModel:
    def column(name: str) -> np.ndarray:
        return np.array([getattr(p, name) for p in f.points])

    return FanModel(
        f.id,
        f.kind,
        f.wheel_m,
        f.outlet_m2,
        f.speed_rpm,
        f.min_rpm,
        f.max_rpm,
        f.density_kg_m3,
        f.motor_w,
        column("flow_m3s"),
        column("total_pa"),
        column("shaft_w"),
        column("sound_db"),
        column("stalled"),
    )


def fan(
    system: AirSystem,
    book: Book,
    air: AirResult | Missing,
    ducts: DuctResult | Missing,
    memo: Memo,
    outdoor: DuctResult | Missing | None = None,
) -> FanResult | Missing:
    """What the supply ducts and the unit ask for; ducts drawn for outdoor air add theirs."""
    for before in (air, ducts):
        if isinstance(before, Missing):
            return before
    if ducts.flow_m3s <= 0:
        return Missing("no flow", "Give a room a load or outdoor air")
    if system.parts and not any(p.kind == "supply_fan" for p in system.parts):
        return Missing("no supply fan", "Put a supply fan into the train")
    drawn = outdoor if isinstance(outdoor, DuctResult) else None
    return memo.one(
        "fan",
        key(system, book.fans, book.blast_ratio, air, ducts, drawn),
        lambda: _compute(system, book, air, ducts, drawn),
    )


def lifted_parts(system: AirSystem) -> tuple[Part, ...]:
    """Parts whose pressure the supply fan overcomes: those that drop one, before the rooms."""
    kinds = [p.kind for p in system.parts]
    before = system.parts[: kinds.index("rooms")] if "rooms" in kinds else system.parts
    return tuple(p for p in before if KINDS[p.kind].pressure_pa is not None)


def leaving_parts(system: AirSystem) -> tuple[tuple[Part, float], ...]:
    """Parts of the unit that the return fan overcomes, with what each takes from the air that leaves [Pa]."""
    drops = (
        (p, part_figure(p, "pressure").figure if p.kind == "relief" else part_figure(p, "exhaust_pa").figure)
        for p in system.parts
        if p.kind in ("relief", "recovery")
    )
    return tuple((p, pa) for p, pa in drops if pa > 0)


def at_rated(system: AirSystem, part: Part, flow: float) -> float:
    """Drop of a part at the rated flow [Pa].

    A drop that is typed stands there; one by rule stands at the design flow, as a unit is chosen for it.
    """
    pa = part_figure(part, "pressure").figure
    return pa * (system.rated_m3s / flow) ** part.grows if isinstance(part.pressure_pa, Rule) and flow > 0 else pa


def _compute(system: AirSystem, book: Book, air: AirResult, ducts: DuctResult, outdoor: DuctResult | None) -> FanResult:
    flow = ducts.flow_m3s
    drops = [(p.title, at_rated(system, p, flow), p.grows) for p in lifted_parts(system)]
    if outdoor is not None:
        # Stated at the rated flow like the parts of the unit; at the design flow it is what the ducts lose there.
        drops.append(
            ("Outdoor-air ducts", outdoor.runs.fan_pa * (system.rated_m3s / flow) ** DUCT_EXPONENT, DUCT_EXPONENT)
        )
    parts = tuple((name, component_loss(flow, system.rated_m3s, pa, grows)) for name, pa, grows in drops)
    duct_pa = ducts.runs.fan_pa
    allowance = air.figures.allowance.figure * duct_pa
    wanted = sum(pa for _, pa in parts) + duct_pa + allowance
    motor = air.figures.motor_efficiency.figure
    known, series = fan_table(book), system.fan_arrangement == "series"
    drive = None if isinstance(system.drive_efficiency, Rule) else system.drive_efficiency.value
    candidates = _ranked(system, book, known, flow, wanted, air, motor, drive)
    exponent = _duct_exponent(air, ducts)

    def system_pa(q: float) -> float:
        through_unit = sum(component_loss(q, system.rated_m3s, pa, grows) for _, pa, grows in drops)
        through_unit += effect * (q / flow) ** 2
        return through_unit + (duct_pa + allowance) * (q / flow) ** exponent

    wished = system.fan_id or (candidates[0].fan_id if candidates and candidates[0].point else "")
    effect = effect_pa(system, book, known[wished], flow, air.density_kg_m3) if wished in known else 0.0
    wanted += effect
    local = float(np.log(system_pa(flow * 1.01) / wanted) / np.log(1.01)) if wanted > 0 else 2.0
    chosen = next((c for c in candidates if c.fan_id == wished), None)
    curve = point = None
    origin = "rule"
    if chosen is None:
        chosen = Missing("no fan", "No fan of the catalogue can do this duty", Lack.NO_FAN)
    elif not isinstance(system.fan_rpm, Rule):
        origin = "pinned" if isinstance(system.fan_rpm, Pinned) else "imported"
        model = known[chosen.fan_id]
        curve = Curve(model, system.fan_rpm.value, air.density_kg_m3, system.fan_count, series)
        meets = operating_flow(curve, system_pa)
        if meets is None:
            chosen = Missing("off curve", f"At {system.fan_rpm.value:.0f} rpm the fan does not meet the system curve")
        else:
            point = duty(curve, meets, drive_efficiency(model) if drive is None else drive, motor)
            chosen = Candidate(chosen.fan_id, chosen.kind, chosen.wheel_m, system.fan_rpm.value, chosen.max_rpm, point)
    elif chosen.point is None:
        chosen = Missing("no fan", f"{chosen.fan_id} {chosen.reason}", Lack.NO_FAN)
    else:
        curve, point = (
            Curve(known[chosen.fan_id], chosen.speed_rpm, air.density_kg_m3, system.fan_count, series),
            chosen.point,
        )
    lines = _lines(curve, candidates, system_pa, known, flow) if curve is not None else None
    every = tuple(operating_points(curve, system_pa)) if curve is not None else ()
    return FanResult(
        system.id,
        parts,
        duct_pa,
        allowance,
        wanted,
        flow,
        candidates,
        chosen,
        curve,
        point,
        local,
        origin,
        lines,
        effect,
        every,
    )


def effect_pa(system: AirSystem, book: Book, model: FanModel, flow: float, density: float) -> float:
    """System effect at the fan [Pa]: a free or short outlet, and what was typed for bends and things in the way."""
    each = flow if system.fan_arrangement == "series" else flow / system.fan_count
    lost = 0.0
    if not isinstance(system.outlet_duct_m, Rule):
        lost += outlet_effect(
            model.outlet_m2, each, density, system.outlet_duct_m.value, assumption(book, "blast_ratio").figure
        )
    if not isinstance(system.fan_effect_k, Rule):
        lost += system.fan_effect_k.value * density / 2 * (each / model.outlet_m2) ** 2
    return lost


def _ranked(
    system: AirSystem,
    book: Book,
    known: dict[str, FanModel],
    flow: float,
    wanted: float,
    air: AirResult,
    motor: float,
    drive: float | None,
) -> tuple[Candidate, ...]:
    """Every fan at the duty with its own system effect, by power."""
    series = system.fan_arrangement == "series"
    each = [
        c
        for m in known.values()
        for c in rank(
            (m,),
            flow,
            wanted + effect_pa(system, book, m, flow, air.density_kg_m3),
            air.density_kg_m3,
            motor,
            system.fan_count,
            series,
            drive,
        )
    ]
    return tuple(sorted(each, key=lambda c: (c.point is None, c.point.electric_w if c.point else 0.0)))


def _sampled(curve: Curve) -> np.ndarray:
    flow = np.linspace(0.0, curve.greatest_m3s * (1 - 1e-9), 60)
    return np.array([flow, curve.pressure(flow)])


def _lines(
    curve: Curve, candidates: tuple[Candidate, ...], system_pa, models: dict[str, FanModel], flow: float
) -> FanLines:
    """Curves of the chosen fan, of its rivals at their speeds, of other speeds, of the system, and the edge of
    stall.
    """
    others = tuple(
        (str(place), _sampled(Curve(models[c.fan_id], c.speed_rpm, curve.density_kg_m3, curve.fans, curve.series)))
        for place, c in enumerate(candidates, 1)
        if c.point and c.fan_id != curve.model.fan_id
    )[:5]
    # Affinity laws: at k times the speed flow is k times, pressure k^2 times.
    chosen = _sampled(curve)
    speeds = tuple((curve.speed_rpm * k, chosen * [[k], [k * k]]) for k in (0.8, 0.9, 1.1))
    k = np.linspace(0.05, 1.6, 40)
    stall = np.array([curve.stall_m3s * k, float(curve.pressure(curve.stall_m3s)) * k**2])
    q = np.linspace(0.0, max(curve.greatest_m3s, flow) * 1.3, 60)
    return FanLines(chosen, others, speeds, np.array([q, [system_pa(x) for x in q]]), stall)


def _duct_exponent(air: AirResult, ducts: DuctResult) -> float:
    """How the index run's loss grows with flow: 2 for fittings, less for friction, weighed by their parts."""
    path = [ducts.segments[s] for s in ducts.path(ducts.index.segment_id)]
    rows = [s for s in path if s.flow_m3s > 0]
    flow = np.array([s.flow_m3s for s in rows])
    area, dh = np.array([s.section.area_m2 for s in rows]), np.array([s.section.hydraulic_m for s in rows])
    rough, pressed = made_arrays([s.make for s in rows])
    now = duct_gradient(flow, area, dh, rough, pressed, air.density_kg_m3, air.viscosity_pa_s)
    more = duct_gradient(flow * 1.02, area, dh, rough, pressed, air.density_kg_m3, air.viscosity_pa_s)
    length = np.array([s.length_m for s in rows])
    rub, rub_more = float(now @ length), float(more @ length)
    rest = ducts.runs.fan_pa - rub
    return float(np.log((rub_more + rest * 1.02**2) / (rub + rest)) / np.log(1.02))
