"""The chain: each link's live headline figure, or in two words what is missing."""

from dataclasses import dataclass

from garnetfin import display
from garnetfin.engine.results import AirResult, Block, Climate, DuctResult, FanResult, Missing, Results, there
from garnetfin.engine.stages.air import supplies
from garnetfin.engine.studies.changes import differ
from garnetfin.ui.state import LINKS, State


@dataclass(frozen=True, slots=True)
class LinkVM:
    name: str
    figure: str
    unit: str
    note: str
    findings: int
    missing: bool
    changed: bool = False  # the note says what moved since the mark
    stale: bool = False  # the figure is that of the project before the edit in hand


@dataclass(frozen=True, slots=True)
class ChainVM:
    system: str
    system_note: str
    links: tuple[LinkVM, ...]
    active: str


def chain(state: State, pages: int) -> ChainVM:
    project, results = state.project, state.found
    served = sum(bool(r.system_id) for r in project.rooms)
    system = state.system
    links = []
    for name in LINKS:
        found = sum(f.link == name for f in results.findings) if results else 0
        text = _figures(state, results, name, pages) if results else ("…", "", "computing")
        missing = isinstance(text, Missing)
        figure, unit, note = (text.reason, "", text.remedy) if missing else text
        moved = _moved(state, name) if not missing else ""
        stale = state.stale and name not in state.fresh
        links.append(LinkVM(name, figure, unit, moved or note, found, missing, bool(moved), stale))
    mine = sum(r.system_id == system.id for r in project.rooms) if system else 0
    return ChainVM(
        system.name if system else "none",
        f"1 of {len(project.air_systems)} · serves {mine} rooms" if system else f"{served} rooms served",
        tuple(links),
        state.show.link,
    )


def _moved(state: State, name: str) -> str:
    """How the headline figure of a link stands against the mark, "" without one or where it has none."""
    before, now, units, i = state.against, state.found, state.show.units, state.show.system_id
    if before is None or now is None:
        return ""
    figures = {
        "Climate": (
            Climate,
            lambda r: r.climate,
            "temperature",
            "temperature_difference",
            lambda c: float(c.days.dry_bulb_c.max()),
        ),
        "Loads": (Block, lambda r: r.blocks.get(i) or r.blocks[""], "load", "load", lambda b: b.peak_w),
        "Air": (AirResult, lambda r: r.air.get(i), "system_flow", "system_flow", lambda a: a.flow_m3s),
        "Ducts": (DuctResult, lambda r: r.ducts.get(i), "mass", "mass", lambda d: d.mass_kg),
        "Balance": (DuctResult, lambda r: r.ducts.get(i), "pressure", "pressure", lambda d: d.runs.fan_pa),
        "Fan": (
            FanResult,
            lambda r: r.fans.get(i),
            "shaft_power",
            "shaft_power",
            lambda f: f.point.electric_w if f.point else float("nan"),
        ),
    }
    if name == "Building":
        step = len(now.project.rooms) - len(before.project.rooms)
        area = sum(there(before.room(r.id)).figures.area_m2.figure for r in before.project.rooms if before.room(r.id))
        other = sum(there(now.room(r.id)).figures.area_m2.figure for r in now.project.rooms if now.room(r.id))
        words = ([f"{display.signed(step)} rooms"] if step else []) + (
            [_step("area", "area", area, other, units)] if differ(area, other) else []
        )
        return ", ".join(words) or "unchanged"
    if name not in figures:
        return ""
    kind, of, shown, stepped, get = figures[name]
    a, b = of(before), of(now)
    if not isinstance(a, kind) or not isinstance(b, kind):
        return "not in the snapshot" if isinstance(b, kind) else ""
    x, y = get(a), get(b)
    return _step(shown, stepped, x, y, units) if differ(x, y) else "unchanged"


def _step(shown: str, stepped: str, before: float, now: float, units) -> str:
    """The difference as it would be read off the two printed figures' scale."""
    text = display.figure(shown, 0.0, units)
    digits = max(1, len(text.partition(".")[2])) if shown in ("load", "temperature") else len(text.partition(".")[2])
    step = display.to_shown(shown, now, units) - display.to_shown(shown, before, units)
    return f"{display.signed(step, digits)} {display.unit(stepped, units)}"


def _figures(state: State, results: Results, name: str, pages: int) -> tuple[str, str, str] | Missing:
    units, project = state.show.units, state.project
    system_id = state.show.system_id
    air, ducts, fan = (
        table.get(system_id, Missing("no system", "Add an air system"))
        for table in (results.air, results.ducts, results.fans)
    )
    alone = state.system is not None and not supplies(state.system)
    if alone:
        # A system that draws air out alone is known by its extract ducts and their fan.
        ducts, fan = results.network(system_id, "extract"), results.fan(system_id, "extract")
    match name:
        case "Climate":
            if isinstance(results.climate, Missing):
                return results.climate
            climate: Climate = results.climate
            warm = float(climate.days.dry_bulb_c.max())
            return (
                f"{display.figure('temperature', warm, units)} / "
                f"{display.figure('temperature', climate.figures.winter_c.figure, units, 0)}",
                display.unit("temperature", units),
                "12 design days",
            )
        case "Building":
            if not project.rooms:
                return Missing("no rooms", "Draw or take in rooms")
            served = [r for r in project.rooms if r.system_id]
            area = sum(there(results.room(r.id)).figures.area_m2.figure for r in project.rooms if results.room(r.id))
            return (
                str(len(served)),
                "rooms",
                f"{display.with_unit('area', area, units, 0)} · {len(project.rooms) - len(served)} unheated",
            )
        case "Loads":
            block = results.blocks.get(system_id) or results.blocks[""]
            if isinstance(block, Missing):
                return block
            block: Block
            return (
                f"{display.figure('load', block.peak_w, units, 1)} / "
                f"{display.figure('load', block.heating_w, units, 1)}",
                display.unit("load", units),
                "rooms, cool / heat",
            )
        case "Air":
            if isinstance(air, Missing):
                return air
            if alone:
                extracted = sum(r.extract_m3s for r in results.room_air_of(system_id))
                return (
                    display.figure("system_flow", extracted, units),
                    display.unit("system_flow", units),
                    "extract alone",
                )
            share = air.outdoor_m3s / air.flow_m3s if air.flow_m3s else 0.0
            return (
                display.figure("system_flow", air.flow_m3s, units),
                display.unit("system_flow", units),
                _outdoor_and_pieces(results, system_id, share),
            )
        case "Ducts":
            if isinstance(ducts, Missing):
                return ducts
            ducts: DuctResult
            return (
                display.figure("length", ducts.length_m, units, 0),
                display.unit("length", units),
                f"{display.with_unit('mass', ducts.mass_kg, units)} metal",
            )
        case "Balance":
            if isinstance(ducts, Missing):
                return ducts
            return (
                display.figure("pressure", ducts.runs.fan_pa, units),
                display.unit("pressure", units),
                f"index run {ducts.index.label}",
            )
        case "Fan":
            if isinstance(fan, Missing):
                return fan
            fan: FanResult
            if isinstance(fan.chosen, Missing):
                return fan.chosen
            return (
                display.figure("shaft_power", fan.point.electric_w, units, 2),
                display.unit("shaft_power", units),
                f"{display.with_unit('pressure', fan.point.pressure_pa, units)} · {fan.point.efficiency * 100:.0f} %",
            )
    papers = project.papers
    last = f"last issue {papers.issues[-1].date}" if papers.issues else "not issued yet"
    return f"issue {papers.next_number}", "", f"{pages} pages" if pages else last


def _outdoor_and_pieces(results, system_id: str, share: float) -> str:
    """Share of outdoor air, flow boxes and units in rooms of a system; all of it in the width of a link."""
    of = results.equipment
    boxes = sum(b.system_id == system_id for b in of.boxes.values())
    rooms = {r.room_id for r in results.room_air_of(system_id)}
    units = sum(u.room_id in rooms for u in of.room_units.values())
    counts = ((boxes, "box" if boxes == 1 else "boxes"), (units, "unit" if units == 1 else "units"))
    pieces = "".join(f" · {n} {word}" for n, word in counts if n)
    return f"{share * 100:.0f} % {'outd.' if pieces else 'outdoor'}{pieces}"
