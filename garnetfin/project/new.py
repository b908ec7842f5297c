"""A new project: one level, usual build-ups and glass, one air system, and an invented place until another is given."""

from garnetfin.project.fabric import BuildUp, BuildUpLayer, Glazing
from garnetfin.project.site import MonthConditions, Site
from garnetfin.project.spaces import Level
from garnetfin.project.systems import AirSystem, UnitPart
from garnetfin.project.tree import Project

# Dry bulb, coincident wet bulb, range, wet range, beam and sky clearness of the invented place, month by month.
_MONTHS = ((9.6, 7.6, 5.2, 2.4, .320, 2.560), (11.1, 8.6, 5.6, 2.5, .328, 2.538), (15.4, 11.4, 6.6, 2.9, .349, 2.481),
           (21.2, 15.3, 7.9, 3.3, .378, 2.402), (26.9, 19.1, 9.3, 3.8, .406, 2.326), (30.8, 21.7, 10.2, 4.1, .425, 2.273),
           (31.8, 22.4, 10.4, 4.2, .430, 2.260), (29.9, 21.1, 10.0, 4.0, .421, 2.286), (25.4, 18.1, 9.0, 3.7, .398, 2.347),
           (19.6, 14.2, 7.6, 3.2, .370, 2.424), (14.1, 10.6, 6.3, 2.8, .343, 2.498), (10.4, 8.1, 5.4, 2.5, .324, 2.548))


def layer(material: str, mm: float, conductivity: float = 0.0, name: str = "") -> BuildUpLayer:
    """A layer of a library material, thickness in mm."""
    return BuildUpLayer(material=material, thickness_m=mm / 1000, conductivity_w_mk=conductivity, name=name)


def usual_build_ups() -> tuple[BuildUp, ...]:
    """Of today's insulation; the ids are what derived walls and slabs look for."""
    board, air = layer("plasterboard_700", 12.5), BuildUpLayer(resistance_m2k_w=0.18, name="air gap")
    return (
        BuildUp(id="W1", name="W1 outside wall", layers=(board, layer("block_light", 200), layer("mineral_wool", 140),
                                                         layer("render_cement", 15))),
        BuildUp(id="P1", name="P1 partition", layers=(board, board, layer("mineral_wool", 50), board, board)),
        BuildUp(id="P2", name="P2 to unheated", layers=(board, layer("mineral_wool", 120, 0.045), board)),
        BuildUp(id="F1", name="F1 slab on ground", inside_absorptance=0.6,
                layers=(layer("linoleum", 4), layer("screed", 60), layer("xps", 120), layer("concrete_rf1", 200))),
        BuildUp(id="F2", name="F2 floor between", inside_absorptance=0.6,
                layers=(layer("linoleum", 4), layer("screed", 60), layer("mineral_wool_dense", 30),
                        layer("concrete_rf1", 180), air, board)),
        BuildUp(id="R1", name="R1 flat roof", absorptance=0.8,
                layers=(board, air, layer("concrete_rf1", 180), layer("pur", 160), layer("bitumen_felt", 8))))


def usual_system(system_id: str, name: str) -> AirSystem:
    """An air handling unit with its usual parts at usual pressure drops."""
    return AirSystem(
        id=system_id,
        name=name,
        rated_m3s=1.0,
        parts=(
            UnitPart(id="louvre", name="Outdoor louvre", pressure_pa=25),
            UnitPart(id="filter", name="Filter", pressure_pa=95, exponent=1.2),
            UnitPart(id="recovery", name="Heat recovery", pressure_pa=140, exponent=1.6),
            UnitPart(id="cooling", name="Cooling coil", pressure_pa=85, exponent=1.8),
            UnitPart(id="heating", name="Heating coil", pressure_pa=30, exponent=1.8),
            UnitPart(id="silencer", name="Silencer", pressure_pa=40),
        ),
    )


def new_project() -> Project:
    """Ready to draw rooms in; every assumption is by rule or stands in the tree to be changed."""
    default = "office book, typical declared values"
    return Project(
        name="New project",
        site=Site(name="Tern Point (invented)", latitude_deg=46.2, longitude_deg=0.0, altitude_m=9.0, utc_offset_h=0.0,
                  months=tuple(MonthConditions(dry_bulb_c=a, wet_bulb_c=b, range_k=c, wet_range_k=d, tau_b=e, tau_d=f)
                               for a, b, c, d, e, f in _MONTHS), note="An invented place until another is given."),
        levels=(Level(id="L0", name="Ground", elevation_m=0.0, storey_m=3.4),
                Level(id="L1", name="Upper", elevation_m=3.4, storey_m=3.4)),
        build_ups=usual_build_ups(),
        glazings=(Glazing(id="G1", name="coated double", u_w_m2k=1.3, g=0.50, tau_e=0.43, source=default),
                  Glazing(id="G2", name="solar control double", u_w_m2k=1.1, g=0.32, tau_e=0.28, source=default)),
        air_systems=(usual_system("ahu1", "AHU 1"),))
