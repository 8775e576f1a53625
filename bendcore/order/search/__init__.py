"""Looking for orders. ``walk`` finds any, ``astar`` the cheapest, with what is left to pay from ``horizon``;
``backwards`` and ``many`` look for those of more bends than can be looked through, ``direct`` for those that gauge a
leg directly; ``finding`` takes the search that suits a part."""
