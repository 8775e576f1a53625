"""Checking finished parts and learning from what was measured."""
