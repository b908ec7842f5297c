"""Machines through the hours of a year: what they meet, what they take, and what their pumps take beside them."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.equipment import plant as core
from garnetfin.engine.equipment.records import MachineRecord
from garnetfin.engine.results import Missing, Results
from garnetfin.engine.studies.air_year import AirYear

Array = NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class MachineYear:
    """Arrays (8760,) [W]: electricity or fuel of the machines, electricity of their pump, load met and not met."""

    input_w: Array
    pump_w: Array
    met_w: Array
    unmet_w: Array

    @property
    def unmet_hours(self) -> int:
        return int((self.unmet_w > 1.0).sum())


def machine_year(results: Results, circuit: str, year: AirYear) -> MachineYear | None:
    """The machines of a circuit with the load that one air system gives them; None where there are none."""
    found = results.equipment.machines.get(circuit)
    if found is None or isinstance(found, Missing) or found.model is None:
        return None
    load = np.maximum(year.cold_w if circuit == "cold" else year.heat_w, 0.0)
    made = core.year(found.model, max(found.count - found.standby, 1), load, _water(found), _around(found, year))
    pump = core.pump_year(found.pump.power_w, load, found.load_w)
    return MachineYear(made.input_w, pump, made.met_w, made.unmet_w)


def _water(machine: MachineRecord) -> float:
    return machine.back_c if machine.kind == "boiler" else machine.water_c


def _around(machine: MachineRecord, year: AirYear) -> Array:
    """Air or condenser water at each hour, as much warmer than outdoors as at design."""
    if machine.kind == "chiller_water":
        return core.condenser_water(year.wet_bulb_c)
    if machine.kind == "chiller_air":
        return year.outdoor_c + (machine.around.figure - year.summer_c)
    return year.outdoor_c
