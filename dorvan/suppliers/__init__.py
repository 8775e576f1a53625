"""Suppliers that bend for this shop, each kept as its open file."""
