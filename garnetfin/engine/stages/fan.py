"""Fans: which of the catalogue can do what each carries, and where they run."""

from functools import lru_cache

import numpy as np

from garnetfin.core.ducts.friction import duct_gradient
from garnetfin.core.fans.curve import Curve
from garnetfin.core.fans.duty import duty, operating_flow, operating_points
from garnetfin.core.fans.effect import outlet_effect
from garnetfin.core.fans.ranking import Candidate, drive_efficiency, rank
from garnetfin.core.tables import FanModel, fan_models
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import assumption, resolve
from garnetfin.engine.results import AirResult, DuctResult, FanLines, FanResult, Lack, Missing
from garnetfin.engine.stages.air import supplies
from garnetfin.engine.stages.duct_make import made_arrays
from garnetfin.engine.stages.fan_duty import DUCT_EXPONENT, Way, unit_air
from garnetfin.project.book import Book
from garnetfin.project.catalogue import OwnFan
from garnetfin.project.lookup import Same
from garnetfin.project.systems import AirSystem, FanChoice
from garnetfin.project.values import Pinned, Rule

MOTOR, LEAST_PA = 0.86, 0.1


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


def fans(
    system: AirSystem,
    book: Book,
    air: AirResult | Missing,
    ducts: DuctResult | Missing,
    leaving: dict[str, DuctResult | Missing],
    memo: Memo,
) -> dict[str, FanResult | Missing]:
    """Every fan of a system by its way, chosen for what it carries; that for supply is always among them."""
    if isinstance(air, Missing):
        return {"supply": air}
    if supplies(system):
        if isinstance(ducts, Missing):
            return {"supply": ducts}
        if ducts.flow_m3s <= 0:
            return {"supply": Missing("no flow", "Give a room a load or outdoor air")}
    supply = ducts if isinstance(ducts, DuctResult) and supplies(system) else None
    nets = {way: net for way, net in leaving.items() if isinstance(net, DuctResult)}

    def compute() -> dict[str, FanResult | Missing]:
        made: dict[str, FanResult | Missing] = {"supply": Missing("no supply fan", "Add a supply fan to the unit")}
        for way, load in unit_air(system, air, supply, nets).ways.items():
            made[way] = _compute(system, book, air, supply if way == "supply" else nets.get(way), load)
        return made

    return memo.one("fans", key(system, book.fans, book.blast_ratio, air, supply, *nets.values()), compute)


def _compute(system: AirSystem, book: Book, air: AirResult, net: DuctResult | None, load: Way) -> FanResult:
    flow, choice = load.flow_m3s, system.fan(load.way)
    parts = tuple((d.name, d.pressure_pa) for d in load.drops)
    duct_pa, allowance = load.duct_pa, load.allowance_pa
    wanted = max(load.wanted_pa, LEAST_PA)
    motor = resolve(choice.motor_efficiency, MOTOR, "office standards, motor and speed control")
    known, series = fan_table(book), choice.arrangement == "series"
    drive = None if isinstance(choice.drive_efficiency, Rule) else choice.drive_efficiency.value
    candidates = _ranked(choice, book, known, flow, wanted, air, motor.figure, drive)
    exponent = _duct_exponent(air, net) if net is not None and duct_pa > 0 else DUCT_EXPONENT

    def system_pa(q: float) -> float:
        through_unit = sum(d.pressure_pa * (q / flow) ** d.exponent for d in load.drops)
        through_unit += effect * (q / flow) ** 2
        return float(through_unit + (duct_pa + allowance) * (q / flow) ** exponent)

    wished = choice.model or (candidates[0].fan_id if candidates and candidates[0].point else "")
    effect = effect_pa(choice, book, known[wished], flow, air.density_kg_m3) if wished in known else 0.0
    wanted += effect
    local = float(np.log(system_pa(flow * 1.01) / wanted) / np.log(1.01)) if wanted > LEAST_PA else 2.0
    chosen = next((c for c in candidates if c.fan_id == wished), None)
    curve = point = None
    origin = "rule"
    if chosen is None:
        chosen = Missing("no fan", "No fan of the catalogue can do this duty", Lack.NO_FAN)
    elif not isinstance(choice.speed_rpm, Rule):
        origin = "pinned" if isinstance(choice.speed_rpm, Pinned) else "imported"
        model = known[chosen.fan_id]
        curve = Curve(model, choice.speed_rpm.value, air.density_kg_m3, choice.count, series)
        meets = operating_flow(curve, system_pa)
        if meets is None:
            chosen = Missing("off curve", f"At {choice.speed_rpm.value:.0f} rpm the fan does not meet the system curve")
        else:
            point = duty(curve, meets, drive_efficiency(model) if drive is None else drive, motor.figure)
            chosen = Candidate(
                chosen.fan_id, chosen.kind, chosen.wheel_m, choice.speed_rpm.value, chosen.max_rpm, point
            )
    elif chosen.point is None:
        chosen = Missing("no fan", f"{chosen.fan_id} {chosen.reason}", Lack.NO_FAN)
    else:
        curve, point = (
            Curve(known[chosen.fan_id], chosen.speed_rpm, air.density_kg_m3, choice.count, series),
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
        motor,
        effect,
        every,
        load.way,
    )


def effect_pa(choice: FanChoice, book: Book, model: FanModel, flow: float, density: float) -> float:
    """System effect at the fan [Pa]: a free or short outlet, and what was typed for bends and things in the way."""
    each = flow if choice.arrangement == "series" else flow / choice.count
    lost = 0.0
    if not isinstance(choice.outlet_duct_m, Rule):
        lost += outlet_effect(
            model.outlet_m2, each, density, choice.outlet_duct_m.value, assumption(book, "blast_ratio").figure
        )
    if not isinstance(choice.effect_k, Rule):
        lost += choice.effect_k.value * density / 2 * (each / model.outlet_m2) ** 2
    return lost


def _ranked(
    choice: FanChoice,
    book: Book,
    known: dict[str, FanModel],
    flow: float,
    wanted: float,
    air: AirResult,
    motor: float,
    drive: float | None,
) -> tuple[Candidate, ...]:
    """Every fan at the duty with its own system effect, by power; last those far from the speed they were measured
    at.
    """
    series = choice.arrangement == "series"
    each = [
        c
        for m in known.values()
        for c in rank(
            (m,),
            flow,
            wanted + effect_pa(choice, book, m, flow, air.density_kg_m3),
            air.density_kg_m3,
            motor,
            choice.count,
            series,
            drive,
        )
    ]
    return tuple(sorted(each, key=lambda c: (c.point is None, _far(c, known), c.point.electric_w if c.point else 0.0)))


SURE_SPEED = (0.5, 1.5)  # of the speed a fan was measured at; beyond it its efficiency is uncertain


def _far(candidate: Candidate, known: dict[str, FanModel]) -> bool:
    ratio = candidate.speed_rpm / known[candidate.fan_id].speed_rpm
    return not SURE_SPEED[0] <= ratio <= SURE_SPEED[1]


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
