"""A small building with one of everything in it, so that every input has something to act on; computed in a moment."""

from functools import lru_cache

from msgspec import structs

from garnetfin.core.fans.catalogue import FAN_KINDS
from garnetfin.engine.layout.auto_design import auto_design
from garnetfin.project.book import DayProfile, OwnMaterial, UseChange, UseProfile
from garnetfin.project.catalogue import FanPoint, OwnFan, OwnTerminal, TerminalPoint
from garnetfin.project.ducts import FittingChoice, PinnedSize
from garnetfin.project.edits.openings import AddOpening
from garnetfin.project.edits.outlines import AddRoom
from garnetfin.project.fabric import BuildUpLayer, Shade
from garnetfin.project.inline import Inline
from garnetfin.project.lookup import walls_of
from garnetfin.project.new import new_project
from garnetfin.project.parts import KINDS, PartFigure
from garnetfin.project.site import MonthStatistics, WeatherYear
from garnetfin.project.spaces import CeilingZone, Obstacle, PlanMark, Sleeve
from garnetfin.project.state_list import ListRow, Source
from garnetfin.project.systems import FanChoice, Transfer, Zone
from garnetfin.project.tree import Project, check_links
from garnetfin.project.values import Imported, Pinned
from tests.project.test_shape import box

OUTLINES = (box(0, 0, 12, 8), box(12, 0, 20, 8), box(0, 8, 12, 16), box(12, 8, 20, 16))


def pin(value: float) -> Pinned:
    return Pinned(value=value)


@lru_cache(maxsize=1)
def crowded() -> Project:
    """Three rooms with a system, ducts and a fan; one unheated."""
    project = new_project()
    for k, outline in enumerate(OUTLINES):
        project = AddRoom("L0", outline, system_id="ahu1" if k < 3 else "").apply(project)
    for room_id in ("n1", "n2"):
        south = next(w for w in walls_of(project.walls, room_id) if w.outside and abs(w.facing_deg - 180) < 1)
        project = AddOpening(south.id, "window", 4.0).apply(project)
    east = next(w for w in walls_of(project.walls, "n2") if w.outside and abs(w.facing_deg - 90) < 1)
    project = AddOpening(east.id, "outside door", 2.0).apply(project)
    project = _fabric(_book(project))
    project = auto_design(project).command.apply(project)
    project = _plan(_models(_system(project)))
    check_links(project)
    return project


def _fabric(project: Project) -> Project:
    glazings = tuple(
        structs.replace(g, shade=Shade(rule="sun", limit_w_m2=150.0), frame_u_w_m2k=1.5) for g in project.glazings
    )
    openings = {
        "overhang_m": 0.6,
        "overhang_gap_m": 0.2,
        "overhang_left_m": pin(0.3),
        "overhang_right_m": pin(0.2),
        "fin_left_m": 0.2,
        "fin_right_m": 0.3,
        "fin_gap_m": 0.1,
        "fin_above_m": pin(0.1),
        "fin_below_m": pin(0.1),
    }
    walls = tuple(
        structs.replace(
            w,
            openings=tuple(structs.replace(o, **openings) if o.glazing_id else o for o in w.openings),
            buried_m=0.5 if w.outside and not w.openings else 0.0,
        )
        for w in project.walls
    )
    own = BuildUpLayer(material="own", thickness_m=0.02)
    typed = BuildUpLayer(
        material="",
        name="typed",
        thickness_m=0.05,
        conductivity_w_mk=0.4,
        density_kg_m3=900.0,
        specific_heat_j_kgk=900.0,
    )
    build_ups = tuple(structs.replace(b, layers=(*b.layers, own, typed)) for b in project.build_ups)
    site = structs.replace(project.site, place_id="", summer_time=True, winter_humidity=pin(0.7))
    return structs.replace(
        project, glazings=glazings, walls=walls, build_ups=build_ups, site=structs.replace(site, weather=_weather())
    )


def _weather() -> WeatherYear:
    months = tuple(
        MonthStatistics(
            dry_bulb_c=(29.0 + k, 28.0 + k, 27.0 + k),
            wet_bulb_c=(19.0 + k, 18.5 + k, 18.0 + k),
            range_k=9.0,
            wet_range_k=3.0,
            tau_b=0.4,
            tau_d=2.3,
            mean_c=11.0 + k,
            wind_m_s=4.0,
        )
        for k in (-6, -5, -3, 0, 2, 4, 5, 4, 2, 0, -3, -5)
    )
    return WeatherYear(
        content="", name="invented", months=months, winter_c=(-9.0, -7.0), greatest_c=36.0, least_c=-12.0
    )


def _system(project: Project) -> Project:
    system = project.air_systems[0]
    parts = tuple(
        structs.replace(
            p,
            figures=tuple(
                PartFigure(name=n, value=pin(f.by_rule))
                for n, f in KINDS[p.kind].figures.items()
                if f.by_rule is not None
            ),
        )
        for p in system.parts
    )
    # coils of the small building stay as typed: what one gives back is tried in the equipped one
    system = structs.replace(system, parts=parts, coils="typed")
    zone = Zone(id="z", name="Zone", cooling_c=pin(24.0), humidity_low=pin(0.3), humidity_high=pin(0.55))
    segments = list(project.segments)
    trunk = next(k for k, s in enumerate(segments) if s.air == "supply" and s.role == "trunk")
    segments[trunk] = structs.replace(
        segments[trunk],
        size=PinnedSize(shape="rectangular", width_m=0.4, height_m=0.3),
        shape="rectangular",
        inline=(
            Inline(id="i1", kind="fire damper", at=0.2, fire_min=60),
            Inline(id="i2", kind="volume damper", at=0.5, angle_deg=pin(20.0)),
            Inline(id="i3", kind="own part", at=0.8, rated_pa=pin(12.0), rated_m3s=pin(0.4), length_m=pin(0.2)),
        ),
    )
    last = next(k for k, s in enumerate(segments) if s.role == "last")
    segments[last] = structs.replace(
        segments[last], flexible_m=1.0, fittings=(FittingChoice(place="takeoff", k=pin(0.9)),)
    )
    return structs.replace(
        project,
        air_systems=(system, *project.air_systems[1:]),
        zones=(zone,),
        rooms=tuple(
            structs.replace(r, zone_id="z", people=Imported(value=9.0)) if r.id == "n1" else r for r in project.rooms
        ),
        segments=tuple(segments),
        transfers=(Transfer(id="t", from_room="n1", to_room="n2", flow_m3s=pin(0.02)),),
    )


def _book(project: Project) -> Project:
    hours = tuple(1.0 if 8 <= h < 18 else 0.0 for h in range(24))
    points = tuple(
        TerminalPoint(
            flow_m3s=f,
            pressure_pa=40 * f * f + 1,
            throw_050_m=9 * f,
            throw_025_m=14 * f,
            sound_db=30 + 60 * f,
            nc=10 + 20 * f,
        )
        for f in (0.02, 0.2, 0.6)
    )
    curve = tuple(
        FanPoint(flow_m3s=q, total_pa=1100 - 500 * q * q, shaft_w=500 + 600 * q, sound_db=80.0 + q)
        for q in (0.15, 0.4, 0.7, 1.0, 1.3)
    )
    book = structs.replace(
        project.book,
        profiles=(DayProfile(id="own", name="Own", working=hours, summer_design=hours, winter_design=hours),),
        uses=(UseChange(use_id="office_single", field="people_m2", value=0.12),),
        use_profiles=(UseProfile(use_id="office_single", profile_id="own"),),
        materials=(
            OwnMaterial(
                id="own", name="Own board", conductivity_w_mk=0.2, density_kg_m3=700.0, specific_heat_j_kgk=1000.0
            ),
        ),
        terminals=(
            OwnTerminal(
                id="own-swirl",
                kind="swirl",
                description="Own",
                use="supply",
                size_m=0.2,
                neck_m2=0.06,
                effective_m2=0.03,
                points=points,
            ),
        ),
        fans=(
            OwnFan(
                id="own-fan",
                kind=next(iter(FAN_KINDS)),
                wheel_m=0.5,
                outlet_m2=0.2,
                speed_rpm=1800.0,
                min_rpm=600.0,
                max_rpm=2600.0,
                density_kg_m3=1.2,
                motor_w=5500.0,
                points=curve,
            ),
        ),
    )
    return structs.replace(project, book=book)


def _models(project: Project) -> Project:
    """Of the office's own catalogues."""
    terminal = next(k for k, t in enumerate(project.terminals) if t.air == "supply")
    terminals = list(project.terminals)
    terminals[terminal] = structs.replace(terminals[terminal], model="own-swirl")
    system = structs.replace(project.air_systems[0], fans=(FanChoice(way="supply", model="own-fan"),))
    return structs.replace(project, terminals=tuple(terminals), air_systems=(system, *project.air_systems[1:]))


def _plan(project: Project) -> Project:
    trunk = next(s for s in project.segments if s.air == "supply" and s.role == "trunk")
    ends = [next(p for p in project.duct_points if p.id == i) for i in (trunk.a, trunk.b)]
    x, y = (sum(getattr(p, n) for p in ends) / 2 for n in ("x_m", "y_m"))
    across = box(x - 0.4, y - 0.4, x + 0.4, y + 0.4)
    bottom = ends[0].z_m - project.levels[0].elevation_m - 0.2
    return structs.replace(
        project,
        plan_marks=(
            *project.plan_marks,
            PlanMark(id="block", kind="block", level_id="L0", outline=box(0, -8, 14, -5), height_m=6.0),
        ),
        ceiling_zones=(
            *project.ceiling_zones,
            CeilingZone(
                id="cz", name="Ceiling", level_id="L0", outline=across, ceiling_m=bottom - 0.2, soffit_m=bottom + 0.1
            ),
        ),
        obstacles=(
            Obstacle(
                id="beam",
                kind="beam",
                level_id="L0",
                outline=across,
                bottom_m=bottom,
                top_m=bottom + 0.5,
                sleeves=(Sleeve(at=(x, y), width_m=0.3, bottom_m=bottom, top_m=bottom + 0.45),),
            ),
        ),
        state_list=(
            ListRow(id="s1", name="Outdoor", kind="state", a="t", a_value=30.0, b="rh", b_value=0.4, flow_m3s=1.0),
            ListRow(id="s2", name="Indoor", kind="state", a="t", a_value=24.0, b="rh", b_value=0.5, flow_m3s=1.0),
            ListRow(id="p", name="Heated", kind="process", sources=(Source(row="s2"), Source(row="s1")), flow_m3s=0.5),
            ListRow(id="q", name="Needed", kind="flow", sources=(Source(row="s1"), Source(row="s2")), load_w=2000.0),
            ListRow(id="o", name="Outside", kind="outdoor", key="summer"),
            ListRow(
                id="m", name="Mixed", kind="mix", sources=(Source(row="s1", share=0.3), Source(row="s2", share=0.7))
            ),
        ),
    )
