"""What an edit moved: two states of results compared part by part, counted."""

from dataclasses import dataclass

from garnetfin.engine.results import Results

SAME = 1e-3  # a thousandth: no more comes to a room through two walls from one that was edited


@dataclass(frozen=True, slots=True)
class Changes:
    """How many rooms, flows, duct sizes and runs differ; pinned sizes that stood."""

    rooms: int
    flows: int
    ducts: int
    pinned: int
    pressures: int

    @property
    def words(self) -> str:
        parts = [
            f"{n} {what if n != 1 else what[:-1]}"
            for n, what in (
                (self.rooms, "room loads"),
                (self.flows, "flows"),
                (self.ducts, "duct sizes"),
                (self.pressures, "run pressures"),
            )
            if n
        ]
        return ("Moved: " + ", ".join(parts) if parts else "Nothing by rule moved") + (
            f"; {self.pinned} pinned sizes stand" if self.pinned else ""
        )


def differ(a: float, b: float) -> bool:
    """More than a thousandth apart; infinite figures (no limit) are alike."""
    return a != b and not abs(a - b) <= SAME * max(1e-3, abs(a), abs(b))


def changes(before: Results, after: Results) -> Changes:
    rooms = sum(
        1
        for r in after.project.rooms
        if (o := before.room(r.id))
        and (n := after.room(r.id))
        and (differ(o.peak_w, n.peak_w) or differ(o.heating_w, n.heating_w))
    )
    flows = sum(
        1 for i, n in after.room_air.items() if i in before.room_air and differ(before.room_air[i].flow_m3s, n.flow_m3s)
    )
    sizes, pinned, runs = 0, 0, 0
    for system in after.project.air_systems:
        old = {i: s for d in before.networks(system.id) for i, s in d.segments.items()}
        for network in after.networks(system.id):
            pinned += sum(s.pinned for s in network.segments.values())
            sizes += sum(1 for i, s in network.segments.items() if i in old and s.section != old[i].section)
        losses = {t.terminal_id: t.run_pa for d in before.networks(system.id) for t in d.terminals}
        runs += sum(
            1
            for d in after.networks(system.id)
            for t in d.terminals
            if t.terminal_id in losses and differ(losses[t.terminal_id], t.run_pa)
        )
    return Changes(rooms, flows, sizes, pinned, runs)
