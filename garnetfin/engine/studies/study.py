"""Parameter studies: what may be varied, which figures are read off, and every combination computed by the very same
engine.

A study knows nothing of processes: `run_study` hands cases to any executor of the standard library's kind, be it of
this machine or of a
scheduler somewhere else.
"""

import itertools
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import BrokenExecutor, Executor, Future, as_completed
from dataclasses import dataclass
from functools import lru_cache
from threading import get_ident
from typing import Any

import msgspec
from msgspec import structs

from garnetfin.core.errors import Cancelled, GarnetfinError, InputError
from garnetfin.engine.memo import Memo
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import AirResult, Block, DuctResult, FanResult, NoiseResult, Results, TrainResult
from garnetfin.engine.run import run
from garnetfin.project.book import ASSUMPTIONS
from garnetfin.project.edits.book import SetAssumption
from garnetfin.project.edits.fabric import SetGlazingValue
from garnetfin.project.edits.groups import SetNorth
from garnetfin.project.edits.rooms import SetOpening, SetRoomValue
from garnetfin.project.edits.systems import SetPart, SetSystemValue
from garnetfin.project.parts import KINDS
from garnetfin.project.store import decode
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned

MOST_CASES = 20_000
MOST_TOGETHER, LEAST_PACKETS = 16, 64  # combinations that go to a process at once; at least so many packets
MOST_AXES = 4


@dataclass(frozen=True, slots=True)
class Parameter:
    """Something that may be varied: its name, quantity, usual range in SI, how a project takes a value, and what stands
    now.
    """

    key: str
    name: str
    quantity: str
    low: float
    high: float
    apply: Callable[[Project, float], Project]
    now: Callable[[Project], float]


@dataclass(frozen=True, slots=True)
class Reading:
    """A figure read off results; None where it could not be computed."""

    key: str
    name: str
    quantity: str
    get: Callable[[Results], float | None]


@dataclass(frozen=True, slots=True)
class Axis:
    """A parameter by key with the values it takes, in SI."""

    key: str
    values: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Case:
    """One combination: values in the order of the axes, readings by key; `why` where it could not be computed."""

    values: tuple[float, ...]
    readings: dict[str, float | None]
    why: str = ""


class StudyStopped(Cancelled):
    """A study that was told to stop, with the combinations that were computed by then."""

    def __init__(self, cases: tuple[Case, ...]) -> None:
        super().__init__()
        self.cases = cases


# -- what may be varied -------------------------------------------------------------------------------------------
def parameters(project: Project) -> tuple[Parameter, ...]:
    """All that this project lets vary, the usual first."""
    found = [*_fabric(project), *_rooms(project), *_systems(project)]
    if project.site is not None:
        found.append(
            Parameter(
                "north",
                "Building turned, north at",
                "angle",
                0.0,
                360.0,
                lambda p, v: SetNorth(v).apply(p),
                lambda p: p.site.north_deg,
            )
        )
    for name, (_, quantity, low, high, label) in ASSUMPTIONS.items():
        found.append(
            Parameter(
                f"book {name}",
                f"Office standards: {label}",
                quantity,
                low,
                high,
                lambda p, v, n=name: SetAssumption(n, Pinned(value=v)).apply(p),
                lambda p, n=name: assumption(p.book, n).figure,
            )
        )
    return tuple(found)


def _fabric(project: Project) -> Iterator[Parameter]:
    def glass(field: str) -> Callable[[Project, float], Project]:
        def apply(p: Project, value: float) -> Project:
            for g in p.glazings:
                p = SetGlazingValue(g.id, field, value).apply(p)
            return p

        return apply

    def openings(field: str) -> Callable[[Project, float], Project]:
        def apply(p: Project, value: float) -> Project:
            for w in p.walls:
                for o in w.openings if w.outside else ():
                    if o.glazing_id:
                        p = SetOpening(w.id, o.id, field, value).apply(p)
            return p

        return apply

    if project.glazings:
        first = project.glazings[0].id
        yield Parameter(
            "glass g",
            "Glass, total transmittance g",
            "plain",
            0.1,
            0.8,
            glass("g"),
            lambda p: next((g.g for g in p.glazings if g.id == first), float("nan")),
        )
        yield Parameter(
            "glass u",
            "Glass, U-value",
            "u_value",
            0.5,
            3.0,
            glass("u_w_m2k"),
            lambda p: next((g.u_w_m2k for g in p.glazings if g.id == first), float("nan")),
        )
        yield Parameter(
            "overhang",
            "Overhang above windows",
            "length",
            0.0,
            2.0,
            openings("overhang_m"),
            lambda p: next(
                (o.overhang_m for w in p.walls if w.outside for o in w.openings if o.glazing_id), float("nan")
            ),
        )
        yield Parameter(
            "reveal",
            "Windows set back",
            "length",
            0.0,
            0.5,
            openings("reveal_m"),
            lambda p: next(
                (o.reveal_m for w in p.walls if w.outside for o in w.openings if o.glazing_id), float("nan")
            ),
        )


def _rooms(project: Project) -> Iterator[Parameter]:
    for field, name, quantity, low, high in (
        ("cooling_c", "Set-point, cooling", "temperature", 22.0, 28.0),
        ("heating_c", "Set-point, heating", "temperature", 18.0, 23.0),
        ("lights_w_m2", "Lights", "electric_density", 2.0, 20.0),
        ("equipment_w_m2", "Equipment", "electric_density", 0.0, 40.0),
        ("infiltration_1h", "Infiltration", "air_change", 0.0, 1.0),
    ):

        def apply(p: Project, value: float, field: str = field) -> Project:
            return SetRoomValue(tuple(r.id for r in p.rooms if r.system_id), field, Pinned(value=value)).apply(p)

        if any(r.system_id for r in project.rooms):
            yield Parameter(
                f"rooms {field}",
                f"All served rooms: {name.lower()}",
                quantity,
                low,
                high,
                apply,
                lambda p: float("nan"),
            )


def _systems(project: Project) -> Iterator[Parameter]:
    for system in project.air_systems:
        for field, name, quantity, low, high in (
            ("supply_c", "supply temperature", "temperature", 11.0, 20.0),
            ("friction_pa_m", "friction of ducts", "friction", 0.4, 2.0),
            ("least_share", "least flow", "fraction", 0.1, 1.0),
            ("warm_limit_k", "heating air above the room", "temperature_difference", 5.0, 20.0),
        ):
            yield Parameter(
                f"system {system.id} {field}",
                f"{system.name}: {name}",
                quantity,
                low,
                high,
                lambda p, v, s=system.id, f=field: SetSystemValue(s, f, Pinned(value=v)).apply(p),
                lambda p: float("nan"),
            )
        for part in system.parts:
            for field, figure in KINDS[part.kind].figures.items():
                if field.startswith(("effectiveness", "sensible", "latent")):
                    yield Parameter(
                        f"part {system.id} {part.id} {field}",
                        f"{system.name}: {part.title.lower()}, {figure.label.lower()}",
                        figure.quantity,
                        0.3,
                        0.9,
                        lambda p, v, s=system.id, i=part.id, f=field: SetPart(s, i, f, Pinned(value=v)).apply(p),
                        lambda p: float("nan"),
                    )


def parameter(project: Project, key: str) -> Parameter:
    """Raises InputError for one that this project does not know."""
    found = next((p for p in parameters(project) if p.key == key), None)
    if found is None:
        raise InputError(
            f"There is nothing “{key}” to vary",
            remedy="Take one of: " + ", ".join(p.key for p in parameters(project)[:12]) + " …",
        )
    return found


# -- what is read off ---------------------------------------------------------------------------------------------
def readings(project: Project) -> tuple[Reading, ...]:
    """The chain's figures: building first, then each air system."""

    def of(kind: type, table: str, key: str, get: Callable[..., Any]) -> Callable[[Results], float | None]:
        def read(results: Results) -> float | None:
            found = getattr(results, table).get(key)
            return get(found) if isinstance(found, kind) else None

        return read

    found = [
        Reading("cooling", "Cooling, rooms together", "load", of(Block, "blocks", "", lambda b: b.peak_w)),
        Reading("heating", "Heating, rooms together", "load", of(Block, "blocks", "", lambda b: b.heating_w)),
    ]
    for s in project.air_systems:
        rows = (
            ("supply", "supply air", "system_flow", AirResult, "air", lambda a: a.flow_m3s),
            ("outdoor", "outdoor air", "system_flow", AirResult, "air", lambda a: a.outdoor_m3s),
            ("coil", "cooling coil", "load", TrainResult, "trains", lambda t: t.cooling.cooling_w),
            ("heat", "heating of air and rooms", "load", TrainResult, "trains", lambda t: t.heater_w(t.heating)),
            ("length", "supply ducts", "length", DuctResult, "ducts", lambda d: d.length_m),
            ("sheet", "sheet of supply ducts", "mass", DuctResult, "ducts", lambda d: d.mass_kg),
            ("index", "index run", "pressure", DuctResult, "ducts", lambda d: d.runs.fan_pa),
            ("fan", "fan, total pressure", "pressure", FanResult, "fans", lambda f: f.wanted_pa),
            (
                "power",
                "fan, electric power",
                "shaft_power",
                FanResult,
                "fans",
                lambda f: f.point.electric_w if f.point is not None else None,
            ),
            (
                "noise",
                "loudest room, NC",
                "plain",
                NoiseResult,
                "noise",
                lambda n: max((r.nc for r in n.rooms.values()), default=None),
            ),
        )
        found += [
            Reading(f"{key} {s.id}", f"{s.name}: {name}", quantity, of(kind, table, s.id, get))
            for key, name, quantity, kind, table, get in rows
        ]
    found.append(Reading("findings", "Open findings", "count", lambda r: float(len(r.findings))))
    return tuple(found)


def read_off(results: Results) -> dict[str, float | None]:
    """All readings of one project's results."""
    return {r.key: _plain(r.get(results)) for r in readings(results.project)}


def _plain(value) -> float | None:
    number = None if value is None else float(value)
    return None if number is None or number != number else number


# -- running ------------------------------------------------------------------------------------------------------
def steps(low: float, high: float, count: int) -> tuple[float, ...]:
    """Evenly spaced values with both ends; one value where the ends meet. Raises InputError for what is no range."""
    if not (count >= 1 and count <= MOST_CASES):
        raise InputError(f"A range has 1 to {MOST_CASES} values, got {count}")
    if count == 1 or high == low:
        return (low,)
    return tuple(low + (high - low) * i / (count - 1) for i in range(count))


def combinations(axes: Sequence[Axis]) -> tuple[tuple[float, ...], ...]:
    """Every combination, the last axis fastest. Raises InputError for too many."""
    if not 1 <= len(axes) <= MOST_AXES:
        raise InputError(f"A study varies 1 to {MOST_AXES} things, got {len(axes)}")
    if len({a.key for a in axes}) != len(axes):
        raise InputError("A study varies each thing once")
    count = 1
    for a in axes:
        count *= len(a.values)
    if not 0 < count <= MOST_CASES:
        raise InputError(f"{count} combinations are more than the {MOST_CASES} accepted", remedy="Take fewer steps")
    return tuple(itertools.product(*(a.values for a in axes)))


def varied(project: Project, keys: Sequence[str], values: Sequence[float]) -> Project:
    """The project with each thing at its value. Raises GarnetfinError for a value it refuses."""
    for key, value in zip(keys, values):
        project = parameter(project, key).apply(project, value)
    return project


@lru_cache(maxsize=8)
def _opened(data: bytes, thread: int) -> tuple[Project, Memo]:
    """The project of a study, read once a thread, with what is remembered of its cases: a memo has one owner."""
    del thread  # it is part of what is asked for alone
    return decode(data, "study"), Memo()


def compute_case(data: bytes, keys: tuple[str, ...], values: tuple[float, ...]) -> Case:
    """One combination in whatever process; what cannot be is said and does not end the study."""
    try:
        project, memo = _opened(data, get_ident())
        return Case(values, read_off(run(varied(project, keys, values), memo)))
    except GarnetfinError as error:
        return Case(values, {}, str(error))


def compute_cases(data: bytes, keys: tuple[str, ...], packet: tuple[tuple[float, ...], ...]) -> list[Case]:
    """Combinations that stand side by side: what they share is computed once, and the project travels once."""
    return [compute_case(data, keys, values) for values in packet]


def run_study(
    project: Project,
    axes: Sequence[Axis],
    executor: Executor,
    progress: Callable[[int, int], None] = lambda done, of: None,
    stopped: Callable[[], bool] = lambda: False,
) -> tuple[Case, ...]:
    """All combinations in their order.

    Raises InputError for what cannot be varied, StudyStopped with what there is once `stopped` says so.
    """
    wanted = combinations(axes)
    keys = tuple(a.key for a in axes)
    for key in keys:
        parameter(project, key)
    # Marks, papers and drawings have no part in any figure.
    data = msgspec.json.encode(structs.replace(project, underlays=()))
    size = max(1, min(MOST_TOGETHER, len(wanted) // LEAST_PACKETS))
    waiting: dict[Future[Any], int] = {
        executor.submit(compute_cases, data, keys, wanted[i : i + size]): i for i in range(0, len(wanted), size)
    }
    found: dict[int, Case] = {}
    try:
        for future in as_completed(waiting):
            if stopped():
                raise StudyStopped(tuple(found[i] for i in sorted(found)))
            try:
                found |= dict(enumerate(future.result(), waiting[future]))
            except BrokenExecutor as error:
                at = ", ".join(f"{k} {v:g}" for k, v in zip(keys, wanted[waiting[future]]))
                raise GarnetfinError(
                    f"A process of the study ended without an answer after {len(found)} of {len(wanted)} combinations",
                    where=at,
                    remedy="It may have run out of memory: take fewer processes",
                ) from error
            progress(len(found), len(wanted))
    finally:
        for future in waiting:
            future.cancel()
    return tuple(found[i] for i in range(len(wanted)))
