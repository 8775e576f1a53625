"""Blanks laid on sheets: for a shear that cuts through, for snips or a saw, for a cutter, and by hand."""
