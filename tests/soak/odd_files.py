"""Project files with odd figures, texts and lists: refused with a sentence, or computed and printed without a fault."""

import json
import math
import random
from functools import lru_cache

import msgspec

from garnetfin.cli.results_json import as_json
from garnetfin.core.errors import GarnetfinError
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.store import decode
from tests.example import one_room, station

NUMBERS = (0, -1, 1e-9, 5e-324, 1e9, 1e308, -0.0, 0.5, 1, 2, 100, 2**53)
TEXTS = (
    "",
    "x" * 30_000,
    "a b\n\tc\u202e",
    "<b>&amp;",
    "=1+1",
    "ß" * 200,
    "wide " * 4000,
    "/",
    "0",
    "\x07\x00bell",
    "]]>",
    "\ud800",
)
BASES = ("room", "station")


@lru_cache
def base(name: str) -> bytes:
    return msgspec.json.encode({"room": one_room, "station": station}[name]())


def _places(value, path=()) -> list[tuple]:
    """Where every figure, text and list of a tree stands."""
    if isinstance(value, dict):
        return [p for k, v in value.items() for p in _places(v, (*path, k))]
    if isinstance(value, list):
        return [path, *(p for i, v in enumerate(value) for p in _places(v, (*path, i)))]
    return [path]


def _mutate(tree: dict, rng: random.Random) -> None:
    # A kind of part first, so that the many points of ducts do not take all the chances.
    kind = rng.choice([k for k, v in tree.items() if v and k != "format"])
    places = _places(tree[kind], (kind,)) if isinstance(tree[kind], (dict, list)) else [(kind,)]
    path = rng.choice(places)
    holder = tree
    for step in path[:-1]:
        holder = holder[step]
    value = holder[path[-1]]
    if isinstance(value, list):
        do = rng.randrange(4)
        holder[path[-1]] = (
            value[:-1],
            [*value, *value[:1]],
            value[::-1],
            [v for v in value for _ in range(1 + (rng.random() < 0.2))],
        )[do]
    elif isinstance(value, bool):
        holder[path[-1]] = not value
    elif isinstance(value, (int, float)):
        holder[path[-1]] = rng.choice(
            (*NUMBERS, value * 0.5, value * 2, -value, value * 1000, value + 1e-6, int(value))
        )
    elif isinstance(value, str):
        other = tree
        for step in rng.choice(places)[:-1]:
            other = other[step]
        texts = [v for v in other.values() if isinstance(v, str)] if isinstance(other, dict) else []
        holder[path[-1]] = rng.choice((*TEXTS, *texts))


def play(case: dict, papers: bool = True) -> str:
    """One file, by its base and the seeds of its changes. "" where it was refused, else what became of it; raises where
    a promise is broken.
    """
    tree = msgspec.json.decode(base(case["base"]))
    for seed in case["seeds"]:
        _mutate(tree, random.Random(seed))
    try:
        project = decode(json.dumps(tree).encode(), "odd.gfin")
    except GarnetfinError as error:
        said = str(error)
        if len(said) > 700 or "\n" in said:
            raise AssertionError(f"the refusal is no sentence: {said[:200]}") from None
        return ""
    results = run(project, Memo())
    struck = [f for f in results.findings if f.code == "fault"]
    if struck:
        raise AssertionError(f"{struck[0].title}: {struck[0].reason}")
    _finite(json.loads(json.dumps(as_json(results), allow_nan=False)))
    if papers:
        from garnetfin.report.document import Order
        from garnetfin.report.handover import FORMATS, files

        made = files(Order(results), tuple(FORMATS))
        if not all(made.values()):
            raise AssertionError("an empty paper")
    return f"{len(results.findings)} findings"


def _finite(value) -> None:
    if isinstance(value, dict):
        for v in value.values():
            _finite(v)
    elif isinstance(value, list):
        for v in value:
            _finite(v)
    elif isinstance(value, float) and not math.isfinite(value):
        raise AssertionError("a figure that is none")


def drawn(rng: random.Random) -> dict:
    """A case by lot: mostly one change, so that its project is still accepted."""
    return {"base": rng.choice(BASES), "seeds": [rng.randrange(2**32) for _ in range(rng.choice((1, 1, 1, 2, 3)))]}
