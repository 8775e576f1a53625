"""Rules for the bend allowance: the books', and a shop's own charts."""
