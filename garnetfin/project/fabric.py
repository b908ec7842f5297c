"""What walls, floors, roofs and windows are made of."""

from typing import Literal

from garnetfin.core.errors import InputError
from garnetfin.project.values import Node, Rule, Value, none_or_within, value_within, within


class BuildUpLayer(Node, frozen=True):
    """A library material with a thickness, or (material "") a resistance alone, e.g. an air gap.

    A material of its own, e.g. from a file, has a thickness, conductivity, density and specific heat and no library
    name.
    """

    material: str = ""
    thickness_m: float = 0.0
    resistance_m2k_w: float = 0.0
    conductivity_w_mk: float = 0.0  # 0: the library's; else an equivalent one, e.g. with studs
    name: str = ""
    density_kg_m3: float = 0.0
    specific_heat_j_kgk: float = 0.0
    # an air gap open to outdoors: what lies outside of it does not count (ISO 6946)
    ventilated: bool = False

    @property
    def own(self) -> bool:
        """A massive layer that names no library material."""
        return not self.material and self.density_kg_m3 > 0

    def __post_init__(self) -> None:
        where = f"layer {self.name or self.material or 'air gap'}"
        if self.material:
            within(self.thickness_m, 1e-5, 3, "Thickness", where, "m")
            within(self.resistance_m2k_w, 0, 0, "The resistance of a material layer", where, "m²K/W")
        elif self.own:
            within(self.thickness_m, 1e-5, 3, "Thickness", where, "m")
            within(self.conductivity_w_mk, 0.001, 500, "Conductivity", where, "W/mK")
            within(self.density_kg_m3, 0.5, 25000, "Density", where, "kg/m³")
            within(self.specific_heat_j_kgk, 50, 10000, "Specific heat", where, "J/kgK")
            within(self.resistance_m2k_w, 0, 0, "The resistance of a material layer", where, "m²K/W")
        else:
            within(self.thickness_m, 0, 3, "Thickness", where, "m")
            within(self.resistance_m2k_w, 1e-4, 50, "Resistance", where, "m²K/W")
        none_or_within(self.conductivity_w_mk, 0.001, 500, "Conductivity", where, "W/mK")
        none_or_within(self.density_kg_m3, 0.5, 25000, "Density", where, "kg/m³")
        none_or_within(self.specific_heat_j_kgk, 50, 10000, "Specific heat", where, "J/kgK")


class BuildUp(Node, frozen=True):
    """Layers from inside to outside.

    absorptance         of sun outside, of all faces of it, roofs too
    inside_absorptance  of sun inside; by rule what walls, floors, ceilings usually take up
    """

    id: str
    name: str
    layers: tuple[BuildUpLayer, ...]
    absorptance: float = 0.6
    inside_absorptance: Value = Rule()

    def __post_init__(self) -> None:
        if not 1 <= len(self.layers) <= 40:
            raise InputError("A build-up needs 1 to 40 layers", where=f"build-up {self.name}")
        within(self.absorptance, 0, 1, "Solar absorptance", f"build-up {self.name}")
        value_within(self.inside_absorptance, 0.01, 1, "Inside absorptance", f"build-up {self.name}")


class Shade(Node, frozen=True):
    """A blind or screen with the rule that closes it; tau and rho are solar, of the closed device."""

    name: str = "Blind"
    outside: bool = False
    tau: float = 0.10
    rho: float = 0.60
    rule: Literal["sun", "always", "never", "hours"] = "sun"
    limit_w_m2: float = 200.0  # sun on the face above which it is closed
    from_h: int = 9
    to_h: int = 18

    def __post_init__(self) -> None:
        where = f"shade {self.name}"
        within(self.tau, 0, 1, "Transmittance", where)
        within(self.rho, 0, 1 - self.tau, "Reflectance", where)
        within(self.limit_w_m2, 0, 1500, "Sun that closes it", where, "W/m²")
        within(self.from_h, 0, 24, "From", where, "h")
        within(self.to_h, 0, 24, "To", where, "h")


class Glazing(Node, frozen=True):
    """A whole window's heat loss, its glass and its shade; g and tau_e at normal incidence."""

    id: str
    name: str
    u_w_m2k: float
    g: float
    tau_e: float
    panes: int = 2
    angle_class: float = 2.5
    diffuse_ratio: float = 0.871
    frame_share: float = 0.2
    source: str = ""
    rho_e: float = 0.2  # solar reflectance of the glass, seen by a shade behind it
    frame_u_w_m2k: float = 0.0  # above 0: the frame passes a little sun heat too
    shade: Shade | None = None

    def __post_init__(self) -> None:
        where = f"glazing {self.name}"
        within(self.rho_e, 0, 1 - self.tau_e, "Solar reflectance", where)
        within(self.frame_u_w_m2k, 0, 10, "U-value of the frame", where, "W/m²K")
        within(self.u_w_m2k, 0.05, 7, "U-value", where, "W/m²K")
        within(self.g, 0, 1, "Solar factor g", where)
        within(self.tau_e, 0, self.g, "Solar transmittance", where)
        within(self.panes, 1, 4, "Panes", where)
        within(self.angle_class, 1, 10, "Angle class", where)
        within(self.diffuse_ratio, 0.3, 1, "Diffuse ratio", where)
        within(self.frame_share, 0, 0.9, "Frame share", where)


# What a fabric set assigns: faces of each kind get its build-up, outside windows its glazing; "" leaves them as they
# are.
SET_KINDS = ("wall", "partition", "to_unheated", "roof", "ground", "exposed", "between")


class FabricSet(Node, frozen=True):
    """Build-ups and a glazing that are given to a building, a level or a zone at once."""

    id: str
    name: str
    wall: str = ""
    partition: str = ""
    to_unheated: str = ""
    roof: str = ""
    ground: str = ""
    exposed: str = ""
    between: str = ""
    glazing: str = ""
