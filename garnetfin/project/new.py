"""A new project: one level, usual build-ups and glass, one air system, and an invented place until another is given."""

from garnetfin.project.fabric import BuildUp, BuildUpLayer, Glazing
from garnetfin.project.parts import pattern_parts
from garnetfin.project.site import Site
from garnetfin.project.spaces import Level
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project


def layer(material: str, mm: float, conductivity: float = 0.0, name: str = "") -> BuildUpLayer:
    """A layer of a library material, thickness in mm."""
    return BuildUpLayer(material=material, thickness_m=mm / 1000, conductivity_w_mk=conductivity, name=name)


def usual_build_ups() -> tuple[BuildUp, ...]:
    """Of today's insulation; the ids are what derived walls and slabs look for."""
    board, air = layer("plasterboard_700", 12.5), BuildUpLayer(resistance_m2k_w=0.18, name="air gap")
    return (
        BuildUp(
            id="W1",
            name="W1 outside wall",
            layers=(board, layer("block_light", 200), layer("mineral_wool", 140), layer("render_cement", 15)),
        ),
        BuildUp(id="P1", name="P1 partition", layers=(board, board, layer("mineral_wool", 50), board, board)),
        BuildUp(id="P2", name="P2 to unheated", layers=(board, layer("mineral_wool", 120, 0.045), board)),
        BuildUp(
            id="F1",
            name="F1 slab on ground",
            layers=(layer("linoleum", 4), layer("screed", 60), layer("xps", 120), layer("concrete_rf1", 200)),
        ),
        BuildUp(
            id="F2",
            name="F2 floor between",
            layers=(
                layer("linoleum", 4),
                layer("screed", 60),
                layer("mineral_wool_dense", 30),
                layer("concrete_rf1", 180),
                air,
                board,
            ),
        ),
        BuildUp(
            id="R1",
            name="R1 flat roof",
            absorptance=0.8,
            layers=(
                board,
                air,
                layer("concrete_rf1", 180),
                layer("pvc", 0.5, name="vapour barrier"),
                layer("pur", 160),
                layer("bitumen_felt", 8),
            ),
        ),
    )


def usual_system(system_id: str, name: str) -> AirSystem:
    """An air handling unit with its usual parts at usual pressure drops."""
    return AirSystem(
        id=system_id,
        name=name,
        rated_m3s=1.0,
        parts=pattern_parts("cav_reheat"),
        heat="computed",
        boxes="chosen",
        coils="chosen",
    )


def new_project() -> Project:
    """Ready to draw rooms in; every assumption is by rule or stands in the tree to be changed."""
    default = "office standards, typical declared values"
    return Project(
        name="New project",
        site=Site(
            name="Tern Point (invented)",
            latitude_deg=46.2,
            longitude_deg=0.0,
            altitude_m=9.0,
            utc_offset_h=0.0,
            place_id="tern_point",
            note="An invented place until another is given.",
        ),
        levels=(
            Level(id="L0", name="Ground", elevation_m=0.0, storey_m=3.4),
            Level(id="L1", name="Upper", elevation_m=3.4, storey_m=3.4),
        ),
        build_ups=usual_build_ups(),
        glazings=(
            Glazing(id="G1", name="coated double", u_w_m2k=1.3, g=0.50, tau_e=0.43, source=default),
            Glazing(id="G2", name="solar control double", u_w_m2k=1.1, g=0.32, tau_e=0.28, source=default),
        ),
        air_systems=(usual_system("ahu1", "AHU 1"),),
    )
