"""Moisture in the air of rooms through a day: what the plant must take out or put in to keep the limits.

Source: conservation of water in the air of a room; own method.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.loads.plant import Plan, air_matrix, run_plant

HEAT_OF_VAPOUR = 2.5e6  # J/kg


@dataclass(frozen=True, slots=True, eq=False)
class MoistureDays:
    """ratio (R, M, 24) [kg/kg]; latent_w (R, M, 24) > 0 = moisture to remove, < 0 = to add."""

    ratio: NDArray[np.float64]
    latent_w: NDArray[np.float64]


def moisture_days(
    sources_kg_s: NDArray[Any],
    exchange_kg_s: NDArray[Any],
    outdoor_ratio: NDArray[Any],
    stored_kg: NDArray[Any],
    on: NDArray[Any],
    low_ratio: NDArray[Any],
    high_ratio: NDArray[Any],
) -> MoistureDays:
    """Humidity of R rooms through M days.

    sources_kg_s (R, M, 24)  moisture of people and processes
    exchange_kg_s (R,)       dry air that leaks in; outdoor_ratio (M, 24) [kg/kg]
    stored_kg (R,)           dry air in the room, times the buffering factor (1 = none, user up to 15)
    on (R, 24) or (R, M, 24) hours in which the limits are kept
    low_ratio, high_ratio (R,) limits [kg/kg]; 0 and inf for none

    The balance has the form of the room's heat: exchange, storage, and plant that steps in at a limit, so the
    same solver settles its states. Sensible heat of vapour is left out.
    """
    rooms = len(stored_kg)
    exchange = np.maximum(exchange_kg_s, 1e-9)
    g = air_matrix(np.zeros((rooms, 24)), exchange, stored_kg)
    force = sources_kg_s + exchange[:, None, None] * outdoor_ratio
    endless = np.full(rooms, np.inf)
    high = np.minimum(high_ratio, 10.0)
    # The solver's tolerances are for kelvin and watts; in grams and milligrams per second moisture has their size.
    each = (slice(None), *(None,) * (on.ndim - 1))
    plan = Plan(
        on,
        np.broadcast_to(low_ratio[each] * 1e3, on.shape),
        np.broadcast_to(high[each] * 1e3, on.shape),
        endless,
        endless,
        np.zeros(rooms, bool),
    )
    found = run_plant(g * 1e3, force * 1e6, plan)
    return MoistureDays(found.air_c * 1e-3, -found.heat_w * 1e-6 * HEAT_OF_VAPOUR)
