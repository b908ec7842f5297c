"""Why? of equipment: what a piece has to do, what it then does, and which models were looked at before it.

An address is ("equipment", schedule, id, column).
"""

from collections.abc import Callable
from typing import Any

from garnetfin.core.equipment.boxes import TEST_PA
from garnetfin.core.equipment.plant import MachineTried
from garnetfin.core.equipment.unit_choice import Tried
from garnetfin.engine.equipment.records import BoxRecord, CoilRecord, MachineRecord, Refused, RoomUnitRecord, UnitRecord
from garnetfin.engine.equipment.schedules import COLUMNS, schedule
from garnetfin.engine.explain.derivation import (
    Address,
    Contribution,
    NotThere,
    Term,
    Why,
    among,
    first,
    given_figure,
    most,
    present,
)
from garnetfin.engine.explain.inline import part_in_duct
from garnetfin.engine.results import AirResult, Results

Parts = tuple[Contribution, ...]
# What a figure rests on where no equation of its own is written for it.
SOURCES = {
    "boxes": {
        "inlet_m": "catalogue of boxes",
        "coil_rows": "catalogue of boxes",
        "leave_c": "heating set-point and rise of the office standards, at most their warmest air; or as typed",
        "water_in_c": "office standards, flow of the heating water",
        "water_pa": "catalogue of boxes, with the 1.8th power of its water",
        "mass_kg": "catalogue of boxes",
    },
    "coils": {
        "rows": "the fewest rows that leave the air as it is wanted",
        "circuits": "those with the fastest water within its limits of speed and pressure",
        "air_in_c": "the air system at that hour, in front of the coil",
        "air_out_c": "the air system at that hour, behind the coil",
        "face_m_s": "dry air at 1.2 kg/m³ on the finned face",
        "water_m_s": "its water in the tubes of one row of circuits",
        "air_pa": "catalogue of coils: a row at 2.5 m/s, its exponent, more where wet",
        "water_pa": "tubes, bends and headers; smooth tubes, turbulent after Gnielinski",
        "kv": "a valve that loses as much as the coil",
    },
    "units": {
        "outside_pa": "the run with the greatest loss of its supply ducts",
        "arrangement": "catalogue of casings",
        "width_m": "inner width and walls of its decks",
        "height_m": "inner height, walls and base frame of its decks",
        "mass_kg": "its sections, and the room to reach them at the mass of an access section",
        "pieces": "pieces of 2.4 m at most",
        "clear_m": "its height and 0.6 m above it",
        "lacks_long_m": "its floor with the space its service takes, less the longest that fits at its width",
        "lacks_wide_m": "its floor with the space its service takes, less the widest that fits at its length",
        "lacks_high_m": "the height it wants, less the ceiling of its room",
        "recovery": "of the heat recovery at equal flows",
        "duct_dba": "of the supply fan, less the sections behind it but for silencers",
        "casing_dba": "of the supply fan, less what the walls take",
        "inner_w_m3s": "filters and recovery on both sides, at the fans’ efficiencies",
    },
    "room_units": {
        "count": "the fewest that serve",
        "primary_m3s": "supply air of the room at that hour",
        "water_in_c": "office standards; cold surfaces and beams 8 K milder than coils",
        "dew_c": "of the room’s air with that unit at work",
        "room_rh": "of the room’s air with that unit at work",
        "sound_dba": "sound power of all its units, by the catalogue",
        "air_m3s": "catalogue of room units",
        "length_m": "catalogue of room units, all in a row",
    },
    "machines": {
        "water_c": "office standards",
        "back_c": "office standards",
        "each_w": "catalogue of machines: nominal, by its water and what is around it",
        "amps": "its input on three phases of 400 V, cos φ 0.85",
        "part_75": "catalogue of machines, at three quarters of its load",
        "part_50": "catalogue of machines, at half of its load",
        "part_25": "catalogue of machines, at a quarter of its load",
        "standby": "as fixed; none by rule",
        "sound_dba": "catalogue of machines",
        "floor_m2": "each with room to serve it on every side",
        "room_m2": "a quarter more than its floor, 8 m² and 0.01 m² per kW for pumps, vessels and boards",
    },
    "silencers": {
        "air_m3s": "of the unit at its greatest hour",
        "drop_pa": "catalogue of silencers, on the whole face of the section",
        "own_dba": "of its own flow, by the catalogue",
    },
    "shafts": {
        "flow_m3s": "of all rooms on this level and beyond it, seen from the units",
        "width_m": "its ducts in one row or two, 0.10 m between them and at the ends",
        "depth_m": "the deepest duct, 0.05 m behind and 0.15 m in front of it",
        "free_m2": "the smaller of one row of ducts and two",
        "drawn_m2": "shafts drawn on this level",
    },
    "pumps": {"pipe_m": "early: 0.8 of the root of the floor, and the storeys", "power_w": "at an efficiency of 0.6"},
}


def equipment_why(results: Results, key: str, item_id: str, column: str) -> Why:
    """A figure of a piece. Raises NotThere where it is gone."""
    if key == "inline":
        return part_in_duct(results, item_id, "pressure_pa" if column == "model" else column)
    of = results.equipment
    columns = among(COLUMNS, key)
    at = first(c for c in columns if c.key == column)
    try:
        shown = schedule(results, key)
        figure, tag = shown.cell(item_id, column), str(shown.cell(item_id, "tag"))
    except LookupError:
        raise NotThere from None
    held: Any = {
        "boxes": of.boxes,
        "coils": of.coils,
        "units": of.units,
        "room_units": of.room_units,
        "machines": of.machines,
        "pumps": of.machines,
        "silencers": of.silencers,
        "shafts": of.shafts,
    }[key]
    record = among(held, item_id)
    if column == "model":
        return _model(tag, str(figure), record)
    if isinstance(figure, str):
        raise NotThere
    name = f"{at.name}, {tag}"
    maker = _OWN.get((key, column))
    if maker is not None:
        return maker(results, record, name)
    return Why(name, float(figure), at.quantity or "plain", (), (), SOURCES.get(key, {}).get(column, "its catalogue"))


def _model(tag: str, model: str, record: Any) -> Why:
    """Which models were looked at before the one that stands there."""
    tried = getattr(record, "tried", ())
    parts = most([p for t in tried if (p := _refused(t)) is not None])
    by_rule = "the first in the order of the catalogue that keeps every limit"
    words = "pinned; what it breaks is told, and it is never replaced" if record.pinned else by_rule
    return Why(f"{model} for {tag}", float(len(parts) + 1), "count", (words,), parts, "catalogue")


def _refused(tried: Any) -> Contribution | None:
    if isinstance(tried, Refused):
        return Contribution(tried.model or "Not looked for", tried.value, tried.quantity, (), tried.why)
    if isinstance(tried, Tried) and tried.why:
        return Contribution(f"{tried.count} × {tried.row}", tried.value, "plain", (), tried.why)
    if isinstance(tried, MachineTried) and tried.why:
        return Contribution(tried.model.model, tried.each_w, "load", (), tried.why)
    return None


# -- flow boxes ---------------------------------------------------------------------------------------------------
def _air(results: Results, system_id: str) -> AirResult:
    return among(results.air, system_id)


def _rooms_flow(box: BoxRecord) -> Parts:
    return tuple(Contribution("Supply air of its room", box.most_m3s, "room_flow", ("flow", r)) for r in box.room_ids)


def _box_most(results: Results, box: BoxRecord, name: str) -> Why:
    del results
    words = "supply air of its room" if len(box.room_ids) == 1 else "the greatest that its rooms ask for at one hour"
    parts = _rooms_flow(box) if len(box.room_ids) == 1 else ()
    return Why(name, box.most_m3s, "room_flow", (words,), parts)


def _box_least(results: Results, box: BoxRecord, name: str) -> Why:
    del results
    return given_figure(name, "room_flow", box.least, ("room", box.room_ids[0]))


def _box_heating(results: Results, box: BoxRecord, name: str) -> Why:
    heat = _air(results, box.system_id).heat_j_m3k
    if box.need_m3s <= 0 or box.heating.origin == "pinned":
        return given_figure(name, "room_flow", box.heating, ("room", box.room_ids[0]))
    lift = box.heat_w / (heat * box.need_m3s)
    return Why(
        name,
        box.heating.figure,
        "room_flow",
        (
            Term(box.heat_w, "power"),
            f" / ({heat:.0f} J/m³K × ",
            Term(lift, "temperature_difference"),
            ") = ",
            Term(box.need_m3s, "room_flow"),
            ", not below the least flow nor above the greatest",
        ),
        (
            Contribution("Least flow", box.least.figure, "room_flow"),
            Contribution("Greatest flow", box.most_m3s, "room_flow"),
        ),
        box.heating.source,
    )


def _box_drop(results: Results, box: BoxRecord, name: str) -> Why:
    del results
    model = present(box.model)
    x = box.most_m3s / model.reference_m3s
    return Why(
        name,
        box.drop_pa,
        "pressure",
        (Term(model.open_drop_pa, "pressure"), f" × {x:.2f}² + the coil’s"),
        (Contribution("Open box", box.box_pa, "pressure"), Contribution("Its coil", box.coil_pa, "pressure")),
        "catalogue of boxes, at the greatest flow",
    )


def _box_reheat(results: Results, box: BoxRecord, name: str) -> Why:
    del results
    return Why(
        name,
        box.reheat_w,
        "power",
        ("the greatest that the air system gives at the terminals of its rooms, winter design day included",),
        (
            Contribution("Its coil gives at most", box.gives_w, "power"),
            Contribution("Air at that hour", box.reheat_m3s, "room_flow"),
        ),
    )


def _box_leaving(results: Results, box: BoxRecord, name: str) -> Why:
    heat = _air(results, box.system_id).heat_j_m3k
    leaving = box.supply_c + box.reheat_w / max(box.reheat_m3s, 1e-9) / heat
    return Why(
        name,
        leaving,
        "temperature",
        (
            Term(box.supply_c, "temperature"),
            " + ",
            Term(box.reheat_w, "power"),
            f" / ({heat:.0f} J/m³K × ",
            Term(box.reheat_m3s, "room_flow"),
            ")",
        ),
    )


def _box_back(results: Results, box: BoxRecord, name: str) -> Why:
    del results
    water = present(box.water)
    return Why(
        name,
        water.back_c,
        "temperature",
        (Term(box.hot_c, "temperature"), " less the reheat over the heat its water carries"),
        (Contribution("Reheat", box.reheat_w, "power"), Contribution("Water", water.flow_kg_s, "mass_flow")),
    )


def _box_water(results: Results, box: BoxRecord, name: str) -> Why:
    del results
    water = present(box.water)
    return Why(
        name,
        water.flow_kg_s / 998.0,
        "water_flow",
        ("what its coil needs to give just the reheat",),
        (Contribution("At the catalogue’s flow it gives", box.gives_w, "power"),),
    )


def _box_sound(side: str) -> Callable[[Results, BoxRecord, str], Why]:
    def made(results: Results, box: BoxRecord, name: str) -> Why:
        del results
        model = present(box.model)
        figure = box.radiated_nc if side == "radiated" else box.discharge_nc
        return Why(
            name,
            figure,
            "plain",
            (
                f"sound power of the catalogue at {TEST_PA:.0f} Pa, + {model.flow_db:g} lg(flow / reference)"
                f" + {model.pressure_db:g} lg(pressure / {TEST_PA:.0f} Pa), less a usual path to the room",
            ),
            (
                Contribution("Flow", box.most_m3s, "room_flow"),
                Contribution("Reference flow", model.reference_m3s, "room_flow"),
                Contribution("Limit", box.limit_nc, "plain", ("book", "noise_nc")),
            ),
        )

    return made


# -- coils, units, room units, machines ----------------------------------------------------------------------------
def _coil_heat(results: Results, coil: CoilRecord, name: str) -> Why:
    del results
    month, hour = coil.at
    return Why(
        name,
        abs(coil.heat_w),
        "load",
        ("the air system at the hour of its greatest heat",),
        (
            Contribution("Dry air", coil.air_kg_s, "mass_flow"),
            Contribution("Entering air", coil.t1, "temperature"),
            Contribution("Leaving air", coil.t2, "temperature"),
        ),
        "the winter design day" if month < 0 else f"month {month + 1}, hour {hour}",
    )


def _coil_water(results: Results, coil: CoilRecord, name: str) -> Why:
    del results
    chosen = present(coil.chosen)
    return Why(
        name,
        chosen.water_kg_s / 998.0,
        "water_flow",
        (
            Term(abs(chosen.total_w), "load"),
            " / its heat × (",
            Term(coil.water_out.figure, "temperature"),
            " − ",
            Term(coil.water_in.figure, "temperature"),
            ")",
        ),
        (Contribution("At the valve", coil.valve_kg_s, "mass_flow"),),
    )


def _coil_water_c(side: str) -> Callable[[Results, CoilRecord, str], Why]:
    def made(results: Results, coil: CoilRecord, name: str) -> Why:
        del results
        figure = coil.water_in if side == "in" else coil.water_out
        return given_figure(name, "temperature", figure, ("part", coil.part_id))

    return made


def _coil_bypass(results: Results, coil: CoilRecord, name: str) -> Why:
    del results
    if coil.bypass != coil.bypass:
        raise NotThere
    return Why(name, coil.bypass, "plain", ("that with which cooling along a bypass factor leaves the coil’s own air",))


def _coil_reserve(results: Results, coil: CoilRecord, name: str) -> Why:
    del results
    chosen = present(coil.chosen)
    return Why(
        name,
        chosen.reserve,
        "fraction",
        ("what it does at its design water over what is wanted, less 1",),
        (Contribution("Wanted", abs(chosen.total_w), "load"),),
    )


def _unit_velocity(results: Results, unit: UnitRecord, name: str) -> Why:
    del results
    made = present(unit.layout)
    return Why(
        name,
        unit.face_m_s,
        "velocity",
        (Term(max(unit.supply_m3s, unit.exhaust_m3s), "system_flow"), " / ", Term(made.casing.filter_face_m2, "area")),
        (Contribution("At most", unit.velocity.figure, "velocity", ("book", "unit_m_s")),),
        f"class {unit.velocity_class} of EN 13053",
    )


def _unit_length(results: Results, unit: UnitRecord, name: str) -> Why:
    del results
    made = present(unit.layout)
    parts = [
        Contribution(
            f"{s.section.kind.replace('_', ' ')}, {s.deck}", s.length_m, "length", (), f"from {s.start_m:.2f} m"
        )
        for s in sorted(made.stations, key=lambda s: (s.deck, s.start_m))
    ]
    return Why(
        name, made.length_m, "length", ("sections and the room to reach them, and two walls",), most(parts), "catalogue"
    )


def _unit_floor(results: Results, unit: UnitRecord, name: str) -> Why:
    del results
    made = present(unit.layout)
    return Why(
        name,
        made.floor_m2,
        "area",
        (
            "(",
            Term(made.length_m, "length"),
            " + 1.6 m) × (",
            Term(made.width_m, "length"),
            " + room to pull its coils out at the front and 0.3 m behind)",
        ),
    )


def _unit_flow(side: str) -> Callable[[Results, UnitRecord, str], Why]:
    def made(results: Results, unit: UnitRecord, name: str) -> Why:
        del results
        figure = unit.supply_m3s if side == "supply" else unit.exhaust_m3s
        return Why(name, figure, "system_flow", ("the greatest of all hours of the air system",))

    return made


def _unit_power(results: Results, unit: UnitRecord, name: str) -> Why:
    del results
    return Why(
        name,
        unit.specific_w_m3s,
        "specific_fan_power",
        (Term(unit.fan_w, "power"), " / ", Term(unit.supply_m3s, "system_flow")),
        (),
        f"all its fans; {unit.fan_class} of EN 16798-3",
    )


def _room_need(what: str) -> Callable[[Results, RoomUnitRecord, str], Why]:
    def made(results: Results, unit: RoomUnitRecord, name: str) -> Why:
        del results
        figure = unit.cool_need_w if what == "cold" else unit.heat_need_w
        short = unit.short_cool_w if what == "cold" else unit.short_heat_w
        return Why(
            name,
            figure,
            "power",
            ("what the supply air leaves to the unit at its worst hour",),
            (Contribution("Not met", short, "power"),),
            go=("room", unit.room_id),
        )

    return made


def _room_gives(what: str) -> Callable[[Results, RoomUnitRecord, str], Why]:
    def made(results: Results, unit: RoomUnitRecord, name: str) -> Why:
        del results
        figure = {"total": unit.cool_total_w, "sensible": unit.cool_sensible_w, "heat": unit.heat_w}[what]
        return Why(
            name,
            figure,
            "power",
            ("the unit throttled until it does just what is asked, with the water of the room in balance",),
            (
                Contribution("Room", unit.room_c, "temperature"),
                Contribution("Condensate", unit.condensate_kg_s, "moisture_flow"),
            ),
            go=("room", unit.room_id),
        )

    return made


def _room_water(side: str) -> Callable[[Results, RoomUnitRecord, str], Why]:
    def made(results: Results, unit: RoomUnitRecord, name: str) -> Why:
        del results
        if side == "back":
            return Why(name, unit.water_back_c, "temperature", ("water in and what it takes or gives on its way",))
        flow = unit.water_kg_s if side == "cold" else unit.hot_water_kg_s
        return Why(name, flow / 998.0, "water_flow", ("what its coil or surface needs for what it does",))

    return made


def _machine_load(results: Results, machine: MachineRecord, name: str) -> Why:
    del results
    what: Address = ("plant", "cooling" if machine.id == "cold" else "heating")
    return Why(
        name,
        machine.load_w,
        "load",
        ("of all coils, heaters and units on its water at one hour",),
        (
            Contribution("Plant", machine.load_w - machine.wet_w, "load", what),
            *((Contribution("Condensate of units in rooms", machine.wet_w, "load"),) if machine.wet_w > 0 else ()),
        ),
        f"chosen with {machine.margin.figure:.0%} more",
    )


def _machine_count(results: Results, machine: MachineRecord, name: str) -> Why:
    del results
    return Why(
        name,
        float(machine.count),
        "count",
        (
            Term(machine.load_w, "load"),
            f" × {1 + machine.margin.figure:.2f} / ",
            Term(machine.each_w, "load"),
            ", rounded up",
        ),
        (Contribution("In reserve", float(machine.standby), "count"),),
        "fewest machines, then least capacity, then least input at half load",
    )


def _machine_input(results: Results, machine: MachineRecord, name: str) -> Why:
    del results
    return Why(
        name,
        machine.input_w,
        "load",
        ("all that run, at their share of the load",),
        (Contribution("Load", machine.load_w, "load"),),
        "catalogue of machines",
    )


def _machine_cop(results: Results, machine: MachineRecord, name: str) -> Why:
    del results
    if machine.input_w <= 0:
        raise NotThere
    return Why(
        name,
        machine.load_w / machine.input_w,
        "plain",
        (Term(machine.load_w, "load"), " / ", Term(machine.input_w, "load")),
    )


def _machine_around(results: Results, machine: MachineRecord, name: str) -> Why:
    del results
    return given_figure(name, "temperature", machine.around, ("site", ""))


def _machine_spare(results: Results, machine: MachineRecord, name: str) -> Why:
    del results
    return Why(
        name,
        machine.spare,
        "fraction",
        (
            f"{machine.count - machine.standby} × ",
            Term(machine.each_w, "load"),
            " / ",
            Term(machine.load_w, "load"),
            " − 1",
        ),
        (),
        "without the reserve",
    )


def _machine_year(results: Results, machine: MachineRecord, name: str) -> Why:
    del results
    hours = machine.year_wh / machine.input_w if machine.input_w > 0 else 0.0
    entry = "cold_hours" if machine.id == "cold" else "heat_hours"
    return Why(
        name,
        machine.year_wh / 1000,
        "plain",
        (Term(machine.input_w, "load"), f" × {hours:.0f} h at full load"),
        (
            Contribution("Full-load hours", hours, "plain", ("book", entry)),
            Contribution("Cost of a year", machine.cost, "plain"),
        ),
        "early, until a year of hours is run",
    )


def _pump_flow(results: Results, machine: MachineRecord, name: str) -> Why:
    del results
    return Why(
        name,
        machine.pump.flow_m3s,
        "water_flow",
        (
            Term(machine.load_w, "load"),
            " / heat of water × (",
            Term(machine.water_c, "temperature"),
            " to ",
            Term(machine.back_c, "temperature"),
            ")",
        ),
    )


def _pump_main(results: Results, machine: MachineRecord, name: str) -> Why:
    del results
    main = present(machine.main)
    return Why(
        name,
        float(main.nominal_mm),
        "plain",
        ("the smallest pipe with 150 Pa/m and 1.5 m/s at most",),
        (
            Contribution("Inner diameter", main.bore_m, "duct_size"),
            Contribution("Velocity", main.velocity_m_s, "velocity"),
            Contribution("Friction", main.drop_pa_m, "friction"),
        ),
    )


def _pump_head(results: Results, machine: MachineRecord, name: str) -> Why:
    del results
    drop = machine.model.water_drop_pa if machine.model is not None else 0.0
    return Why(
        name,
        machine.pump.head_pa,
        "air_pressure",
        ("machine + coil + its valve + pipes there and back at 150 Pa/m with half as much for fittings",),
        (Contribution("Machine", drop, "air_pressure"), Contribution("Longest way", machine.pipe_m, "length")),
    )


_OWN: dict[tuple[str, str], Callable[[Results, Any, str], Why]] = {
    ("boxes", "most_m3s"): _box_most,
    ("boxes", "least_m3s"): _box_least,
    ("boxes", "heating_m3s"): _box_heating,
    ("boxes", "drop_pa"): _box_drop,
    ("boxes", "reheat_w"): _box_reheat,
    ("boxes", "leaving_c"): _box_leaving,
    ("boxes", "water_back_c"): _box_back,
    ("boxes", "water_m3s"): _box_water,
    ("boxes", "radiated_nc"): _box_sound("radiated"),
    ("boxes", "discharge_nc"): _box_sound("discharge"),
    ("coils", "total_w"): _coil_heat,
    ("coils", "water_m3s"): _coil_water,
    ("coils", "water_in_c"): _coil_water_c("in"),
    ("coils", "water_out_c"): _coil_water_c("out"),
    ("coils", "bypass"): _coil_bypass,
    ("coils", "reserve"): _coil_reserve,
    ("units", "supply_m3s"): _unit_flow("supply"),
    ("units", "exhaust_m3s"): _unit_flow("exhaust"),
    ("units", "velocity_m_s"): _unit_velocity,
    ("units", "length_m"): _unit_length,
    ("units", "floor_m2"): _unit_floor,
    ("units", "specific_w_m3s"): _unit_power,
    ("room_units", "cool_need_w"): _room_need("cold"),
    ("room_units", "heat_need_w"): _room_need("heat"),
    ("room_units", "cool_total_w"): _room_gives("total"),
    ("room_units", "cool_sensible_w"): _room_gives("sensible"),
    ("room_units", "heat_w"): _room_gives("heat"),
    ("room_units", "water_back_c"): _room_water("back"),
    ("room_units", "water_m3s"): _room_water("cold"),
    ("room_units", "hot_water_m3s"): _room_water("hot"),
    ("machines", "load_w"): _machine_load,
    ("machines", "count"): _machine_count,
    ("machines", "input_w"): _machine_input,
    ("machines", "cop"): _machine_cop,
    ("machines", "around_c"): _machine_around,
    ("machines", "spare"): _machine_spare,
    ("machines", "year_kwh"): _machine_year,
    ("machines", "water_m3s"): _pump_flow,
    ("pumps", "flow_m3s"): _pump_flow,
    ("pumps", "main_mm"): _pump_main,
    ("pumps", "head_pa"): _pump_head,
}


def space_why(results: Results, what: str) -> Why:
    """A floor of the plant. Raises NotThere where nothing is chosen."""
    space, of = present(results.equipment.space), results.equipment
    units = [
        Contribution(u.tag, u.layout.floor_m2, "area", ("equipment", "units", u.id, "floor_m2"))
        for u in of.units.values()
        if u.layout is not None
    ]
    machines = [
        Contribution(f"{m.tag}, {m.count} pieces", m.floor_m2, "area", ("equipment", "machines", m.id, "floor_m2"))
        for m in of.machines.values()
        if isinstance(m, MachineRecord)
    ]
    both = [
        Contribution("Air handlers", space.handlers_m2, "area", ("plant space", "handlers")),
        Contribution("Machines indoors", space.machines_m2, "area", ("plant space", "machines")),
        Contribution("At the upper end of what is likely", space.upper_m2, "area"),
    ]
    name, figure, words, parts = among(
        {
            "total": ("Plant room", space.total_m2, "air handlers and machines, each with room to serve it", both),
            "handlers": ("Plant room, air handlers", space.handlers_m2, "of all units", units),
            "machines": (
                "Plant room, machines",
                space.machines_m2,
                "a quarter more than the floors of those indoors, 8 m² and 0.01 m² per kW",
                machines,
            ),
            "roof": ("Machines on the roof", space.roof_m2, "those that take air from outdoors", machines),
        },
        what,
    )
    return Why(name, figure, "area", (words,), most(parts) if parts else ())


EQUIPMENT_KINDS: dict[str, Callable[..., Why]] = {"equipment": equipment_why, "plant space": space_why}
