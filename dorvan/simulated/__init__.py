"""Stand-ins for outside devices: brakes that bend with secrets of their own, and what measures their pieces.

Nothing here is used to plan: it bends by another model than the planner's, so that the two cannot agree by
construction.
"""
