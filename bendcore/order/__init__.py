"""Choosing and proving the bend order of a strip on a press brake.

``moves`` says what a state and a move are; ``poses`` where part and tools stand
through a stroke; ``collide`` whether they meet, ``proof`` whether a whole move can
be made; ``gauge`` where the stop stands; ``search`` finds the cheapest order;
``explain`` says what goes wrong and how deep; ``remedies`` what would free it;
``plan`` is the order as it leaves the engine, ``planning``
makes it of the moves found, ``frames`` draws its steps.
"""
