"""What we build on: locked by hash, none named by an advisory, nothing that is not asked for."""

import re
import sys
import tomllib
import unittest
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path

ROOT = Path(__file__).parents[2]
sys.path.insert(0, str(ROOT / "scripts"))
import audit  # noqa: E402

sys.path.pop(0)


class Lock(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.text = (ROOT / "requirements.lock").read_text(encoding="utf-8")
        cls.versions, cls.wrong = audit.locked(cls.text)

    def test_every_package_has_one_version_and_hashes(self):
        self.assertEqual(self.wrong, [])
        self.assertGreater(len(self.versions), 40)

    def test_no_advisory_names_one(self):
        self.assertEqual(audit.main(), 0)

    def test_old_versions_and_unlocked_lines_would_be_found(self):
        advisories = tomllib.loads((ROOT / "scripts" / "advisories.toml").read_text(encoding="utf-8"))["advisory"]
        self.assertEqual(
            len(audit.named({"pillow": "10.2.9", "lxml": "4.9.1", "pyside6-essentials": "6.12.0"}, advisories)), 2
        )
        self.assertEqual(audit.named({"pillow": "11.2.1"}, advisories)[0].split(":")[0], "pillow 11.2.1")
        self.assertEqual(audit.named({"tornado": "6.5.0", "idna": "3.10"}, advisories), [])
        _, wrong = audit.locked("numpy>=2\nscipy==1.17.1\nlxml==6.0 \\\n    --hash=sha256:" + "a" * 64 + "\n")
        self.assertEqual([w.split(":")[0].split(" has")[0] for w in wrong], ["not locked to one version", "scipy"])

    def test_what_the_project_asks_for_is_in_it(self):
        asked = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))["project"]
        for line in (*asked["dependencies"], *asked["optional-dependencies"]["test"]):
            name, low = re.match(r"([A-Za-z0-9_.-]+)(?:\[[^]]*\])?(?:>=([0-9.]+))?", line).groups()
            self.assertIn(audit.plain(name), self.versions, line)
            if low:
                self.assertGreaterEqual(audit.version(self.versions[audit.plain(name)]), audit.version(low), line)

    def test_what_runs_is_what_is_locked(self):
        for name in ("numpy", "msgspec", "PySide6-Essentials", "shapely", "reportlab"):
            try:
                self.assertEqual(version(name), self.versions[audit.plain(name)])
            except PackageNotFoundError:
                self.fail(f"{name} is not installed")
