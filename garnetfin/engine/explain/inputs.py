"""Why? of what is given: inputs of rooms, profiles, the place and its months, the office standards."""

from garnetfin import display
from garnetfin.core.tables import MONTH_COLUMNS
from garnetfin.core.weather.design_day import RANGE_SHARE
from garnetfin.engine.explain.derivation import Contribution, Term, Why, among, given_figure, the, the_room
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import Climate, Results
from garnetfin.engine.stages.boundary_conditions import summer_months
from garnetfin.project.book import ASSUMPTIONS

INPUT_NAMES = {
    "area_m2": ("Floor area", "area"),
    "cooling_c": ("Set-point, cooling", "temperature"),
    "heating_c": ("Set-point, heating", "temperature"),
    "people": ("People", "people"),
    "people_area_m2": ("Floor for each person", "area"),
    "lights_w_m2": ("Lights", "electric_density"),
    "equipment_w_m2": ("Equipment", "electric_density"),
    "infiltration_1h": ("Infiltration", "air_change"),
    "air_change_1h": ("Least air change", "air_change"),
    "outdoor_m3s": ("Outdoor air", "room_flow"),
    "moisture_w": ("Moisture of a process", "load"),
    "cooling_limit_w": ("Cooling that is there", "load"),
    "heating_limit_w": ("Heating that is there", "load"),
    "extract_m3s": ("Extract air", "room_flow"),
}


SITE_NAMES = {
    "winter_c": ("Winter dry bulb", "temperature"),
    "winter_humidity": ("Winter humidity", "fraction"),
    "annual_mean_c": ("Mean of the year", "temperature"),
    "ground_reflectance": ("Ground reflectance", "plain"),
}


MONTH_NAMES = {
    "dry_bulb_c": ("Dry bulb", "temperature"),
    "wet_bulb_c": ("Coincident wet bulb", "temperature"),
    "range_k": ("Daily range", "temperature_difference"),
    "wet_range_k": ("Range of the wet bulb", "temperature_difference"),
    "tau_b": ("Clearness of the beam", "plain"),
    "tau_d": ("Clearness of the sky", "plain"),
}


def input_why(results: Results, room_id: str, field: str) -> Why:
    name, quantity = among(INPUT_NAMES, field)
    found = the_room(results, room_id)
    f = getattr(found.figures, field)
    why = given_figure(name, quantity, f, ("room", room_id))
    if field == "people" and f.origin == "rule":
        return Why(
            name,
            f.figure,
            quantity,
            (
                Term(found.figures.area_m2.figure, "area", ("input", room_id, "area_m2")),
                " / ",
                Term(found.figures.people_area_m2.figure, "area", ("input", room_id, "people_area_m2")),
                " each",
            ),
            (),
            f.source,
            "rule",
            ("room", room_id),
        )
    if field == "area_m2" and f.origin == "rule":
        outline = the(results.project.rooms, room_id).outline
        return Why(
            name,
            f.figure,
            quantity,
            (f"of an outline with {len(outline)} corners",),
            (
                Contribution("On wall centre lines", found.figures.centre_m2, "area"),
                Contribution("Net, between walls", found.figures.net_m2, "area"),
            ),
            f.source,
            "rule",
            ("room", room_id),
        )
    return why


def profile_why(results: Results, room_id: str) -> Why:
    found = the_room(results, room_id)
    profile = found.figures.profile
    span = display.hours_of_day(profile.summer > 0)
    ahead = ", by the clock, an hour ahead from April to October" if summer_months(results.project.site) else ""
    return Why(
        f"Profile: {profile.name}",
        float(profile.summer.max()),
        "fraction",
        (f"in use {span}{ahead}; the summer design day's profile",),
        (),
        "own profile" if profile.own else "profile that ships, project default",
        "pinned" if profile.own else "rule",
        ("room", room_id),
    )


# -- place and book -----------------------------------------------------------------------------------------------
def outdoor_why(results: Results, m: int, h: int) -> Why:
    climate: Climate = results.climate
    top, swing = (climate.figures.months[m][MONTH_COLUMNS.index(n)].figure for n in ("dry_bulb_c", "range_k"))
    return Why(
        f"Outdoor dry bulb, {display.hour(m, h)}",
        float(climate.days.dry_bulb_c[m, h]),
        "temperature",
        (
            Term(top, "temperature", ("month", m, "dry_bulb_c")),
            f" − {RANGE_SHARE[h]:.2f} × ",
            Term(swing, "temperature_difference", ("month", m, "range_k")),
        ),
        (),
        "Share of the daily range: ASHRAE Fundamentals ch. 14 (verify edition)",
        go=("place", ""),
    )


def month_why(results: Results, m: int, field: str) -> Why:
    name, quantity = among(MONTH_NAMES, field)
    return given_figure(
        f"{name}, {display.MONTHS[m]}",
        quantity,
        results.climate.figures.months[m][MONTH_COLUMNS.index(field)],
        ("place", ""),
    )


def site_why(results: Results, field: str) -> Why:
    name, quantity = among(SITE_NAMES, field)
    return given_figure(name, quantity, getattr(results.climate.figures, field), ("place", ""))


def book_why(results: Results, field: str) -> Why:
    _, quantity, _, _, label = ASSUMPTIONS[field]
    return given_figure(label, quantity, assumption(results.project.book, field), ("book", field))
