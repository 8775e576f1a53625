"""The office: pages about the shop as a whole, above all the rooms they tell of."""
