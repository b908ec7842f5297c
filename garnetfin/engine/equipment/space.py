"""How big the plant room is: floors of air handlers and machines, at the loads as they are and at the upper end of what
is likely where rooms stand on estimates.
"""

from collections.abc import Mapping

from garnetfin.core.equipment import casings
from garnetfin.core.equipment import plant as core
from garnetfin.engine.equipment.catalogues import rows as catalogue
from garnetfin.engine.equipment.records import Equipment, MachineRecord, PlantSpace
from garnetfin.engine.results import Block, Missing
from garnetfin.project.tree import Project


def plant_space(project: Project, of: Equipment, blocks: Mapping[str, Block | Missing]) -> PlantSpace | None:
    """Floor and clear height for all of it; None where nothing is chosen yet.

    At the upper end flows and loads are as much greater as the likely load of the rooms is.
    """
    layouts = {u.id: u.layout for u in of.units.values() if u.layout is not None}
    machines = [m for m in of.machines.values() if isinstance(m, MachineRecord) and m.model is not None]
    if not layouts and not machines:
        return None
    handlers = sum(x.floor_m2 for x in layouts.values())
    indoors = _room(machines, 1.0)
    upper, above = 0.0, []
    sizes = casings.casings(catalogue(project.book, "casings"))
    for unit in of.units.values():
        made = layouts.get(unit.id)
        if made is None:
            continue
        factor = _factor(blocks.get(unit.id))
        larger, _ = casings.choose_size(
            sizes, unit.supply_m3s * factor, unit.exhaust_m3s * factor, unit.velocity.figure
        )
        larger = larger if larger is not None and larger.filter_face_m2 > made.casing.filter_face_m2 else made.casing
        again = casings.lay_out(larger, _deck(made, "supply"), _deck(made, "exhaust"), made.arrangement)
        upper += max(again.floor_m2, made.floor_m2)
        if larger.size != made.casing.size:
            above.append(f"{unit.tag} {larger.size}")
    whole = _factor(blocks.get(""))
    upper += _room(machines, whole, above)
    clear = max((x.clear_m for x in layouts.values()), default=0.0)
    models = [(m, m.model) for m in machines if m.model is not None]
    tall = max((x.height_m + casings.CLEAR_ABOVE_M for _, x in models if core.indoors(x)), default=0.0)
    roof = sum(m.floor_m2 for m, x in models if not core.indoors(x))
    return PlantSpace(
        handlers, indoors, handlers + indoors, max(clear, tall), roof, max(upper, handlers + indoors), tuple(above)
    )


def _factor(block: Block | Missing | None) -> float:
    """By how much the load may be higher than it is."""
    if not isinstance(block, Block) or block.peak_w <= 0:
        return 1.0
    return max(block.high_w / block.peak_w, 1.0)


def _deck(made: casings.Layout, deck: str) -> tuple[casings.Section, ...]:
    """Sections of a deck in the order of its air."""
    row = sorted((s for s in made.stations if s.deck in (deck, "both")), key=lambda s: s.start_m)
    return tuple(s.section for s in (row if deck == "supply" else reversed(row)))


def _room(machines: list[MachineRecord], factor: float, above: list[str] | None = None) -> float:
    """Floor for machines indoors when their load is so much greater; names those that would be more."""
    inside = []
    for m in machines:
        assert m.model is not None
        running = m.count - m.standby
        need = max(running, -(-m.load_w * factor * (1 + m.margin.figure) // m.each_w)) if m.each_w > 0 else running
        count = int(need) + m.standby
        if above is not None and count > m.count:
            above.append(f"{m.tag} {count} × {m.model.model}")
        inside.append((m.model, count))
    return core.plant_room(inside)
