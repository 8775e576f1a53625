"""What joins ledger, tickets and floor: proof bends, fits adopted, finished pieces measured."""
