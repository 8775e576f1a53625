"""Tests of the core, the web application and the whole thing in a browser."""

from hypothesis import settings

settings.register_profile("dorvan", deadline=None)  # machines are noisy; speed is the bench's business
settings.load_profile("dorvan")
