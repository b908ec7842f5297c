"""A building of any size: rows of rooms on many levels, an air system and its ducts to each row."""

from msgspec import structs

from garnetfin.project.derive import derive
from garnetfin.project.ducts import DuctPoint, Segment, Terminal
from garnetfin.project.edits.systems import AddSystem
from garnetfin.project.new import new_project
from garnetfin.project.spaces import Level, Opening, Room
from garnetfin.project.tree import Project

STOREY, WIDE, DEEP = 3.6, 4.0, 6.0


def building(storeys: int = 10, across: int = 25, systems: int = 4) -> Project:
    """Rooms in as many rows as systems, each row with an air system of its own: a riser, a trunk a level, five ducts
    and two terminals a room.
    """
    levels = tuple(
        Level(id=f"L{k}", name=f"Level {k}", elevation_m=STOREY * k, storey_m=STOREY) for k in range(storeys)
    )
    rooms = []
    for k in range(storeys):
        for j in range(systems):
            for i in range(across):
                x, y = i * WIDE, j * DEEP
                rooms.append(
                    Room(
                        id=f"r{k}-{j}-{i}",
                        number=f"{k}.{j * across + i + 1:03d}",
                        name=("Office", "Meeting", "Open office", "Store")[(i + j) % 4],
                        level_id=f"L{k}",
                        outline=((x, y), (x + WIDE, y), (x + WIDE, y + DEEP), (x, y + DEEP)),
                        use_id=("office_single", "meeting", "office_open", "office_single")[(i + j) % 4],
                        ceiling_m=2.8,
                    )
                )
    project = structs.replace(new_project(), name="Large building", levels=levels, air_systems=())
    for _ in range(systems):
        project = AddSystem().apply(project)
    ids = [s.id for s in project.air_systems]
    rooms = [structs.replace(r, system_id=ids[int(r.id.split("-")[1])]) for r in rooms]
    project = derive(structs.replace(project, rooms=tuple(rooms)), {r.id for r in rooms})
    return _ducts(_windows(project), storeys, across)


def _windows(project: Project) -> Project:
    """One in every outside wall."""
    glazing = project.glazings[0].id
    walls = tuple(
        structs.replace(
            w,
            openings=(
                Opening(
                    id=f"w{i}",
                    kind="window",
                    at_m=w.length_m / 2,
                    width_m=1.8,
                    sill_m=0.9,
                    head_m=2.4,
                    glazing_id=glazing,
                ),
            ),
        )
        if w.outside
        else w
        for i, w in enumerate(project.walls)
    )
    return structs.replace(project, walls=walls)


def _ducts(project: Project, storeys: int, across: int) -> Project:
    points, segments, terminals, made = [], [], [], []
    for j, system in enumerate(project.air_systems):
        y, root = (j + 0.5) * DEEP, f"p{j}-root"
        points.append(DuctPoint(id=root, level_id="L0", x_m=-2.0, y_m=y, z_m=3.0))
        below = root
        for k in range(storeys):
            z = STOREY * k + 3.0
            foot = f"p{j}-{k}"
            points.append(DuctPoint(id=foot, level_id=f"L{k}", x_m=-1.0, y_m=y, z_m=z))
            segments.append(
                Segment(id=f"s{j}-{k}", system_id=system.id, a=below, b=foot, shape="rectangular", role="trunk")
            )
            last = below = foot
            for i in range(across):
                x, room = i * WIDE + 2.0, f"r{k}-{j}-{i}"
                at = f"p{j}-{k}-{i}"
                points.append(DuctPoint(id=at, level_id=f"L{k}", x_m=x, y_m=y, z_m=z))
                segments.append(
                    Segment(id=f"s{j}-{k}-{i}", system_id=system.id, a=last, b=at, shape="rectangular", role="trunk")
                )
                last = at
                for n, side in enumerate((-1.0, 1.0)):
                    bend, end = f"{at}-{n}", f"{at}-{n}e"
                    points += [
                        DuctPoint(id=bend, level_id=f"L{k}", x_m=x, y_m=y + side * 1.2, z_m=z),
                        DuctPoint(id=end, level_id=f"L{k}", x_m=x + 0.8, y_m=y + side * 1.2, z_m=z),
                    ]
                    segments += [
                        Segment(id=f"b{j}-{k}-{i}-{n}", system_id=system.id, a=at, b=bend, role="branch"),
                        Segment(id=f"e{j}-{k}-{i}-{n}", system_id=system.id, a=bend, b=end, role="last"),
                    ]
                    terminals.append(
                        Terminal(id=f"t{j}-{k}-{i}-{n}", label=f"{room[1:]}{'ab'[n]}", point_id=end, room_id=room)
                    )
        made.append(structs.replace(system, root_point_id=root))
    return structs.replace(
        project,
        duct_points=tuple(points),
        segments=tuple(segments),
        terminals=tuple(terminals),
        air_systems=tuple(made),
    )
