"""Which card belongs to what is selected and to the view in hand."""

from garnetfin import display
from garnetfin.engine.results import Missing, Point, there
from garnetfin.project.lookup import find
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.building import face_card, level_card, underlay_card, zone_card
from garnetfin.ui.view_models.card import CardVM, Headline, Inputs, InputVM, Line, Lines
from garnetfin.ui.view_models.ceiling_cards import ceiling_zone_card, obstacle_card
from garnetfin.ui.view_models.duct_cards import segment_card, terminal_card
from garnetfin.ui.view_models.ducts import ducts_card
from garnetfin.ui.view_models.findings import findings_section
from garnetfin.ui.view_models.inline import inline_card
from garnetfin.ui.view_models.load_cards import block_card
from garnetfin.ui.view_models.openings import opening_card
from garnetfin.ui.view_models.papers import papers_card
from garnetfin.ui.view_models.rooms import room_card
from garnetfin.ui.view_models.systems import fan_card, part_card, system_card


def card(
    state: State,
    month: int = 6,
    block: tuple | None = None,
    pages: int = 0,
    made: str = "",
    contents: frozenset[str] = frozenset(),
    layers: tuple[str, ...] = (),
    year=None,
    point=None,
    moved=None,
    files: tuple[str, ...] = (),
) -> CardVM:
    """`block`:

    (Block or Missing, name) of what Loads looks at; `contents` of underlays that are there, `layers` of the chosen one.
    """
    if not state.known:
        return CardVM("", state.project.name, "Computing …")
    kind, link = state.selection.kind, state.show.link
    ids = state.selection.ids
    if link == "Climate":
        from garnetfin.ui.view_models.climate import site_card  # with the year's engine, which only Climate needs

        return site_card(state, month, year)
    if link == "Documents":
        return papers_card(state, pages, made, moved, files)
    if link == "Fan":
        return fan_card(state)
    known = {"room": state.project.rooms, "segment": state.project.segments, "terminal": state.project.terminals}
    gone = kind in known and not any(find(known[kind], i) for i in ids)
    if kind == "segment" and not gone and link in ("Ducts", "Balance"):
        return segment_card(state)
    if kind == "terminal" and not gone and link in ("Ducts", "Balance"):
        return terminal_card(state)
    if kind == "inline" and link in ("Air", "Ducts", "Balance"):
        return inline_card(state)
    if kind == "terminal" and not gone and link == "Air":
        from garnetfin.ui.view_models.terminals import terminal_air_card  # only Air needs it

        return terminal_air_card(state)
    if kind == "obstacle" and link == "Ducts" and find(state.project.obstacles, ids[0]) is not None:
        return obstacle_card(state)
    if kind == "ceiling zone" and link == "Ducts" and find(state.project.ceiling_zones, ids[0]) is not None:
        return ceiling_zone_card(state)
    if kind == "opening" and link == "Building":
        return opening_card(state)
    if kind == "face" and link == "Building":
        return face_card(state)
    if kind == "level" and link == "Building":
        return level_card(state)
    if kind == "zone" and link in ("Building", "Loads", "Air"):
        return zone_card(state)
    if kind in ("fabric set", "block") and link == "Building":
        from garnetfin.ui.view_models import fabric

        return (fabric.fabric_set_card if kind == "fabric set" else fabric.mark_card)(state)
    if kind == "underlay" and link == "Building":
        return underlay_card(state, contents, layers)
    if (
        kind == "room"
        and not gone
        and link in ("Building", "Loads", "Air", "Ducts", "Balance")
        and (link != "Loads" or state.show.scope == "room" or len(ids) == 1)
    ):
        return room_card(state)
    if link == "Loads" and block is not None:
        return block_card(state, *block)
    if link == "Air":
        if (
            kind == "part"
            and isinstance(point, Point)
            and state.system is not None
            and find(state.system.parts, ids[0]) is not None
        ):
            return part_card(state, point)
        if kind == "state row" and find(state.project.state_list, ids[0]) is not None:
            from garnetfin.ui.view_models.state_list import answered, row_card  # only Air needs it

            return row_card(state, answered(state, point))
        return system_card(state)
    if link in ("Ducts", "Balance"):
        return ducts_card(state)
    return building_card(state)


def building_card(state: State) -> CardVM:
    """Nothing selected in Building: the building as a whole."""
    project, results, units = state.project, state.results, state.show.units
    found = [results.room(r.id) for r in project.rooms if results.room(r.id)]
    area = sum(r.figures.area_m2.figure for r in found)
    served = [r for r in project.rooms if r.system_id]
    glass = sum(f.area_m2 for r in found for f in r.faces if f.kind in ("window", "glass wall"))
    walls = sum(f.area_m2 for r in found for f in r.faces if f.kind == "wall" and f.to == "outdoors")
    block = results.blocks[""]
    heads = (
        Headline(
            "Floor",
            display.figure("area", area, units, 0),
            display.unit("area", units),
            f"{len(project.rooms)} rooms",
            why=("floor",),
        ),
        Headline(
            "Glass",
            display.figure("area", glass, units, 0),
            display.unit("area", units),
            f"{glass / (glass + walls):.0%} of walls" if glass + walls else "",
            why=("glass",),
        ),
    )
    if not isinstance(block, Missing) and served:
        served_area = sum(there(results.room(r.id)).figures.area_m2.figure for r in served if results.room(r.id))
        heads += (
            Headline(
                "Cooling",
                display.figure("power_density", block.peak_w / served_area, units, 0),
                display.unit("power_density", units),
                "at its worst hour",
                why=("block", block.room_ids, "cooling"),
            ),
        )
    levels = tuple(
        Line(
            f"{x.name}  {display.with_unit('length', x.elevation_m, units)}",
            str(sum(r.level_id == x.id for r in project.rooms)),
            "rooms",
            target=("level", x.id),
            why=("rooms of", "level_id", x.id),
        )
        for x in project.levels
    )
    zones = tuple(
        Line(
            z.name,
            str(sum(r.zone_id == z.id for r in project.rooms)),
            "rooms",
            target=("zone", z.id),
            why=("rooms of", "zone_id", z.id),
        )
        for z in project.zones
    )
    facades = tuple(
        Line(
            display.direction(f.facing_deg),
            f"{f.glass_m2 / f.wall_m2 * 100:.0f}",
            "% glass",
            why=("glass", f.facing_deg),
        )
        for f in results.building.facades
    )
    below = tuple(
        Line(u.name[:30], "shown" if u.visible else "hidden", target=("underlay", u.id)) for u in project.underlays
    )
    blocks = tuple(
        Line(
            f"{b.label} {b.id}",
            *(
                (display.figure("length", b.height_m, units), display.unit("length", units))
                if b.kind == "block"
                else (display.figure("area", b.area_m2, units), display.unit("area", units))
            ),
            target=("block", b.id),
        )
        for b in project.plan_marks
        if b.kind in ("block", "shaft", "void")
    )
    sets = tuple(Line(s.name, "", target=("fabric set", s.id)) for s in project.fabric_sets)
    basis = InputVM(
        edits.area_basis(),
        "Areas",
        "",
        "",
        "plain",
        choices=(("centre", "on wall centre lines"), ("net", "net, between walls")),
        chosen=project.area_basis,
    )
    ranked = sorted((r for r in served if results.room(r.id)), key=lambda r: -there(results.room(r.id)).peak_w)[:8]
    rows = tuple(
        Line(
            f"{r.number} {r.name}",
            display.figure("load", there(results.room(r.id)).peak_w, units),
            display.unit("load", units),
            target=("room", r.id),
            why=("room", r.id, "cooling"),
        )
        for r in ranked
    )
    return CardVM(
        "Building",
        project.name,
        f"{len(served)} rooms served, {len(project.rooms) - len(served)} unconditioned",
        heads,
        (
            Lines("Levels", "click for heights", levels),
            *((Lines("Zones", "click for set-points", zones),) if zones else ()),
            *((Lines("Glass by facade", "", facades),) if facades else ()),
            *((Lines("Below the plan", "", below),) if below else ()),
            *((Lines("Blocks, shafts, voids", "click for measures", blocks),) if blocks else ()),
            *((Lines("Fabric sets", "click to apply", sets),) if sets else ()),
            Inputs("Measured", "for the whole building", (basis,)),
            *((Lines("Greatest cooling loads", "click to select", rows[:5]),) if rows else ()),
            *findings_section(results, "", (), "Building"),
        ),
    )
