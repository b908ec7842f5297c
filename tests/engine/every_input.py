"""Changes every field of a project's parts, one at a time, and tells which change a result.

Fields are those that msgspec knows, so that a new one is tried from the day it is added. Results are figures that were
computed: loads, air, states, ducts, fans, sound, flows, plant, checks, and what findings say. Inputs that the engine
hands on beside its results are no results: a figure that is resolved and then read by nothing shows as dead.
"""

import hashlib
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import fields, is_dataclass
from functools import cache, lru_cache
from typing import Any

import msgspec
import numpy as np
from msgspec import inspect, structs

from garnetfin.core.ducts.fittings.catalogue import choices
from garnetfin.core.ducts.friction import MATERIALS
from garnetfin.core.equipment.catalogue import MACHINE_KINDS
from garnetfin.core.errors import GarnetfinError
from garnetfin.core.fans.catalogue import FAN_KINDS
from garnetfin.core.tables import fan_models, materials, people_heat, places, profiles, room_uses
from garnetfin.engine.layout.duct_methods import life_cost
from garnetfin.engine.layout.take_off import take_off
from garnetfin.engine.memo import Memo
from garnetfin.engine.resolve import Figure, RoomFigures, SiteFigures, SystemFigures
from garnetfin.engine.results import Finding, Results, TrainResult
from garnetfin.engine.run import run
from garnetfin.engine.studies.worksheet import answers
from garnetfin.project.book import BOOK_CHOICES
from garnetfin.project.lookup import Same
from garnetfin.project.parts import KINDS
from garnetfin.project.tree import Project, check_links
from garnetfin.project.values import Pinned, Rule

INPUTS = (Figure, RoomFigures, SiteFigures, SystemFigures, msgspec.Struct)
GUESSES = (0.9, 0.02, 23.0, 180.0, 0.3, 5.0, 0.0008, 0.0, 45.0, 1.7, 15.0, 27.0, 900.0, 3e4)
BULKY = ("ladder", "lines", "tree", "runs", "candidates")  # what leads to a result that is marked itself
EQUIPMENT = ("GF-V250-R2", "GF-C200-R2", "GF-FC1-4P", "GF-P22-600-1000", "GF-LC250", "GF-KB700", "GF-AH200")
TRIES, WAYS = 6, 4  # of one field of one object, and objects tried


# -- what was computed --------------------------------------------------------------------------------------------
def mark_of(results: Results) -> bytes:
    """A short mark of all computed figures."""
    found = hashlib.blake2b(digest_size=16)
    for part in fields(results):
        if part.name not in ("project", "seconds", "recomputed", "accepted"):
            _feed(found, getattr(results, part.name))
    for system in results.project.air_systems:
        for ducts in results.networks(system.id):
            _feed(found, (take_off(results, ducts), life_cost(results, ducts)))
    points = {i: t.cooling for i, t in results.trains.items() if isinstance(t, TrainResult)}
    _feed(found, answers(results, points))
    return found.digest()


def _feed(into: Any, value: Any) -> None:
    if isinstance(value, INPUTS) or callable(value):
        return
    if isinstance(value, np.ndarray) and value.dtype != object:
        into.update(np.round(np.asarray(value, float), 9).tobytes())
    elif isinstance(value, (bool, int, float, np.generic)):
        into.update(f"{float(value):.9g};".encode())
    elif isinstance(value, str):
        into.update(value.encode())
    elif isinstance(value, Finding):
        into.update(f"{value.code} {value.object_id} {value.title} {value.reason}".encode())
    else:
        _feed_parts(into, value)


def _feed_parts(into: Any, value: Any) -> None:
    if isinstance(value, dict):
        for name, one in value.items():
            into.update(str(name).encode())
            if is_dataclass(one) and not isinstance(one, INPUTS):
                into.update(_mark_of_row(Same(one)))
            else:
                _feed(into, one)
    elif isinstance(value, (tuple, list)):
        into.update(f"({len(value)}".encode())
        for one in value:
            _feed(into, one)
    elif is_dataclass(value):
        for name in _names_of(type(value)):
            _feed(into, getattr(value, name))


@cache
def _names_of(kind: type) -> tuple[str, ...]:
    return tuple(part.name for part in fields(kind) if part.name not in BULKY)


@lru_cache(maxsize=4096)
def _mark_of_row(row: Same) -> bytes:
    """Rows that an edit does not reach are the same objects as before, and marked once."""
    found = hashlib.blake2b(digest_size=16)
    _feed(found, row.item)
    return found.digest()


# -- fields and what stands in them ----------------------------------------------------------------------------------
def every_field() -> dict[str, Any]:
    """ "Class.field" -> its type, of everything a project is made of."""
    found: dict[str, Any] = {}
    seen: set[type] = set()

    def walk(kind: Any) -> None:
        if isinstance(kind, inspect.StructType):
            if kind.cls in seen:
                return
            seen.add(kind.cls)
            for one in kind.fields:
                found[f"{kind.cls.__name__}.{one.name}"] = one.type
                walk(one.type)
        for name in ("item_type", "value_type"):
            if hasattr(kind, name):
                walk(getattr(kind, name))
        for one in (*getattr(kind, "types", ()), *getattr(kind, "item_types", ())):
            walk(one)

    walk(inspect.type_info(Project))
    return found


def places_of(project: Project, name: str) -> Iterator[tuple[Any, ...]]:
    """Ways from the project down to every object of a class: names of fields and positions."""

    def walk(value: Any, way: tuple[Any, ...]) -> Iterator[tuple[Any, ...]]:
        if isinstance(value, msgspec.Struct):
            if type(value).__name__ == name:
                yield way
            for field in type(value).__struct_fields__:
                yield from walk(getattr(value, field), (*way, field))
        elif isinstance(value, tuple):
            for k, one in enumerate(value):
                if isinstance(one, (msgspec.Struct, tuple)):
                    yield from walk(one, (*way, k))

    yield from walk(project, ())


def at(value: Any, way: tuple[Any, ...]) -> Any:
    for step in way:
        value = value[step] if isinstance(step, int) else getattr(value, step)
    return value


def put(value: Any, way: tuple[Any, ...], new: Any) -> Any:
    """A copy with something else at a place."""
    if not way:
        return new
    step, rest = way[0], way[1:]
    if isinstance(step, int):
        return (*value[:step], put(value[step], rest, new), *value[step + 1 :])
    return structs.replace(value, **{step: put(getattr(value, step), rest, new)})


def others(project: Project, field: str, kind: Any, now: Any) -> Iterator[Any]:
    """Values that might stand in a field instead."""
    kinds = (kind, *getattr(kind, "types", ()))
    names = {one.cls.__name__ for one in kinds if isinstance(one, inspect.StructType)}
    if "Rule" in names and not isinstance(now, Rule):
        yield Rule()
    if {"Rule", "Pinned"} <= names:
        if not isinstance(now, Rule):
            yield from (type(now)(value=now.value * by) for by in (1.3, 0.6))
        yield from (Pinned(value=v) for v in GUESSES)
        return
    yield from _named(project, field, now)
    for one in kinds:
        if isinstance(one, inspect.LiteralType):
            yield from (v for v in one.values if v != now)
        elif isinstance(one, inspect.NoneType) and isinstance(now, msgspec.Struct):
            yield None
    yield from _of_none(kinds) if now is None else _near(now)


def _of_none(kinds: tuple[Any, ...]) -> Iterator[Any]:
    for one in kinds:
        if isinstance(one, inspect.StructType):
            with suppress(TypeError, GarnetfinError):
                yield one.cls()
        elif isinstance(one, inspect.FloatType):
            yield from GUESSES


def _near(now: Any) -> Iterator[Any]:
    """Other values of the same kind."""
    if isinstance(now, bool):
        yield not now
    elif isinstance(now, int):
        yield from (now + 1, now - 1, now + 5)
    elif isinstance(now, float) and now:
        yield from (now * 1.4, now * 0.6, now + 30.0, now - 20.0, 0.0, 1.0)
    elif isinstance(now, float):
        yield from (0.05, 30.0, 1.0, 0.3)
    elif isinstance(now, tuple) and now:
        if all(isinstance(v, (int, float)) for v in now):
            yield tuple(0.5 * v + 0.05 for v in now)
            yield from (now[3:5], now[: len(now) // 2])
        if isinstance(now[0], tuple):
            yield tuple((1.1 * x, y) for x, y, *_ in now)
            yield tuple((x + 500.0, y) for x, y, *_ in now)
        yield from (now[1:], now[:-1])


def _named(project: Project, field: str, now: Any) -> Iterator[Any]:
    """Names of what a field may point at."""
    ids = {
        one: tuple(x.id for x in getattr(project, one))
        for one in ("rooms", "build_ups", "glazings", "levels", "air_systems", "zones", "duct_points")
    }
    known: dict[str, tuple[str, ...]] = {
        "use_id": tuple(room_uses()),
        "activity": tuple(people_heat()),
        "profile_id": (*profiles(), *(p.id for p in project.book.profiles)),
        "place_id": tuple(places()),
        "material": (*materials(), *MATERIALS, ""),
        "build_up_id": ids["build_ups"],
        "glazing_id": ids["glazings"],
        "level_id": ids["levels"],
        "system_id": ("", *ids["air_systems"]),
        "zone_id": ("", *ids["zones"]),
        **dict.fromkeys(("room_id", "room_a", "room_below", "room_above", "from_room", "to_room"), ids["rooms"]),
        "room_b": ("", *ids["rooms"]),
        **dict.fromkeys(
            ("point_id", "root_point_id", "return_point_id", "extract_point_id", "outdoor_point_id"), ids["duct_points"]
        ),
        **dict.fromkeys(("a", "b"), (*ids["duct_points"], "wb", "td")),
        "row": tuple(r.id for r in project.state_list),
        "key": ("winter", "summer"),
        "model": ("", *(t.id for t in project.book.terminals), *fan_models(), *EQUIPMENT),
        "series": ("", "GF-K12-21", "GF-K16-32"),
        "size": ("", "GF-A02", "GF-A07"),
        "step": ("low", "high"),
        "arrangement": ("side by side",),
        "text": ("700", "0.02"),
        "fire_min": (120, 30),
        "tag": ("T-9",),
        "kind": (
            *MACHINE_KINDS,
            "fan_coil",
            "filter",
            "ceil4",
            "displ",
            "slot2",
            "void",
            "window",
            "outside door",
            "between",
            "exposed",
            *FAN_KINDS,
        ),
        "fitting": tuple(
            i for out in (False, True) for place in ("elbow", "takeoff") for i, _ in choices(place, "round", out)
        ),
        "damper": ("none", "orifice"),
        "tightness": ("A", "C", "D"),
        "choice": tuple(c for kind in KINDS.values() for c, _ in kind.choices),
        "summer_percent": ("0.4", "1", "2"),
        "winter_percent": ("99", "99.6"),
        "pattern": ("vav_reheat", "doas"),
        **{n: tuple(k) for n, k in BOOK_CHOICES.items()},
    }
    return (v for v in known.get(field, ()) if v != now)


@cache
def _unchanged(project: Same) -> bytes:
    return mark_of(run(project.item, Memo()))


def acts(project: Project, name: str, kind: Any, memo: Memo) -> str:
    """Empty if some change of a field changes a result, else why not."""
    owner, field = name.split(".")
    ways = list(places_of(project, owner))
    if not ways:
        return "none there"
    before, tried = _unchanged(Same(project)), 0
    usual = {f.name: f.default for f in structs.fields(type(at(project, ways[0])))}.get(field)
    ways.sort(key=lambda way: getattr(at(project, way), field) == usual)  # first where something stands already
    for way in ways[:: -(-len(ways) // WAYS)]:
        now, here = getattr(at(project, way), field), 0
        for value in others(project, field, kind, now):
            if value == now or here >= TRIES:
                continue
            try:
                changed = put(project, (*way, field), value)
                check_links(changed)
                after = mark_of(run(changed, memo))
            except (GarnetfinError, msgspec.ValidationError):
                continue
            here += 1
            if after != before:
                return ""
        tried += here
    return f"dead after {tried} changes"
