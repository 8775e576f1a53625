"""Brakes and their tools as cross-sections, and what each can do."""
