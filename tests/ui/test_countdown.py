"""How long work still takes, by a clock of the test's own."""

import unittest

from garnetfin.ui.countdown import Countdown


class Left(unittest.TestCase):
    def setUp(self):
        self.now = 100.0
        self.gone = Countdown(lambda: self.now)

    def said_after(self, seconds: float, share: float) -> str:
        self.now += seconds
        return self.gone.say(share)

    def test_what_is_left_follows_from_what_it_took(self):
        self.assertEqual(self.said_after(50.0, 0.0), "0%")  # work begins with its first word, not with the window
        self.assertEqual(self.said_after(1.0, 0.3), "30%")  # too early to tell
        self.assertEqual(self.said_after(3.0, 0.25 + 0.15), "40%, 10 s left")  # 4 s for 0.4: 6 s, in steps of 5
        self.assertEqual(self.said_after(4.0, 0.8), "80%, 5 s left")
        self.assertEqual(self.said_after(2.0, 1.0), "100%")

    def test_a_smaller_share_begins_anew(self):
        self.said_after(0.0, 0.0)
        self.said_after(60.0, 0.9)
        self.assertEqual(self.said_after(30.0, 0.1), "10%")
        self.assertEqual(self.said_after(20.0, 0.2), "20%, 2 min left")  # 20 s for 0.2: 80 s

    def test_a_share_near_nothing_promises_nothing(self):
        self.said_after(0.0, 0.0)
        self.assertEqual(self.said_after(30.0, 0.01), "1%")


if __name__ == "__main__":
    unittest.main()
