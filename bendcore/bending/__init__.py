"""One bend by itself: what it takes of the sheet, the radius a tool makes, what it opens, and radii hit by hit."""
