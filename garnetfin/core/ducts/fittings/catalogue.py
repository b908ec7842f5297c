"""Any fitting of the catalogue by its id: coefficients from its tables, or from the law its entry names.

An entry whose coefficient is a product of tables or a number needs no code; one that follows a law of its own needs a
file in `laws`.

Sources stand in the rows of the catalogue.
"""

from functools import cache, lru_cache
from typing import Any

from garnetfin.core.ducts.fittings.laws.law import Law, LegLaw, laws, number
from garnetfin.core.ducts.fittings.tables import look_up
from garnetfin.core.errors import InputError
from garnetfin.core.tables import fitting_tables

# Legs that run straight on are no pieces of their own: the piece is that of the branch beside them.
STRAIGHT_LEGS = {
    "tee-straight": "straight",
    "tee-conv-straight": "joining straight",
    "wye-conv-straight": "joining straight, wye",
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
    if "law" in out:
        return law_of(fitting, leg).k(known | {"part": part_of(out)})
    try:
        return float(out["formula"])
    except ValueError as error:
        raise InputError(
            f"{entry['name']} names no law for its {leg}",
            where=f"fitting {fitting}",
            remedy="Give it one of: " + ", ".join(laws()),
        ) from error


@cache
def range_of(fitting: str, name: str = "ab_ac") -> tuple[float, float]:
    """Between which figures of a parameter a fitting is measured or its formula made; all where it names none."""
    known = fitting_tables().get(fitting, {}).get("params", ())
    found: dict[str, Any] = next((p for p in known if p["name"] == name), {})
    return float(found.get("min", 0.0)), float(found.get("max", float("inf")))


def nearest(fitting: str, value: float, name: str = "ab_ac") -> float:
    """The figure of a parameter [as its entry says] at which a fitting is read: the nearest that it is made for."""
    low, high = range_of(fitting, name)
    return min(max(value, low), high)


@cache
def law_of(fitting: str, leg: str = "through") -> Law | LegLaw:
    """What a leg of a fitting follows; "fixed" where its entry names nothing. Raises InputError for an unknown law."""
    if fitting in STRAIGHT_LEGS:
        return laws()[STRAIGHT_LEGS[fitting]]
    name = next((o.get("law", "") for o in fitting_tables().get(fitting, {}).get("out", ()) if o["leg"] == leg), "")
    if name and name not in laws():
        raise InputError(f"There is no law of fittings “{name}”", where=f"fitting {fitting}, {leg}")
    return laws()[name or "fixed"]


def part_of(out: dict[Any, Any]) -> float:
    """The figure [-] of the law that is a row's own."""
    return float(out.get("part", 1.0))


def leg_at(fitting: str, k: float, share: float, area: float) -> tuple[int, float]:
    """(number of the law, its figure) of a branch or a straight leg that has `k` at a share of the whole flow and an
    area over the whole's: with other flows it goes on by its law. One whose law cannot give `k` stands fixed.
    """
    law = law_of(fitting, "branch")
    if not isinstance(law, LegLaw):
        return number("fixed"), k
    if law.fitted is None:
        outs = fitting_tables().get(fitting, {}).get("out", ())
        return number(law.name), next((part_of(o) for o in outs if o["leg"] == "branch"), 0.0)
    figure = law.fitted(k, share, area)
    return (number("fixed"), k) if figure is None else (number(law.name), figure)


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
