"""The card of a window or door: its glass, its shade, what the sun brings through it."""

from garnetfin import display
from garnetfin.core.tables import glass_types
from garnetfin.project.lookup import find
from garnetfin.project.values import Rule
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import CardVM, Headline, Inputs, InputVM, Line, Lines
from garnetfin.ui.view_models.findings import findings_section

GLASS_ROWS = (
    ("u_w_m2k", "U-value, whole", "u_value"),
    ("g", "Sun factor g", "plain"),
    ("tau_e", "Transmittance", "plain"),
    ("frame_share", "Share of frame", "fraction"),
    ("frame_u_w_m2k", "U-value of frame", "u_value"),
)


SHADE_ROWS = (("tau", "Lets through", "fraction"), ("rho", "Reflects", "fraction"))


def _glazing(state: State, glazing) -> list[Inputs]:
    """The glazing that all its windows share, and its shade with the rule that closes it."""
    units, project = state.show.units, state.project
    count = sum(o.glazing_id == glazing.id for w in project.walls for o in w.openings)
    rows = [InputVM(edits.glazing_value(glazing.id, "name"), "Name", glazing.name, "", "plain")]
    rows += [
        InputVM(
            edits.glazing_value(glazing.id, f),
            label,
            display.figure(q, getattr(glazing, f), units),
            display.unit(q, units),
            "plain",
            q,
            tip=glazing.source,
        )
        for f, label, q in GLASS_ROWS
    ]
    rows.append(
        InputVM(
            edits.add_glazing(),
            "Add another",
            "",
            "",
            "plain",
            choices=(("", "from the library …"), *((g.id, g.name) for g in glass_types().values())),
            chosen="",
        )
    )
    shade = glazing.shade
    kinds = (("", "none"), ("inside", "inside blind"), ("outside", "outside blind"))
    blinds = [
        InputVM(
            edits.shade(glazing.id, "kind"),
            "Shade",
            "",
            "",
            "plain",
            choices=kinds,
            chosen="" if shade is None else "outside" if shade.outside else "inside",
        )
    ]
    if shade is not None:
        blinds += [
            InputVM(
                edits.shade(glazing.id, f),
                label,
                display.figure(q, getattr(shade, f), units),
                display.unit(q, units),
                "plain",
                q,
            )
            for f, label, q in SHADE_ROWS
        ]
        blinds.append(
            InputVM(
                edits.shade(glazing.id, "rule"),
                "Closed",
                "",
                "",
                "plain",
                choices=(
                    ("sun", "with sun on the face"),
                    ("always", "always"),
                    ("never", "never"),
                    ("hours", "between two hours"),
                ),
                chosen=shade.rule,
            )
        )
        if shade.rule == "sun":
            blinds.append(
                InputVM(
                    edits.shade(glazing.id, "limit_w_m2"),
                    "Sun above",
                    display.figure("irradiance", shade.limit_w_m2, units),
                    display.unit("irradiance", units),
                    "plain",
                    "irradiance",
                )
            )
        if shade.rule == "hours":
            blinds += [
                InputVM(edits.shade(glazing.id, f), label, str(getattr(shade, f)), "h", "plain", "hours")
                for f, label in (("from_h", "From"), ("to_h", "To"))
            ]
    return [
        Inputs("Glazing", f"{count} window{'s' if count != 1 else ''} share it", tuple(rows)),
        Inputs("Shade", "blind or screen", tuple(blinds)),
    ]


def opening_card(state: State) -> CardVM:
    """A window or door: measures, glazing, and what it does to its room."""
    project, results, units = state.project, state.found, state.show.units
    wall_id, _, opening_id = state.selection.ids[0].partition("/")
    wall = find(project.walls, wall_id)
    opening = next((o for o in wall.openings if o.id == opening_id), None) if wall else None
    if opening is None:
        return CardVM("Opening", "Gone", "It is no longer in the project")
    room = find(project.rooms, wall.room_a)
    place = display.direction(wall.facing_deg) if wall.outside else "inside"
    ids = (wall_id, opening_id)

    def reach(name: str, label: str) -> InputVM:
        value = getattr(opening, name)
        by_rule = isinstance(value, Rule)
        return InputVM(
            edits.opening_end(ids[0], ids[1], name),
            label,
            "without end" if by_rule else display.figure("length", value.value, units),
            "" if by_rule else display.unit("length", units),
            "rule" if by_rule else "pinned",
            "length",
            tip="empty: without end",
        )

    def measure(name: str, label: str) -> InputVM:
        return InputVM(
            edits.opening(ids[0], ids[1], name),
            label,
            display.figure("length", getattr(opening, name), units),
            display.unit("length", units),
            "plain",
            "length",
        )

    rows = [
        measure("width_m", "Width"),
        measure("sill_m", "Sill"),
        measure("head_m", "Head"),
        measure("at_m", "Middle, along the wall"),
    ]
    headlines = [
        Headline(
            "Area",
            display.figure("area", opening.area_m2, units),
            display.unit("area", units),
            place,
            why=("opening", wall_id, opening.id, "area"),
        )
    ]
    sections: list = []
    if opening.glazing_id:
        glazing = find(project.glazings, opening.glazing_id)
        rows += [
            measure("reveal_m", "Reveal"),
            measure("overhang_m", "Overhang"),
            measure("overhang_gap_m", "Gap below overhang"),
            measure("fin_left_m", "Fin, left outside"),
            measure("fin_right_m", "Fin, right outside"),
        ]
        if opening.overhang_m > 0:
            rows[-2:-2] = [
                reach("overhang_left_m", "Overhang past left jamb"),
                reach("overhang_right_m", "Overhang past right jamb"),
            ]
        if opening.fin_left_m > 0 or opening.fin_right_m > 0:
            rows += [
                measure("fin_gap_m", "Gap, jamb to fin"),
                reach("fin_above_m", "Fins above the head"),
                reach("fin_below_m", "Fins below the sill"),
            ]
        rows.append(
            InputVM(
                edits.glazing_of(ids),
                "Glazing",
                glazing.name,
                "",
                "plain",
                choices=tuple((g.id, f"{g.name} (g {g.g:.2f})") for g in project.glazings),
                chosen=opening.glazing_id,
            )
        )
        headlines += [
            Headline(
                "U-value",
                display.figure("u_value", glazing.u_w_m2k, units),
                display.unit("u_value", units),
                "whole window",
                why=("opening", wall_id, opening.id, "u"),
            ),
            Headline("g-value", f"{glazing.g:.2f}", "", "glass alone", why=("opening", wall_id, opening.id, "g")),
        ]
    sections.append(Inputs("Measures", "typed", tuple(rows)))
    if opening.glazing_id:
        sections += _glazing(state, glazing)
    found = results.room(room.id) if results and room else None
    if found:
        sections.append(
            Lines(
                "Its room",
                f"{room.number}",
                (
                    Line(
                        "Cooling load",
                        display.figure("load", found.peak_w, units),
                        display.unit("load", units),
                        target=("room", room.id),
                        why=("room", room.id, "cooling"),
                    ),
                    Line(
                        "of it sun through glass",
                        display.figure("load", found.cause_w("solar through glass"), units),
                        display.unit("load", units),
                        why=("cause", room.id, "solar through glass", *found.peak),
                    ),
                ),
            )
        )
        sections += findings_section(results, "room", (room.id,))
    return CardVM(
        f"{opening.kind.capitalize()} {opening.id} · wall {wall_id}",
        f"{display.figure('length', opening.width_m, units)} × {display.with_unit('length', opening.height_m, units)}",
        f"{room.number} {room.name}, {place.lower()}" if room else place,
        tuple(headlines),
        tuple(sections),
        ("Remove this opening", edits.remove_opening(ids[0], ids[1])),
    )
