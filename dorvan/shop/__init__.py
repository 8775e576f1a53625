"""What the shop as a whole decided: its name and mark, what new people and new tickets begin with, its clock."""
