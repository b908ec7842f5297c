"""What moves a load most: one input at a time low and high, the rooms recomputed by the very same engine."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from msgspec import structs

from garnetfin.core.errors import GarnetfinError
from garnetfin.core.tables import MONTH_COLUMNS, materials
from garnetfin.engine.memo import Memo
from garnetfin.engine.resolve import site_figures
from garnetfin.engine.results import Climate, Missing, Results, RoomResult, there
from garnetfin.engine.stages.blocks import together
from garnetfin.engine.stages.climate import climate
from garnetfin.engine.stages.faces import neighbours
from garnetfin.engine.stages.loads import loads
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.site import MonthConditions
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned

MOST = 10


@dataclass(frozen=True, slots=True)
class Mover:
    """An input with its low and high, and the rooms' common peak [W] with each; heating likewise."""

    name: str
    low: str
    high: str
    low_w: float
    high_w: float

    def reach(self, base_w: float) -> float:
        return max(abs(self.low_w - base_w), abs(self.high_w - base_w))


@dataclass(frozen=True, slots=True)
class Sensitivity:
    room_ids: tuple[str, ...]
    base_w: float
    movers: tuple[Mover, ...]  # strongest first, at most ten
    heating: bool


def _scaled(field: str, factor: float) -> Callable[..., Any]:
    def change(project: Project, rooms: list[RoomResult]) -> Project:
        for r in rooms:
            value = getattr(r.figures, field).figure * factor
            project = SetRoomValue((r.room_id,), field, Pinned(value=value)).apply(project)
        return project

    return change


def _moved(field: str, by: float) -> Callable[..., Any]:
    def change(project: Project, rooms: list[RoomResult]) -> Project:
        for r in rooms:
            project = SetRoomValue((r.room_id,), field, Pinned(value=getattr(r.figures, field).figure + by)).apply(
                project
            )
        return project

    return change


def _glass(**factors: float) -> Callable[..., Any]:
    def change(project: Project, rooms: list[RoomResult]) -> Project:
        def one(g):
            values = {
                name: min(getattr(g, name) * f, 7.0 if name == "u_w_m2k" else 0.95) for name, f in factors.items()
            }
            if "g" in values:
                values["tau_e"] = min(g.tau_e * factors["g"], values["g"])
                values["rho_e"] = min(g.rho_e, 1 - values["tau_e"])
            return structs.replace(g, **values)

        return structs.replace(project, glazings=tuple(one(g) for g in project.glazings))

    return change


def _insulation(factor: float) -> Callable[..., Any]:
    """Every massive layer that insulates (below 0.1 W/mK) lets more or less heat through."""

    def change(project: Project, rooms: list[RoomResult]) -> Project:
        def one(layer):
            known = materials().get(layer.material)
            now = layer.conductivity_w_mk or (known.conductivity_w_mk if known else 0.0)
            return structs.replace(layer, conductivity_w_mk=now * factor) if 0 < now < 0.1 else layer

        return structs.replace(
            project,
            build_ups=tuple(structs.replace(b, layers=tuple(one(x) for x in b.layers)) for b in project.build_ups),
        )

    return change


def _absorbed(to: float) -> Callable[..., Any]:
    def change(project: Project, rooms: list[RoomResult]) -> Project:
        return structs.replace(project, build_ups=tuple(structs.replace(b, absorptance=to) for b in project.build_ups))

    return change


def _weather(field: str, by: float) -> Callable[..., Any]:
    def change(project: Project, rooms: list[RoomResult]) -> Project:
        k = MONTH_COLUMNS.index(field)
        figures = site_figures(project.site)
        months = project.site.months or (MonthConditions(),) * 12
        moved = tuple(
            structs.replace(m, **{field: Pinned(value=row[k].figure + by)}) for m, row in zip(months, figures.months)
        )
        return structs.replace(project, site=structs.replace(project.site, months=moved))

    return change


def _winter(by: float) -> Callable[..., Any]:
    def change(project: Project, rooms: list[RoomResult]) -> Project:
        now = site_figures(project.site).winter_c.figure
        return structs.replace(project, site=structs.replace(project.site, winter_c=Pinned(value=now + by)))

    return change


COOLING = (
    ("Sun factor of the glass", "−20 %", "+20 %", _glass(g=0.8), _glass(g=1.2)),
    ("U-value of windows", "−20 %", "+20 %", _glass(u_w_m2k=0.8), _glass(u_w_m2k=1.2)),
    ("Insulation's conductivity", "−25 %", "+25 %", _insulation(0.75), _insulation(1.25)),
    ("Solar absorptance outside", "0.3", "0.9", _absorbed(0.3), _absorbed(0.9)),
    ("People", "× 0.75", "× 1.5", _scaled("people", 0.75), _scaled("people", 1.5)),
    ("Lights", "× 0.7", "× 1.3", _scaled("lights_w_m2", 0.7), _scaled("lights_w_m2", 1.3)),
    ("Equipment", "× 0.65", "× 1.4", _scaled("equipment_w_m2", 0.65), _scaled("equipment_w_m2", 1.4)),
    ("Infiltration", "× 0.5", "× 2", _scaled("infiltration_1h", 0.5), _scaled("infiltration_1h", 2.0)),
    ("Set-point", "+1 K", "−1 K", _moved("cooling_c", 1.0), _moved("cooling_c", -1.0)),
    ("Outdoor dry bulb", "−1 K", "+1 K", _weather("dry_bulb_c", -1.0), _weather("dry_bulb_c", 1.0)),
    ("Daily range", "+2 K", "−2 K", _weather("range_k", 2.0), _weather("range_k", -2.0)),
    ("Clearness of the beam", "+0.08", "−0.08", _weather("tau_b", 0.08), _weather("tau_b", -0.08)),
)
HEATING = (
    ("U-value of windows", "−20 %", "+20 %", _glass(u_w_m2k=0.8), _glass(u_w_m2k=1.2)),
    ("Insulation's conductivity", "−25 %", "+25 %", _insulation(0.75), _insulation(1.25)),
    ("Infiltration", "× 0.5", "× 2", _scaled("infiltration_1h", 0.5), _scaled("infiltration_1h", 2.0)),
    ("Set-point", "−1 K", "+1 K", _moved("heating_c", -1.0), _moved("heating_c", 1.0)),
    ("Winter dry bulb", "+2 K", "−2 K", _winter(2.0), _winter(-2.0)),
)


def sensitivity(
    results: Results,
    room_ids: tuple[str, ...],
    heating: bool = False,
    progress: Callable[[float], None] = lambda share: None,
) -> Sensitivity | Missing:
    """The ten inputs that move the rooms' common peak most, one at a time. `progress` may raise to stop."""
    rooms = [results.room(i) for i in room_ids if results.room(i) is not None and there(results.room(i)).kept]
    if not rooms or not isinstance(results.climate, Climate):
        return Missing("no loads", "Choose a room that is served")
    ids = tuple(r.room_id for r in rooms)
    memo, table = Memo(), HEATING if heating else COOLING

    def peak(project: Project) -> float:
        # Only the rooms asked about and what drifts beside them are computed: the others stand, but need no load.
        wanted = set(ids)
        served = structs.replace(
            project, rooms=tuple(r for r in project.rooms if r.id in wanted or _beside(project, r, wanted))
        )
        found = loads(served, climate(project.site, memo), memo)
        known = [found[i] for i in ids if isinstance(found[i], RoomResult)]
        if not known:
            return 0.0
        block = together(known)
        return block.heating_w if heating else block.peak_w

    base, movers = peak(results.project), []
    for k, (name, low, high, down, up) in enumerate(table):
        progress(k / len(table))
        try:
            movers.append(Mover(name, low, high, *(peak(change(results.project, rooms)) for change in (down, up))))
        except GarnetfinError:
            continue  # a step that leaves what is accepted, such as a wet bulb above the dry one
    movers.sort(key=lambda m: -m.reach(base))
    return Sensitivity(ids, base, tuple(m for m in movers if m.reach(base) > 0.5)[:MOST], heating)


def _beside(project: Project, room, wanted: set[str]) -> bool:
    """Rooms beside those asked about stay in the project, since set-points and drifts behind partitions count."""
    return any(n.id in wanted for n in neighbours(project, room)) or not room.kept
