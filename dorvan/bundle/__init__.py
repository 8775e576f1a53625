"""A shop to take along: one open zip of everything, or of one ticket with its brake, written and read in again."""
