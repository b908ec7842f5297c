"""Builds demo/tern-point.gfin from the plan beside it. Run: python demo/make_tern_point.py

The building, its people and its weather are invented.
"""

import json
import sys
import tempfile
from pathlib import Path

from msgspec import structs
from shapely import Polygon

HERE = Path(__file__).parent
sys.path.insert(0, str(HERE))

import weather  # noqa: E402

from garnetfin.core.tables import room_use  # noqa: E402
from garnetfin.engine.memo import Memo  # noqa: E402
from garnetfin.engine.run import run  # noqa: E402
from garnetfin.exchange.weather_files import read_weather, to_csv  # noqa: E402
from garnetfin.project.ducts import DuctPoint, PinnedSize, Segment  # noqa: E402
from garnetfin.project.edits.duct_runs import DrawRun, SetFlexible, SetSize  # noqa: E402
from garnetfin.project.edits.groups import AddZone  # noqa: E402
from garnetfin.project.fabric import BuildUp, BuildUpLayer, Glazing  # noqa: E402
from garnetfin.project.new import layer, usual_build_ups  # noqa: E402
from garnetfin.project.parts import PartFigure, pattern_parts  # noqa: E402
from garnetfin.project.site import WeatherYear  # noqa: E402
from garnetfin.project.spaces import CeilingZone, Level, Obstacle, Opening, PlanMark, Room, Slab, Sleeve, Wall  # noqa: E402
from garnetfin.project.state_list import ListRow, Source
from garnetfin.project.store import content_id, save  # noqa: E402
from garnetfin.project.systems import AirSystem, Transfer  # noqa: E402
from garnetfin.project.tree import Project, check_links  # noqa: E402
from garnetfin.project.values import Imported, Pinned, Rule  # noqa: E402

SHIPPED = HERE.parent / "garnetfin" / "ui" / "assets" / "example" / "tern-point.gfin"
SYSTEM = "ahu-north"
GROUND_Z, UPPER_Z = 3.03, 6.42  # axes of the ducts above the building's zero
TRUNK_Y, RISER = 6.6, (16.95, 9.0)


def build_ups() -> tuple[BuildUp, ...]:
    studs = layer("cellulose", 240, 0.058, "cellulose between studs, about 20 % timber")
    air = BuildUpLayer(resistance_m2k_w=0.18, name="air gap")
    board, barrier = layer("plasterboard_700", 12.5), layer("pvc", 0.5, name="vapour barrier")
    return (
        BuildUp(id="W1", name="W1 timber frame", layers=(board, layer("osb", 15), studs, layer("wood_fibre", 16))),
        *(b for b in usual_build_ups() if b.id in ("P1", "P2")),
        BuildUp(
            id="F1",
            name="F1 slab on ground",
            layers=(layer("linoleum", 4), layer("screed", 60), layer("xps", 110), layer("concrete_rf1", 200)),
        ),
        next(b for b in usual_build_ups() if b.id == "F2"),
        BuildUp(
            id="R1",
            name="R1 flat roof",
            absorptance=0.8,
            layers=(board, air, layer("concrete_rf1", 160), barrier, layer("pur", 150), layer("bitumen_felt", 8)),
        ),
        BuildUp(
            id="R2",
            name="R2 workshop roof",
            absorptance=0.8,
            layers=(layer("osb", 22), barrier, layer("mineral_wool", 200, 0.040), layer("bitumen_felt", 8)),
        ),
        BuildUp(
            id="R3",
            name="R3 boat store roof",
            absorptance=0.8,
            layers=(layer("osb", 22), barrier, layer("mineral_wool", 70), layer("bitumen_felt", 8)),
        ),
        BuildUp(
            id="R4",
            name="R4 pitched roof",
            absorptance=0.8,
            layers=(layer("osb", 22), barrier, layer("mineral_wool", 140, 0.040), layer("roof_tile_clay", 20)),
        ),
    )


def glazings() -> tuple[Glazing, ...]:
    invented = "invented for the demo"
    return (
        Glazing(
            id="G1", name="window, coated double", u_w_m2k=1.3, g=0.45, tau_e=0.39, frame_share=0.22, source=invented
        ),
        Glazing(
            id="G2",
            name="glass wall, solar control",
            u_w_m2k=1.1,
            g=0.32,
            tau_e=0.28,
            frame_share=0.10,
            source=invented,
        ),
        Glazing(
            id="G3",
            name="glass wall, dark solar control",
            u_w_m2k=1.0,
            g=0.22,
            tau_e=0.19,
            frame_share=0.10,
            source=invented,
        ),
    )


def rooms(plan: dict) -> tuple[Room, ...]:
    made = []
    hoods = {e["serves"]: e["flow_l_s"] / 1000 for e in plan["equipment"] if e["kind"] == "extract fan"}
    for r in plan["rooms"]:
        use = room_use(r["office_book_use"])
        area = Polygon(r["polygon"]).area

        def value(key: str, by_rule: float):
            if key in r["pinned"]:
                return Pinned(value=r[key], note="agreed with the station")
            given = float(r[key])
            return Rule() if abs(given - by_rule) < 0.05 else Imported(value=given, source="brief of the station")

        made.append(
            Room(
                id=f"r{r['id'].replace('.', '')}",
                number=r["id"],
                name=r["name"],
                level_id=r["level"],
                outline=tuple(map(tuple, r["polygon"])),
                use_id=r["office_book_use"],
                ceiling_m=r["ceiling"],
                people=value("people", round(use.people_m2 * area)),
                lights_w_m2=value("lights", use.lights_w_m2),
                equipment_w_m2=value("equipment", use.equipment_w_m2),
                heating_c=Pinned(value=r["setpoint_heating"], note="readers sit still")
                if "setpoint_heating" in r["pinned"]
                else Rule(),
                extract_m3s=Pinned(value=hoods[r["id"]], note="fan of the hood") if r["id"] in hoods else Rule(),
                system_id=SYSTEM if r["served"] else "",
                air="transfer" if r["id"] in ("0.12", "1.10") else "supply",
            )
        )
    return tuple(made)


def walls(plan: dict) -> tuple[Wall, ...]:
    ceilings = {r["id"]: r["ceiling"] for r in plan["rooms"]}
    storeys = {level["id"]: level["storey_height"] for level in plan["levels"]}
    named = {"outside": "", "shaft": "shaft", "void": "0.03"}
    openings: dict[str, list[Opening]] = {}
    for o in plan["openings"]:
        kind = o["kind"] if o["kind"] in ("window", "glass wall", "door") else "door"
        if o["kind"] in ("boat door", "outside door"):
            kind = "outside door"
        glazing = {"window": "G1", "glass wall": "G2"}.get(kind, "")
        openings.setdefault(o["wall"], []).append(
            Opening(
                id=o["id"],
                kind=kind,
                at_m=o["at"],
                width_m=o["width"],
                sill_m=o["sill"],
                head_m=o["head"],
                glazing_id=glazing,
                door_u_w_m2k=o["u"] if not glazing else 1.8,
            )
        )
    made = []
    for w in plan["walls"]:
        a, b = (named.get(x, x) for x in w["between"])
        if a in ("", "shaft"):
            a, b = b, a
        tall = [ceilings[x] for x in (a, b) if x in ceilings and x != "0.03" and ceilings[x] > storeys[w["level"]]]
        height = (
            1.1
            if w["kind"] == "gallery rail"
            else max([storeys[w["level"]], *tall])
            if b == ""
            else (min(tall) if len(tall) == 2 else storeys[w["level"]])
        )
        build_up = "W1" if b == "" else "P2" if w["kind"] == "to unheated" else "P1"

        def room_id(x: str) -> str:
            return x if x in ("", "shaft") else f"r{x.replace('.', '')}"

        made.append(
            Wall(
                id=w["id"],
                level_id=w["level"],
                start=tuple(w["from"]),
                end=tuple(w["to"]),
                room_a=room_id(a),
                room_b=room_id(b),
                thickness_m=w["thickness"],
                height_m=height,
                build_up_id=build_up,
                facing_deg=float(w.get("facing", 0)),
                openings=tuple(openings.get(w["id"], ())),
            )
        )
    return tuple(made)


def slabs(plan: dict) -> tuple[Slab, ...]:
    shape = {r["id"]: Polygon(r["polygon"]) for r in plan["rooms"]}
    ground = [r["id"] for r in plan["rooms"] if r["level"] == "G"]
    upper = [r["id"] for r in plan["rooms"] if r["level"] == "U"]
    floor = Polygon()
    for r in ground:
        floor = floor.union(shape[r].buffer(1e-6))
    edge = floor.length / floor.area  # exposed edge shared out, so that B' is the whole slab's
    made = []

    def name(x: str) -> str:
        return f"r{x.replace('.', '')}"

    for r in ground:
        made.append(
            Slab(
                id=f"g-{r}",
                kind="ground",
                room_below="",
                room_above=name(r),
                area_m2=shape[r].area,
                build_up_id="F1",
                perimeter_m=shape[r].area * edge,
            )
        )
        for u in upper:
            area = shape[r].intersection(shape[u]).area
            if area > 0.05:
                made.append(
                    Slab(
                        id=f"b-{r}-{u}",
                        kind="between",
                        room_below=name(r),
                        room_above=name(u),
                        area_m2=area,
                        build_up_id="F2",
                    )
                )

    def roof(room: str, area: float, build_up: str, tilt: float = 0.0, azimuth: float = 180.0, part: str = "") -> None:
        made.append(
            Slab(
                id=f"r-{room}{part}",
                kind="roof",
                room_below=name(room),
                room_above="",
                area_m2=area,
                build_up_id=build_up,
                tilt_deg=tilt,
                azimuth_deg=azimuth,
            )
        )

    for r in (*(u for u in upper if u != "1.13"), "0.03"):
        roof(r, shape[r].area, "R1")
    roof("0.01", 10.8, "R1")
    roof("0.06", shape["0.06"].area, "R2", 6.0)
    roof("0.07", shape["0.07"].area, "R3")
    for part, azimuth in (("n", 0.0), ("s", 180.0)):
        roof("1.13", shape["1.13"].area / 2, "R4", 40.0, azimuth, part)
    return tuple(made)


def marks(plan: dict) -> tuple[PlanMark, ...]:
    made = [
        PlanMark(id=f"{s['id']}-{level}", kind="shaft", level_id=level, outline=tuple(map(tuple, s["polygon"])))
        for s in plan["shafts"]
        for level in s["levels"]
    ]
    made += [
        PlanMark(id=s["id"], kind="stair", level_id="G", outline=tuple(map(tuple, s["polygon"])))
        for s in plan["stairs"]
    ]
    hall = next(r for r in plan["rooms"] if r["double_height"])
    made.append(
        PlanMark(id="void", kind="void", level_id="U", outline=tuple(map(tuple, hall["polygon"])), label="void of hall")
    )
    made += [
        PlanMark(id=e["id"], kind="unit", level_id=e["level"], outline=tuple(map(tuple, e["polygon"])), label=e["id"])
        for e in plan["equipment"]
        if e["kind"] == "air handling unit"
    ]
    return tuple(made)


def obstacles(plan: dict) -> tuple[Obstacle, ...]:
    """As in the plan, but the cable tray rises before the riser's mouth and comes down after it: the main duct
    of 300 mm leaves there and nothing else could pass."""
    made = []
    for o in plan["obstacles"]:
        pieces = [(o["id"], o["polygon"])]
        if o["id"] == "T1":
            (x0, y0), (x1, _), (_, y1), _ = o["polygon"]
            pieces = [
                (f"T1{part}", [[a, y0], [b, y0], [b, y1], [a, y1]]) for part, a, b in (("w", x0, 16.0), ("e", 17.9, x1))
            ]
        for name, outline in pieces:
            made.append(
                Obstacle(
                    id=name,
                    kind=o["kind"],
                    level_id=o["level"],
                    outline=tuple(map(tuple, outline)),
                    bottom_m=o["bottom"],
                    top_m=o["top"],
                    sleeves=tuple(
                        Sleeve(at=tuple(s["at"]), width_m=s["width"], bottom_m=s["bottom"], top_m=s["top"])
                        for s in o.get("sleeves", ())
                    ),
                )
            )
    return tuple(made)


def ducts(project: Project, plan: dict) -> Project:
    """Two trunks from the riser along the corridors, a branch to every terminal wish."""
    start = DuctPoint(id="p1", level_id="U", x_m=18.6, y_m=11.6, z_m=UPPER_Z)
    project = structs.replace(
        project,
        duct_points=(start,),
        air_systems=tuple(structs.replace(s, root_point_id="p1") for s in project.air_systems),
    )
    rx, ry = RISER

    def draw(level: str, points: list, role: str, shape: str = "rectangular", room: str = "") -> None:
        nonlocal project
        project = DrawRun(SYSTEM, level, tuple(points), shape, role, room).apply(project)

    draw("U", [(18.6, 11.6, UPPER_Z), (18.6, ry, UPPER_Z), (rx, ry, UPPER_Z)], "trunk")
    for level, z, west, east in (("G", GROUND_Z, 0.3, 33.6), ("U", UPPER_Z, 1.65, 26.1)):
        if level == "G":
            draw("G", [(rx, ry, UPPER_Z), (rx, ry, z)], "trunk")
        draw(level, [(rx, ry, z), (rx, TRUNK_Y, z)], "trunk")
        draw(level, [(rx, TRUNK_Y, z), (west, TRUNK_Y, z)], "trunk")
        draw(level, [(rx, TRUNK_Y, z), (east, TRUNK_Y, z)], "trunk")
    levels = {r["id"]: r["level"] for r in plan["rooms"]}
    side = {"0.11": (10.5, 9.0), "1.11": (15.2, 9.0)}  # taken off another room's branch
    nozzles_inward = {(30, 4.2): (30.4, 4.2)}
    wishes = [w for w in plan["terminal_wishes"] if w["air"] == "supply"]
    wishes.sort(key=lambda w: w["room"] in side)  # branches first, what hangs on them after
    kinds = {"swirl diffuser": "swirl", "nozzle": "wallg"}
    for w in wishes:
        level = levels[w["room"]]
        z = GROUND_Z if level == "G" else UPPER_Z
        x, y = w["at"]
        if w["room"] in side:
            sx, sy = side[w["room"]]
            points = [(sx, sy, z), (sx - 0.6, sy, z)]
        elif (x, y) in nozzles_inward:
            points = [(x, y, z), (*nozzles_inward[(x, y)], z)]
        else:
            points = [(x, TRUNK_Y, z), (x, y, z)]
        before = {s.id for s in project.segments}
        draw(level, points, "last", "round", f"r{w['room'].replace('.', '')}")
        new = project.terminals[-1]
        project = structs.replace(
            project, terminals=(*project.terminals[:-1], structs.replace(new, kind=kinds[w["kind"]]))
        )
        last = [s for s in project.segments if s.id not in before and new.point_id in (s.a, s.b)]
        if kinds[w["kind"]] == "swirl" and last:
            project = SetFlexible(last[0].id, 1.0).apply(project)
    return _letters(_last_pieces(project))


def _last_pieces(project: Project) -> Project:
    """A piece that feeds more than its own terminal is a branch, not a last piece."""
    at = {t.point_id for t in project.terminals}
    ends: dict[str, int] = {}
    for s in project.segments:
        for p in (s.a, s.b):
            ends[p] = ends.get(p, 0) + 1

    def role(s: Segment) -> str:
        if s.role != "last":
            return s.role
        return "last" if any(p in at and ends[p] == 1 for p in (s.a, s.b)) else "branch"

    return structs.replace(project, segments=tuple(structs.replace(s, role=role(s)) for s in project.segments))


def _letters(project: Project) -> Project:
    """Several terminals of a room are a, b, c; a single one bears the room's number alone."""
    numbers = {r.id: r.number for r in project.rooms}
    count = {room: sum(t.room_id == room for t in project.terminals) for room in numbers}
    seen: dict[str, int] = {}
    made = []
    for t in project.terminals:
        seen[t.room_id] = seen.get(t.room_id, 0) + 1
        letter = chr(ord("a") + seen[t.room_id] - 1) if count[t.room_id] > 1 else ""
        made.append(structs.replace(t, label=numbers[t.room_id] + letter))
    made.sort(key=lambda t: t.label)
    return structs.replace(project, terminals=tuple(made))


def fit_obstacles(project: Project) -> Project:
    """As an engineer would: what passes the sleeves of the hall's edge is 450 x 100, and the mend is taken wherever
    a branch meets a tray; beam B1 is left to be found."""
    results = run(project, Memo())
    sleeved = tuple(f.object_id for f in results.findings if f.code == "height" and "B3" in f.title)
    project = SetSize(sleeved, PinnedSize(shape="rectangular", width_m=0.45, height_m=0.1)).apply(project)
    project = structs.replace(
        project, segments=tuple(structs.replace(s, role="branch") if s.id in sleeved else s for s in project.segments)
    )
    for _ in range(4):
        mends = [
            f.mends[0].command
            for f in run(project, Memo()).findings
            if f.code == "height" and f.mends and "B1" not in f.title
        ]
        if not mends:
            return project
        for mend in mends:
            project = mend.apply(project)
    return project


ZONES = {
    "South rooms": ("0.01", "0.02", "0.03", "0.04", "0.05"),
    "Canteen and kitchen": ("0.09", "0.10", "0.11"),
    "Laboratory": ("0.14", "0.15"),
    "Workshop": ("0.06",),
}


def zoned(project: Project) -> Project:
    """Rooms that share control; those upstairs are one zone, the rest of the ground floor another."""
    by_number = {r.number: r.id for r in project.rooms}
    for name, numbers in ZONES.items():
        project = AddZone(tuple(by_number[n] for n in numbers), name).apply(project)
    rest = [r for r in project.rooms if r.system_id and not r.zone_id]
    upper = project.levels[-1].id
    project = AddZone(tuple(r.id for r in rest if r.level_id == upper), "Upper level").apply(project)
    return AddZone(tuple(r.id for r in rest if r.level_id != upper), "Ways and wet rooms").apply(project)


def read_hours(hours: bytes):
    """The hours as the program itself reads a weather file."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "year.csv"
        path.write_bytes(hours)
        return read_weather(path, {"latitude": 46.2, "longitude": 0.0, "utc": 0.0}, lambda share, words: None)


def train() -> tuple:
    """Constant flow with reheat; what the offers say of the parts is pinned."""
    offered = {
        "intake": ("Outdoor louvre", 22),
        "filter": ("Filter, half loaded", 96),
        "recovery": ("Heat recovery, rotor", 138),
        "cooling": ("Cooling coil, wet", 84),
        "heating": ("Heating coil", 31),
        "attenuator": ("Silencer", 38),
        "mixing": ("Mixing", 6),
    }
    parts = []
    for part in pattern_parts("cav_reheat"):
        if part.kind in offered:
            name, pressure = offered[part.kind]
            part = structs.replace(part, name=name, pressure_pa=Pinned(value=float(pressure), note="offer"))
        if part.kind == "recovery":
            part = structs.replace(part, figures=(PartFigure(name="sensible", value=Pinned(value=0.80, note="offer")),))
        if part.kind == "mixing":
            part = structs.replace(part, choice="enthalpy")
        parts.append(part)
    return tuple(parts)


def state_list() -> tuple[ListRow, ...]:
    """What the engineer wrote down to size the coil by hand before the train was there."""
    return (
        ListRow(id="row1", name="Outdoor", kind="outdoor", key="summer"),
        ListRow(id="row2", name="Room wanted", kind="state", a_value=25.0),
        ListRow(
            id="row3",
            name="Mixed by hand",
            kind="mix",
            sources=(Source(row="row1", share=0.54), Source(row="row2", share=0.46)),
        ),
        ListRow(id="row4", name="Off the coil", kind="state", a_value=13.0, b_value=0.92),
        ListRow(
            id="row5",
            name="Coil by hand",
            kind="process",
            sources=(Source(row="row3"), Source(row="row4")),
            flow_m3s=2.94,
        ),
        ListRow(
            id="row6",
            name="Air for the hall",
            kind="flow",
            sources=(Source(row="row4"), Source(row="row2")),
            load_w=4400.0,
        ),
    )


def main() -> None:
    plan = json.loads((HERE / "tern_point_plan.json").read_text(encoding="utf-8"))
    project = Project(
        name="Tern Point Field Station",
        site=weather.site(),
        levels=tuple(
            Level(id=x["id"], name=x["name"], elevation_m=x["elevation"], storey_m=x["storey_height"])
            for x in plan["levels"]
        ),
        rooms=rooms(plan),
        walls=walls(plan),
        slabs=slabs(plan),
        build_ups=build_ups(),
        glazings=glazings(),
        plan_marks=marks(plan),
        ceiling_zones=tuple(
            CeilingZone(
                id=z["id"],
                name=z.get("note", z["id"]).partition(":")[0],
                level_id=z["level"],
                outline=tuple(map(tuple, z["polygon"])),
                ceiling_m=z["ceiling"],
                soffit_m=z["soffit"],
                allowance_m=z["allowance"],
            )
            for z in plan["ceiling_zones"]
            if z["ceiling"]
        ),
        obstacles=obstacles(plan),
        air_systems=(
            AirSystem(
                boxes="chosen",
                coils="chosen",
                id=SYSTEM,
                name="AHU North",
                rated_m3s=2.8,
                allowance=Pinned(value=0.0, note="sizes are final"),
                parts=train(),
            ),
        ),
        # The hood of the kitchen draws from the canteen.
        transfers=(Transfer(id="move1", from_room="r009", to_room="r010"),),
        state_list=state_list(),
    )
    project = zoned(fit_obstacles(ducts(project, plan)))
    check_links(project)
    hours = to_csv(weather.hours()).encode()
    stats = read_hours(hours)
    year = WeatherYear(
        content=content_id(hours),
        name="Tern Point, an invented year",
        months=stats.months,
        winter_c=stats.winter_c,
        greatest_c=stats.greatest_c,
        least_c=stats.least_c,
    )
    # The months stand as the brief gives them; the year lies beside them to be looked at and run.
    project = structs.replace(project, site=structs.replace(project.site, weather=year))
    save(project, HERE / "tern-point.gfin", {year.content: hours})
    save(project, SHIPPED, {year.content: hours})


if __name__ == "__main__":
    main()
