"""The fields of a file, declared once: what may stand there and be typed, what it is called, what it begins with.

A file is a tree. :class:`Group` is an object with named fields, :class:`Many` a list of one kind of thing, the others
are leaves. From the declaration follow the file's schema (:meth:`Field.schema`), which fields a person may set and how
what is typed is read (:meth:`Field.read`), how a field is called (:attr:`Place.name`), which thing on the drawing it
belongs to (:attr:`Place.thing`), its limits where a file is read (:meth:`Group.mm`), and what it begins with
(:meth:`Field.begin`).

Lengths are read in the file's units or a unit written with them, and are in mm once read. Paths are written as in
refusals: ``shape.legs[2]``, ``shape.walls.left.lip.width``.
"""

from .kinds import LENGTH, Angle, Choice, Const, Count, Field, Length, Number, Radius, ReadLength, Size, Text, Typing
from .places import Place, Steps, called, find, leaves, path_of, standing, steps, walk
from .tree import PAIR, Drawn, Group, Many, ring

__all__ = ["LENGTH", "PAIR", "Angle", "Choice", "Const", "Count", "Drawn", "Field", "Group", "Length", "Many",
           "Number", "Place", "Radius", "ReadLength", "Size", "Steps", "Text", "Typing", "called", "find", "leaves",
           "path_of", "ring", "standing", "steps", "walk"]
