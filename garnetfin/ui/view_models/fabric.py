"""What the build-up editor shows: list, section, layers, and the cards of fabric sets and blocks beside."""

from garnetfin import display
from garnetfin.core.errors import InputError
from garnetfin.core.tables import materials
from garnetfin.core.units import to_shown
from garnetfin.engine.layout.sections import Looked, layer_name, look, used_area
from garnetfin.engine.stages.faces import core_layers
from garnetfin.project.fabric import SET_KINDS, BuildUp
from garnetfin.project.lookup import find
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import CardVM, Headline, Inputs, InputVM, Line, Lines
from garnetfin.ui.view_models.chart_data import SectionVM
from garnetfin.ui.view_models.tables import Cell, Column, Row, TableVM

KIND_WORDS = {
    "wall": "Outside walls",
    "partition": "Inside walls",
    "to_unheated": "Walls to unheated",
    "roof": "Roofs",
    "ground": "Floors on ground",
    "exposed": "Floors to outdoors",
    "between": "Floors between",
    "glazing": "Windows",
}


def build_up_table(state: State) -> TableVM:
    units, rows = state.show.units, []
    for b in state.project.build_ups:
        area, _ = used_area(state.project, b.id)
        looked = look(state.results, b)
        wet = bool(looked.section and looked.section.wet)
        rows.append(
            Row(
                "build-up",
                b.id,
                (
                    Cell(b.name, edit=edits.build_up(b.id, "name")),
                    Cell(
                        display.figure("u_value", looked.answer.u_w_m2k, units) if looked.answer else display.DASH,
                        tone="watch" if wet else "",
                        why=("build-up", b.id, "u", looked.answer.u_w_m2k) if looked.answer else (),
                    ),
                    Cell(
                        display.figure("area", area, units, 0) if area else "unused",
                        tone="" if area else "faint",
                        italic=not area,
                        why=("build-up", b.id, "area"),
                    ),
                ),
            )
        )
    return TableVM(
        (
            Column("Build-up", width=96, left=True, stretch=True),
            Column("U", display.unit("u_value", units), 76),
            Column("In use", display.unit("area", units), 68),
        ),
        tuple(rows),
    )


def layer_table(state: State, build_up: BuildUp) -> TableVM:
    units, rows = state.show.units, []
    own = {m.id: m for m in state.project.book.materials}
    for i, layer in enumerate(build_up.layers):
        key = (build_up.id, i)
        known = own.get(layer.material) or materials().get(layer.material)
        massive = bool(layer.material) or layer.own
        k = layer.conductivity_w_mk or (known.conductivity_w_mk if known else 0.0)
        r = layer.thickness_m / k if massive and k else layer.resistance_m2k_w
        rows.append(
            Row(
                "layer",
                str(i),
                (
                    Cell(layer_name(state.project, layer)),
                    Cell(
                        display.figure("duct_size", layer.thickness_m, units, 1 if units == "SI" else 2)
                        if layer.thickness_m
                        else display.DASH,
                        edit=edits.layer(key[0], key[1], "thickness_m"),
                        quantity="duct_size",
                    ),
                    Cell(
                        display.figure("conductivity", k, units) if massive else display.DASH,
                        origin="pinned" if layer.conductivity_w_mk and known else "",
                        edit=edits.layer(key[0], key[1], "conductivity_w_mk") if massive else None,
                        quantity="conductivity",
                    ),
                    Cell(
                        display.figure("resistance", r, units, 2),
                        edit=None if massive else edits.layer(key[0], key[1], "resistance_m2k_w"),
                        quantity="resistance",
                    ),
                ),
            )
        )
    return TableVM(
        (
            Column("Layer, inside first", width=112, left=True, stretch=True),
            Column("", display.unit("duct_size", units), 60),
            Column("", display.unit("conductivity", units), 70),
            Column("R", display.unit("resistance", units), 84),
        ),
        tuple(rows),
    )


def section_vm(state: State, build_up: BuildUp, looked: Looked, chosen: int) -> SectionVM:
    units = state.show.units
    try:
        layers = core_layers(build_up, state.project.book)
    except InputError:
        layers = ()
    kinds, shades = [], []
    for i, layer in enumerate(build_up.layers):
        found = layers[i] if i < len(layers) else None
        massive = found is not None and not found.resistance_m2k_w
        kinds.append(
            "gap"
            if not layer.material and not layer.own
            else "insulation"
            if massive and found.conductivity_w_mk < 0.1
            else "solid"
        )
        shades.append(min(0.5, found.density_kg_m3 / 2600 * 0.5) if massive else 0.15)
    s = looked.section

    def shown(values) -> tuple[float, ...]:
        return tuple(float(to_shown("temperature", float(v), units)) for v in values)

    return SectionVM(
        tuple(layer_name(state.project, x) for x in build_up.layers),
        looked.thickness_m,
        tuple(kinds),
        tuple(shades),
        tuple(display.figure("duct_size", t, units, 0 if units == "SI" else 1) for t in looked.thickness_m),
        shown(s.temperature_c) if s else (),
        shown(s.dew_point_c) if s else (),
        s.wet if s else (),
        looked.outside or looked.area_m2 == 0,
        chosen,
    )


def answer_words(state: State, looked: Looked) -> tuple[str, str]:
    """Two lines: the steady figures, and what the build-up does through a day."""
    units, a = state.show.units, looked.answer
    if a is None:
        return looked.fault, ""
    return (
        f"U {display.with_unit('u_value', a.u_w_m2k, units)} · "
        f"{display.with_unit('areal_mass', a.mass_kg_m2, units)} · stores "
        f"{display.with_unit('areal_heat', a.heat_kj_m2k * 1000, units)}",
        f"admittance {display.figure('u_value', a.admittance_w_m2k, units)}, {a.lead_h:.1f} h ahead · decrement "
        f"{a.decrement:.2f}, "
        f"{a.lag_h:.1f} h late",
    )


def fabric_set_card(state: State) -> CardVM:
    """A set: what each kind of face gets, and where it is applied."""
    project = state.project
    found = find(project.fabric_sets, state.selection.ids[0])
    if found is None:
        return CardVM("Fabric set", "Gone", "It is no longer in the project")
    rows = [InputVM(edits.fabric_set(found.id, "name"), "Name", found.name, "", "plain")]
    for kind in (*SET_KINDS, "glazing"):
        known = project.glazings if kind == "glazing" else project.build_ups
        rows.append(
            InputVM(
                edits.fabric_set(found.id, kind),
                KIND_WORDS[kind],
                "",
                "",
                "plain",
                choices=(("", "left as they are"), *((x.id, x.name) for x in known)),
                chosen=getattr(found, kind),
            )
        )
    by_hand = sum(w.own_fabric for w in project.walls) + sum(s.own_fabric for s in project.slabs)
    scopes = [
        ("", "choose where …"),
        ("all", "the whole building"),
        *((f"level {x.id}", f"{x.name} level") for x in project.levels),
        *((f"zone {z.id}", z.name) for z in project.zones),
    ]
    where = InputVM(edits.apply_set(found.id), "Apply to", "", "", "plain", choices=tuple(scopes), chosen="")
    return CardVM(
        "Fabric set",
        found.name,
        "gives build-ups and glazing to many faces at once",
        (),
        (
            Inputs("What each kind gets", "choose", tuple(rows)),
            Inputs("Apply", "one undoable step", (where,)),
            Lines(
                "Chosen by hand",
                "stay as they are",
                (
                    Line("Walls, roofs and floors", str(by_hand)),
                    Line("Windows", str(sum(o.own_glazing for w in project.walls for o in w.openings))),
                ),
            ),
        ),
        ("Remove this set", edits.remove_set(found.id)),
    )


def mark_card(state: State) -> CardVM:
    """A block beside, which casts shadows, a shaft or a void."""
    mark = find(state.project.plan_marks, state.selection.ids[0])
    units = state.show.units
    if mark is None:
        return CardVM("Surrounding building", "Gone", "It is no longer in the project")
    xs, ys = [p[0] for p in mark.outline], [p[1] for p in mark.outline]
    height = InputVM(
        edits.block(mark.id),
        "Height",
        display.figure("length", mark.height_m, units),
        display.unit("length", units),
        "plain",
        "length",
    )
    return CardVM(
        {"block": "Surrounding building", "shaft": "Shaft", "void": "Void"}.get(mark.kind, "Mark"),
        mark.label or mark.id,
        {"block": "casts shadows on windows", "shaft": "walls to it take no heat", "void": "no floor here"}.get(
            mark.kind, ""
        ),
        (
            Headline("Width", display.figure("length", max(xs) - min(xs), units), display.unit("length", units)),
            Headline("Depth", display.figure("length", max(ys) - min(ys), units), display.unit("length", units)),
        ),
        (Inputs("Measures", "typed", (height,)),) if mark.kind == "block" else (),
        ("Remove it", edits.remove_mark(mark.id)),
    )
