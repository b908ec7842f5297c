"""The state list: named states of air and processes between them, kept with the project."""

from typing import Literal

from garnetfin.core.errors import InputError
from garnetfin.project.values import Node, finite, within

RowKind = Literal["state", "outdoor", "air system", "room", "mix", "process", "difference", "flow"]
# Properties by name: what is accepted (in SI).
RANGES = {
    "t": (-60.0, 90.0),
    "wb": (-60.0, 90.0),
    "td": (-60.0, 90.0),
    "rh": (0.0, 1.0),
    "w": (0.0, 1.0),
    "h": (-1e5, 5e5),
    "v": (0.3, 5.0),
}
MOST_SOURCES = 60


class Source(Node, frozen=True):
    """A row that another one rests on, and its share of a mix."""

    row: str
    share: float = 1.0


class ListRow(Node, frozen=True):
    """A row: a state of two properties, one known elsewhere (`key`), a mix of others, or what lies between two of
    them.
    """

    id: str
    name: str
    kind: RowKind
    a: str = "t"
    a_value: float = 24.0
    b: str = "rh"
    b_value: float = 0.5
    # outdoor: summer or winter; room: its id; air system: its id and the place in its train
    key: str = ""
    sources: tuple[Source, ...] = ()
    flow_m3s: float = 1.0
    load_w: float = 1000.0

    def __post_init__(self) -> None:
        where = f"state list, {self.name}"
        if not self.name.strip():
            raise InputError("A row needs a name", where="state list")
        for name, value in ((self.a, self.a_value), (self.b, self.b_value)):
            if name not in RANGES:
                raise InputError(
                    f"Air has no property “{name}”", where=where, remedy="Take one of: " + ", ".join(RANGES)
                )
            within(value, *RANGES[name], "The figure", where)
        within(self.flow_m3s, 0, 1e4, "Flow", where, "m³/s")
        finite(self.load_w, "Load", where)
        if len(self.sources) > MOST_SOURCES:
            raise InputError(f"More than {MOST_SOURCES} streams", where=where)
        for source in self.sources:
            within(source.share, 0, 1e9, "Share", where)
