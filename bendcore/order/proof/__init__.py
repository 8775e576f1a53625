"""Whether a move can be made. ``prover`` proves a whole move and says what must be mounted for it (``needs``);
``section_prover`` proves those of a part in its section, all places at once; ``gauge`` is where the stop stands,
``bounds`` how often it must move at least."""
