"""The chain: each link's live headline figure, or in two words what is missing."""

from dataclasses import dataclass

from garnetfin import display
from garnetfin.engine.results import AirResult, Block, Climate, DuctResult, FanResult, Missing, Results
from garnetfin.ui.state import LINKS, State


@dataclass(frozen=True, slots=True)
class LinkVM:
    name: str
    figure: str
    unit: str
    note: str
    findings: int
    missing: bool


@dataclass(frozen=True, slots=True)
class ChainVM:
    system: str
    system_note: str
    links: tuple[LinkVM, ...]
    active: str
    stale: bool


def chain(state: State, pages: int) -> ChainVM:
    project, results = state.project, state.results
    served = sum(bool(r.system_id) for r in project.rooms)
    system = state.system
    links = []
    for name in LINKS:
        found = sum(f.link == name for f in results.findings) if results else 0
        text = _figures(state, results, name, pages) if results else ("…", "", "computing")
        missing = isinstance(text, Missing)
        figure, unit, note = (text.reason, "", text.remedy) if missing else text
        links.append(LinkVM(name, figure, unit, note, found, missing))
    mine = sum(r.system_id == system.id for r in project.rooms) if system else 0
    return ChainVM(system.name if system else "none", f"1 of {len(project.air_systems)} · serves {mine} rooms" if system
                   else f"{served} rooms served", tuple(links), state.show.link, state.stale)


def _figures(state: State, results: Results, name: str, pages: int) -> tuple[str, str, str] | Missing:
    units, project = state.show.units, state.project
    system_id = state.show.system_id
    air, ducts, fan = (table.get(system_id, Missing("no system", "Add an air system"))
                       for table in (results.air, results.ducts, results.fans))
    match name:
        case "Climate":
            if isinstance(results.climate, Missing):
                return results.climate
            climate: Climate = results.climate
            warm = float(climate.days.dry_bulb_c.max())
            return (f"{display.figure('temperature', warm, units)} / "
                    f"{display.figure('temperature', climate.figures.winter_c.figure, units, 0)}",
                    display.unit("temperature", units), "12 design days")
        case "Building":
            if not project.rooms:
                return Missing("no rooms", "Draw or take in rooms")
            served = [r for r in project.rooms if r.system_id]
            area = sum(results.room(r.id).figures.area_m2.figure for r in project.rooms if results.room(r.id))
            return (str(len(served)), "rooms", f"{display.with_unit('area', area, units, 0)} · "
                    f"{len(project.rooms) - len(served)} unheated")
        case "Loads":
            block = results.blocks.get(system_id) or results.blocks[""]
            if isinstance(block, Missing):
                return block
            block: Block
            return (f"{display.figure('load', block.peak_w, units, 1)} / {display.figure('load', block.heating_w, units, 1)}",
                    display.unit("load", units), "rooms, cool / heat")
        case "Air":
            if isinstance(air, Missing):
                return air
            air: AirResult
            share = air.outdoor_m3s / air.flow_m3s if air.flow_m3s else 0.0
            return (display.figure("system_flow", air.flow_m3s, units), display.unit("system_flow", units),
                    f"{share * 100:.0f} % outdoor")
        case "Ducts":
            if isinstance(ducts, Missing):
                return ducts
            ducts: DuctResult
            return (display.figure("length", ducts.length_m, units, 0), display.unit("length", units),
                    f"{display.with_unit('mass', ducts.mass_kg, units)} metal")
        case "Balance":
            if isinstance(ducts, Missing):
                return ducts
            return (display.figure("pressure", ducts.runs.fan_pa, units), display.unit("pressure", units),
                    f"index run {ducts.index.label}")
        case "Fan":
            if isinstance(fan, Missing):
                return fan
            fan: FanResult
            if isinstance(fan.chosen, Missing):
                return fan.chosen
            return (display.figure("shaft_power", fan.point.electric_w, units, 2),
                    display.unit("shaft_power", units),
                    f"{display.with_unit('pressure', fan.point.pressure_pa, units)} · {fan.point.efficiency * 100:.0f} %")
    return (str(pages), "pages", "one report") if pages else ("report", "", "made when opened")
