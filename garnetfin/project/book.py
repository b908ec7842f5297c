"""The office standards of a project: assumptions that every value by rule follows, and the office's own profiles, uses,
materials.
"""

from garnetfin.core.ducts.fittings.catalogue import choices
from garnetfin.core.ducts.friction import MATERIALS
from garnetfin.core.equipment.catalogue import MOST_ROWS
from garnetfin.core.errors import InputError
from garnetfin.project.catalogue import MOST_FANS, MOST_MODELS, OwnFan, OwnTerminal
from garnetfin.project.equipment import OwnEquipment
from garnetfin.project.fabric import BuildUp, FabricSet, Glazing
from garnetfin.project.papers import Sheet
from garnetfin.project.values import Node, Rule, Value, value_within, within


class DayProfile(Node, frozen=True):
    """Shares of full use through 24 h on four kinds of day; an empty one follows the working day (winter: no use)."""

    id: str
    name: str
    working: tuple[float, ...]
    other: tuple[float, ...] = ()
    summer_design: tuple[float, ...] = ()
    winter_design: tuple[float, ...] = ()

    def __post_init__(self) -> None:
        where = f"profile {self.name}"
        for kind in ("working", "other", "summer_design", "winter_design"):
            hours = getattr(self, kind)
            if len(hours) != 24 and (hours or kind == "working"):
                raise InputError(f"A profile has 24 hours, got {len(hours)}", where=where)
            for share in hours:
                within(share, 0, 1, "A share of use", where)


class UseChange(Node, frozen=True):
    """A figure of a room use that the office sets differently from what ships."""

    use_id: str
    field: str
    value: float


class OwnMaterial(Node, frozen=True):
    id: str
    name: str
    conductivity_w_mk: float
    density_kg_m3: float
    specific_heat_j_kgk: float
    source: str = "own entry"

    def __post_init__(self) -> None:
        where = f"material {self.name}"
        within(self.conductivity_w_mk, 0.001, 500, "Conductivity", where, "W/mK")
        within(self.density_kg_m3, 0.5, 25000, "Density", where, "kg/m³")
        within(self.specific_heat_j_kgk, 50, 10000, "Specific heat", where, "J/kgK")


class UseProfile(Node, frozen=True):
    """The profile a room use follows instead of the shipped one."""

    use_id: str
    profile_id: str


# Figures of a use that an office may set, with what is accepted.
USE_FIELDS = {
    "people_m2": (0, 10),
    "sensible_w": (0, 1000),
    "latent_w": (0, 1000),
    "lights_w_m2": (0, 500),
    "equipment_w_m2": (0, 10000),
    "heating_c": (-10, 40),
    "cooling_c": (5, 50),
    "air_person_m3s": (0, 1),
    "air_area_m3s_m2": (0, 1),
}

# Assumptions with their value when by rule, the quantity and what is accepted. Sources are in methods.md.
ASSUMPTIONS = {
    "infiltration_1h": (0.2, "air_change", 0.0, 20.0, "Infiltration, edge"),
    "bridges_w_m2k": (0.05, "u_value", 0.0, 1.0, "Thermal bridges, outside faces"),
    "warm_up_w_m2": (8.0, "power_density", 0.0, 200.0, "Warm-up"),
    "air_capacity": (5.0, "plain", 1.0, 20.0, "Stored with the air, ×"),
    "estimate_glass": (0.40, "fraction", 0.0, 0.95, "Estimate: glass share"),
    "estimate_glass_u": (1.4, "u_value", 0.3, 6.0, "Estimate: glass U"),
    "estimate_g": (0.35, "plain", 0.05, 0.9, "Estimate: sun g"),
    "estimate_wall_u": (0.30, "u_value", 0.05, 2.0, "Estimate: wall U"),
    "estimate_roof_u": (0.20, "u_value", 0.05, 2.0, "Estimate: roof U"),
    "estimate_ground_u": (0.25, "u_value", 0.05, 2.0, "Estimate: U on ground"),
    "estimate_leak_1h": (0.2, "air_change", 0.0, 5.0, "Estimate: leakage"),
    "usual_over": (3.0, "plain", 1.0, 20.0, "Load over estimate, at most"),
    "usual_under": (0.35, "plain", 0.0, 1.0, "Load over estimate, at least"),
    "usual_changes": (20.0, "air_change", 1.0, 200.0, "Supply air, at most"),
    "usual_glass": (0.9, "fraction", 0.1, 1.0, "Glass of a facade, at most"),
    "humidity_high": (0.60, "fraction", 0.2, 1.0, "Rooms: humidity limit"),
    "least_share": (0.30, "fraction", 0.0, 1.0, "Variable flow: least"),
    "fixture_m2": (4.0, "area", 0.5, 100.0, "Toilets: floor per fixture"),
    "chilled_supply_c": (6.0, "temperature", 1.0, 20.0, "Chilled water, flow"),
    "chilled_return_c": (12.0, "temperature", 4.0, 30.0, "Chilled water, return"),
    "hot_supply_c": (60.0, "temperature", 25.0, 120.0, "Heating water, flow"),
    "hot_return_c": (40.0, "temperature", 15.0, 110.0, "Heating water, return"),
    "noise_nc": (35.0, "plain", 5.0, 80.0, "Noise limit of rooms, NC"),
    "neck_m_s": (3.5, "velocity", 0.2, 20.0, "Terminals: neck velocity"),
    "terminal_pa": (20.0, "pressure", 1.0, 500.0, "Terminals: pressure drop"),
    "ceiling_module_m": (0.6, "length", 0.1, 3.0, "Ceiling grid, module"),
    "duct_trunk_m_s": (6.5, "velocity", 0.5, 40.0, "Trunk, greatest"),
    "duct_riser_m_s": (8.0, "velocity", 0.5, 40.0, "Riser, greatest"),
    "duct_branch_m_s": (5.0, "velocity", 0.5, 40.0, "Branch, greatest"),
    "duct_last_m_s": (3.5, "velocity", 0.5, 40.0, "Runout, greatest"),
    "duct_aspect": (4.0, "plain", 1.0, 8.0, "Width to height, at most"),
    "duct_least_m": (0.1, "duct_size", 0.05, 0.5, "Least size"),
    "duct_step_m": (0.05, "duct_size", 0.01, 0.2, "Steps of width"),
    "duct_reduce": (0.0, "fraction", 0.0, 0.9, "Trunk reduced after"),
    "duct_slow_trunk_m_s": (2.0, "velocity", 0.0, 10.0, "Trunk, least"),
    "duct_slow_branch_m_s": (2.0, "velocity", 0.0, 10.0, "Branch, least"),
    "duct_slow_last_m_s": (1.5, "velocity", 0.0, 10.0, "Runout, least"),
    "duct_least_pa_m": (0.0, "friction", 0.0, 5.0, "Friction, least"),
    "damper_most_pa": (60.0, "pressure", 5.0, 1000.0, "Damper takes, at most"),
    "damper_most_deg": (55.0, "plain", 5.0, 90.0, "Blade angle, at most"),
    "balance_share": (0.10, "fraction", 0.01, 0.5, "Flow may differ by"),
    "blast_ratio": (0.8, "plain", 0.4, 1.0, "Fan: blast over outlet"),
    "duct_most_m": (1.25, "duct_size", 0.1, 3.0, "Greatest size"),
    "flexible_most_m": (1.5, "length", 0.0, 20.0, "Flexible duct, at most"),
    "flexible_share": (0.04, "fraction", 0.0, 0.3, "Compressed flexible duct"),
    "duct_lining_m": (0.0, "duct_size", 0.0, 0.2, "Lining inside"),
    "duct_insulation_m": (0.0, "duct_size", 0.0, 0.3, "Insulation outside"),
    "class_margin": (0.15, "fraction", 0.0, 1.0, "Class: margin on pressure"),
    "piece_rectangular_m": (1.5, "length", 0.3, 6.0, "Section length, rectangular"),
    "piece_round_m": (3.0, "length", 0.3, 6.0, "Section length, round"),
    "sheet_price": (60.0, "plain", 0.0, 10000.0, "Sheet and fixing, per m²"),
    "energy_price": (0.25, "plain", 0.0, 10.0, "Electricity, per kWh"),
    "fan_base": (0.3, "fraction", 0.0, 1.0, "Fan: pressure held by its sensor"),
    "fan_hours": (3000.0, "plain", 0.0, 8760.0, "Fan runs, h a year"),
    "life_years": (15.0, "plain", 0.0, 60.0, "Life, years"),
    "interest": (0.04, "fraction", 0.0, 0.5, "Interest"),
    "plant_m2_kw": (0.06, "plain", 0.0, 2.0, "Plant room, m² per kW"),
    "handler_m2_m3s": (9.0, "plain", 0.0, 100.0, "Air handler, m² per m³/s"),
    "box_inlet_m_s": (9.0, "velocity", 1.0, 30.0, "Flow box: inlet velocity"),
    "box_pa": (100.0, "pressure", 5.0, 1000.0, "Flow box: pressure drop"),
    "box_test_pa": (150.0, "pressure", 20.0, 1000.0, "Flow box: pressure for sound"),
    "box_leave_c": (35.0, "temperature", 15.0, 80.0, "Flow box: warmest air"),
    "unit_m_s": (2.0, "velocity", 0.5, 5.0, "Unit: velocity on filters"),
    "coil_air_pa": (120.0, "pressure", 5.0, 1000.0, "Coil: air drop"),
    "coil_water_pa": (30000.0, "air_pressure", 500.0, 200000.0, "Coil: water drop"),
    "silencer_pa": (50.0, "pressure", 1.0, 1000.0, "Silencer: pressure drop"),
    "roof_rise_k": (3.0, "temperature_difference", -10.0, 20.0, "Machines: air above outdoors"),
    "margin_cold": (0.05, "fraction", 0.0, 1.0, "Machines: margin on cold"),
    "margin_heat": (0.1, "fraction", 0.0, 1.0, "Machines: margin on heat"),
    "cold_hours": (700.0, "plain", 0.0, 8760.0, "Cold: full-load hours a year"),
    "heat_hours": (1300.0, "plain", 0.0, 8760.0, "Heat: full-load hours a year"),
    "fuel_price": (0.1, "plain", 0.0, 10.0, "Fuel, per kWh"),
}
OUTDOOR_METHODS = {
    "quality": "EN 16798-1, perceived quality",
    "substance": "EN 16798-1, CO2",
    "both": "EN 16798-1, the greater of both",
    "people and area": "ASHRAE 62.1, people and area",
    "people and area, simplified": "ASHRAE 62.1, simplified",
}
RECIRCULATION = {
    "raise": "raised until every room is served",
    "sum": "the sum of its rooms",
    "bare": "by the greatest share of any room",
}
LEAST_FLOWS = {"heat": "least heat and cold", "intake": "least outdoor air"}
CATEGORIES = ("I", "II", "III", "IV")
POLLUTION = {
    "use": "as the room's use",
    "very low": "very low polluting",
    "low": "low polluting",
    "not low": "not low polluting",
}
FAN_RESETS = {"": "stays as set", "reset": "follows the critical room"}
BOX_CONTROLS = {"dual": "heating maximum above the least flow", "single": "least flow covers heating"}
UNIT_STEPS = {"low": "low", "medium": "medium", "high": "high"}
COLD_MACHINES = {"chiller_air": "air-cooled chillers", "chiller_water": "water-cooled chillers"}
HOT_MACHINES = {"boiler": "boilers", "heat_pump_air": "air-source heat pumps"}
FAN_POWERS = {"": "none", **{str(n): f"SFP {n}" for n in range(1, 8)}}
COOLING_UNITS = {"": "as other loads", "tons": "tons, in IP"}
DENSITIES = {"volume": "volume at local density", "mass": "mass, as at sea level"}


DUCT_SERIES = {"standard": "standard sizes", "extra": "with intermediate sizes", "inch": "inch sizes"}
DUCT_MATERIALS = {m: m for m in MATERIALS}
DUCT_VELOCITIES = {"role": "by role", "noise": "by role and noise limit"}
DUCT_CLASSES = {"A": "A or better", "B": "B or better", "C": "C or better", "D": "D"}
BY_SIZE = {"": "by shape and angle"}


BOOK_CHOICES = {
    "duct_series": DUCT_SERIES,
    "duct_material": DUCT_MATERIALS,
    "duct_velocity": DUCT_VELOCITIES,
    "duct_class": DUCT_CLASSES,
    "elbow_round": BY_SIZE | dict(choices("elbow", "round")),
    "elbow_rectangular": BY_SIZE | dict(choices("elbow", "rectangular")),
    "takeoff_supply": BY_SIZE | dict(choices("takeoff", "rectangular")),
    "takeoff_leaving": BY_SIZE | dict(choices("takeoff", "rectangular", True)),
    "outdoor_method": OUTDOOR_METHODS,
    "category": CATEGORIES,
    "pollution": POLLUTION,
    "density": DENSITIES,
    "recirculation": RECIRCULATION,
    "least_flows": LEAST_FLOWS,
    "cooling_unit": COOLING_UNITS,
    "box_control": BOX_CONTROLS,
    "unit_step": UNIT_STEPS,
    "cold_machine": COLD_MACHINES,
    "hot_machine": HOT_MACHINES,
    "fan_power": FAN_POWERS,
    "fan_reset": FAN_RESETS,
}


class Book(Node, frozen=True):
    infiltration_1h: Value = Rule()
    bridges_w_m2k: Value = Rule()
    warm_up_w_m2: Value = Rule()
    air_capacity: Value = Rule()
    estimate_glass: Value = Rule()
    estimate_glass_u: Value = Rule()
    estimate_g: Value = Rule()
    estimate_wall_u: Value = Rule()
    estimate_roof_u: Value = Rule()
    estimate_ground_u: Value = Rule()
    estimate_leak_1h: Value = Rule()
    usual_over: Value = Rule()
    usual_under: Value = Rule()
    usual_changes: Value = Rule()
    usual_glass: Value = Rule()
    humidity_high: Value = Rule()
    least_share: Value = Rule()
    fixture_m2: Value = Rule()
    chilled_supply_c: Value = Rule()
    chilled_return_c: Value = Rule()
    hot_supply_c: Value = Rule()
    hot_return_c: Value = Rule()
    noise_nc: Value = Rule()
    neck_m_s: Value = Rule()
    terminal_pa: Value = Rule()
    ceiling_module_m: Value = Rule()
    duct_trunk_m_s: Value = Rule()
    duct_riser_m_s: Value = Rule()
    duct_branch_m_s: Value = Rule()
    duct_last_m_s: Value = Rule()
    duct_aspect: Value = Rule()
    duct_least_m: Value = Rule()
    duct_step_m: Value = Rule()
    duct_reduce: Value = Rule()
    duct_slow_trunk_m_s: Value = Rule()
    duct_slow_branch_m_s: Value = Rule()
    duct_slow_last_m_s: Value = Rule()
    duct_least_pa_m: Value = Rule()
    damper_most_pa: Value = Rule()
    damper_most_deg: Value = Rule()
    balance_share: Value = Rule()
    blast_ratio: Value = Rule()
    duct_most_m: Value = Rule()
    flexible_most_m: Value = Rule()
    flexible_share: Value = Rule()
    duct_lining_m: Value = Rule()
    duct_insulation_m: Value = Rule()
    class_margin: Value = Rule()
    piece_rectangular_m: Value = Rule()
    piece_round_m: Value = Rule()
    sheet_price: Value = Rule()
    energy_price: Value = Rule()
    fan_base: Value = Rule()
    fan_hours: Value = Rule()
    life_years: Value = Rule()
    interest: Value = Rule()
    plant_m2_kw: Value = Rule()
    handler_m2_m3s: Value = Rule()
    box_inlet_m_s: Value = Rule()
    box_pa: Value = Rule()
    box_test_pa: Value = Rule()
    box_leave_c: Value = Rule()
    unit_m_s: Value = Rule()
    coil_air_pa: Value = Rule()
    coil_water_pa: Value = Rule()
    silencer_pa: Value = Rule()
    roof_rise_k: Value = Rule()
    margin_cold: Value = Rule()
    margin_heat: Value = Rule()
    cold_hours: Value = Rule()
    heat_hours: Value = Rule()
    fuel_price: Value = Rule()
    outdoor_method: str = "quality"
    category: str = "II"
    pollution: str = "use"
    duct_series: str = "standard"  # of round ducts
    duct_material: str = "galvanised"
    duct_velocity: str = "role"  # whether a duct's noise limit lowers its velocity
    duct_class: str = "B"  # least class of tightness
    elbow_round: str = ""  # fittings by default, "" by shape, size and angle
    elbow_rectangular: str = ""
    takeoff_supply: str = ""
    takeoff_leaving: str = ""
    # what a rate of outdoor air keeps at height: volume or mass
    density: str = "volume"
    recirculation: str = "raise"  # intake of units that recirculate
    least_flows: str = "heat"  # what boxes of variable flow are set for at their least
    fan_reset: str = ""  # pressure that the fan's sensor holds, with variable flow
    cooling_unit: str = ""  # of coils and plant
    box_control: str = "dual"  # of flow boxes that heat
    unit_step: str = "medium"  # of fans of room units
    cold_machine: str = "chiller_air"
    hot_machine: str = "boiler"
    fan_power: str = "4"  # category of specific fan power that a unit may have
    profiles: tuple[DayProfile, ...] = ()
    uses: tuple[UseChange, ...] = ()
    use_profiles: tuple[UseProfile, ...] = ()
    materials: tuple[OwnMaterial, ...] = ()
    terminals: tuple[OwnTerminal, ...] = ()  # of the office's own catalogues
    fans: tuple[OwnFan, ...] = ()
    equipment: tuple[OwnEquipment, ...] = ()  # rows of the office's own catalogues of boxes, coils, units, machines
    # the office's own fabric; a project's part that is as the book has it follows the book
    build_ups: tuple[BuildUp, ...] = ()
    glazings: tuple[Glazing, ...] = ()
    fabric_sets: tuple[FabricSet, ...] = ()
    sheet: Sheet = Sheet()  # of papers: name, logo, sizes

    def __post_init__(self) -> None:
        for name, (_, _, low, high, label) in ASSUMPTIONS.items():
            value_within(getattr(self, name), low, high, label, "office standards")
        for name, known in BOOK_CHOICES.items():
            if getattr(self, name) not in known:
                raise InputError(
                    f"The office standards have no {name.replace('_', ' ')} “{getattr(self, name)}”",
                    remedy="Take one of: " + ", ".join(known),
                )
        if len(self.terminals) > MOST_MODELS:
            raise InputError(
                f"{len(self.terminals)} own terminals are more than the {MOST_MODELS} accepted",
                where="office standards",
            )
        if len(self.fans) > MOST_FANS:
            raise InputError(
                f"{len(self.fans)} own fans are more than the {MOST_FANS} accepted", where="office standards"
            )
        if len(self.equipment) > MOST_ROWS:
            raise InputError(
                f"{len(self.equipment)} own rows of equipment are more than the {MOST_ROWS} accepted",
                where="office standards",
            )
        for change in self.uses:
            if change.field not in USE_FIELDS:
                raise InputError(
                    f"A room use has no figure “{change.field}”", where=f"office standards, {change.use_id}"
                )
            within(change.value, *USE_FIELDS[change.field], "A figure", f"office standards, {change.use_id}")
