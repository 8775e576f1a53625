"""Surfaces in space laid flat: facets that meet at true angles, and rolled work."""
