"""What is done with rooms by typed values: moved, copied, numbered, mirrored, merged, zoned; each asked for in one
line.
"""

from collections.abc import Callable

from garnetfin import display
from garnetfin.core.errors import GarnetfinError, InputError
from garnetfin.project.edits.book import AddMaterial
from garnetfin.project.edits.fabric import AddFabricSet
from garnetfin.project.edits.groups import AddLevel, AddZone, CopyLevel, SetNorth
from garnetfin.project.edits.openings import CopyOpenings, RepeatOpening
from garnetfin.project.edits.outlines import MoveRooms, SetOutline
from garnetfin.project.edits.rooms import AddWindow
from garnetfin.project.edits.shape import CopyRooms, MergeRooms, MirrorRooms, NumberRooms
from garnetfin.project.edits.systems import AddSystem
from garnetfin.project.lookup import find, walls_of
from garnetfin.ui.frame.ask import Ask, Wanted
from garnetfin.ui.session import Session
from garnetfin.ui.views.base import View


class RoomCommands(View):
    """A view with a line that asks. Commands act on the selected rooms, or say that none is selected."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.ask = Ask()
        self._column.addWidget(self.ask)

    def show_plan(self) -> None:
        """Bring the plan to the front before something is asked about it."""

    def _drawn(self, command) -> None:
        """What was drawn is selected at once, so that its values can be typed."""
        rooms = {r.id for r in self.session.project.rooms}
        openings = {(w.id, o.id) for w in self.session.project.walls for o in w.openings}
        self.intent.emit(command)
        new = [r.id for r in self.session.project.rooms if r.id not in rooms]
        if new:
            self.session.select("room", *new)
            return
        fresh = [
            f"{w.id}/{o.id}" for w in self.session.project.walls for o in w.openings if (w.id, o.id) not in openings
        ]
        if len(fresh) == 1:
            self.session.select("opening", *fresh)

    def _rooms(self, least: int = 1) -> tuple[str, ...]:
        """The selected rooms; a sentence instead when there are too few."""
        ids = self.session.selection.of("room")
        if len(ids) < least:
            self.refused.emit(
                "Select a room first" if least == 1 else f"Select {least} rooms or more first: Shift adds"
            )
            return ()
        return ids

    def _ask(self, title: str, wanted: tuple[Wanted, ...], button: str, command: Callable[[dict], object]) -> None:
        self.show_plan()

        def take(values: dict) -> str:
            rooms = {r.id for r in self.session.project.rooms}
            try:
                made = command(values)
            except (GarnetfinError, ValueError, OverflowError) as error:
                return str(error)
            why = self.session.do(made)
            new = [r.id for r in self.session.project.rooms if r.id not in rooms]
            if new:
                self.session.select("room", *new)
            return why

        self.ask.ask(title, wanted, button, take, self.session.show.units)

    def ask_move(self) -> None:
        if ids := self._rooms():
            self._ask(
                "Move",
                (Wanted("x", "to the right", "0", "length"), Wanted("y", "upwards", "0", "length")),
                "Move",
                lambda v: MoveRooms(ids, v["x"], v["y"]),
            )

    def ask_size(self) -> None:
        """Width and depth of one room; its corners keep their shares of the two, from the lower left one."""
        ids = self._rooms()
        if len(ids) != 1:
            if ids:
                self.refused.emit("Select one room: sizes are typed for one at a time")
            return
        outline, units = find(self.session.project.rooms, ids[0]).outline, self.session.show.units
        xs, ys = [p[0] for p in outline], [p[1] for p in outline]
        x0, y0, width, depth = min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys)

        def sized(v: dict) -> SetOutline:
            if not (v["w"] > 0 and v["d"] > 0):
                raise InputError("Width and depth must be above 0")
            return SetOutline(
                ids[0],
                tuple(
                    (round(x0 + (x - x0) * v["w"] / width, 6), round(y0 + (y - y0) * v["d"] / depth, 6))
                    for x, y in outline
                ),
            )

        self._ask(
            "Size",
            (
                Wanted("w", "width", display.figure("length", width, units), "length"),
                Wanted("d", "depth", display.figure("length", depth, units), "length"),
            ),
            "Set",
            sized,
        )

    def ask_copy(self) -> None:
        if ids := self._rooms():
            self._ask(
                "Copy in a row",
                (
                    Wanted("n", "times", "1", "count", width=44),
                    Wanted("x", "each to the right", "0", "length"),
                    Wanted("y", "each upwards", "0", "length"),
                ),
                "Copy",
                lambda v: CopyRooms(ids, v["x"], v["y"], round(v["n"])),
            )

    def ask_copy_rooms_to_level(self) -> None:
        if ids := self._rooms():
            self._ask(
                "Copy to level",
                (Wanted("level", "level", choices=self._levels()),),
                "Copy",
                lambda v: CopyRooms(ids, level_id=v["level"]),
            )

    def ask_copy_level(self) -> None:
        here = self.session.show.level_id
        name = find(self.session.project.levels, here).name
        self._ask(
            f"Copy all rooms of {name}",
            (Wanted("level", "onto level", choices=tuple(x for x in self._levels() if x[0] != here)),),
            "Copy",
            lambda v: CopyLevel(here, v["level"]),
        )

    def _levels(self) -> tuple[tuple[str, str], ...]:
        return tuple((x.id, x.name) for x in self.session.project.levels)

    def add_fabric_set(self) -> None:
        """A set of what the building mostly has, selected so that its card is there."""
        if not self.session.do(AddFabricSet()):
            self.session.select("fabric set", self.session.project.fabric_sets[-1].id)

    def ask_material(self) -> None:
        """A material of the office's own, described by its four figures."""
        self._ask(
            "Own material",
            (
                Wanted("name", "name", "", ""),
                Wanted("k", "conductivity", "0.04", "conductivity"),
                Wanted("d", "density", "30", "material_density"),
                Wanted("c", "specific heat", "1000", "specific_heat"),
            ),
            "Add",
            lambda v: AddMaterial(v["name"], v["k"], v["d"], v["c"]),
        )

    def ask_number(self) -> None:
        if ids := self._rooms():
            rooms = sorted(
                (find(self.session.project.rooms, i) for i in ids),
                key=lambda r: (-round(max(y for _, y in r.outline)), min(x for x, _ in r.outline)),
            )
            self._ask(
                "Number in sequence, from the upper left",
                (Wanted("first", "first number", rooms[0].number, width=90),),
                "Number",
                lambda v: NumberRooms(tuple(r.id for r in rooms), v["first"]),
            )

    def ask_row(self) -> None:
        chosen = self.session.selection.of("opening")
        if len(chosen) != 1:
            self.refused.emit("Select a window or door first")
            return
        wall_id, _, opening_id = chosen[0].partition("/")
        self._ask(
            "Row of openings",
            (Wanted("n", "times", "3", "count", width=44), Wanted("step", "apart (0 spreads evenly)", "0", "length")),
            "Repeat",
            lambda v: RepeatOpening(wall_id, opening_id, round(v["n"]), v["step"]),
        )

    def ask_north(self) -> None:
        site = self.session.project.site
        self._ask(
            "Turn north",
            (
                Wanted(
                    "deg",
                    "bearing of the plan’s upward direction",
                    display.number(site.north_deg if site else 0.0, 1),
                    "angle",
                ),
            ),
            "Turn",
            lambda v: SetNorth(v["deg"] % 360),
        )

    def merge(self) -> None:
        if ids := self._rooms(2):
            self.intent.emit(MergeRooms(ids))
            if find(self.session.project.rooms, ids[0]) is not None:
                self.session.select("room", ids[0])

    def mirror(self, axis: str) -> None:
        if ids := self._rooms():
            self.intent.emit(MirrorRooms(ids, axis))

    def copy_openings(self) -> None:
        if ids := self._rooms(2):
            self.intent.emit(CopyOpenings(ids[0], ids[1:]))

    def add_zone(self) -> None:
        before = {z.id for z in self.session.project.zones}
        self.intent.emit(AddZone(self.session.selection.of("room")))
        made = [z.id for z in self.session.project.zones if z.id not in before]
        if made:
            self.session.select("zone", *made)

    def add_system(self) -> None:
        before = {x.id for x in self.session.project.air_systems}
        self.intent.emit(AddSystem(self.session.selection.of("room")))
        made = [x.id for x in self.session.project.air_systems if x.id not in before]
        if made:
            self.session.set_show(system_id=made[0])

    def add_level(self, below: bool) -> None:
        before = {x.id for x in self.session.project.levels}
        self.intent.emit(AddLevel(below))
        made = [x.id for x in self.session.project.levels if x.id not in before]
        if made:
            self.session.set_show(level_id=made[0])
            self.session.select("level", *made)

    def add_window(self) -> None:
        """A window in the widest gap of the selected room's longest free outside wall."""
        project = self.session.project
        walls = [w for i in self._rooms()[:1] for w in walls_of(project.walls, i) if w.outside]
        if walls and project.glazings:
            free = max(walls, key=lambda w: w.length_m - sum(o.width_m for o in w.openings))
            self._drawn(AddWindow(free.id, project.glazings[0].id))
        elif self.session.selection.of("room"):
            self.refused.emit("The room has no outside wall")
