"""Garnetfin: one live chain from a window pane to a fan's shaft."""

__version__ = "0.1.0"
