"""Older files made readable: one step per format, on plain dicts."""

from collections.abc import Callable
from typing import Any

from garnetfin.core.errors import FileError
from garnetfin.project.tree import FORMAT


def _zones(raw: dict[Any, Any]) -> dict[Any, Any]:
    """Format 2 brought zones, underlays and rooms from lists and files; what format 1 holds stays as it is."""
    return raw


def _origins(raw: dict[Any, Any]) -> dict[Any, Any]:
    """Format 3: conditions of a month are by rule, pinned or imported; what an older file states was typed or taken
    over.
    """
    site = raw.get("site")
    if isinstance(site, dict):
        for month in site.get("months") or ():
            if isinstance(month, dict):
                for name, value in month.items():
                    if isinstance(value, (int, float)) and not isinstance(value, bool):
                        month[name] = {"origin": "imported", "value": value, "source": str(site.get("name", ""))}
    return raw


OLD_PARTS = {
    "louvre": "intake",
    "filter": "filter",
    "recovery": "recovery",
    "cooling": "cooling",
    "heating": "heating",
    "silencer": "attenuator",
}


def _trains(raw: dict[Any, Any]) -> dict[Any, Any]:
    """Format 4: an air system is a train of parts by kind.

    Pressure drops that were typed stay; what is new is by rule.
    """
    for system in raw.get("air_systems") or ():
        if not isinstance(system, dict):
            continue
        old = [p for p in system.get("parts") or () if isinstance(p, dict)]
        by_kind: dict[str, dict[Any, Any]] = {}
        extra = []
        for part in old:
            kind = OLD_PARTS.get(str(part.get("id")))
            made = {
                "id": part.get("id"),
                "kind": kind or "attenuator",
                "name": part.get("name", ""),
                "exponent": part.get("exponent", 2.0),
                "pressure_pa": {"origin": "pinned", "value": part.get("pressure_pa", 0.0), "note": ""},
            }
            if kind is None or kind in by_kind:
                extra.append({**made, "kind": "attenuator"})
            else:
                by_kind[kind] = made
        # Parts of the pattern a file did not list drop no pressure, so that its fan stays as it was.
        none = {"origin": "pinned", "value": 0.0, "note": "not in the older file"}
        train = []
        for kind in ("intake", "filter", "recovery", "mixing", "cooling", "heating", "supply_fan", "attenuator"):
            train.append(by_kind.get(kind) or {"id": kind, "kind": kind, "pressure_pa": none})
            if kind == "attenuator":
                train += extra
        train += [
            {"id": "duct", "kind": "duct"},
            {"id": "terminals", "kind": "terminals", "choice": "reheat"},
            {"id": "rooms", "kind": "rooms"},
            {"id": "return_fan", "kind": "return_fan"},
            {"id": "relief", "kind": "relief"},
        ]
        if old:
            system["parts"] = train
    return raw


def _papers(raw: dict[Any, Any]) -> dict[Any, Any]:
    """Format 5 brought papers, accepted findings, the office's sheet and marks; what format 4 holds stays as it is."""
    return raw


def _of_book(raw: dict[Any, Any]) -> list[Any]:
    book = raw.get("book")
    found = book.get("build_ups") if isinstance(book, dict) else None
    return found if isinstance(found, list) else []


OLD_INSIDE = 0.4  # stood in every build-up that said nothing


def absorptances(raw: dict[Any, Any]) -> dict[Any, Any]:
    """Format 6: what the inside of a build-up takes up of the sun is by rule or pinned; until then floors and ceilings
    did not read it.
    """
    for build_up in (*(raw.get("build_ups") or ()), *_of_book(raw)):
        if isinstance(build_up, dict) and "inside_absorptance" in build_up:
            value = build_up["inside_absorptance"]
            if isinstance(value, dict):
                continue
            del build_up["inside_absorptance"]
            if isinstance(value, (int, float)) and not isinstance(value, bool) and value != OLD_INSIDE:
                build_up["inside_absorptance"] = {"origin": "pinned", "value": value, "note": ""}
            elif value != OLD_INSIDE:
                build_up["inside_absorptance"] = value  # left for the check to refuse
    return raw


OLD_FAN = {
    "fan_id": "model",
    "fan_rpm": "speed_rpm",
    "motor_efficiency": "motor_efficiency",
    "drive_efficiency": "drive_efficiency",
    "fan_count": "count",
    "fan_arrangement": "arrangement",
    "outlet_duct_m": "outlet_duct_m",
    "fan_effect_k": "effect_k",
}


BY_RULE = ("", 1, "single", {"origin": "rule"})  # what a fan has of which nothing was chosen


def _fans(raw: dict[Any, Any]) -> dict[Any, Any]:
    """Format 7: every fan of a system has a choice of its own; until then the supply fan alone had one.

    Ducts leak as their class lets them; what an older file states as a share stands.
    """
    for system in raw.get("air_systems") or ():
        if not isinstance(system, dict):
            continue
        system.setdefault("leakage", "typed")
        stated = {new: system.pop(old) for old, new in OLD_FAN.items() if old in system}
        chosen = {name: value for name, value in stated.items() if value not in BY_RULE}
        if chosen:
            system["fans"] = [{"way": "supply", **chosen}]
    return raw


def _equipment(raw: dict[Any, Any]) -> dict[Any, Any]:
    """Format 8 brought equipment: what an older file holds stays, and nothing of it is chosen by hand."""
    return raw


# STEPS[n] turns format n into format n + 1.
STEPS: dict[int, Callable[[dict[Any, Any]], dict[Any, Any]]] = {
    1: _zones,
    2: _origins,
    3: _trains,
    4: _papers,
    5: absorptances,
    6: _fans,
    7: _equipment,
}


def migrate(
    raw: dict[Any, Any], steps: dict[int, Callable[[dict[Any, Any]], dict[Any, Any]]] = STEPS, newest: int = FORMAT
) -> dict[Any, Any]:
    """`raw` in the newest format. Raises FileError for a newer or an unknown one."""
    found = raw.get("format")
    if not isinstance(found, int) or isinstance(found, bool) or found < 1:
        raise FileError(
            "The project file names no format",
            where="project.json, “format”",
            remedy=f"A whole number from 1 to {newest} is accepted",
        )
    if found > newest:
        raise FileError(
            f"The file has format {found}, made by a newer Garnetfin",
            where="project.json, “format”",
            remedy=f"This one reads formats 1 to {newest}; update it",
        )
    while found < newest:
        raw = steps[found](raw)
        found += 1
        raw["format"] = found
    return raw
