"""Long work in processes of its own: orders, ways out, plans, drawings and photographs.

A *desk* takes one kind of work: its line says whose turn it is, its workers do it within bounds of time and memory. A
page waits a moment for its result; what takes longer goes on meanwhile, the page says so and asks again. What was asked
is kept until it is done, so that it goes on when the server was stopped in between.
"""
