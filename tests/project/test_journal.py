"""The journal and marks in the project file: whatever was done comes back, wherever it was cut off."""

import os
import random
import tempfile
import unittest
import zipfile
from pathlib import Path

from msgspec import structs

from garnetfin.core.errors import FileError, GarnetfinError, InputError
from garnetfin.project.edits.duct_runs import RemoveDucts
from garnetfin.project.edits.groups import AddZone
from garnetfin.project.edits.outlines import RemoveRooms
from garnetfin.project.edits.papers import IssuePapers
from garnetfin.project.edits.rooms import SetRoomText, SetRoomValue
from garnetfin.project.edits.whole import RestoreMark
from garnetfin.project.history import Entry, History
from garnetfin.project.journal import Journal, apply_difference, away, beside, difference, digest, held, read
from garnetfin.project.store import Mark, load, load_contents, load_marks, save
from garnetfin.project.tree import Project, check_links
from garnetfin.project.values import Pinned
from tests.example import by_number, one_room, station


def edits(project: Project, count: int, seed: int) -> list:
    """Random edits, each of the project the ones before made."""
    rng, made = random.Random(seed), []
    for i in range(count):
        room = rng.choice(project.rooms)
        kind = rng.randrange(6)
        command = (
            SetRoomValue((room.id,), "people", Pinned(value=float(rng.randrange(40))))
            if kind < 2
            else SetRoomText(room.id, "name", f"Room {i}")
            if kind == 2
            else RemoveRooms((room.id,))
            if kind == 3
            else AddZone((room.id,), f"Zone {i}")
            if kind == 4
            else RemoveDucts((rng.choice(project.segments).id,), ())
            if project.segments
            else SetRoomText(room.id, "name", f"R{i}")
        )
        try:
            project = command.apply(project)
        except GarnetfinError:
            continue
        made.append((command.label, project))
    return made


class Differences(unittest.TestCase):
    def test_any_edit_comes_back_from_its_difference(self):
        import msgspec

        before = station()
        for label, now in edits(before, 60, 7):
            raw = msgspec.json.decode(msgspec.json.encode(difference(before, now)))
            self.assertEqual(apply_difference(before, raw), now, label)
            self.assertLess(len(msgspec.json.encode(raw)), len(msgspec.json.encode(now)))
            before = now

    def test_order_and_removal_count(self):
        before = station()
        turned = structs.replace(before, rooms=tuple(reversed(before.rooms)), name="Other")
        import msgspec

        raw = msgspec.json.decode(msgspec.json.encode(difference(before, turned)))
        self.assertEqual(apply_difference(before, raw), turned)
        self.assertEqual(difference(before, before), {})


class Replay(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.path = self.folder / "a.gfin"
        save(station(), self.path)
        self.history = History(station())

    def begin(self) -> Journal:
        made = Journal.begin(beside(self.path), self.history.entries, self.history.at, self.path, 0, {}, {})
        self.addCleanup(made.close)
        return made

    def push(self, journal: Journal, label: str, project: Project, gesture: int = 0) -> None:
        before = self.history.project
        self.assertTrue(self.history.push(label, project, gesture))
        entry = self.history.entries[self.history.at]
        journal.edit(entry.label, entry.gesture, self.history.at, before, entry.project)

    def test_history_with_undo_and_redo_comes_back(self):
        journal = self.begin()
        for label, project in edits(station(), 12, 3):
            self.push(journal, label, project)
        for _ in range(5):
            self.history.undo()
            journal.move(self.history.at)
        self.push(
            journal,
            "after undo",
            SetRoomText(self.history.project.rooms[0].id, "name", "Last").apply(self.history.project),
        )
        found = read(journal.path)
        self.assertEqual(
            [(e.label, e.project) for e in found.entries], [(e.label, e.project) for e in self.history.entries]
        )
        self.assertEqual(found.at, self.history.at)
        self.assertTrue(found.lost)
        journal.saved(self.path, self.history.at)
        self.assertFalse(read(journal.path).lost)
        self.history.undo()
        journal.move(self.history.at)
        self.assertTrue(read(journal.path).lost)

    def test_edits_of_one_gesture_stay_one_entry(self):
        journal = self.begin()
        room = by_number(station(), "0.09").id
        for people in range(5):
            self.push(
                journal,
                "People",
                SetRoomValue((room,), "people", Pinned(value=float(people))).apply(self.history.project),
                gesture=9,
            )
        found = read(journal.path)
        self.assertEqual((len(found.entries), found.project), (2, self.history.project))

    def test_wherever_it_is_cut_off_what_stands_before_counts(self):
        journal = self.begin()
        states = [station()]
        for label, project in edits(station(), 8, 5):
            self.push(journal, label, project)
            states.append(project)
        data = journal.path.read_bytes()
        ends = [i for i, b in enumerate(data) if b == 10]
        cut = self.folder / "cut-journal"
        rng = random.Random(1)
        for _ in range(40):
            at = rng.randrange(ends[0] + 1, len(data) + 1)
            cut.write_bytes(data[:at])
            whole = sum(e < at for e in ends) - 1
            self.assertEqual(read(cut).project, states[whole])
        for _ in range(20):  # a flipped byte ends it where it stands
            at = rng.randrange(ends[0] + 1, len(data))
            cut.write_bytes(data[:at] + bytes([data[at] ^ 1]) + data[at + 1 :])
            self.assertIn(read(cut).project, states)
        for broken in (b"", b"x", data[:200], b"00000000 {}\n", b'"' * 5000):
            cut.write_bytes(broken)
            with self.assertRaises(FileError):
                read(cut)

    def test_contents_and_marks_are_kept(self):
        journal = self.begin()
        journal.content("abc", b"\x00drawing")
        journal.mark(Mark(name="one", kept="2026-11-23T12:00:00", project=station()))
        journal.mark(Mark(name="two", kept="2026-11-23T12:01:00", project=one_room()))
        journal.unmark("one")
        found = read(journal.path)
        self.assertEqual(found.contents, {"abc": b"\x00drawing"})
        self.assertEqual([(n, m.project) for n, m in found.marks.items()], [("two", one_room())])

    def test_a_taken_up_history_is_journalled_anew_as_a_whole(self):
        for label, project in edits(station(), 6, 11):
            self.history.push(label, project)
        self.history.undo()
        journal = Journal.begin(beside(self.path), self.history.entries, self.history.at, self.path, 0, {}, {})
        self.addCleanup(journal.close)
        found = read(journal.path)
        self.assertEqual([e.project for e in found.entries], [e.project for e in self.history.entries])
        self.assertEqual((found.at, found.digest), (self.history.at, digest(self.path)))

    def test_who_holds_a_file_is_said_and_a_second_journal_refused(self):
        self.assertEqual(held(beside(self.path)), "")
        journal = self.begin()
        self.assertIn("another window, open since", held(journal.path))
        with self.assertRaisesRegex(FileError, "another window"):
            Journal.begin(beside(self.path), (Entry("", station()),), 0, self.path, 0, {}, {})
        journal.close()
        self.assertFalse(journal.path.exists())
        self.assertEqual(os.listdir(self.folder), ["a.gfin"])

    def test_one_that_was_left_behind_is_held_by_nobody(self):
        journal = self.begin()
        journal.close(remove=False)
        self.assertEqual(held(journal.path), "")
        self.assertFalse(read(journal.path).lost)
        self.assertNotEqual(away(self.path, self.folder), away(self.folder / "b" / "a.gfin", self.folder))


class MarksInFiles(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.path = self.folder / "a.gfin"

    def test_marks_are_saved_with_the_project(self):
        marks = (
            Mark(name="before the new glazing", kept="2026-11-23T12:00:00", project=station()),
            Mark(name="b", kept="2026-11-23T13:00:00", project=one_room()),
        )
        save(one_room(), self.path, None, marks)
        self.assertEqual(load(self.path), one_room())
        self.assertEqual(load_marks(self.path), marks)

    def test_a_broken_mark_is_left_out_and_the_others_stay(self):
        save(
            one_room(),
            self.path,
            None,
            (Mark(name="a", kept="x", project=one_room()), Mark(name="b", kept="y", project=station())),
        )
        with zipfile.ZipFile(self.path) as archive:
            members = {n: archive.read(n) for n in archive.namelist()}
        members["marks/001.json"] = members["marks/001.json"][:50]
        with zipfile.ZipFile(self.path, "w") as archive:
            for name, data in members.items():
                archive.writestr(name, data)
        self.assertEqual([m.name for m in load_marks(self.path)], ["b"])
        self.assertEqual(load_marks(self.folder / "none.gfin"), ())

    def test_what_underlays_of_a_mark_show_is_kept(self):
        from garnetfin.project.underlays import Underlay

        fields = {f: None for f in Underlay.__struct_fields__}
        self.assertIn("content", fields)
        weather = station().site.weather.content
        bare = structs.replace(one_room(), name="no weather")
        from garnetfin.ui.example import example_contents

        contents = example_contents(station())
        mark = Mark(name="a", kept="x", project=station())
        save(bare, self.path, contents, (mark,))
        self.assertEqual(set(load_contents(self.path, bare)), set())
        self.assertEqual(set(load_contents(self.path, bare, mark.project)), {weather})

    def test_back_to_a_mark_keeps_what_was_handed_over(self):
        before = station()
        now = IssuePapers("2026-11-23").apply(SetRoomText(before.rooms[0].id, "name", "Other").apply(before))
        back = RestoreMark(before).apply(now)
        self.assertEqual(back.rooms, before.rooms)
        self.assertEqual(back.papers.issues, now.papers.issues)
        self.assertIs(RestoreMark(back).apply(back), back)


class LinksOfAnEdit(unittest.TestCase):
    """Looking only at what differs from a sound project finds what looking at all of it finds."""

    def broken(self):
        sound = station()
        segment, room, level = sound.segments[3], sound.rooms[2], sound.levels[-1]
        yield structs.replace(sound, segments=(*sound.segments[1:], structs.replace(segment, id="x", a="nowhere")))
        yield structs.replace(sound, rooms=(*sound.rooms, room))  # twice
        yield structs.replace(sound, levels=tuple(x for x in sound.levels if x is not level))  # others stand on it
        yield structs.replace(sound, rooms=(structs.replace(sound.rooms[0], zone_id="none"), *sound.rooms[1:]))
        yield structs.replace(sound, air_systems=(structs.replace(sound.air_systems[0], root_point_id="none"),))

    def test_what_an_edit_broke_is_found(self):
        for project in self.broken():
            with self.assertRaises(InputError) as alone:
                check_links(project)
            with self.assertRaises(InputError) as beside:
                check_links(project, station())
            self.assertEqual(str(alone.exception), str(beside.exception))

    def test_what_holds_passes(self):
        edited = SetRoomValue((station().rooms[0].id,), "people", Pinned(value=3.0)).apply(station())
        check_links(edited, station())
