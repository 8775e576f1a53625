"""The trade of bending sheet metal, without an interface.

Conventions that hold everywhere in this package:

* lengths are millimetres, forces kilonewtons, stresses MPa, masses kilograms;
* angles are **bend angles** in degrees: the angle swept from flat (0 flat, 90 a
  square corner, 180 folded back on itself);
* "up" is the side of the sheet's top face in the flat pattern;
* what cannot be understood or made raises :class:`bendcore.errors.Refusal`,
  which names the field.

Units are turned at the edges only: in :mod:`bendcore.formats` and in the web
application.
"""

__version__ = "0.1.0"
