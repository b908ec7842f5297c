"""The year of hours beside the design days, what moves a load, densities across climates, sections of build-ups."""

import unittest
from dataclasses import replace

import numpy as np
from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.core.errors import Cancelled, InputError
from garnetfin.core.sun import hourly
from garnetfin.core.weather.hourly import HOURS, MONTH_OF_HOUR
from garnetfin.engine.layout.sections import look
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Missing
from garnetfin.engine.run import run
from garnetfin.engine.studies.densities import density_table
from garnetfin.engine.studies.sensitivity import sensitivity
from garnetfin.engine.studies.year import date_of, on_face, sun_year, year_of
from garnetfin.project.book import Book, DayProfile
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.values import Pinned
from tests.core.test_weather import synthetic
from tests.example import by_number as by_no
from tests.example import one_room, station, station_results


class Year(unittest.TestCase):
    def test_a_year_of_julys_design_day_gives_that_days_load(self):
        """The periodic engine and the time march meet on 21 July when every day of the file is July's design day."""
        results = run(one_room(), Memo())
        climate, room = results.climate, results.room("r1")
        year = replace(
            synthetic(45.0),
            dry_c=np.tile(climate.days.dry_bulb_c[6], 365),
            beam_w_m2=np.tile(hourly(climate.beam[6]), 365),
            diffuse_w_m2=np.tile(hourly(climate.diffuse[6]), 365),
        )
        found = year_of(results, year, ("r1",))
        load = (found.cooling_w[0] - found.heating_w[0]).reshape(365, 24)[201]
        # At night the year lets the room float between its set-points, so the morning starts cooler; the two skies
        # spread diffuse light differently over a wall. By noon a few percent are left of both.
        self.assertLess(np.abs(load - room.sensible_w[6])[12:22].max(), 0.06 * room.sensible_w[6].max())
        self.assertLessEqual(found.air_c[0].max(), room.figures.cooling_c.figure + 1e-3)

    def test_days_off_follow_their_own_profile(self):
        """Lights on Saturdays and Sundays: what their day brings more, those days' loads take out, and no others'."""
        loads = []
        for off in ((0.0,) * 24, (1.0,) * 24):
            profile = DayProfile(id="own", name="Own", working=(1.0,) * 24, other=off)
            project = structs.replace(one_room(profile_id="own"), book=Book(profiles=(profile,)))
            found = year_of(run(project, Memo()), synthetic(45.0), ("r1",))
            loads.append((found.cooling_w[0] - found.heating_w[0]).reshape(365, 24))
        more = (loads[1] - loads[0]).mean(axis=1)
        by_weekday = np.array([more[d:357:7].mean() for d in range(7)])
        self.assertGreaterEqual(int((by_weekday > 0.4 * by_weekday.max()).sum()), 2)
        self.assertLess(by_weekday.min(), 0.35 * by_weekday.max())

    def test_hours_beyond_and_date_of_the_peak(self):
        ids = tuple(r.id for r in station().rooms)
        found = year_of(station_results(), synthetic(46.2), ids)
        self.assertEqual(found.cooling_w.shape, (len(found.room_ids), HOURS))
        peak, at = found.peak
        self.assertIn(date_of(at)[0], (5, 6, 7, 8))
        self.assertEqual(found.beyond, int((found.total_w > found.design_w * 1.0001).sum()))
        winter = found.heating_w.sum(axis=0)[MONTH_OF_HOUR == 0].mean()
        self.assertGreater(winter, found.heating_w.sum(axis=0)[MONTH_OF_HOUR == 6].mean())
        self.assertAlmostEqual(peak, found.total_w.max())

    def test_dates(self):
        self.assertEqual((date_of(0), date_of(31 * 24 + 5), date_of(HOURS - 1)), ((0, 1, 0), (1, 1, 5), (11, 31, 23)))

    def test_it_can_be_stopped_and_needs_rooms(self):
        def stop(share: float) -> None:
            raise Cancelled

        self.assertRaises(Cancelled, year_of, station_results(), synthetic(46.2), ("r001",), stop)
        self.assertRaisesRegex(InputError, "None of these rooms", year_of, station_results(), synthetic(46.2), ())

    def test_irradiance_on_faces_is_that_of_pvlib(self):
        from pvlib.irradiance import get_total_irradiance

        year = synthetic(40.0)
        sun = sun_year(year, 40.0, 0.0, 0.0)
        high = np.degrees(sun.elevation) > 6
        for azimuth, tilt in ((180.0, 90.0), (250.0, 35.0), (0.0, 0.0)):
            beam, diffuse, _ = on_face(sun, azimuth, tilt, 0.2)
            level = sun.beam * np.sin(np.maximum(sun.elevation, 0)) + sun.diffuse
            other = get_total_irradiance(
                tilt,
                azimuth,
                90 - np.degrees(sun.elevation),
                np.degrees(sun.azimuth),
                sun.beam,
                level,
                sun.diffuse,
                dni_extra=sun.e0,
                albedo=0.2,
                model="haydavies",
            )
            assert_allclose((beam + diffuse)[high], np.asarray(other["poa_global"])[high], atol=1e-6)


class Movers(unittest.TestCase):
    def test_strongest_first_and_each_as_the_engine_itself_says(self):
        room = by_no(station(), "0.02").id
        found = sensitivity(station_results(), (room,))
        reach = [m.reach(found.base_w) for m in found.movers]
        self.assertEqual(reach, sorted(reach, reverse=True))
        self.assertLessEqual(len(found.movers), 10)
        # Rooms two walls away stand at their set-points here.
        assert_allclose(found.base_w, station_results().room(room).peak_w, rtol=1e-3)
        people = next(m for m in found.movers if m.name == "People")
        more = station_results().room(room).figures.people.figure * 1.5
        edited = run(SetRoomValue((room,), "people", Pinned(value=more)).apply(station()), Memo())
        assert_allclose(people.high_w, edited.room(room).peak_w, rtol=1e-3)

    def test_heating_has_its_own(self):
        room = by_no(station(), "0.01").id
        found = sensitivity(station_results(), (room,), heating=True)
        assert_allclose(found.base_w, station_results().room(room).heating_w, rtol=1e-6)
        self.assertIn("Winter dry bulb", [m.name for m in found.movers])

    def test_without_rooms_there_is_nothing_to_move(self):
        self.assertIsInstance(sensitivity(station_results(), ()), Missing)
        self.assertIsInstance(sensitivity(station_results(), (by_no(station(), "0.07").id,)), Missing)


class Densities(unittest.TestCase):
    def test_one_column_a_climate(self):
        table = density_table(run(one_room(), Memo()))
        self.assertEqual(table.places[0], "Somewhere")
        self.assertEqual(len(table.rows), 1)
        values = dict(zip(table.places, table.rows[0][2]))
        self.assertGreater(values["Sandmere"][0], values["Brackwater"][0])
        self.assertEqual(values["Palm Reach"][1], 0.0)  # no heating in the tropics
        self.assertGreater(values["Karrow"][1], values["Tern Point"][1])


class Sections(unittest.TestCase):
    def test_every_build_up_of_the_station_can_be_looked_at(self):
        results = station_results()
        for b in results.project.build_ups:
            found = look(results, b)
            self.assertIsNotNone(found.section, b.name)
            self.assertEqual(len(found.section.temperature_c), len(b.layers) + 3)
            self.assertGreater(found.answer.u_w_m2k, 0)

    def test_a_fault_is_said_in_its_place(self):
        results = run(one_room(), Memo())
        b = results.project.build_ups[0]
        wrong = structs.replace(b, layers=(structs.replace(b.layers[0], material="moonrock"),))
        self.assertIn("moonrock", look(results, wrong).fault)
