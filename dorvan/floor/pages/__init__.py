"""Pages of the floor: set-up, run cards, check sheets."""
