"""Any fitting of the catalogue by its id: coefficients from its tables, or from the formula its entry states.

An entry whose coefficient is a product of tables or a number needs no code here; a formula is written out as a
function.
"""

from collections.abc import Callable, Mapping
from functools import lru_cache
from math import cos, radians

from garnetfin.core.ducts.fittings.tables import look_up
from garnetfin.core.errors import InputError
from garnetfin.core.tables import fitting_tables

At = Mapping[str, float]


def _wye(at: At) -> float:
    speed = at["qb_qc"] / at["ab_ac"]
    # the printed step, blended so that losses stay continuous
    factor = 1.0 - 0.1 * min(max((speed - 0.75) / 0.10, 0.0), 1.0)
    return factor * (1 + speed**2 - 2 * speed * cos(radians(at["angle_deg"])))


def _converging(at: At, cosine: float = 0.0) -> float:
    area, share = at["ab_ac"], at["qb_qc"]
    factor = 1.0 if area <= 0.35 else max(0.55, 0.9 * (1 - share))
    return factor * (1 + (share / area) ** 2 - 2 * (1 - share) ** 2 - 2 * share**2 / area * cosine)


def _square(at: At, part: float = 1.0) -> float:
    return 1 + part * (at["qb_qc"] / at["ab_ac"]) ** 2


# Coefficients by formula (fitting, leg); sources stand in the catalogue.
FORMULAS: dict[tuple[str, str], Callable[[At], float]] = {
    ("tee-div-90", "branch"): _square,
    ("tee-div-90-full", "branch"): lambda at: _square(at, 0.3),
    ("tee-div-bullhead", "branch"): lambda at: _square(at, 0.3),
    ("takeoff-straight", "branch"): _square,
    ("cross-div-90", "branch"): _square,
    ("wye-div", "branch"): _wye,
    ("tee-conv-90", "branch"): _converging,
    ("cross-conv-90", "branch"): _converging,
    ("takeoff-return-90", "branch"): _converging,
    ("wye-conv", "branch"): lambda at: _converging(at, cos(radians(at["angle_deg"]))),
    ("tee-conv-bullhead", "branch"): lambda at: (
        1 + 1 / at["ab_ac"] ** 2 + 3 / at["ab_ac"] ** 2 * (at["qb_qc"] ** 2 - at["qb_qc"])
    ),
    ("trans-sudden-expansion", "through"): lambda at: (1 - 1 / at["area_ratio"]) ** 2,
    ("trans-sudden-contraction", "through"): lambda at: 0.5 * (1 - 1 / at["area_ratio"]) ** 0.75,
    ("offset-round-smooth", "through"): lambda at: (
        2
        * float(
            look_up("offset-round-smooth", "k", at["r_over_d"])
            * look_up("offset-round-smooth", "angle", at["angle_deg"])
        )
    ),
    ("offset-rect-radius", "through"): lambda at: (
        2
        * float(
            look_up("offset-rect-radius", "k", at["r_over_w"], at["h_over_w"])
            * look_up("offset-rect-radius", "angle", at["angle_deg"])
        )
    ),
    ("plenum-box", "through"): lambda at: (1 - at["ain_abox"]) ** 2 + 0.5 * at["ain_aneck"] ** 2,
    ("boot-90", "through"): lambda at: 1.2 + max(0.0, 1 - 1 / at["aout_ain"]) ** 2,
    ("boot-straight", "through"): lambda at: (1 - 1 / at["aout_ain"]) ** 2 + 0.05,
    ("exit-diffuser", "through"): lambda at: (
        float(look_up("exit-diffuser", "k", at["area_ratio"], at["angle_deg"])) + 1 / at["area_ratio"] ** 2
    ),
    ("entry-screened", "through"): lambda at: 0.5 + 1.3 * (1 - at["free_area"]) + (1 / at["free_area"] - 1) ** 2,
    ("exit-screened", "through"): lambda at: 1.0 + 1.3 * (1 - at["free_area"]) + (1 / at["free_area"] - 1) ** 2,
    ("screen-in-duct", "through"): lambda at: 1.3 * (1 - at["free_area"]) + (1 / at["free_area"] - 1) ** 2,
    ("perforated-plate", "through"): lambda at: (
        (0.707 * (1 - at["free_area"]) ** 0.375 + 1 - at["free_area"]) ** 2 / at["free_area"] ** 2
    ),
    ("damper-orifice", "through"): lambda at: (
        (1 + 0.707 * (1 - at["free_area"]) ** 0.5 - at["free_area"]) ** 2 / at["free_area"] ** 2
    ),
}


def coefficient(fitting: str, leg: str = "through", **at: float) -> float:
    """k of a leg at given parameters, those not given at their defaults.

    Raises InputError for a fitting or a leg without a coefficient.
    """
    entry = fitting_tables().get(fitting)
    if entry is None:
        raise InputError(f"There is no fitting “{fitting}”", where="catalogue of fittings")
    out = next((o for o in entry.get("out", ()) if o["leg"] == leg), None)
    if out is None:
        raise InputError(
            f"{entry['name']} states no coefficient for its {leg}",
            where=f"fitting {fitting}",
            remedy="Type one, or its equivalent length",
        )
    known = {p["name"]: float(p.get("default", 0.0)) for p in entry.get("params", ())} | at
    if "product" in out:
        k = 1.0
        for table in out["product"]:
            axes = [a["name"] for a in entry["tables"][table]["axes"]]
            k *= float(look_up(fitting, table, *(known[a] for a in axes)))
        return k
    if (fitting, leg) in FORMULAS:
        return FORMULAS[fitting, leg](known)
    try:
        return float(out["formula"])
    except ValueError as error:
        raise InputError(
            f"The formula of {entry['name']} is not among those that are coded", where=f"fitting {fitting}"
        ) from error


FORMULAS |= {
    (i, "straight"): lambda at: 0.4 * (1 - min(at["vs_vc"], 1.0)) ** 2
    for i in (
        "tee-div-90",
        "tee-div-90-full",
        "tee-div-90-conical",
        "wye-div",
        "wye-div-45-conical",
        "cross-div-90",
        "takeoff-straight",
        "takeoff-conical",
        "takeoff-shoe-45",
    )
}
FORMULAS |= {
    (i, "straight"): lambda at: 1.55 * at["qb_qc"] - at["qb_qc"] ** 2
    for i in ("tee-conv-90", "cross-conv-90", "takeoff-return-90")
}
FORMULAS["wye-conv", "straight"] = lambda at: (
    1 - (1 - at["qb_qc"]) ** 2 - 2 * at["qb_qc"] ** 2 / at["ab_ac"] * cos(radians(at["angle_deg"]))
)


SHAPES = {"round": "round", "rectangular": "rect", "oval": "oval"}
PLACE_FAMILIES = {"elbow": ("elbow",), "transition": ("transition",), "takeoff": ("tee-diverging", "takeoff", "cross")}
LEAVING_FAMILIES = {**PLACE_FAMILIES, "takeoff": ("tee-converging", "takeoff", "cross")}


@lru_cache(maxsize=64)
def choices(place: str, shape: str, leaving: bool = False) -> tuple[tuple[str, str], ...]:
    """(id, name) of fittings that may stand at a place of a duct of that shape, for supply air or air that leaves."""
    families = (LEAVING_FAMILIES if leaving else PLACE_FAMILIES)[place]
    wrong = "supply" if leaving else "extract"
    own = SHAPES[shape]
    return tuple(
        (i, f["name"])
        for i, f in fitting_tables().items()
        if f["family"] in families
        and f["shape"] in ("any", own, *(("rect",) if shape == "oval" and place == "transition" else ()))
        and f["service"] != wrong
        and i not in ("tee-div-bullhead", "tee-conv-bullhead", "wye-div-dovetail", "wye-conv-dovetail")
    )
