"""How coefficients follow from flows and areas, one kind a file: each registers its laws when the list is first asked
for, and rows of the catalogue name them.
"""
