"""Why? of rooms together: the hour of their common peak, causes, heating."""

from garnetfin import display
from garnetfin.engine.explain.derivation import Contribution, Term, Why, most, present
from garnetfin.engine.explain.loads import BALANCE, cause_why, heating_cause_why, room_why
from garnetfin.engine.results import CAUSES, HEATING_CAUSES, Results, RoomResult
from garnetfin.engine.stages.blocks import block_of


# -- rooms together -----------------------------------------------------------------------------------------------
def block_why(results: Results, ids: tuple[str, ...], what: str, month: int = -1, hour: int = -1) -> Why | None:
    known = [results.room(i) for i in ids if results.room(i)]
    if not known:
        return None
    if len(known) == 1:
        return room_why(results, present(known[0]).room_id, what, month, hour)
    block = present(block_of(results, ids))
    names = {r.id: f"{r.number} {r.name}" for r in results.project.rooms}
    if what == "heating":
        parts = sorted(
            (Contribution(names[r.room_id], r.heating_w, "load", ("room", r.room_id, "heating")) for r in known),
            key=lambda p: -p.figure,
        )
        return Why(
            f"Heating of {len(known)} rooms",
            block.heating_w,
            "load",
            ("the sum of the rooms, less what they lose to each other",),
            most(parts),
            "EN 12831-1",
        )
    m, h = (month, hour) if month >= 0 else block.peak
    if what == "latent":
        return _block_latent(known, names, m, h)
    parts = sorted(
        (
            Contribution(
                names[r.room_id],
                float(r.sensible_w[m, h]),
                "load",
                ("room", r.room_id, "cooling", m, h),
                f"own peak {r.peak_w:.0f} W",
            )
            for r in known
        ),
        key=lambda p: -abs(p.figure),
    )
    return Why(
        f"Cooling of {len(known)} rooms, {display.hour(m, h)}",
        float(block.sensible_w[m, h]),
        "load",
        (
            "the sum of the rooms at that hour; ",
            Term(block.peak_w / block.sum_of_peaks_w if block.sum_of_peaks_w else 1.0, "fraction"),
            " of the sum of their own peaks, ",
            Term(block.sum_of_peaks_w, "load"),
        ),
        most(parts),
        BALANCE,
    )


def _block_latent(known: list[RoomResult], names: dict[str, str], m: int, h: int) -> Why:
    parts = sorted(
        (
            Contribution(names[r.room_id], float(r.latent_w[m, h]), "load", ("room", r.room_id, "latent", m, h))
            for r in known
        ),
        key=lambda p: -p.figure,
    )
    return Why(
        f"Latent load of {len(known)} rooms, {display.hour(m, h)}",
        sum(p.figure for p in parts),
        "load",
        ("the sum of the rooms at that hour",),
        most(parts),
    )


def block_cause_why(results: Results, ids: tuple[str, ...], cause: str, m: int, h: int) -> Why:
    known = [results.room(i) for i in ids if results.room(i)]
    if len(known) == 1:
        return cause_why(results, present(known[0]).room_id, cause, m, h)
    names = {r.id: f"{r.number} {r.name}" for r in results.project.rooms}
    i = CAUSES.index(cause)
    parts = sorted(
        (
            Contribution(names[r.room_id], float(r.by_cause_w[i, m, h]), "load", ("cause", r.room_id, cause, m, h))
            for r in known
            if abs(r.by_cause_w[i, m, h]) >= 0.05
        ),
        key=lambda p: -abs(p.figure),
    )
    return Why(
        f"{cause.capitalize()}, {display.hour(m, h)}",
        float(sum(r.by_cause_w[i, m, h] for r in known)),
        "load",
        ("the sum over the rooms",),
        most(parts),
        BALANCE,
    )


def block_heating_why(results: Results, ids: tuple[str, ...], cause: str) -> Why:
    known = [results.room(i) for i in ids if results.room(i)]
    if len(known) == 1:
        return heating_cause_why(results, present(known[0]).room_id, cause)
    names = {r.id: f"{r.number} {r.name}" for r in results.project.rooms}
    i, block = HEATING_CAUSES.index(cause), present(block_of(results, ids))
    parts = sorted(
        (
            Contribution(names[r.room_id], float(r.heating_by_cause_w[i]), "load", ("heating", r.room_id, cause))
            for r in known
            if abs(r.heating_by_cause_w[i]) >= 0.05
        ),
        key=lambda p: -abs(p.figure),
    )
    return Why(
        f"Heating of {len(known)} rooms: {cause}",
        float(block.heating_by_cause_w[i]),
        "load",
        ("what rooms lose to each other is no loss of them together",)
        if cause == "adjacent rooms"
        else ("the sum over the rooms",),
        most(parts),
        "EN 12831-1",
    )
