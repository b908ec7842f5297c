"""Proof: what comes into every node of a solved air system less what leaves it, and the balance of the whole by what
crosses its border.

Source: conservation of energy and water.
"""

from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.psychro import properties as air
from garnetfin.core.systems.parts import SMALLEST, Array

if TYPE_CHECKING:
    from garnetfin.core.systems.handler import Trace
    from garnetfin.core.systems.sweep import Sweep


def closing(march: "Sweep", trace: "Trace") -> tuple[dict[str, Array], dict[str, Array]]:
    """What comes into every node less what leaves it: energy [W] and water [kg/s]."""
    e, rooms = trace.extra, march.rooms
    h = {k: air.enthalpy(n.t, n.w) for k, n in trace.nodes.items()}
    n, energy, water = trace.nodes, {}, {}
    at = "outdoor"
    for part in march.supply:
        mass = n[part.id].m
        if part.kind == "mixing":
            recirc = e["handler"] - e["outdoor"]
            energy[part.id] = (
                n[at].m * h[at] + recirc * h["return"] - mass * h[part.id] - e["fog"] * air.water_enthalpy(n[part.id].t)
            )
            water[part.id] = n[at].m * n[at].w + recirc * n["return"].w - mass * n[part.id].w - e["fog"]
        else:
            lost = np.where(trace.water[part.id] < 0, trace.water[part.id], 0.0) * air.water_enthalpy(n[part.id].t)
            energy[part.id] = (
                mass * (h[at] - h[part.id]) + trace.heat[part.id] + (lost if part.kind != "recovery" else 0.0)
            )
            water[part.id] = mass * (n[at].w - n[part.id].w) + trace.water[part.id]
        at = part.id
    room_h = air.enthalpy(e["t"], e["w"])
    goes = e["back"] + rooms.extract_kg_s[:, None] + np.maximum(e["offset"], 0) + march.out[:, None]
    leaks_in = np.maximum(-e["offset"], 0)
    vapour = march.moisture * air.vapour_enthalpy(e["t"])
    brought, wet = np.zeros_like(room_h), np.zeros_like(room_h)
    if len(rooms.moves):
        a, b = rooms.moves.T
        np.add.at(brought, b, rooms.transfer_kg_s[:, None] * room_h[a])
        np.add.at(wet, b, rooms.transfer_kg_s[:, None] * e["w"][a])
    served = (e["m"] + march.into[:, None]) > SMALLEST
    supply_h = air.enthalpy(e["behind"], n["supply"].w)
    energy["rooms"] = (
        served * (e["m"] * supply_h + brought + leaks_in * room_h + e["load"] - e["unit"] + vapour - goes * room_h)
    ).sum(axis=0)
    water["rooms"] = (served * (e["m"] * n["supply"].w + wet + leaks_in * e["w"] + march.moisture - goes * e["w"])).sum(
        axis=0
    )
    if march.recovery is not None:
        energy["exhaust"] = (
            e["relief"] * (h["return"] - h["exhaust"])
            - trace.heat[march.recovery.id]
            - e["exhaust_fog"] * air.water_enthalpy(n["exhaust"].t)
        )
        water["exhaust"] = (
            e["relief"] * (n["return"].w - n["exhaust"].w) - trace.water[march.recovery.id] - e["exhaust_fog"]
        )
    energy["whole"], water["whole"] = _whole(march, trace, h, room_h, vapour, served)
    return energy, water


def _whole(
    march: "Sweep", trace: "Trace", h: dict[str, Array], room_h: Array, vapour: Array, served: NDArray[Any]
) -> tuple[Array, Array]:
    """The balance of the whole system, by what crosses its border alone."""
    e, n, rooms = trace.extra, trace.nodes, march.rooms
    first = n["outdoor"].m
    leaves = rooms.extract_kg_s[:, None] + e["offset"]
    gains = served * (e["load"] - e["unit"] + vapour)
    energy = first * h["outdoor"] + gains.sum(axis=0) + e["reheat"].sum(axis=0) - (served * leaves * room_h).sum(axis=0)
    water = first * n["outdoor"].w + (served * (march.moisture - leaves * e["w"])).sum(axis=0)
    for part in (*march.supply, *march.back):
        heat, drops = trace.heat.get(part.id, 0.0), trace.water.get(part.id, 0.0)
        if part.kind == "recovery":
            continue
        energy = energy + heat + (np.where(drops < 0, drops, 0.0) * air.water_enthalpy(n[part.id].t))
        water = water + drops
    energy = (
        energy
        - e["relief"] * h["exhaust"]
        - e["fog"] * (air.water_enthalpy(n[march.mixing.id].t) if march.mixing else 0.0)
    )
    water = water - e["relief"] * n["exhaust"].w - e["fog"]
    if march.recovery is not None:
        energy = energy - e["exhaust_fog"] * air.water_enthalpy(n["exhaust"].t)
        water = water - e["exhaust_fog"]
    if march.duct is not None and march.duct.choice == "outside":
        energy = energy - e["leak"] * h["before duct"]
        water = water - e["leak"] * n["before duct"].w
    # Return air that is neither taken again nor let out makes up for intake that was raised.
    spare = e["returned"] - (e["handler"] - e["outdoor"]) - e["relief"]
    return energy - spare * h["return"], water - spare * n["return"].w
