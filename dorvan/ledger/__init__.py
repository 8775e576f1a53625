"""The ledger: proof bends, what they teach, and the schools of this shop."""
