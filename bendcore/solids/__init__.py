"""Solids made elsewhere, recognised as sheets bent: a body's boundary, its thickness, its flat faces and its bends."""
