"""Choosing and proving the bend order of any sheet on any brake.

``moves`` says what a state and a move are; ``body`` where faces stand beside a bend, ``halves`` what they meet there
(``collide``, ``spans``), ``flats`` what lies flat, ``selfmet`` the part against itself; ``proof`` whether a whole move
can be made and what must be mounted for it (``needs``); ``gauge`` where the stop stands. A part that is the same all
along its bends is proved in its section: ``arms`` are its halves there, ``section`` what they meet, ``proof_section``
its moves. ``walk`` looks for any order, ``search`` for the cheapest, with what is left to pay from ``horizon`` and
``bounds``; ``backwards`` and ``many`` look for those of more bends than can be looked through, ``finding`` takes the
one that suits. ``explain`` says what goes wrong
and how deep; ``remedies`` what would free it; ``plan`` is the order as it leaves the engine, ``planning`` makes it of
the moves found, ``frames`` draws its steps.
"""
