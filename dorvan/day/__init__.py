"""The day: who does what when, from the tickets as they stand."""
