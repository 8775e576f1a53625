"""The job pack: all that belongs to a ticket or a kit, on paper."""
