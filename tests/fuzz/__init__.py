"""``make fuzz``: whatever a person or a file may send, against a shop with one ticket of each family and state."""
