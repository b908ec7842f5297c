"""Sudden changes of section, on the velocity in the smaller one: Borda and Carnot's widening, Idelchik's narrowing."""

from garnetfin.core.ducts.fittings.laws.law import Law, register

register(
    Law("sudden widening", lambda at: (1 - 1 / at["area_ratio"]) ** 2),
    Law("sudden narrowing", lambda at: 0.5 * (1 - 1 / at["area_ratio"]) ** 0.75),
)
