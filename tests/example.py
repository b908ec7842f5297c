"""Small projects for tests: the example, and one room with one duct built from nothing."""

from functools import lru_cache

from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Results
from garnetfin.engine.run import run
from garnetfin.project.ducts import DuctPoint, Segment, Terminal
from garnetfin.project.fabric import BuildUp, BuildUpLayer, Glazing
from garnetfin.project.parts import PATTERNS
from garnetfin.project.site import MonthConditions, Site
from garnetfin.project.spaces import Level, Opening, Room, Slab, Wall
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned
from garnetfin.ui.example import example_project


@lru_cache(maxsize=1)
def station() -> Project:
    return example_project()


@lru_cache(maxsize=1)
def station_results() -> Results:
    return run(station(), Memo())


def by_number(project: Project, number: str) -> Room:
    return next(r for r in project.rooms if r.number == number)


def site() -> Site:
    month = MonthConditions(
        **{
            name: Pinned(value=value)
            for name, value in (
                ("dry_bulb_c", 30.0),
                ("wet_bulb_c", 20.0),
                ("range_k", 10.0),
                ("wet_range_k", 4.0),
                ("tau_b", 0.4),
                ("tau_d", 2.3),
            )
        }
    )
    return Site(
        name="Somewhere", latitude_deg=45.0, longitude_deg=0.0, altitude_m=0.0, utc_offset_h=0.0, months=(month,) * 12
    )


def one_room(**room) -> Project:
    """5 x 4 m, one south wall with a window, a duct of 6 m to one terminal."""
    corners = ((0.0, 0.0), (5.0, 0.0), (5.0, 4.0), (0.0, 4.0))
    wall = dict(level_id="G", room_a="r1", thickness_m=0.3, height_m=3.0)
    return Project(
        name="One room",
        site=site(),
        levels=(Level(id="G", name="Ground", elevation_m=0.0, storey_m=3.0),),
        rooms=(
            Room(
                **{
                    "id": "r1",
                    "number": "1",
                    "name": "Room",
                    "level_id": "G",
                    "outline": corners,
                    "use_id": "office_single",
                    "ceiling_m": 2.8,
                    "system_id": "a",
                    **room,
                }
            ),
        ),
        walls=(
            Wall(
                id="w1",
                start=corners[0],
                end=corners[1],
                room_b="",
                facing_deg=180.0,
                build_up_id="b",
                openings=(
                    Opening(id="W1", kind="window", at_m=2.5, width_m=2.0, sill_m=0.9, head_m=2.4, glazing_id="g"),
                ),
                **wall,
            ),
            Wall(id="w2", start=corners[1], end=corners[2], room_b="shaft", build_up_id="b", **wall),
        ),
        slabs=(
            Slab(id="f", kind="ground", room_below="", room_above="r1", area_m2=20.0, perimeter_m=5.0, build_up_id="b"),
            Slab(id="t", kind="roof", room_below="r1", room_above="", area_m2=20.0, build_up_id="b"),
        ),
        build_ups=(
            BuildUp(
                id="b",
                name="Wall",
                layers=(
                    BuildUpLayer(material="plasterboard_700", thickness_m=0.0125),
                    BuildUpLayer(material="mineral_wool", thickness_m=0.14),
                    BuildUpLayer(material="concrete_2200", thickness_m=0.1),
                ),
            ),
        ),
        glazings=(
            Glazing(id="g", name="glass", u_w_m2k=1.3, g=0.5, tau_e=0.43),
            Glazing(id="h", name="dark glass", u_w_m2k=1.1, g=0.25, tau_e=0.2),
        ),
        # without leaks, so that ducts carry what terminals take
        air_systems=(AirSystem(id="a", name="AHU", root_point_id="p1", leakage="typed"),),
        duct_points=(
            DuctPoint(id="p1", level_id="G", x_m=2.5, y_m=8.0, z_m=2.6),
            DuctPoint(id="p2", level_id="G", x_m=2.5, y_m=2.0, z_m=2.6),
        ),
        segments=(Segment(id="s1", system_id="a", a="p2", b="p1", role="last"),),
        terminals=(Terminal(id="t1", label="1", point_id="p2", room_id="r1"),),
    )


# patterns of systems that treat air; the other draws it out alone
TREATING = {name: pattern for name, pattern in PATTERNS.items() if "terminals" in pattern.kinds}
