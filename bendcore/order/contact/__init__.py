"""What the part meets. ``halves`` are the two sides of a bend as the tools meet them, proved clear by ``collide``, with
the room along the bend from ``spans``; ``flats`` is what lies flat on bed and leaf, ``selfmet`` the part against
itself. A part that is the same all along its bends is met in its section: ``arms`` are its halves there, ``section``
what they meet."""
