"""Shops that bend for others: what each can do, whether a part keeps to it, and what is sent and comes back."""
