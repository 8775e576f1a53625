"""How a part file is begun, edited and read: named as its own fields."""
