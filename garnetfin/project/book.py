"""The office book of a project: assumptions that every value by rule follows, and the office's own profiles, uses, materials."""

from garnetfin.core.errors import InputError
from garnetfin.project.values import Node, Rule, Value, value_within, within


class DayProfile(Node):
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


class UseChange(Node):
    """A figure of a room use that the office sets differently from what ships."""

    use_id: str
    field: str
    value: float


class OwnMaterial(Node):
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


class UseProfile(Node):
    """The profile a room use follows instead of the shipped one."""

    use_id: str
    profile_id: str


# Figures of a use that an office may set, with what is accepted.
USE_FIELDS = {"people_m2": (0, 10), "sensible_w": (0, 1000), "latent_w": (0, 1000), "lights_w_m2": (0, 500),
              "equipment_w_m2": (0, 10000), "heating_c": (-10, 40), "cooling_c": (5, 50), "air_person_m3s": (0, 1),
              "air_area_m3s_m2": (0, 1)}

# Assumptions with their value when by rule, the quantity and what is accepted. Sources are in methods.md.
ASSUMPTIONS = {
    "infiltration_1h": (0.2, "air_change", 0.0, 20.0, "Infiltration, edge"),
    "bridges_w_m2k": (0.05, "u_value", 0.0, 1.0, "Bridges, outside faces"),
    "warm_up_w_m2": (8.0, "power_density", 0.0, 200.0, "Warm-up"),
    "air_capacity": (5.0, "plain", 1.0, 20.0, "Stored with the air, ×"),
    "estimate_glass": (0.40, "fraction", 0.0, 0.95, "Estimate: glass share"),
    "estimate_glass_u": (1.4, "u_value", 0.3, 6.0, "Estimate: glass U"),
    "estimate_g": (0.35, "plain", 0.05, 0.9, "Estimate: sun g"),
    "estimate_wall_u": (0.30, "u_value", 0.05, 2.0, "Estimate: wall U"),
    "estimate_leak_1h": (0.2, "air_change", 0.0, 5.0, "Estimate: leakage"),
}


class Book(Node):
    infiltration_1h: Value = Rule()
    bridges_w_m2k: Value = Rule()
    warm_up_w_m2: Value = Rule()
    air_capacity: Value = Rule()
    estimate_glass: Value = Rule()
    estimate_glass_u: Value = Rule()
    estimate_g: Value = Rule()
    estimate_wall_u: Value = Rule()
    estimate_leak_1h: Value = Rule()
    profiles: tuple[DayProfile, ...] = ()
    uses: tuple[UseChange, ...] = ()
    use_profiles: tuple[UseProfile, ...] = ()
    materials: tuple[OwnMaterial, ...] = ()

    def __post_init__(self) -> None:
        for name, (_, _, low, high, label) in ASSUMPTIONS.items():
            value_within(getattr(self, name), low, high, label, "office book")
        for change in self.uses:
            if change.field not in USE_FIELDS:
                raise InputError(f"A room use has no figure “{change.field}”", where=f"office book, {change.use_id}")
            within(change.value, *USE_FIELDS[change.field], "A figure", f"office book, {change.use_id}")
