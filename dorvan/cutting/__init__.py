"""Cutting plans: blanks of tickets laid on the sheets of the stockroom, cut, and what is left put back."""
