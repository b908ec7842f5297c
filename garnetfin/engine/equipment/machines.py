"""Machines of the cold and the hot circuit: number, reserve, pump, floor, and an early figure of their year."""

from collections.abc import Mapping
from functools import partial

from garnetfin.core.equipment import plant as core
from garnetfin.core.equipment.catalogue import MachineModel
from garnetfin.core.equipment.shafts import pipe as pipe_of
from garnetfin.core.errors import InputError
from garnetfin.engine.equipment import tags
from garnetfin.engine.equipment.catalogues import rows as catalogue
from garnetfin.engine.equipment.records import CoilRecord, MachineRecord
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import Figure, assumption, resolve
from garnetfin.engine.results import Climate, Missing, Plant
from garnetfin.project.book import Book
from garnetfin.project.equipment import CIRCUITS, Machines
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project

LEAST_W, STOREY_M = 1.0, 3.5
WATER_OF = {"cold": ("chilled_supply_c", "chilled_return_c"), "hot": ("hot_supply_c", "hot_return_c")}
BY_RULE = {c: Machines(id=c) for c in CIRCUITS}
PART_LOADS = (0.75, 0.5, 0.25)


def machines(
    project: Project,
    climate: Climate | Missing,
    plant: Plant | Missing,
    coils: Mapping[str, CoilRecord],
    floor_m2: float,
    wet_w: float,
    memo: Memo,
) -> dict[str, MachineRecord | Missing]:
    """Machines by circuit; Missing where it has no load, or none of the catalogue serves.

    wet_w    what units in rooms take out of the air as water, each at its greatest, beside the plant's sensible loads
    floor    of the rooms that are served, from which the longest way of pipes is taken until one is drawn
    """
    if isinstance(climate, Missing):
        return dict.fromkeys(CIRCUITS, climate)
    if isinstance(plant, Missing):
        return dict.fromkeys(CIRCUITS, plant)
    found: dict[str, MachineRecord | Missing] = {}
    pipe = core.early_pipe_m(
        floor_m2, max(len(project.levels), 1), max((x.storey_m for x in project.levels), default=STOREY_M)
    )
    for circuit in CIRCUITS:
        choice = find(project.machines, circuit) or BY_RULE[circuit]
        ways = [c for c in coils.values() if (c.heat_w > 0) == (circuit == "cold") and c.chosen is not None]
        drop = max((c.chosen.water_pa for c in ways if c.chosen is not None), default=0.0)
        wet = wet_w if circuit == "cold" else 0.0
        load = float(plant.cooling_w if circuit == "cold" else plant.heating_w)
        row = key(project.book, climate, choice, (circuit, load, wet, drop, pipe))
        work = partial(_compute, project.book, climate, choice, (load, wet), (drop, pipe))
        found[circuit] = memo.one("machines", row, work)
    return found


def _around(book: Book, climate: Climate, choice: Machines, kind: str) -> Figure:
    """What enters the machine at design: outdoor air with what it is warmer there, or condenser water."""
    summer = float(climate.days.dry_bulb_c.max())
    if kind == "chiller_water":
        wet = float(climate.days.wet_bulb_c.max())
        water = float(core.condenser_water(wet))
        return Figure(water, "rule", water, "wet bulb of the design day and the approach of a cooling tower")
    if kind == "chiller_air":
        rise = resolve(choice.ambient_rise_k, assumption(book, "roof_rise_k").figure, "office standards")
        return Figure(summer + rise.figure, rise.origin, summer + rise.by_rule, "the warmest design day and its rise")
    winter = climate.figures.winter_c.figure
    return Figure(winter, "rule", winter, "the winter design day")


def _compute(
    book: Book, climate: Climate, choice: Machines, loads_w: tuple[float, float], of_water: tuple[float, float]
) -> MachineRecord | Missing:
    """loads_w: of the plant, and of condensate beside it; of_water: drop of the coil that loses most [Pa], longest way
    of pipes [m].
    """
    circuit = choice.id
    load_w = sum(loads_w)
    coil_pa, pipe = of_water
    if load_w < LEAST_W:
        return Missing("no load", f"Nothing asks for {'cold' if circuit == 'cold' else 'heat'}")
    kind = choice.kind or (book.cold_machine if circuit == "cold" else book.hot_machine)
    flow, back = (assumption(book, n).figure for n in WATER_OF[circuit])
    around = _around(book, climate, choice, kind)
    margin_name = "margin_cold" if circuit == "cold" else "margin_heat"
    margin = resolve(choice.margin, assumption(book, margin_name).figure, "office standards")
    want = core.Design(
        load_w,
        back if kind == "boiler" else flow,
        around.figure,
        margin.figure,
        choice.standby,
        choice.fewest or core.fewest_for(load_w),
    )
    models = tuple(m for m in catalogue(book, "machines") if m.kind == kind)
    pin = next((m for m in catalogue(book, "machines") if m.model == choice.model), None) if choice.model else None
    try:
        chosen = core.choose((pin,) if pin is not None else models, want)
    except InputError as error:
        return Missing("no machine", str(error))
    model = chosen.model or pin
    count = choice.count or chosen.count
    if model is not None and (choice.count or chosen.model is None):
        chosen = core.judged(model, max(count, 1), want, chosen.tried)
    pump = core.pump(load_w, flow, back, model.water_drop_pa if model else 0.0, coil_pa, pipe)
    main = pipe_of(pump.flow_m3s, core.PIPE_PA_M) if pump.flow_m3s > 0 else None
    # fans and pump of a cooling tower, of the heat they reject
    tower = core.TOWER_SHARE * (load_w + chosen.input_w) if kind == "chiller_water" else 0.0
    taken = chosen.input_w + tower
    hours = assumption(book, "cold_hours" if circuit == "cold" else "heat_hours").figure
    year = hours * taken
    price = assumption(book, "fuel_price" if kind == "boiler" else "energy_price").figure
    return MachineRecord(
        circuit,
        choice.tag or f"{tags.MACHINE[kind]}-01",
        kind,
        load_w,
        loads_w[1],
        margin,
        flow,
        back,
        around,
        chosen.model,
        bool(choice.model or choice.count),
        chosen.count,
        chosen.standby,
        chosen.each_w,
        taken,
        chosen.spare,
        pump,
        main,
        pipe,
        core.machine_floor(model) * chosen.count if model else 0.0,
        core.plant_room([(model, chosen.count)]) if model else 0.0,
        year,
        year / 1000 * price,
        chosen.tried,
    )


def part_load(record: MachineRecord) -> tuple[float, ...]:
    """Heat or cold for each watt of electricity or fuel at three quarters, half and a quarter of the load."""
    model: MachineModel | None = record.model
    if model is None or record.each_w <= 0:
        return ()
    w = record.back_c if record.kind == "boiler" else record.water_c
    return tuple(float(x * record.each_w / core.power(model, w, record.around.figure, x)) for x in PART_LOADS)
