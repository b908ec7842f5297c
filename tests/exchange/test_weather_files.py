"""Weather files in the two common layouts and as plain tables: read back, and broken ones refused in words."""

import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.errors import FileError
from garnetfin.core.weather.hourly import MONTH_DAYS, Year, from_csv, sine_of_sun
from garnetfin.exchange import reading, worker
from garnetfin.exchange.weather_files import read_weather
from garnetfin.exchange.weather_table import mapping
from tests.core.test_weather import synthetic


def said(share: float, words: str) -> None:
    """No news wanted."""


def stamps():
    for month, days in enumerate(MONTH_DAYS, 1):
        for day in range(1, days + 1):
            for hour in range(24):
                yield month, day, hour


def epw(year: Year) -> str:
    """The common layout with eight lines of head, written from scratch here."""
    lines = [
        "LOCATION,Nowhere Point,-,INV,made,000000,40.00,0.00,0.0,25.0",
        *[
            "DESIGN CONDITIONS,0",
            "TYPICAL/EXTREME PERIODS,0",
            "GROUND TEMPERATURES,0",
            "HOLIDAYS/DAYLIGHT SAVINGS,No,0,0,0",
            "COMMENTS 1,invented",
            "COMMENTS 2,",
            "DATA PERIODS,1,1,Data,Sunday, 1/ 1,12/31",
        ],
    ]
    for i, (month, day, hour) in enumerate(stamps()):
        dry, dew = (f"{v:.2f}" if np.isfinite(v) else "99.9" for v in (year.dry_c[i], year.dew_c[i]))
        lines.append(
            f"2019,{month},{day},{hour + 1},60,?9,{dry},{dew},60,{year.pressure_pa[i]:.0f},0,0,300,0,"
            f"{year.beam_w_m2[i]:.1f},"
            f"{year.diffuse_w_m2[i]:.1f},0,0,0,0,180,{year.wind_m_s[i]:.1f},5,5,20,7777,9,999999999,20,0.1,0,88,0.2,0,0"
        )
    return "\n".join(lines) + "\n"


def plain(
    year: Year, head: str = "Month,Day,Hour,Dry bulb,Dew point,Pressure,Beam,Diffuse,Wind speed", leap: bool = False
) -> str:
    rows = [head]
    for i, (month, day, hour) in enumerate(stamps()):
        figures = (
            year.dry_c[i],
            year.dew_c[i],
            year.pressure_pa[i],
            year.beam_w_m2[i],
            year.diffuse_w_m2[i],
            year.wind_m_s[i],
        )
        rows.append(f"{month},{day},{hour}," + ",".join("" if v != v else f"{v:.2f}" for v in figures))
        if leap and (month, day, hour) == (2, 28, 23):
            rows += [f"2,29,{h},5,1,100000,0,0,2" for h in range(24)]
    return "\n".join(rows) + "\n"


class Files(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.year = synthetic(40.0)

    def read(self, text: str, name: str = "year.csv", **options):
        path = self.folder / name
        path.write_text(text)
        return read_weather(path, {"latitude": 40.0, "longitude": 0.0, "utc": 0.0, **options}, said)

    def test_the_layout_with_eight_lines_of_head(self):
        found = self.read(epw(self.year), "year.epw")
        self.assertEqual(
            (found.place, found.latitude_deg, found.altitude_m, found.located), ("Nowhere Point", 40.0, 25.0, True)
        )
        hours = from_csv(found.csv)
        assert_allclose(hours.dry_c, self.year.dry_c, atol=0.011)
        assert_allclose(hours.beam_w_m2, self.year.beam_w_m2, atol=0.11)
        self.assertEqual(found.faults, ())
        self.assertEqual(len(found.months), 12)
        self.assertAlmostEqual(
            found.months[6].dry_bulb_c[0], float(np.quantile(self.year.dry_c[181 * 24 : 212 * 24], 0.996)), 1
        )

    def test_missing_codes_are_holes(self):
        dry = self.year.dry_c.copy()
        dry[40] = np.nan
        found = self.read(epw(replace(self.year, dry_c=dry)), "year.epw")
        self.assertEqual([f[:2] for f in found.faults], [("gap", "dry_c")])

    def test_the_layout_of_typical_years_in_csv(self):
        head = (
            '000000,"NOWHERE",NV,0.0,40.00,0.00,25\nDate (MM/DD/YYYY),Time (HH:MM),GHI (W/m^2),DNI (W/m^2),DHI (W/m^2),'
            "Dry-bulb (C),Dew-point (C),RHum (%),Pressure (mbar),Wdir (degrees),Wspd (m/s)"
        )
        rows = [head]
        for i, (month, day, hour) in enumerate(stamps()):
            rows.append(
                f"{month:02d}/{day:02d}/1999,{hour + 1:02d}:00,0,{self.year.beam_w_m2[i]:.1f},"
                f"{self.year.diffuse_w_m2[i]:.1f},"
                f"{self.year.dry_c[i]:.2f},{self.year.dew_c[i]:.2f},50,1000,0,{self.year.wind_m_s[i]:.1f}"
            )
        found = self.read("\n".join(rows) + "\n")
        self.assertEqual((found.place, found.located), ("NOWHERE", True))
        hours = from_csv(found.csv)
        assert_allclose(hours.dry_c, self.year.dry_c, atol=0.011)
        assert_allclose(hours.pressure_pa, 100_000, atol=1)

    def test_a_plain_table_with_leap_day_and_faults_mended_on_request(self):
        dry, beam = self.year.dry_c.copy(), self.year.beam_w_m2.copy()
        dry[1000:1006], beam[12] = np.nan, -20.0
        text = plain(replace(self.year, dry_c=dry, beam_w_m2=beam), leap=True)
        found = self.read(text)
        self.assertTrue(any("29 February" in n for n in found.notes))
        self.assertEqual({f[:2] for f in found.faults}, {("long gap", "dry_c"), ("negative", "beam_w_m2")})
        again = self.read(text, mend=[["long gap", "dry_c"], ["negative", "beam_w_m2"]])
        self.assertEqual((again.faults, len(again.mended)), ((), 2))

    def test_columns_are_guessed_and_can_be_chosen(self):
        self.assertEqual(mapping(["Hour", "Air temp", "RH %", "Wind speed"])["dry_c"], "Air temp")
        head = "Month,Day,Hour,A,B,C,D,E,F"
        path = self.folder / "odd.csv"
        path.write_text(plain(self.year, head))
        self.assertRaisesRegex(FileError, "no column of dry bulb", read_weather, path, {}, said)
        found = self.read(plain(self.year, head), columns={"dry_c": "A", "dew_c": "B"})
        assert_allclose(from_csv(found.csv).dry_c, self.year.dry_c, atol=0.011)

    def test_mixed_units_hold_the_conditions_back_until_they_are_read_right(self):
        text = plain(replace(self.year, dry_c=self.year.dry_c * 1.8 + 32))
        found = self.read(text)
        self.assertEqual((found.faults[0][:2], found.months), (("units", "dry_c"), ()))
        self.assertIn("units", found.why_not)
        self.assertEqual(len(self.read(text, mend=[["units", "dry_c"]]).months), 12)

    def test_titles_german_headings_and_a_line_of_units(self):
        text = (
            plain(
                self.year,
                "Monat;Tag;Stunde;Lufttemperatur;Taupunkttemperatur;Luftdruck;Direktstrahlung;"
                "Diffusstrahlung;Windgeschwindigkeit",
            )
            .replace(",", ";")
            .replace(".", ",")
        )
        head, _, rows = text.partition("\n")
        found = self.read("# Messnetz Nirgendwo\nStation: 12\n\n" + head + "\n;;h;°C;°C;Pa;W/m²;W/m²;m/s\n" + rows)
        assert_allclose(from_csv(found.csv).dew_c, self.year.dew_c, atol=0.011)
        assert_allclose(from_csv(found.csv).wind_m_s, self.year.wind_m_s, atol=0.051)
        self.assertEqual(found.faults, ())
        self.assertTrue(any("2 lines above" in n for n in found.notes))
        self.assertTrue(any("units" in n for n in found.notes))

    def test_quarter_hours_are_averaged_and_said(self):
        rows = ["Datum;Temperatur;Globalstrahlung"]
        for i, (month, day, hour) in enumerate(stamps()):
            for k in range(4):
                # Deviations of -3, -1, 1, 3 leave the mean of the hour where it was.
                rows.append(
                    f"{day:02d}.{month:02d}.2021 {hour:02d}:{15 * k:02d};{self.year.dry_c[i] + 2 * k - 3:.2f};0"
                )
        found = self.read("\n".join(rows) + "\n")
        assert_allclose(from_csv(found.csv).dry_c, self.year.dry_c, atol=0.011)
        self.assertTrue(any("4 rows an hour are averaged" in n for n in found.notes))

    def test_half_hours_without_stamps(self):
        rows = ["Dry bulb,Wind speed"] + [f"{v + s:.2f},2" for v in self.year.dry_c for s in (-1, 1)]
        found = self.read("\n".join(rows) + "\n")
        assert_allclose(from_csv(found.csv).dry_c, self.year.dry_c, atol=0.011)
        self.assertTrue(any("counted from 1 January" in n for n in found.notes))

    def test_global_radiation_is_split_and_said(self):
        sine = np.maximum(sine_of_sun(40.0, 0.0, 0.0), 0.0)
        whole = 1000.0 * sine  # a bright sky: about 0.73 of what falls on the atmosphere
        rows = ["Month,Day,Hour,Temp,Global"]
        for i, (month, day, hour) in enumerate(stamps()):
            rows.append(f"{month},{day},{hour},{self.year.dry_c[i]:.2f},{whole[i]:.2f}")
        found = self.read("\n".join(rows) + "\n")
        hours = from_csv(found.csv)
        self.assertTrue(any("Erbs (1982)" in n for n in found.notes))
        high = sine > 0.3
        # Nothing of the energy is lost, and a clearness of 0.73 leaves about a fifth diffuse (0.216 by the published
        # polynomial); the rounding of the file is 0.05 W/m2.
        assert_allclose((hours.beam_w_m2 * sine + hours.diffuse_w_m2)[high], whole[high], atol=0.3)
        share = hours.diffuse_w_m2[high].sum() / whole[high].sum()
        self.assertTrue(0.17 < share < 0.27, share)

    def test_beam_on_the_level_becomes_normal(self):
        sine = np.maximum(sine_of_sun(40.0, 0.0, 0.0), 0.0)
        year = replace(self.year, beam_w_m2=600.0 * sine)
        head = "Month,Day,Hour,Dry bulb,Dew point,Pressure,Direct horizontal,Diffuse,Wind speed"
        hours = from_csv(self.read(plain(year, head)).csv)
        high = sine > 0.2
        assert_allclose(hours.beam_w_m2[high], 600.0, atol=0.3)  # of hundredths in the file

    def test_a_dew_point_above_the_dry_bulb_is_told_and_mended(self):
        dew = self.year.dew_c.copy()
        dew[4000:4005] = self.year.dry_c[4000:4005] + 4.0
        text = plain(replace(self.year, dew_c=dew))
        found = self.read(text)
        self.assertEqual([(f[0], f[4]) for f in found.faults], [("dew", (4001, 4002, 4003, 4004, 4005))])
        mended = self.read(text, mend=[["dew", "dew_c"]])
        self.assertEqual(mended.faults, ())
        assert_allclose(from_csv(mended.csv).dew_c[4000:4005], self.year.dry_c[4000:4005], atol=0.011)

    def test_a_place_that_is_none_is_told(self):
        found = self.read(epw(self.year).replace("40.00,0.00", "123.00,0.00", 1), "year.epw")
        self.assertEqual(found.faults[0][0], "place")
        self.assertIn("123", found.faults[0][2])
        self.assertEqual(found.months, ())
        self.assertIn("place needs", found.why_not)

    def test_the_leap_day_of_the_common_layout_is_left_out_and_said(self):
        text = epw(self.year)
        lines = text.splitlines()
        at = 8 + 59 * 24
        extra = [",".join(["2020", "2", "29", str(h + 1), *lines[at].split(",")[4:]]) for h in range(24)]
        found = self.read("\n".join([*lines[:at], *extra, *lines[at:]]) + "\n", "year.epw")
        assert_allclose(from_csv(found.csv).dry_c, self.year.dry_c, atol=0.011)
        self.assertTrue(any("24 hours of 29 February" in n for n in found.notes))

    def test_files_that_are_no_year_are_refused(self):
        for text, words in (
            ("", "no year of hours"),
            ("a,b\n1,2\n", "no year of hours"),
            ("Dry bulb\n" + "5\n" * 100, "no columns of month"),
            ("Month,Day,Hour,Dry bulb\n" + "99,99,99,5\n" * 50, "no year of hours"),
        ):
            with self.subTest(words=words):
                self.assertRaisesRegex(FileError, words, self.read, text)

    def test_a_short_file_gives_no_conditions_and_says_why(self):
        found = self.read("\n".join(plain(self.year).splitlines()[:3000]) + "\n")
        self.assertEqual(found.months, ())
        self.assertIn("8700 are needed", found.why_not)

    def test_in_the_process_that_reads_foreign_files(self):
        path = self.folder / "year.epw"
        path.write_text(epw(self.year))
        found = reading.read(path).weather
        self.assertEqual(len(found.months), 12)

    def test_damaged_files_end_in_words(self):
        good = epw(self.year)
        for k, bad in enumerate(
            (
                good[:3000],
                good.replace("40.00", "north", 1),
                good.replace(",", ";"),
                good[:200000] + "\x00" * 50,
                "LOCATION,\n" + "x\n" * 9000,
            )
        ):
            path = self.folder / f"{k}.epw"
            path.write_text(bad)
            answer = worker.answer("weather", path, {}, said)
            self.assertTrue(answer.refused or answer.weather.why_not or answer.weather.months)
