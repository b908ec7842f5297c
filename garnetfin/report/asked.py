"""Which derivation a line of a printed page asks for: the part it names, by the paper it stands in."""

from garnetfin.engine.explain.explain import explain
from garnetfin.engine.results import AirResult, Block, DuctResult, Results, TrainResult

# What a line about a room, a terminal or a duct tells of, by paper; kinds of derivations to which the part's id is put.
OF_ROOM = {
    "summary": ("room", "{}", "cooling"),
    "rooms": ("room", "{}", "cooling"),
    "air": ("flow", "{}"),
    "outdoor": ("need", "{}", "outdoor air"),
    "noise": ("room noise", "{}"),
    "balance": ("room gets", "{}", "gets"),
    "changes": ("room", "{}", "cooling"),
    "basis": ("input", "{}", "area_m2"),
    "plans": ("flow", "{}"),
    "derivations": ("room", "{}", "cooling"),
}
OF_TERMINAL = {
    "terminals": ("terminal figure", "{}", "drop"),
    "ducts": ("run", "{}"),
    "balance": ("surplus", "{}"),
    "noise": ("terminal noise", "{}", "nc"),
    "plans": ("terminal flow", "{}"),
}
OF_DUCT = {
    "ducts": ("duct", "{}", "loss"),
    "balance": ("damper", "{}"),
    "changes": ("duct", "{}", "size"),
    "quantities": ("duct", "{}", "size"),
    "derivations": ("duct", "{}", "loss"),
}


# words of a line in which its part stands; figures behind them may look like a room's number
FIRST = 4


def asked(results: Results, paper_id: str, line: str, head: str = "") -> tuple:
    """The address of what a line of a paper is about, else of what its page is about by its head, else of what the
    paper comes to; () where it has no figure.
    """
    return (
        _of(results, paper_id, line.split()[:FIRST])
        or _of(results, paper_id, head.split())
        or _whole(results, paper_id)
    )


def _of(results: Results, paper_id: str, words: list[str]) -> tuple:
    project = results.project
    for parts, kinds, name in (
        (project.terminals, OF_TERMINAL, "label"),
        (project.segments, OF_DUCT, "id"),
        (project.rooms, OF_ROOM, "number"),
    ):
        known = {getattr(p, name): p.id for p in parts} if paper_id in kinds else {}
        for word in words:
            address = tuple(known[word] if x == "{}" else x for x in kinds[paper_id]) if word in known else ()
            if address and explain(results, address) is not None:
                return address
    return ()


def _whole(results: Results, paper_id: str) -> tuple:
    """What a paper comes to: the figure it is handed over for."""
    system_id = next(
        (i for i, d in results.ducts.items() if isinstance(d, DuctResult) and d.terminals), next(iter(results.air), "")
    )
    ducts, train, block = results.ducts.get(system_id), results.trains.get(system_id), results.blocks.get("")
    run = ("run", ducts.index.terminal_id) if isinstance(ducts, DuctResult) and ducts.terminals else ()
    found = {
        "basis": ("site", "winter_c"),
        "summary": ("block", block.room_ids, "cooling") if isinstance(block, Block) else (),
        "outdoor": ("system outdoor", system_id),
        "air": ("system figure", system_id, "supply") if isinstance(results.air.get(system_id), AirResult) else (),
        "coils": ("coil", system_id, train.cooling.month, train.cooling.hour) if isinstance(train, TrainResult) else (),
        "plans": run,
        "ducts": run,
        "balance": run,
        "quantities": ("system figure", system_id, "mass"),
        "fan": ("fan pressure", system_id),
        "findings": ("findings",),
    }.get(paper_id, ())
    return found if found and explain(results, found) is not None else ()
