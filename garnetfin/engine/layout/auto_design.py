"""The first pass: from rooms with little more than name, area and level to a sized, balanced system with a fan, in one
step of undo.

Nothing that is there is changed: rooms keep their place and figures, terminals on ducts stay, levels whose terminals
are all joined are left
alone. Every assumption it rests on is listed.
"""

from collections.abc import Callable
from dataclasses import dataclass

from garnetfin.core.errors import Cancelled, GarnetfinError
from garnetfin.engine.layout.all_levels import riser
from garnetfin.engine.layout.placing import placing, wanting
from garnetfin.engine.layout.route_site import ask
from garnetfin.engine.layout.routes import propose
from garnetfin.engine.memo import Memo
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import AirResult, DuctResult, FanResult, Missing, Results
from garnetfin.engine.run import Token, run
from garnetfin.project.ducts import Air
from garnetfin.project.edits import Command, Commands
from garnetfin.project.edits.lay_out import DEPTH_M, AddShaft, LayOutRooms
from garnetfin.project.edits.rooms import SetServed
from garnetfin.project.edits.systems import AddSystem
from garnetfin.project.lookup import find
from garnetfin.project.parts import PATTERNS
from garnetfin.project.spaces import Level
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

AIRS: tuple[Air, ...] = ("supply", "return", "extract")
ROUTES_SHARE = 0.23  # of the work, for the ducts of one air
RULES = ("people", "lights_w_m2", "equipment_w_m2", "cooling_c", "heating_c", "infiltration_1h")


@dataclass(frozen=True, slots=True)
class AutoDesign:
    """command: all of it as one step, None where nothing was to do; done, assumed (what, how) and missed in words."""

    command: Command | None
    done: tuple[str, ...]
    assumed: tuple[tuple[str, str], ...]
    missed: tuple[str, ...]


class _Way:
    """The project on its way, with the steps that were taken."""

    def __init__(self, project: Project, progress: Callable[[float, str], None], stopped: Callable[[], bool]) -> None:
        self.project, self.steps, self.done, self.assumed, self.missed = project, [], [], [], []
        self._memo, self._progress, self._stopped = Memo(), progress, stopped
        self._results: Results | None = None

    def take(self, command: Command, words: str) -> bool:
        """Make a step; one that cannot be is listed and left out."""
        try:
            after = command.apply(self.project)
        except GarnetfinError as error:
            self.missed.append(f"{words}: {error}")
            return False
        if after is not self.project:
            self.project, self._results = after, None
            self.steps.append(command)
        return True

    @property
    def results(self) -> Results:
        if self._results is None:
            self._results = run(self.project, self._memo, Token(self._stopped))
        return self._results

    def tell(self, share: float, words: str) -> None:
        if self._stopped():
            raise Cancelled
        self._progress(share, words)

    def stopped(self) -> bool:
        return self._stopped()


def auto_design(
    project: Project,
    system_id: str = "",
    progress: Callable[[float, str], None] = lambda share, words: None,
    stopped: Callable[[], bool] = lambda: False,
) -> AutoDesign:
    """All of it for one air system, "" for the first. Raises Cancelled when stopped: nothing of it is taken then."""
    way = _Way(project, progress, stopped)
    way.tell(0.0, "rooms")
    system_id = _served(way, system_id)
    if not system_id:
        return AutoDesign(None, (), (), ("There are no rooms: draw them, take in a building or paste a list",))
    _placed(way, system_id)
    way.tell(0.1, "loads and flows")
    air = way.results.air.get(system_id)
    if not isinstance(air, AirResult):
        missing = air or Missing("no flow", "Give a room a load")
        return _made(way, project, (*way.missed, f"No flows: {missing.reason}. {missing.remedy}"))
    for n, kind in enumerate(AIRS):
        way.tell(0.15 + 0.05 * n, f"{kind} terminals")
        _terminals(way, system_id, kind)
    for n, kind in enumerate(AIRS):
        _routes(way, system_id, kind, 0.25 + ROUTES_SHARE * n)
    way.tell(0.95, "sizes, balance, fan")
    _told(way, system_id)
    return _made(way, project, tuple(way.missed))


def _made(way: _Way, project: Project, missed: tuple[str, ...]) -> AutoDesign:
    command = Commands("First design", tuple(way.steps)) if way.steps and way.project is not project else None
    return AutoDesign(command, tuple(way.done), tuple(way.assumed), missed)


def _served(way: _Way, system_id: str) -> str:
    """The air system, made where there is none, serving rooms where it serves none."""
    if not way.project.rooms:
        return ""
    if not way.project.air_systems:
        way.take(AddSystem(tuple(r.id for r in way.project.rooms)), "an air system")
        way.assumed.append(("Air system", "one unit serves all rooms"))
    system = find(way.project.air_systems, system_id) or way.project.air_systems[0]
    if not any(r.system_id == system.id for r in way.project.rooms):
        free = tuple(r.id for r in way.project.rooms if not r.system_id)
        if free and way.take(SetServed(free, system.id), "serving rooms"):
            way.done.append(f"{len(free)} rooms served by {system.name}")
            way.assumed.append(("Served", f"{system.name} serves every room that had no system"))
    return system.id


def _placed(way: _Way, system_id: str) -> None:
    """A stand-in place for rooms of a list; a shaft where there is no way in for ducts."""
    bare = tuple(r.id for r in way.project.rooms if r.sketched and not r.placed)
    if bare and way.take(LayOutRooms(bare), "laying out rooms"):
        way.done.append(f"{len(bare)} rooms of a list laid out")
        way.assumed.append(
            (
                "Places of rooms",
                f"{len(bare)} rooms of a list stand in two rows {DEPTH_M:g} m deep, in the order of the list",
            )
        )
    levels = tuple(dict.fromkeys(r.level_id for r in way.project.rooms if r.system_id == system_id))
    before = len(way.project.plan_marks)
    way.take(AddShaft(levels), "a shaft")
    if len(way.project.plan_marks) > before:
        way.assumed.append(
            ("Shaft", "beside the rooms, one above the other on all levels; the unit stands at the lowest")
        )


def _terminals(way: _Way, system_id: str, kind: Air) -> None:
    """The best terminals into every room that has air and no terminal for it."""
    found = placing(way.results, wanting(way.results, system_id, kind), kind)
    if found.command is not None and way.take(found.command, f"{kind} terminals"):
        count = sum(len(p.at) for p in found.placements)
        way.done.append(f"{count} {kind} terminals in {len(found.placements)} rooms")
    if found.alone:
        way.assumed.append(
            (
                f"One {kind} terminal",
                f"in the middle of {_named(found.alone)}: no even grid keeps throw and table there",
            )
        )
    for reason, numbers in found.failed:
        way.missed.append(f"No {kind} terminals in {_named(numbers)}: {reason}")


def _named(numbers: tuple[str, ...]) -> str:
    return f"{', '.join(numbers[:6])}{' …' if len(numbers) > 6 else ''}"


def _routes(way: _Way, system_id: str, kind: Air, share: float) -> None:
    """A layout for every level with terminals on no duct, the lowest first; a riser leads to the next."""
    system_levels = sorted(
        (
            x
            for x in way.project.levels
            if any(r.system_id == system_id and r.level_id == x.id for r in way.project.rooms)
        ),
        key=lambda x: x.elevation_m,
    )
    for n, level in enumerate(system_levels):
        way.tell(share + ROUTES_SHARE * n / len(system_levels), f"{kind} ducts, {level.name}")
        used = {p for s in way.project.segments for p in (s.a, s.b)}
        loose = tuple(
            t.id
            for t in way.project.terminals
            if t.air == kind
            and t.point_id not in used
            and find(way.project.rooms, t.room_id).system_id == system_id
            and find(way.project.duct_points, t.point_id).level_id == level.id
        )
        if not loose:
            continue
        _riser(way, system_id, kind, level)
        try:
            found = propose(
                way.results, ask(way.results, system_id, kind, level.id, loose), stopped=way.stopped, mended=False
            )
        except GarnetfinError as error:
            way.missed.append(f"{kind.capitalize()} ducts, {level.name}: {error}")
            continue
        way.tell(share + ROUTES_SHARE * (n + 0.9) / len(system_levels), f"{kind} ducts, {level.name}")
        best = next((p for p in found if p.failure is None and p.command is not None), None)
        if best is None:
            why = next((p.failure.reason for p in found if p.failure is not None), "no way was found")
            way.missed.append(f"{kind.capitalize()} ducts, {level.name}: {why}")
        elif way.take(best.command, f"{kind} ducts, {level.name}"):
            way.done.append(f"{kind} ducts on {level.name}: {best.name.lower()}")
            way.assumed.append(
                (
                    f"Way of {kind} ducts, {level.name}",
                    f"{best.name.lower()}, the best of {sum(p.failure is None for p in found)} by cost, pressure and "
                    f"mass",
                )
            )


def _riser(way: _Way, system_id: str, kind: Air, level: Level) -> None:
    """From the start of the system's ducts to a level that none reaches yet."""
    for step in riser(way.project, system_id, kind, (level,)):
        way.take(step, f"{kind} riser to {level.name}")


def _told(way: _Way, system_id: str) -> None:
    """What the figures rest on, and what is left to look at."""
    results, project = way.results, way.project
    system, book = find(project.air_systems, system_id), project.book
    rooms = [results.room(r.id) for r in project.rooms if r.system_id == system_id and results.room(r.id)]
    by_rule = sum(getattr(r.figures, n).origin == "rule" for r in rooms for n in RULES)
    estimated = sum(r.estimate is not None for r in rooms)
    air: AirResult = results.air[system_id]
    way.assumed.insert(
        0,
        (
            "Use of rooms",
            f"{by_rule} of {len(rooms) * len(RULES)} figures of people, lights, equipment, set-points and leakage by "
            f"use and office standards",
        ),
    )
    if estimated:
        way.assumed.insert(
            1,
            (
                "Early estimate",
                f"{estimated} rooms: glass {assumption(book, 'estimate_glass').figure:.0%} of outside walls, wall U "
                f"{assumption(book, 'estimate_wall_u').figure:g}, "
                f"glass U {assumption(book, 'estimate_glass_u').figure:g}; on the top level under a roof of "
                f"{assumption(book, 'estimate_roof_u').figure:g}, on the lowest on the ground with "
                f"{assumption(book, 'estimate_ground_u').figure:g}",
            ),
        )
    way.assumed += [
        ("Place and weather", results.project.site.name if results.project.site is not None else "office standards"),
        ("Pattern", PATTERNS[system.pattern].name.lower() if system.pattern in PATTERNS else system.pattern),
        ("Supply air", f"{air.figures.supply_c.figure:g} °C, {air.figures.supply_c.source}"),
        (
            "Parts of the unit",
            f"{sum(isinstance(p.pressure_pa, Rule) for p in system.parts)} pressure drops of the office standards at "
            "the "
            f"design flow",
        ),
        (
            "Terminals",
            f"catalogue in the office standards; at most {assumption(book, 'terminal_pa').figure:g} Pa, NC "
            f"{assumption(book, 'noise_nc').figure:g}",
        ),
        (
            "Duct sizes",
            f"{air.figures.friction_pa_m.figure:g} Pa/m at most, {book.duct_material}, class {book.duct_class} or "
            f"better",
        ),
        ("Dampers", "a single blade before every terminal takes what its run has to spare"),
    ]
    if not project.ceiling_zones:
        way.assumed.append(("Height above ceilings", "no ceiling zone is drawn: any height of duct fits"))
    network, fan = results.network(system_id), results.fans[system_id]
    if isinstance(network, DuctResult):
        way.done.append(
            f"{network.length_m:.0f} m of supply duct, {network.mass_kg:.0f} kg, index run {network.runs.fan_pa:.0f} "
            f"Pa to {network.index.label}"
        )
    if isinstance(fan, FanResult) and not isinstance(fan.chosen, Missing):
        way.done.append(f"{fan.chosen.fan_id} at {fan.chosen.speed_rpm:.0f} rpm, {fan.point.electric_w / 1000:.2f} kW")
        way.assumed.append(
            (
                "Fan",
                f"the catalogue’s least power; margin {air.figures.allowance.figure:.0%} on ducts, motor and control "
                f"{fan.motor.figure:.0%}",
            )
        )
    elif isinstance(fan, FanResult):
        way.missed.append(f"No fan: {fan.chosen.remedy}")
