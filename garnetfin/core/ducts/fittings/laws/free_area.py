"""What leaves only a part of the section free: screens, perforated plates, orifices; ends of ducts behind them.

Source: Idelchik, Handbook of Hydraulic Resistance, sect. 8, thin screens and plates.
"""

from garnetfin.core.ducts.fittings.laws.law import At, Law, register
from garnetfin.core.ducts.fittings.tables import look_up


def screen_k(free: float) -> float:
    """Of a wire screen by its free area over that of the duct [-]."""
    return 1.3 * (1 - free) + (1 / free - 1) ** 2


def orifice_k(free: float) -> float:
    """Of a thin plate by its free area over that of the duct [-], 0..1."""
    return float((1 + 0.707 * (1 - free) ** 0.5 - free) ** 2 / free**2)


def _behind_diffuser(at: At) -> float:
    return float(look_up("exit-diffuser", "k", at["area_ratio"], at["angle_deg"])) + 1 / at["area_ratio"] ** 2


register(
    Law("screen", lambda at: screen_k(at["free_area"])),
    Law("screened entry", lambda at: 0.5 + 1.3 * (1 - at["free_area"]) + (1 / at["free_area"] - 1) ** 2),
    Law("screened exit", lambda at: 1.0 + 1.3 * (1 - at["free_area"]) + (1 / at["free_area"] - 1) ** 2),
    Law(
        "perforated plate",
        lambda at: (0.707 * (1 - at["free_area"]) ** 0.375 + 1 - at["free_area"]) ** 2 / at["free_area"] ** 2,
    ),
    Law("orifice", lambda at: orifice_k(at["free_area"])),
    Law("exit of a diffuser", _behind_diffuser),
)
