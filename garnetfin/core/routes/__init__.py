"""Proposals for duct routes: tracks in the ceiling, trees over them."""
