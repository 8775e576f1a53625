"""Work that goes outside: a ticket against its supplier, the pack that leaves, and what comes back."""
