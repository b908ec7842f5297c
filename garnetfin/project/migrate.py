"""Older files made readable: one step per format, on plain dicts."""

from collections.abc import Callable

from garnetfin.core.errors import FileError
from garnetfin.project.tree import FORMAT


def _zones(raw: dict) -> dict:
    """Format 2 brought zones, underlays and rooms from lists and files; what format 1 holds stays as it is."""
    return raw


def _origins(raw: dict) -> dict:
    """Format 3: conditions of a month are by rule, pinned or imported; what an older file states was typed or taken over."""
    site = raw.get("site")
    if isinstance(site, dict):
        for month in site.get("months") or ():
            if isinstance(month, dict):
                for name, value in month.items():
                    if isinstance(value, (int, float)) and not isinstance(value, bool):
                        month[name] = {"origin": "imported", "value": value, "source": str(site.get("name", ""))}
    return raw


# STEPS[n] turns format n into format n + 1.
STEPS: dict[int, Callable[[dict], dict]] = {1: _zones, 2: _origins}


def migrate(raw: dict, steps: dict[int, Callable[[dict], dict]] = STEPS, newest: int = FORMAT) -> dict:
    """`raw` in the newest format. Raises FileError for a newer or an unknown one."""
    found = raw.get("format")
    if not isinstance(found, int) or isinstance(found, bool) or found < 1:
        raise FileError("The project file names no format", where="project.json, “format”",
                        remedy=f"A whole number from 1 to {newest} is accepted")
    if found > newest:
        raise FileError(f"The file has format {found}, made by a newer Garnetfin", where="project.json, “format”",
                        remedy=f"This one reads formats 1 to {newest}; update it")
    while found < newest:
        raw = steps[found](raw)
        found += 1
        raw["format"] = found
    return raw
