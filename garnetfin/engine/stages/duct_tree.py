"""Ducts: from the drawn tree and the rooms' flows to sizes, fittings, losses and runs."""

from dataclasses import dataclass

from garnetfin.core.ducts.sizing import Sized
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.results import AirResult, DuctResult, Lack, Missing
from garnetfin.engine.slices import duct_parts
from garnetfin.engine.stages.duct_flows import Carried, carried
from garnetfin.engine.stages.duct_layout import Layout, layout
from garnetfin.engine.stages.duct_leaks import Leaking, with_leaks
from garnetfin.engine.stages.duct_losses import Lost, local_losses
from garnetfin.engine.stages.duct_records import segment_records, settings, terminal_records
from garnetfin.engine.stages.duct_sizes import sized, velocity_limits
from garnetfin.engine.stages.terminals import OF_ROOM
from garnetfin.project.book import Book
from garnetfin.project.ducts import Air
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

LEAST_BACK_M3S = 0.002  # less air than this leaves by a door's gap


@dataclass(frozen=True, slots=True, eq=False)
class SizedDucts:
    """Ducts with sizes and losses, before each of them has its record; greatest velocity of each [m/s]."""

    on: Carried
    found: Sized
    losses: Lost
    velocity_limit: list[float]


def ducts(
    project: Project,
    system: AirSystem,
    air: AirResult | Missing,
    memo: Memo,
    way: Air = "supply",
    before: SizedDucts | None = None,
) -> DuctResult | Missing:
    """The ducts of a system for supply, return, extract or outdoor air; all but supply are walked against the air, from
    the unit outward. `before`: see sized_ducts.
    """
    made = sized_ducts(project, system, air, memo, way, before)
    if isinstance(made, Missing):
        return made
    found: DuctResult = memo.one("ducts", key(made), lambda: _records(made))
    return found


def sized_ducts(
    project: Project,
    system: AirSystem,
    air: AirResult | Missing,
    memo: Memo,
    way: Air = "supply",
    before: SizedDucts | None = None,
) -> SizedDucts | Missing:
    """Sizes and losses alone. `before`: those of nearly the same flows, from whose leaks the search goes on."""
    if isinstance(air, Missing):
        return air
    parts = duct_parts(project, system.id, way)
    if parts is None:
        return Missing("no ducts", "Draw a duct from the unit")
    if not system.root_of(way):
        return Missing("no start", "Join a duct to the unit", Lack.NOT_JOINED)
    if not any(t.air == way for t in project.terminals):
        return Missing("no terminals", "Put a terminal at the end of a run")
    row = key(
        system.id,
        way,
        system.roots_of(way),
        system.sizing,
        system.duct_height_m,
        system.friction_from,
        system.available_pa,
        system.leakage,
        system.heat,
        next((p for p in system.parts if p.kind == "duct"), None),
        air,
        project.book,
        parts.key,
        before,
    )
    found: SizedDucts | Missing = memo.one(
        "sizes", row, lambda: _sized(project.book, system, air, layout(project, system, way, parts, memo), way, before)
    )
    return found


def _sized(
    book: Book, system: AirSystem, air: AirResult, at: Layout | None, way: Air, before: SizedDucts | None
) -> SizedDucts | Missing:
    if at is None:
        return Missing("not joined", "Join the ducts to the unit and to a terminal", Lack.NOT_JOINED)
    limits = velocity_limits(book, at)
    near = Leaking(before.on, before.found, before.losses) if before is not None and before.on.at is at else None
    found = with_leaks(
        system,
        carried(at, air, book, way),
        lambda on: sized(system, on, limits, lambda sections: local_losses(on, sections)),
        near,
    )
    return SizedDucts(found.on, found.found, found.losses, limits)


def _records(made: SizedDucts) -> DuctResult:
    on, found, losses = made.on, made.found, made.losses
    at, tree, way = on.at, on.at.tree, on.way
    set_ = settings(on, found, losses)
    records = segment_records(on, found, losses, made.velocity_limit, set_)
    terminals = terminal_records(on, losses, set_)
    joined = {t.id for t in at.reached}
    return DuctResult(
        system_id=on.air.system_id,
        segments=records,
        terminals=terminals,
        unreached=tuple(t.id for t in at.members if t.id not in joined),
        unroomed=_unroomed(on.air, way, {t.room_id for t in at.reached}),
        looped=tuple(at.segments[i].id for i in tree.looped),
        tree=tree,
        runs=losses.runs,
        segment_ids=tuple(s.id for s in at.segments),
        length_m=float(at.length_m.sum()),
        mass_kg=float(sum(r.mass_kg for r in records.values())),
        flow_m3s=float(on.flow_m3s[tree.order[tree.parent[tree.order] < 0]].sum()),
        air=way,
        ends=at.ends,
        regained=found.regained,
    )


def _unroomed(air: AirResult, way: Air, have: set[str]) -> tuple[str, ...]:
    """Rooms with air of that way and no terminal for it."""
    if way == "outdoor":
        return ()
    least = 0.0 if way == "supply" else LEAST_BACK_M3S
    return tuple(r.room_id for r in air.rooms if getattr(r, OF_ROOM[way]) > least and r.room_id not in have)
