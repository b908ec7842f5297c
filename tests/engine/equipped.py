"""A small building with equipment of every kind of which something is fixed: a variable system with reheat, a group of
rooms behind one box, units in rooms with and without a system, own catalogue rows.
"""

from functools import lru_cache

from msgspec import structs

from garnetfin.core.equipment.catalogue import SHEETS, headings
from garnetfin.core.tables import read_rows
from garnetfin.engine.layout.auto_design import auto_design
from garnetfin.project.edits.outlines import AddRoom
from garnetfin.project.edits.systems import SetPattern
from garnetfin.project.equipment import Cell, CoilChoice, FlowBox, Machines, OwnEquipment, RoomUnit, UnitChoice
from garnetfin.project.new import new_project
from garnetfin.project.tree import Project, check_links
from garnetfin.project.values import Pinned
from tests.project.test_shape import box

OUTLINES = (box(0, 0, 12, 8), box(12, 0, 20, 8), box(0, 8, 12, 16), box(12, 8, 20, 16), box(20, 0, 26, 8))


def pin(value: float) -> Pinned:
    return Pinned(value=value)


def own_row(sheet: str, name: str, **changed: str) -> OwnEquipment:
    """A shipped row under another name, with some of its cells changed, as an office would read it in."""
    kind, file, keys = SHEETS[sheet]
    shipped = read_rows(file)[0]
    cells = {h: shipped.get(h) or "" for h in headings(kind)} | {keys[0]: name} | changed
    return OwnEquipment(
        id=f"{sheet}:{name}",
        sheet=sheet,
        cells=tuple(Cell(heading=h, text=t) for h, t in cells.items() if t),
        source="own.csv",
    )


@lru_cache(maxsize=1)
def bare() -> Project:
    """Five rooms, four of them served by variable flow with reheat, with ducts; nothing of any equipment fixed."""
    project = new_project()
    for k, outline in enumerate(OUTLINES):
        project = AddRoom("L0", outline, system_id="ahu1" if k < 4 else "").apply(project)
    project = SetPattern("ahu1", "vav_reheat").apply(project)
    project = structs.replace(project, rooms=tuple(structs.replace(r, equipment_w_m2=pin(30.0)) for r in project.rooms))
    return auto_design(project).command.apply(project)


@lru_cache(maxsize=1)
def equipped() -> Project:
    """The same with something fixed of each kind of equipment."""
    draughty = {"infiltration_1h": pin(2.5)}  # so that heating takes more air than fresh air does
    rooms = tuple(
        structs.replace(r, **draughty)
        if r.id in ("n1", "n3")
        else structs.replace(r, rest="unit")
        if r.id == "n4"
        else structs.replace(r, by_units=True)
        if r.id == "n5"
        else r
        for r in bare().rooms
    )
    project = structs.replace(
        bare(),
        rooms=rooms,
        flow_boxes=(
            FlowBox(id="box:group1", room_ids=("n1", "n3"), tag="FB-A", least_m3s=pin(0.3), heating_m3s=pin(0.4)),
            FlowBox(id="box:n2", room_ids=("n2",), model="GF-V200-R2", leave_c=pin(32.0)),
        ),
        room_units=(
            RoomUnit(id="unit:n4:1", room_id="n4", kind="fan_coil", tag="FC-A"),
            RoomUnit(id="unit:n4:2", room_id="n4", kind="floor", cover_m2k_w=pin(0.05), area_share=pin(0.4)),
            RoomUnit(id="unit:n5:1", room_id="n5", kind="radiator", longest_m=pin(1.2), highest_m=pin(0.65)),
        ),
        coils=(CoilChoice(id="ahu1:cooling", system_id="ahu1", part_id="cooling", rows=6, water_in_c=pin(6.5)),),
        units=(UnitChoice(id="ahu1", tag="AHU-A", velocity_m_s=pin(1.8)),),
        machines=(Machines(id="cold", tag="CH-A", fewest=2), Machines(id="hot", kind="heat_pump_air")),
        book=structs.replace(
            bare().book,
            equipment=(
                own_row("boxes", "OF-V90", inlet_mm="90", inlet_m2="0.00636"),
                own_row("machines", "OF-LC12", nominal_kW="12"),
            ),
        ),
    )
    check_links(project)
    return project
