"""Boxes and boots at terminals: the stream widens into them and leaves through a neck.

Source: Idelchik, sudden widening and narrowing put together; estimates.
"""

from garnetfin.core.ducts.fittings.laws.law import Law, register

register(
    Law("box", lambda at: (1 - at["ain_abox"]) ** 2 + 0.5 * at["ain_aneck"] ** 2),
    Law("boot round a corner", lambda at: 1.2 + max(0.0, 1 - 1 / at["aout_ain"]) ** 2),
    Law("boot straight on", lambda at: (1 - 1 / at["aout_ain"]) ** 2 + 0.05),
)
