"""Anything an engineer may type, in any mixture: the engine never raises and never hands out what is not a number."""

import random
import unittest

import numpy as np
from msgspec import structs

from garnetfin.cli.results_json import as_json
from garnetfin.core.airflow.supply import NEEDS
from garnetfin.core.errors import GarnetfinError
from garnetfin.core.tables import fan_models, places, room_uses, terminal_models
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import DuctResult, FanResult, Missing, Results, TrainResult
from garnetfin.engine.run import run
from garnetfin.engine.studies.coil_sheet import coil_sheet
from garnetfin.engine.studies.worksheet import answers
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.book import SetAssumption, SetBookChoice, SetUseProfile
from garnetfin.project.edits.duct_runs import (
    DrawRun,
    MovePoint,
    RemoveDucts,
    SetFlexible,
    SetShape,
    SetSize,
    SetTerminal,
)
from garnetfin.project.edits.fabric import AddFabricSet, AddLayer, ClearUnused, MoveLayer, RemoveLayer, SetShade
from garnetfin.project.edits.groups import (
    AddLevel,
    AddZone,
    RemoveZone,
    SetAreaBasis,
    SetLevel,
    SetNorth,
    SetRoomLevel,
    SetZone,
    SetZoneValue,
)
from garnetfin.project.edits.marks import AddMark
from garnetfin.project.edits.openings import AddOpening, CopyOpenings, SetWall
from garnetfin.project.edits.outlines import MoveRooms, RemoveRooms
from garnetfin.project.edits.rooms import (
    AddWindow,
    RemoveOpening,
    SetCeiling,
    SetGlazing,
    SetOpening,
    SetRoomChoice,
    SetRoomUse,
    SetRoomValue,
    SetServed,
    SetVoid,
)
from garnetfin.project.edits.shape import CopyRooms, MergeRooms, MirrorRooms, SplitRoom
from garnetfin.project.edits.site import SetMonth, SetPlace, SetSite, SetSiteValue
from garnetfin.project.edits.state_list import AddListRow
from garnetfin.project.edits.systems import (
    AddPart,
    ChooseFan,
    MovePart,
    RemovePart,
    SetMonths,
    SetOperation,
    SetPart,
    SetPattern,
    SetSystemChoice,
    SetSystemValue,
    SetTransfer,
)
from garnetfin.project.edits.terminals import AlignTerminals, CopyTerminals, MoveTerminals, Placement, PlaceTerminals
from garnetfin.project.parts import KINDS, PATTERNS
from garnetfin.project.tree import Project, check_links
from garnetfin.project.values import Pinned, Rule
from tests.example import one_room, station

RANGES = {
    "area_m2": (0.5, 2000),
    "cooling_c": (8, 45),
    "heating_c": (-5, 35),
    "people": (0, 500),
    "lights_w_m2": (0, 200),
    "equipment_w_m2": (0, 5000),
    "infiltration_1h": (0, 20),
    "air_change_1h": (0, 50),
    "outdoor_m3s": (0, 20),
    "supply_m3s": (0, 200),
    "extract_m3s": (0, 30),
    "return_m3s": (0, 30),
    "moisture_w": (0, 20000),
}
SYSTEM = {
    "supply_c": (5, 38),
    "warm_limit_k": (1, 30),
    "friction_pa_m": (0.06, 15),
    "allowance": (0, 0.9),
    "outdoor_m3s": (0, 50),
    "least_share": (0, 1),
    "humidity_high": (0.1, 1),
    "people": (0, 900),
}


def edit(rng: random.Random, project: Project):
    """One command of a kind drawn by lot, with figures from the whole accepted range."""

    def one(items):
        return rng.choice(items).id if items else "none"

    def value(low: float, high: float):
        return Rule() if rng.random() < 0.2 else Pinned(value=rng.choice((low, high, rng.uniform(low, high))))

    room, segment, terminal, system = (
        one(x) for x in (project.rooms, project.segments, project.terminals, project.air_systems)
    )
    wall = rng.choice(project.walls) if project.walls else None
    field, key = rng.choice(list(RANGES)), rng.choice(list(SYSTEM))
    side = rng.uniform(0.03, 1.5)
    choices = [
        SetRoomValue((room,), field, value(*RANGES[field])),
        SetRoomUse((room,), rng.choice(list(room_uses()))),
        SetCeiling((room,), rng.uniform(0.5, 12)),
        SetServed((room,), rng.choice(("", system))),
        SetSystemValue(system, key, value(*SYSTEM[key])),
        ChooseFan(system, rng.choice(("", *fan_models()))),
        SetSize((segment,), PinnedSize(shape="round", width_m=side, height_m=side)),
        SetSize((segment,), PinnedSize(shape="rectangular", width_m=side, height_m=rng.uniform(0.03, 1.5))),
        SetShape((segment,), rng.choice(("round", "rectangular"))),
        SetFlexible(segment, rng.uniform(0, 15)),
        SetTerminal(terminal, share=value(0, 1)),
        SetTerminal(terminal, model=rng.choice(("", "odd", *terminal_models()))),
        RemoveDucts((segment,)),
        SetMonth(rng.randrange(12), "dry_bulb_c", Pinned(value=rng.uniform(-30, 50))),
        SetSiteValue("winter_c", value(-50, 30)),
        SetSiteValue("ground_reflectance", value(0, 1)),
        DrawRun(system, project.levels[0].id, ((rng.uniform(0, 30), 3.0, 3.0), (rng.uniform(0, 30), 9.0, 3.0))),
        RemoveRooms((room,)),
        MoveRooms((room,), rng.uniform(-2, 2), rng.uniform(-2, 2)),
    ]
    zone, level = one(project.zones), one(project.levels)
    cut = rng.uniform(0, 30)
    choices += [
        SplitRoom(room, ((cut, -5.0), (cut, 20.0))),
        MergeRooms((room, one(project.rooms))),
        MirrorRooms((room,), rng.choice("xy")),
        CopyRooms((room,), rng.uniform(-40, 40), rng.uniform(-40, 40), rng.randint(1, 2), mirror=rng.choice(("", "x"))),
        AddZone((room,)),
        SetZone((room,), zone),
        SetZoneValue(zone, rng.choice(("cooling_c", "heating_c")), value(18, 26)),
        SetZoneValue(zone, "supply_c", value(6, 20)),
        SetZoneValue(zone, "humidity_high", value(0.3, 0.9)),
        RemoveZone(zone),
        SetNorth(rng.uniform(0, 359)),
        SetAreaBasis(rng.choice(("centre", "net"))),
        AddLevel(rng.random() < 0.5),
        SetLevel(level, "storey_m", rng.uniform(2.4, 6)),
        SetRoomLevel((room,), level),
        SetLevel(level, "floor_m2", value(5, 900)),
    ]
    train = rng.choice(project.air_systems).parts if project.air_systems else ()
    part, other = (rng.choice(train).id if train else "none" for _ in range(2))
    kind = rng.choice(list(KINDS))
    figure, span = rng.choice(list(KINDS[kind].figures.items())) if KINDS[kind].figures else ("pressure", None)
    same = next((p.id for p in train if p.kind == kind), part)
    choices += [
        SetPattern(system, rng.choice(list(PATTERNS))),
        AddPart(system, kind, rng.choice(("", other))),
        MovePart(system, part, rng.choice(("", other))),
        RemovePart(system, part),
        SetPart(system, same, figure, value(span.low, span.high) if span else value(0, 900)),
        SetPart(system, same, "choice", rng.choice([k for k, _ in KINDS[kind].choices] or [""])),
        SetSystemChoice(system, "supply", rng.choice(("held", "coil", "room", "neediest"))),
        SetSystemChoice(system, "flow", rng.choice(("fixed", "load"))),
        SetMonths(
            system,
            rng.choice(("cooling_months", "heating_months")),
            tuple(rng.sample(range(1, 13), rng.randint(0, 12))),
        ),
        SetTransfer(room, one(project.rooms), value(0, 3)),
        SetRoomChoice((room,), "need", rng.choice(("", *NEEDS))),
        SetRoomChoice((room,), "air", rng.choice(("supply", "transfer"))),
        SetRoomChoice((room,), "pressure", rng.choice(("negative high", "positive", "neutral"))),
        SetBookChoice("outdoor_method", rng.choice(("quality", "substance", "both", "people and area"))),
        SetBookChoice("category", rng.choice(["I", "II", "III", "IV"])),
        AddListRow(rng.choice(("state", "outdoor", "room", "mix", "process", "flow")), rng.choice(("", room))),
        SetAssumption(
            rng.choice(("noise_nc", "neck_m_s", "terminal_pa", "humidity_high", "chilled_return_c")),
            value(1.0, 1.0) if rng.random() < 0.2 else Rule(),
        ),
        MoveTerminals((terminal,), rng.uniform(-2, 2), rng.uniform(-2, 2)),
        AlignTerminals((room,), rng.uniform(0.3, 1.2)),
        CopyTerminals(room, (one(project.rooms),)),
        PlaceTerminals(
            (
                Placement(
                    room,
                    rng.choice(("supply", "return", "extract")),
                    rng.choice(("swirl", "egrid", "wallg")),
                    "",
                    ((1.0, 1.0), (2.0, 2.0)),
                ),
            )
        ),
    ]
    build_up = one(project.build_ups)
    choices += [
        SetOperation(system, "mode", rng.choice(("always", "use", "hours"))),
        SetOperation(system, "lead_h", float(rng.randint(0, 4))),
        SetOperation(system, rng.choice(("night_cooling_c", "night_heating_c")), value(10, 35)),
        SetOperation(f"zone:{zone}", "mode", rng.choice(("", "use", "always"))),
        SetAssumption(rng.choice(("infiltration_1h", "bridges_w_m2k", "warm_up_w_m2")), value(0, 1)),
        SetRoomValue((room,), rng.choice(("cooling_limit_w", "heating_limit_w", "moisture_w")), value(0, 5000)),
        SetVoid((room,), rng.choice((0.0, 0.5))),
        SetRoomChoice((room,), "profile_id", rng.choice(("", "always", "evening"))),
        SetUseProfile(
            rng.choice(list(room_uses())),
            rng.choice(("working", "summer_design")),
            tuple(rng.random() for _ in range(24)),
        ),
        AddLayer(
            build_up, rng.randint(0, 3), rng.choice(("", "xps", "osb")), rng.uniform(0.005, 0.3), rng.random() < 0.3
        ),
        RemoveLayer(build_up, 0),
        MoveLayer(build_up, 0, 2),
        AddFabricSet(),
        ClearUnused(),
        AddMark("block", level, ((-9.0, -9.0), (20.0, -9.0), (20.0, -4.0)), rng.uniform(2, 40)),
        SetPlace(rng.choice(list(places()))),
        SetSite("summer_time", rng.random() < 0.5),
        SetSite("latitude_deg", rng.uniform(-90, 90)),
    ]
    if project.glazings:
        choices.append(SetShade(one(project.glazings), "kind", rng.choice(("", "inside", "outside"))))
    if project.duct_points:
        choices.append(MovePoint(one(project.duct_points), rng.uniform(0, 30), rng.uniform(0, 14), rng.uniform(2, 7)))
    if project.air_systems and project.air_systems[0].parts:
        choices.append(
            SetPart(system, one(project.air_systems[0].parts), "pressure", Pinned(value=rng.uniform(0, 4000)))
        )
    if wall is not None and project.glazings:
        choices.append(AddWindow(wall.id, project.glazings[0].id, rng.uniform(0.1, 3)))
        choices += [
            AddOpening(wall.id, rng.choice(("window", "door")), rng.uniform(0, wall.length_m)),
            SetWall((wall.id,), "build_up_id", one(project.build_ups)),
            SetWall((wall.id,), "thickness_m", rng.uniform(0.05, 0.6)),
            CopyOpenings(room, tuple(r.id for r in project.rooms[:3])),
        ]
        if wall.openings:
            opening = one(wall.openings)
            choices += [
                SetOpening(wall.id, opening, "width_m", rng.uniform(0.1, 6)),
                RemoveOpening(wall.id, opening),
                SetOpening(wall.id, opening, "overhang_m", rng.uniform(0, 5)),
                SetGlazing(((wall.id, opening),), one(project.glazings)),
            ]
    return rng.choice(choices)


class Anything(unittest.TestCase):
    def check(self, results: Results) -> None:
        for room in results.rooms.values():
            if not isinstance(room, Missing):
                self.assertTrue(np.isfinite(room.sensible_w).all() and np.isfinite(room.latent_w).all())
                self.assertTrue(np.isfinite(room.heating_w))
        for ducts in results.ducts.values():
            if isinstance(ducts, DuctResult):
                for t in ducts.terminals:
                    self.assertTrue(np.isfinite((t.flow_m3s, t.run_pa, t.surplus_pa)).all())
                    self.assertGreaterEqual(t.surplus_pa, 0)
        for fan in results.fans.values():
            if isinstance(fan, FanResult) and fan.point is not None:
                self.assertTrue(np.isfinite((fan.point.flow_m3s, fan.point.electric_w, fan.wanted_pa)).all())
        for found in results.trains.values():
            if isinstance(found, TrainResult):
                s = found.solved
                for values in (
                    s.cooling_w,
                    s.room_c,
                    s.room_w,
                    s.unit_w,
                    s.reheat_w,
                    *(n.t for n in s.nodes.values()),
                    *(n.w for n in s.nodes.values()),
                ):
                    self.assertTrue(np.isfinite(values).all())
                scale = max(float(s.cooling_w.max()), found.heater_w(found.heating), 1000.0)
                settled = s.residual <= 1.0
                # Hours that found no steady state are said in a finding; the others close.
                self.assertLess(float(np.abs(s.energy["whole"][settled]).max(initial=0.0)), 1e-3 * scale)
                coil_sheet(results, found.system_id, found.cooling)
        for row in results.room_air.values():
            self.assertTrue(np.isfinite((row.flow_m3s, row.return_m3s, row.extract_m3s, row.offset_m3s)).all())
        answers(results, {})
        as_json(results)

    def walk(self, project: Project, seed: int, steps: int) -> None:
        rng, memo, refused = random.Random(seed), Memo(), 0
        for _ in range(steps):
            command = edit(rng, project)
            try:
                project = command.apply(project)
            except GarnetfinError as error:
                refused += 1
                self.assertTrue(str(error))
                continue
            with self.subTest(seed=seed, command=repr(command)[:120]):
                check_links(project)
                self.check(run(project, memo))
        self.assertLess(refused, steps * 0.8)

    def test_one_room(self):
        for seed in range(4):
            self.walk(one_room(), seed, 40)

    def test_the_station(self):
        for seed in range(2):
            self.walk(station(), 100 + seed, 16)

    def test_a_warm_memory_gives_what_a_cold_one_gives(self):
        rng, memo, project = random.Random(7), Memo(), one_room()
        for _ in range(18):
            try:
                project = edit(rng, project).apply(project)
            except GarnetfinError:
                continue
            warm, cold = run(project, memo), run(project, Memo())
            self.assertEqual(as_json(warm), as_json(cold))

    def test_the_same_on_the_station_where_rooms_hang_on_each_other(self):
        rng, memo, project = random.Random(23), Memo(), station()
        rooms = [r.id for r in project.rooms]
        for k in range(14):
            command = SetServed((rng.choice(rooms),), rng.choice(("", "ahu-north"))) if k % 2 else edit(rng, project)
            try:
                project = command.apply(project)
            except GarnetfinError:
                continue
            warm, cold = run(project, memo), run(project, Memo())
            for room_id in cold.rooms:
                if not isinstance(cold.rooms[room_id], Missing):
                    # A batch of another size rounds differently, by less than 1e-9 of the load.
                    np.testing.assert_allclose(
                        warm.rooms[room_id].sensible_w, cold.rooms[room_id].sensible_w, rtol=1e-9, atol=1e-6
                    )
            self.assertEqual([f.title for f in warm.findings], [f.title for f in cold.findings])

    def test_findings_have_mends_that_apply(self):
        rng, project = random.Random(11), station()
        for _ in range(18):
            try:
                project = edit(rng, project).apply(project)
            except GarnetfinError:
                continue
        for finding in run(project, Memo()).findings:
            for mend in finding.mends:
                with self.subTest(finding=finding.title, mend=mend.label):
                    check_links(mend.command.apply(project))

    def test_every_card_and_table_shows_such_projects(self):
        from garnetfin.ui.state import Selection, Show, State
        from garnetfin.ui.view_models import air, air_tables, psychro, state_list, tables, terminals
        from garnetfin.ui.view_models.cards import card
        from garnetfin.ui.view_models.chain import chain

        for seed in range(4):
            rng, project = random.Random(40 + seed), structs.replace(station(), name="random")
            for _ in range(20):
                try:
                    project = edit(rng, project).apply(project)
                except GarnetfinError:
                    continue
            results = run(project, Memo())
            for link in ("Climate", "Building", "Loads", "Air", "Ducts", "Balance", "Fan", "Documents"):
                for kind, items in (
                    ("", ()),
                    ("room", project.rooms),
                    ("segment", project.segments),
                    ("terminal", project.terminals),
                ):
                    chosen = Selection(kind, (rng.choice(items).id,)) if items else Selection()
                    state = State(project, results, chosen, Show(link=link, system_id="ahu-north", level_id="G"), False)
                    self.assertTrue(card(state).title)
                    chain(state, 0)
            state = State(project, results, Selection(), Show(system_id="ahu-north", level_id="G"), False)
            for kind in ("cooling", "heating"):
                point = air.point_of(state, kind)
                if not isinstance(point, Missing):
                    self.assertTrue(air.train(state, point).parts and psychro.psychro(state, point).lines)
                    self.assertTrue(
                        air_tables.coil_table(state, point).rows
                        and air_tables.proof_table(state, point).rows
                        and air_tables.state_rows(state, point).rows
                    )
                    part = rng.choice(state.system.parts).id
                    self.assertTrue(
                        card(
                            State(
                                project,
                                results,
                                Selection("part", (part,)),
                                Show(link="Air", system_id="ahu-north", level_id="G"),
                                False,
                            ),
                            point=point,
                        ).title
                    )
            self.assertTrue(air_tables.plant_table(state).rows)
            self.assertTrue(
                terminals.schedule(state).columns
                and state_list.list_table(state, state_list.answered(state, Missing("no"))).columns
            )
            for table in (tables.room_table(state), tables.load_table(state), tables.flow_table(state)):
                self.assertTrue(table.columns)
