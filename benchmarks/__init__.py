"""Timings of what must stay quick; run by `make bench`, printed as JSON. No test depends on them."""
