"""A leg whose coefficient stands still: pieces measured at one flow, coefficients typed by the engineer."""

from garnetfin.core.ducts.fittings.laws.law import LegLaw, register

register(LegLaw("fixed", lambda _share, _area, k: k, lambda at: (1.0, 1.0, at["k"]), lambda k, _share, _area: k))
