"""Site sheets: a visit, what was measured there, and the sizes of tickets that follow."""
