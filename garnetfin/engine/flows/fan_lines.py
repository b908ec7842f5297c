"""Fans drawn by something else than pressure, and all fans of a system together."""

from dataclasses import dataclass

import numpy as np

from garnetfin.core.fans.curve import Curve
from garnetfin.core.fans.duty import specific_class
from garnetfin.core.fans.ranking import drive_efficiency
from garnetfin.engine.flows.flow_results import Flows
from garnetfin.engine.resolve import Figure, assumption, resolve
from garnetfin.engine.results import FanResult, Missing, Results
from garnetfin.engine.stages.fan import fan_table
from garnetfin.project.systems import AirSystem

QUANTITIES = ("pressure", "efficiency", "power", "noise")
OTHERS = 5


def lines_of(
    results: Results, system_id: str, quantity: str, way: str = "supply"
) -> tuple[np.ndarray, tuple[tuple[str, np.ndarray], ...]]:
    """(chosen, others with their rank) over flow, each (2, points): efficiency [-], shaft power [W] or sound power
    [dB].
    """
    fan, known = results.fan(system_id, way), fan_table(results.project.book)
    others = tuple(
        (
            str(place),
            _line(
                Curve(known[c.fan_id], c.speed_rpm, fan.curve.density_kg_m3, fan.curve.fans, fan.curve.series), quantity
            ),
        )
        for place, c in enumerate(fan.candidates, 1)
        if c.point and c.fan_id != fan.curve.model.fan_id
    )[:OTHERS]
    return _line(fan.curve, quantity), others


def _line(curve: Curve, quantity: str) -> np.ndarray:
    flow = np.linspace(curve.greatest_m3s * 0.02, curve.greatest_m3s * (1 - 1e-9), 60)
    match quantity:
        case "efficiency":
            return np.array([flow, np.clip(flow * curve.pressure(flow) / curve.shaft_power(flow), 0.0, 1.0)])
        case "power":
            return np.array([flow, curve.shaft_power(flow)])
        case "noise":
            return np.array([flow, [curve.sound_power(float(q)) for q in flow]])
    return np.array([flow, curve.pressure(flow)])


def drive_of(system: AirSystem, fan: FanResult) -> Figure:
    """Efficiency of the drive, by rule by the kind of fan."""
    choice = system.fan(fan.way)
    return resolve(
        choice.drive_efficiency, drive_efficiency(fan.curve.model), "office standards: direct 100 %, belt 93 %"
    )


@dataclass(frozen=True, slots=True)
class FansTogether:
    """All fans of a system:

    (name, electric power [W]) each, together, per flow [W/(m3/s)] with its class; a year of running [Wh] and its price.
    """

    fans: tuple[tuple[str, float], ...]
    electric_w: float
    specific_w_m3s: float
    specific_class: int
    hours: float
    year_wh: float
    price: float


def together(results: Results, system_id: str, flows: Flows) -> FansTogether | Missing:
    """Supply fan and those for air that leaves, at the flows that are solved; those whose ducts are not drawn yet at
    their own duty.
    """
    if flows.fan is None:
        return Missing("no fan", "Choose a fan")
    book = results.project.book
    fans = [
        ("Supply fan", flows.fan.electric_w),
        *((f"{way.capitalize()} fan", d.electric_w) for way, d in flows.back.items()),
    ]
    most = max([flows.fan_m3s, sum(d.flow_m3s for way, d in flows.back.items() if way != "exhaust")])
    for way, fan in results.fans_of(system_id).items():
        if way == "supply" or way in flows.back:
            continue
        if fan.point is None:
            return Missing(f"no {way} fan", f"No fan of the catalogue can do the duty of the {way} fan")
        fans.append((f"{way.capitalize()} fan, until its ducts are drawn", fan.point.electric_w))
    electric = sum(w for _, w in fans)
    hours = assumption(book, "fan_hours").figure
    return FansTogether(
        tuple(fans),
        electric,
        electric / most,
        specific_class(electric / most),
        hours,
        electric * hours,
        electric * hours / 1000 * assumption(book, "energy_price").figure,
    )
