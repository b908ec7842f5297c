"""Studies: every combination is what the project computes when it is edited so, on this machine and on a scheduler."""

import csv
import io
import itertools
import threading
import unittest
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache
from unittest import mock

import msgspec
from numpy.testing import assert_allclose

from garnetfin.core.errors import GarnetfinError, InputError
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.engine.studies.study import (
    Axis,
    StudyStopped,
    combinations,
    compute_case,
    parameter,
    parameters,
    read_off,
    readings,
    run_study,
    steps,
    varied,
)
from garnetfin.engine.studies.study_places import workers
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.store import decode
from garnetfin.project.values import Pinned
from garnetfin.report.study_files import study_csv, study_parquet
from tests.example import one_room, station, station_results

AXES = (Axis("glass g", (0.3, 0.5)), Axis("rooms lights_w_m2", (4.0, 8.0, 12.0)))


@lru_cache(maxsize=1)
def studied():
    with ThreadPoolExecutor(2) as executor:
        return run_study(one_room(), AXES, executor)


class Cases(unittest.TestCase):
    def test_each_case_is_the_project_edited_so(self):
        self.assertEqual(
            [c.values for c in studied()], [(0.3, 4.0), (0.3, 8.0), (0.3, 12.0), (0.5, 4.0), (0.5, 8.0), (0.5, 12.0)]
        )
        for case in studied():
            alone = run(varied(one_room(), [a.key for a in AXES], case.values), Memo())
            for key, value in case.readings.items():
                self.assertEqual(value, read_off(alone)[key], (case.values, key))

    def test_lights_add_what_they_give_off(self):
        """An independent route: 4 W/m2 more on 20 m2 can raise the coincident peak by no more than those 80 W."""
        loads = [c.readings["cooling"] for c in studied()]
        for a, b in itertools.pairwise(loads[:3]):
            self.assertGreater(b - a, 20.0)
            self.assertLessEqual(b - a, 80.0 + 1e-6)
        self.assertGreater(loads[3], loads[0])  # more sun

    def test_a_memo_has_one_thread(self):
        """Two threads of one process at work on the same study, each twice."""
        data, met, seen = msgspec.json.encode(one_room()), threading.Barrier(2, timeout=60), []

        def noted(project, memo):
            seen.append((threading.get_ident(), memo))
            return run(project, memo)

        def twice(lights: float) -> list:
            met.wait()
            return [compute_case(data, ("rooms lights_w_m2",), (lights + more,)).readings for more in (0.0, 1.0)]

        with mock.patch("garnetfin.engine.studies.study.run", noted), ThreadPoolExecutor(2) as executor:
            found = list(executor.map(twice, (4.0, 8.0)))
        self.assertEqual(len({thread for thread, _ in seen}), 2)
        self.assertEqual(len({id(memo) for _, memo in seen}), 2)
        self.assertEqual(len({(thread, id(memo)) for thread, memo in seen}), 2)  # the second case finds the first's
        for case in itertools.chain(*found):
            self.assertIsNotNone(case["cooling"])

    def test_readings_are_what_the_chain_shows(self):
        found, results = read_off(station_results()), station_results()
        self.assertEqual(found["cooling"], results.blocks[""].peak_w)
        self.assertEqual(found["power ahu-north"], results.fans["ahu-north"].point.electric_w)
        self.assertEqual(found["findings"], len(results.findings))
        self.assertEqual(set(found), {r.key for r in readings(station())})

    def test_every_parameter_moves_what_it_names(self):
        for p in parameters(station()):
            if p.key.startswith("book"):
                continue
            value = p.low + 0.37 * (p.high - p.low)
            changed = p.apply(station(), value)
            self.assertIsNot(changed, station(), p.key)
            now = p.now(changed)
            if now == now:
                assert_allclose(now, value, err_msg=p.key)

    def test_a_value_that_cannot_be_is_said_and_the_rest_goes_on(self):
        case = compute_case(msgspec.json.encode(one_room()), ("glass u",), (-3.0,))
        self.assertEqual(case.readings, {})
        self.assertTrue(case.why)
        with ThreadPoolExecutor(1) as executor:
            found = run_study(one_room(), (Axis("glass u", (1.0, -3.0, 2.0)),), executor)
        self.assertEqual([bool(c.why) for c in found], [False, True, False])

    def test_ranges_and_limits(self):
        assert_allclose(steps(0.2, 0.6, 5), [0.2, 0.3, 0.4, 0.5, 0.6], atol=1e-12)
        self.assertEqual(steps(3.0, 3.0, 9), (3.0,))
        self.assertRaises(InputError, steps, 0, 1, 0)
        self.assertRaisesRegex(InputError, "1 to 4 things", combinations, ())
        self.assertRaisesRegex(InputError, "each thing once", combinations, (AXES[0], AXES[0]))
        self.assertRaisesRegex(
            InputError,
            "more than the 20000",
            combinations,
            (Axis("a", tuple(range(200))), Axis("b", tuple(range(101)))),
        )
        self.assertRaisesRegex(InputError, "nothing “moon”", parameter, station(), "moon")

    def test_it_stops_when_it_is_told_to(self):
        done = []
        with ThreadPoolExecutor(1) as executor, self.assertRaises(StudyStopped) as stopped:
            run_study(one_room(), AXES, executor, lambda n, of: done.append(n), lambda: len(done) >= 2)
        self.assertEqual(done, [1, 2])
        self.assertEqual(stopped.exception.cases, studied()[:2])  # what there was is kept

    def test_many_go_to_a_process_together_and_come_back_in_order(self):
        axes = (Axis("north", tuple(float(k) for k in range(0, 260, 2))),)
        done = []
        with (
            mock.patch("garnetfin.engine.studies.study.run", lambda p, _: p),
            mock.patch("garnetfin.engine.studies.study.read_off", lambda p: {"north": p.site.north_deg}),
            ThreadPoolExecutor(2) as executor,
        ):
            found = run_study(one_room(), axes, executor, lambda n, _: done.append(n))
        self.assertEqual([c.readings["north"] for c in found], list(axes[0].values))
        self.assertLessEqual(len(done), 66)  # packets of two


class Places(unittest.TestCase):
    def test_processes_of_this_machine_give_the_same(self):
        with workers(processes=2) as executor:
            found = run_study(one_room(), AXES, executor)
        self.assertEqual([(c.values, c.readings) for c in found], [(c.values, c.readings) for c in studied()])

    def test_a_scheduler_gives_the_same(self):
        from distributed import LocalCluster

        with LocalCluster(n_workers=1, threads_per_worker=1, processes=False, dashboard_address=None) as cluster:
            with workers(cluster.scheduler_address) as executor:
                found = run_study(one_room(), AXES[:1], executor)
        with ThreadPoolExecutor(1) as executor:
            self.assertEqual(found, run_study(one_room(), AXES[:1], executor))

    def test_a_scheduler_that_is_not_there_is_said(self):
        from unittest import mock

        with (
            mock.patch("garnetfin.engine.studies.study_places.CONNECT_S", 1),
            self.assertRaisesRegex(GarnetfinError, "No scheduler answers"),
            workers("tcp://127.0.0.1:1"),
        ):
            self.fail("there is no scheduler")


class Files(unittest.TestCase):
    def test_csv_and_parquet_hold_every_case_in_si(self):
        import pyarrow.parquet

        rows = list(csv.reader(io.StringIO(study_csv(one_room(), AXES, studied()).decode("utf-8-sig"))))
        self.assertEqual(
            rows[0][:4],
            [
                "Glass, total transmittance g [-]",
                "All served rooms: lights [W/m²]",
                "Cooling, rooms together [W]",
                "Heating, rooms together [W]",
            ],
        )
        table = pyarrow.parquet.read_table(io.BytesIO(study_parquet(one_room(), AXES, studied())))
        self.assertEqual(table.column_names, rows[0])
        for i, case in enumerate(studied()):
            self.assertAlmostEqual(float(rows[i + 1][2]), case.readings["cooling"], places=6)
            self.assertEqual(table.column(2)[i].as_py(), case.readings["cooling"])

    def test_an_unaltered_project_is_its_own_case(self):
        project = SetRoomValue(("r1",), "lights_w_m2", Pinned(value=4.0)).apply(one_room())
        self.assertEqual(decode(msgspec.json.encode(project), "x"), project)
        case = compute_case(msgspec.json.encode(project), ("rooms lights_w_m2",), (4.0,))
        self.assertEqual(case.readings, read_off(run(project, Memo())))
