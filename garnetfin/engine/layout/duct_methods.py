"""The ways of sizing side by side: what each makes of the ducts of a system."""

from collections.abc import Callable
from dataclasses import dataclass

from msgspec import structs

from garnetfin.engine.memo import Memo
from garnetfin.engine.results import AirResult, DuctResult, Missing, Results
from garnetfin.engine.stages.duct_sizes import duct_rules
from garnetfin.engine.stages.duct_tree import ducts
from garnetfin.project.lookup import find

METHODS = (
    ("friction", "Constant friction"),
    ("velocity", "Velocity"),
    ("regain", "Static regain"),
    ("cost", "Least cost over life"),
)


@dataclass(frozen=True, slots=True)
class MethodRow:
    """A method's ducts: steel [kg], sheet [m2], pressure [Pa], spread of the runs' losses (of the index run), cost over
    life, limits broken.
    """

    method: str
    name: str
    mass_kg: float
    sheet_m2: float
    fan_pa: float
    imbalance: float
    cost: float
    broken: int
    sizes: int


def life_cost(results: Results, found: DuctResult) -> tuple[float, float]:
    """(sheet [m2], cost over life [money]) of ducts: metal, and the power their pressure takes."""
    prices = duct_rules(results.project.book).prices
    sheet = sum(s.section.perimeter_m * s.length_m for s in found.segments.values())
    return sheet, prices.sheet_m2 * sheet + prices.per_pa(found.flow_m3s) * found.runs.fan_pa


def compare(
    results: Results, system_id: str, progress: Callable[[float], None] = lambda share: None
) -> tuple[MethodRow, ...] | Missing:
    """One row a method, pins kept. `progress` may raise to stop."""
    air, system = results.air.get(system_id), find(results.project.air_systems, system_id)
    if not isinstance(air, AirResult):
        return air or Missing("no system", "Add an air system")
    rows, memo = [], Memo()
    for k, (method, name) in enumerate(METHODS):
        progress(k / len(METHODS))
        found = ducts(results.project, structs.replace(system, sizing=method), air, memo)
        if isinstance(found, Missing):
            return found
        sheet, cost = life_cost(results, found)
        losses = found.runs.loss_pa
        rows.append(
            MethodRow(
                method,
                name,
                found.mass_kg,
                sheet,
                found.runs.fan_pa,
                float(losses.std() / max(found.runs.fan_pa, 1e-9)),
                cost,
                sum(bool(s.ladder.relaxed) and not s.pinned for s in found.segments.values()),
                len({s.section for s in found.segments.values()}),
            )
        )
    return tuple(rows)
