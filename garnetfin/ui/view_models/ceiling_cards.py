"""Cards of what ducts must keep clear of: obstacles, ceiling zones."""

from garnetfin import display
from garnetfin.project.lookup import find
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import CardVM, Headline, Inputs, InputVM
from garnetfin.ui.view_models.findings import findings_section


def obstacle_card(state: State) -> CardVM:
    units, ids = state.show.units, state.selection.ids
    obstacle = find(state.project.obstacles, ids[0])
    unit = display.unit("length", units)
    hole = obstacle.sleeves[0].top_m - obstacle.sleeves[0].bottom_m if obstacle.sleeves else 0.0
    rows = (
        InputVM(edits.obstacle(ids[0], "kind"), "Kind", obstacle.kind, ""),
        *(
            InputVM(
                edits.obstacle(ids[0], name),
                label,
                display.figure("length", getattr(obstacle, name), units),
                unit,
                "plain",
                "length",
            )
            for name, label in (("bottom_m", "Lower edge"), ("top_m", "Upper edge"))
        ),
        InputVM(
            edits.obstacle(ids[0], "sleeve_m"),
            "Hole through it, height",
            display.figure("length", hole, units),
            unit,
            "plain",
            "length",
            tip="0: none",
        ),
    )
    return CardVM(
        "Obstacle",
        f"{obstacle.kind} {obstacle.id}",
        "heights above the floor" + (f" · from {obstacle.source}" if obstacle.source else ""),
        (),
        (Inputs("In the way", "", rows), *findings_section(state.results, "obstacle", ids)),
        ("Remove this obstacle", edits.remove_obstacles(ids)),
    )


def ceiling_zone_card(state: State) -> CardVM:
    units, ids = state.show.units, state.selection.ids
    zone = find(state.project.ceiling_zones, ids[0])
    unit = display.unit("length", units)
    rows = (
        InputVM(edits.ceiling_zone(ids[0], "name"), "Name", zone.name, ""),
        *(
            InputVM(
                edits.ceiling_zone(ids[0], name),
                label,
                display.figure("length", getattr(zone, name), units),
                unit,
                "plain",
                "length",
            )
            for name, label in (("ceiling_m", "Ceiling"), ("soffit_m", "Structure"), ("allowance_m", "Clearance"))
        ),
    )
    return CardVM(
        "Ceiling zone",
        zone.name,
        "heights above the floor",
        (
            Headline(
                "Free",
                display.figure("duct_size", zone.free_m, units),
                display.unit("duct_size", units),
                "for ducts",
                why=("free height", zone.id),
            ),
        ),
        (Inputs("Heights", "", rows),),
        ("Remove this zone", edits.remove_ceiling_zones(ids)),
    )
