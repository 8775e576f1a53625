"""Choosing and proving the bend order of any sheet on any brake.

Rooms, the ground first; each uses those before it: ``states`` (where a part may be on its way), ``contact`` (what it
meets there), ``proof`` (whether a move can be made), ``plan`` (an order as it leaves the engine), ``search`` (looking
for orders), ``explain`` (what is told and shown of them), ``planning`` (makes a plan of the moves found), ``accuracy``
(what an order does to the sizes), ``advice`` (what would help). All that searches asks its ``patience`` how long it
may.
"""
