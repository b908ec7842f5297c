"""Long watches: what takes minutes or hours to come upon. python -m tests.soak MINUTES [KIND];

`make soak MINUTES=n`.
"""
