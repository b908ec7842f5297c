"""Processes of ours: nothing of the current folder runs in them, and none outlives its parent."""

import os
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from concurrent.futures import ThreadPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from pathlib import Path

from garnetfin.core.errors import GarnetfinError
from garnetfin.engine.studies.study import Axis, run_study
from garnetfin.processes import ROOT
from garnetfin.project.store import save
from tests.example import one_room

TRAP = "open(__file__ + '.ran', 'w').close()\n"
NAMES = (
    "msgspec",
    "numpy",
    "json",
    "resource",
    "pickle",
    "struct",
    "lxml",
    "openpyxl",
    "site",
    "sitecustomize",
    "garnetfin",
)


def gone(process: int) -> bool:
    """True once a process is no more, or only waits for somebody to ask how it ended."""
    try:
        return Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[0] == "Z"
    except OSError:
        return True


def wait_for(done, seconds: float = 60.0) -> bool:
    until = time.monotonic() + seconds
    while not done() and time.monotonic() < until:
        time.sleep(0.02)
    return done()


class Folder(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        for name in NAMES:
            (self.folder / f"{name}.py").write_text(TRAP)
        (self.folder / "rooms.csv").write_text("Number,Name,Area\n1,Office,20\n")
        save(one_room(), self.folder / "a.gfin")

    def run_here(self, *command: str, **more: str) -> subprocess.CompletedProcess:
        return subprocess.run(
            command, cwd=self.folder, capture_output=True, text=True, check=False, env={**os.environ, **more}
        )

    def test_nothing_that_lies_in_it_is_executed(self):
        done = self.run_here(
            sys.executable,
            "-I",
            "-c",
            f"import sys; sys.path.append({ROOT!r}); from garnetfin.cli.main import main; sys.argv[1:] = ['import', "
            f"'rooms.csv', '--out', 'b.gfin']; main()",
            PYTHONPATH=str(self.folder),
        )
        self.assertEqual(done.returncode, 0, done.stderr)
        code = (
            f"import sys; sys.path.append({ROOT!r}); from garnetfin.cli.main import main; sys.argv[1:] = ['study', "
            f"'a.gfin', '--vary', 'north=0,10', '--processes', '2']\n"
            "if __name__ == '__main__': main()"
        )
        done = self.run_here(sys.executable, "-P", "-c", code)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertIn("2 combinations", done.stdout)
        self.assertEqual([p.name for p in self.folder.glob("*.ran")], [])

    def test_the_module_leaves_the_folder_out_once_it_is_there(self):
        """`python -m` itself looks here first; what it imports later does not."""
        for name in ("garnetfin", "site", "sitecustomize", "json", "struct", "pickle"):
            (self.folder / f"{name}.py").unlink()
        done = self.run_here(
            sys.executable, "-m", "garnetfin", "import", "rooms.csv", "--out", "b.gfin", PYTHONPATH=ROOT
        )
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertEqual([p.name for p in self.folder.glob("*.ran")], [])


class Parents(unittest.TestCase):
    def test_a_reader_ends_when_its_parent_is_killed(self):
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        pipe = folder / "rooms.csv"
        os.mkfifo(pipe)  # reading it never ends
        code = (
            "import subprocess, sys, time\nfrom garnetfin.processes import isolated\n"
            "p = subprocess.Popen(isolated('garnetfin.exchange.worker', 'table', sys.argv[1], '{}'), "
            "stdin=subprocess.PIPE, stderr=subprocess.DEVNULL)\n"
            "print(p.pid, flush=True)\ntime.sleep(600)"
        )
        parent = subprocess.Popen([sys.executable, "-c", code, str(pipe)], stdout=subprocess.PIPE, text=True, cwd=ROOT)
        reader = int(parent.stdout.readline())
        # so that the reader's opening succeeds and its reading waits
        held = os.open(pipe, os.O_RDWR)
        self.addCleanup(os.close, held)
        self.assertFalse(gone(reader))
        parent.kill()
        parent.communicate()
        self.assertTrue(wait_for(lambda: gone(reader)), "the reader outlives its parent")

    def test_processes_of_a_study_end_when_their_parent_is_killed(self):
        code = (
            "import os, time\nfrom garnetfin.engine.studies.study_places import workers\n"
            "if __name__ == '__main__':\n"
            "    with workers('', 2) as pool:\n"
            "        print(*{pool.submit(os.getpid).result() for _ in range(8)}, flush=True)\n"
            "        pool.submit(time.sleep, 600)\n"
            "        time.sleep(600)\n"
        )
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        (folder / "main.py").write_text(code)
        parent = subprocess.Popen(
            [sys.executable, "main.py"],
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
            cwd=folder,
            env={**os.environ, "PYTHONPATH": ROOT},
        )
        children = [int(x) for x in parent.stdout.readline().split()]
        self.assertTrue(children)
        parent.send_signal(signal.SIGKILL)
        parent.communicate()
        self.assertTrue(wait_for(lambda: all(map(gone, children))), "a process of the study outlives its parent")

    def test_a_study_says_that_a_process_of_it_died(self):
        class Dying(ThreadPoolExecutor):
            def submit(self, call, *args):
                if args[-1] == ((20.0,),):

                    def call(*args):
                        raise BrokenProcessPool("gone")

                return super().submit(call, *args)

        with (
            Dying(1) as pool,
            self.assertRaisesRegex(GarnetfinError, "ended without an answer after 1 of 3 combinations. north 20"),
        ):
            run_study(one_room(), (Axis("north", (10.0, 20.0, 30.0)),), pool)
