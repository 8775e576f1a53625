"""Brakes and tools made from the sizes that a tape, a caliper and a protractor give.

One module a kind: its sizes with start values of a common machine, what of the brake file follows from them, and where
in the section each is drawn. :mod:`.described` keeps them in the brake file beside the sections that they make.
"""
