"""How pieces are joined: what there is to join on a part, with which spacing, and in which order it goes together."""
