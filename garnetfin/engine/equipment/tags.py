"""Tags of equipment: by rule from the number of its room, or the place of its system; typed ones stay.

A room's number is what the drawing calls it, so that no edit of other rooms renumbers its equipment.
"""

from garnetfin.project.lookup import find
from garnetfin.project.tree import Project

BOX = "FB"
ROOM_UNIT = {
    "fan_coil": "FC",
    "beam": "CB",
    "radiator": "RAD",
    "convector": "CV",
    "floor": "FH",
    "ceiling": "CC",
    "electric": "EH",
    "direct": "DC",
}
MACHINE = {"chiller_air": "CH", "chiller_water": "CH", "heat_pump_air": "HP", "boiler": "KB", "dx_condensing": "CU"}
COIL = {"cooling": "CC", "precool": "PC", "heating": "HC", "preheat": "PH"}


def of_room(kind: str, project: Project, room_id: str) -> str:
    """FB-1.12: a kind of equipment with its room's number."""
    room = find(project.rooms, room_id)
    return f"{kind}-{room.number or room.id}"


def of_unit(project: Project, system_id: str) -> str:
    """AHU-01, counted in the order of the systems."""
    at = next(i for i, s in enumerate(project.air_systems, 1) if s.id == system_id)
    return f"AHU-{at:02d}"


def of_coil(project: Project, system_id: str, kind: str, more: int) -> str:
    """AHU-01-CC, with a number where a unit has several of a kind."""
    typed = find(project.units, system_id)
    unit = (typed.tag if typed is not None else "") or of_unit(project, system_id)
    return f"{unit}-{COIL[kind]}{more or ''}"
